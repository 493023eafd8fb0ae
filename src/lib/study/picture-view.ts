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

/** Where a picture lies in its own frame so that all of a set are at one scale: the smallest of theirs. */
export function atScale(svg: string, scale: number): { x: number; y: number; width: number; height: number } {
	const share = scale / viewOf(svg).scale;
	return { x: 240 - 240 * share, y: 135 - 135 * share, width: 480 * share, height: 270 * share };
}
