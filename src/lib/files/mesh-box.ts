import { extent } from 'd3-array';
import { groupColours } from '../../core/recipe/language/boundary-kinds.ts';

/** Least and largest coordinates. */
export interface MeshBox {
	x: readonly [number, number];
	y: readonly [number, number];
}

const span = (values: Float64Array): [number, number] => {
	const [low = Infinity, high = -Infinity] = extent(values);
	return [low, high];
};

export const boxOf = ({ x, y }: { x: Float64Array; y: Float64Array }): MeshBox => ({ x: span(x), y: span(y) });

/** The view's middle and scale with a whole box in a frame, a margin in pixels around it. */
export function viewOfBox(
	{ x, y }: MeshBox,
	width: number,
	height: number,
	margin = 24
): { x: number; y: number; scale: number } {
	const [wide, high] = [x[1] - x[0] || 1, y[1] - y[0] || 1];
	return {
		x: (x[0] + x[1]) / 2,
		y: (y[0] + y[1]) / 2,
		scale: Math.min((width - 2 * margin) / wide, (height - 2 * margin) / high)
	};
}

const colours = Object.values(groupColours);

/** The colour of the group with this number in a file; colours come again where groups are many. */
export const colourOfGroup = (group: number): string => colours[group % colours.length]!;
