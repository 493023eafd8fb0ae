import { flatten } from '../geometry/parts.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { hypot } from '../numeric/elementary.ts';
import type { WallSide } from '../recipe/statements/layers.ts';

/**
 * Whether a side of a piece is the one that is meant: 2 p for the left of piece p as it runs, 2 p + 1 for the right. Inside and outside
 * follow from how often a ray crosses the pieces that are named together: from within a closed chain an odd number of times.
 */
export function sideMeant(
	arrangement: Arrangement,
	pieces: readonly number[],
	side: WallSide | undefined
): (half: number) => boolean {
	if (!side) return () => true;
	if (side === 'left' || side === 'right') return (half) => (side === 'left') === (half % 2 === 0);
	const lines = pieces.map((p) => flatten(arrangement.pieces[p]!, 1e-4 * arrangement.diagonal));
	const leftIsInside = new Map(pieces.map((p, k) => [p, isInside(lines, besideLongest(lines[k]!, 1e-5 * arrangement.diagonal))]));
	return (half) => (leftIsInside.get(half >> 1) === (half % 2 === 0)) === (side === 'inside');
}

/** A point a little to the left of the middle of the longest segment of a line. */
function besideLongest(line: Float64Array, step: number): { x: number; y: number } {
	let [best, most] = [0, 0];
	for (let k = 0; k + 3 < line.length; k += 2) {
		const length = hypot(line[k + 2]! - line[k]!, line[k + 3]! - line[k + 1]!);
		if (length > most) [best, most] = [k, length];
	}
	const [ax, ay, bx, by] = [line[best]!, line[best + 1]!, line[best + 2]!, line[best + 3]!];
	return { x: (ax + bx) / 2 - (step * (by - ay)) / most, y: (ay + by) / 2 + (step * (bx - ax)) / most };
}

/** Whether the way to the right from a point crosses lines an odd number of times. */
function isInside(lines: readonly Float64Array[], { x, y }: { x: number; y: number }): boolean {
	let crossings = 0;
	for (const line of lines)
		for (let k = 0; k + 3 < line.length; k += 2) {
			const [ax, ay, bx, by] = [line[k]!, line[k + 1]!, line[k + 2]!, line[k + 3]!];
			if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) crossings++;
		}
	return crossings % 2 === 1;
}
