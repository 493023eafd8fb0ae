import type { Division } from '../divide/division.ts';
import type { Measure } from '../quality/measure.ts';
import type { RegionWallFigures } from '../stages/wall-stage.ts';

/** The smallest and largest edge along all pieces, in recipe units; undefined without pieces. */
export function divisionSizes(pieces: readonly Division[]): { smallest: number; largest: number } | undefined {
	if (pieces.length === 0) return undefined;
	let [smallest, largest] = [Infinity, 0];
	for (const { figures } of pieces) {
		smallest = Math.min(smallest, figures.smallest);
		largest = Math.max(largest, figures.largest);
	}
	return { smallest, largest };
}

/** All walls with a first height as one: the extremes, and the mean that is farthest off; undefined without walls. */
export function wallSummary(walls: readonly RegionWallFigures[]) {
	if (walls.length === 0) return undefined;
	return {
		min: Math.min(...walls.map((w) => w.min)),
		mean: walls.reduce((a, b) => (Math.abs(b.mean - 1) > Math.abs(a.mean - 1) ? b : a)).mean,
		max: Math.max(...walls.map((w) => w.max)),
		meanLean: Math.max(...walls.map((w) => w.meanLean)),
		maxLean: Math.max(...walls.map((w) => w.maxLean)),
		growth: Math.max(...walls.map((w) => w.growth))
	};
}

/** How many elements ranges `[from, to, from, to, …]` hold. */
export const countIn = (ranges: readonly number[]): number => ranges.reduce((sum, n, k) => sum + (k % 2 === 0 ? -n : n), 0);

/** The values of the elements in ranges, one after the other. */
export function valuesIn(ranges: readonly number[], values: Float32Array): Float32Array {
	const taken = new Float32Array(countIn(ranges));
	for (let k = 0, at = 0; k < ranges.length; at += ranges[k + 1]! - ranges[k]!, k += 2)
		taken.set(values.subarray(ranges[k]!, ranges[k + 1]!), at);
	return taken;
}

/** The smallest, mean and largest of some values; undefined without any. */
export function rangeOf(values: Float32Array): { min: number; mean: number; max: number } | undefined {
	if (values.length === 0) return undefined;
	let [min, max, sum] = [Infinity, -Infinity, 0];
	for (const v of values) [min, max, sum] = [Math.min(min, v), Math.max(max, v), sum + v];
	return { min, mean: sum / values.length, max };
}

/** How many values lie within two limits, both included. */
export function countWithin(values: Float32Array, [low, high]: readonly [number, number]): number {
	let count = 0;
	for (const v of values) if (v >= low && v <= high) count++;
	return count;
}

/**
 * The worst elements by a measure, worst first.
 *
 * @param ranges of the elements considered; without, all are
 * @param most how many at the most
 */
export function worstElements(
	values: Float32Array,
	best: Measure['best'],
	ranges: readonly number[] = [0, values.length],
	most = 50
): number[] {
	const sign = best === 'high' ? 1 : -1;
	const found: number[] = [];
	for (let r = 0; r < ranges.length; r += 2)
		for (let e = ranges[r]!; e < ranges[r + 1]!; e++) {
			if (found.length === most && sign * values[e]! >= sign * values[found[most - 1]!]!) continue;
			let k = found.length;
			while (k > 0 && sign * values[found[k - 1]!]! > sign * values[e]!) k--;
			found.splice(k, 0, e);
			if (found.length > most) found.pop();
		}
	return found;
}
