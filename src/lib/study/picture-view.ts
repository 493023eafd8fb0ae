import { pictureSize } from '../../formats/picture.ts';

const { width, height } = pictureSize;

/** What a picture of a mesh shows: the place in its middle, and how many of its units a length of the model is. */
export interface PictureView {
	x: number;
	y: number;
	scale: number;
}

/** The view that a picture says of itself. */
export function viewOf(svg: string): PictureView {
	const [x = 0, y = 0, scale = 1] = (/data-view="([^"]*)"/.exec(svg)?.[1] ?? '').split(' ').map(Number);
	return { x, y, scale };
}

/** A picture as an address. */
export const pictureUrl = (svg: string): string => `data:image/svg+xml;utf8,${encodeURIComponent(svg)}`;

/** Where a picture lies in its own frame so that all of a set are at one scale: the smallest of theirs. */
export function atScale(svg: string, scale: number): { x: number; y: number; width: number; height: number } {
	const share = scale / viewOf(svg).scale;
	return { x: (width / 2) * (1 - share), y: (height / 2) * (1 - share), width: width * share, height: height * share };
}

/** The box of the model that a picture shows. */
export function boxOf({ x, y, scale }: PictureView): { left: number; right: number; bottom: number; top: number } {
	const [across, up] = [width / 2 / scale, height / 2 / scale];
	return { left: x - across, right: x + across, bottom: y - up, top: y + up };
}
