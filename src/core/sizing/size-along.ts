import { bisectLeft } from 'd3-array';
import { expm1, log1p } from '../numeric/elementary.ts';
import { cachedFor } from '../numeric/cached-for.ts';
import { pooled } from '../numeric/pooled.ts';

/** Wanted size along one piece: at places from its start, 0, to its end, 1; between two of them it runs straight. Its numbers stay once it is asked for counts. */
export interface SizesAlong {
	at: Float64Array;
	size: Float64Array;
}

/** Sizes at evenly spaced places. */
export function evenlyPlaced(size: Float64Array): SizesAlong {
	return { at: Float64Array.from(size, (_, k) => k / (size.length - 1)), size };
}

/** The size at a fraction of the length. */
export function sizeAt({ at, size }: SizesAlong, fraction: number): number {
	// The first place, but for the start, that does not lie before it.
	const k = bisectLeft(at, fraction, 1, at.length - 1);
	const span = at[k]! - at[k - 1]!;
	return span > 0 ? size[k - 1]! + ((fraction - at[k - 1]!) / span) * (size[k]! - size[k - 1]!) : size[k]!;
}

/** ln(b/a) of every two neighbouring sizes a and b: of all that is made of them it costs the most, and is asked for again and again. */
const logarithms = cachedFor(({ size }: SizesAlong): Float64Array => {
	const out = pooled(size.length - 1);
	for (let k = 0; k < out.length; k++) if (size[k] !== size[k + 1]) out[k] = log1p((size[k + 1]! - size[k]!) / size[k]!);
	return out;
});

/** The integral of 1/h over a part of a length, where h runs straight from a to b: ln(b/a) / (b − a), times the length. */
const divisionsIn = (a: number, b: number, logarithm: number, length: number): number =>
	a === b ? length / a : (length * logarithm) / (b - a);

/** How many divisions the sizes make: the integral of 1/size over the arc length. */
export const countAlong = cachedFor((sizes: SizesAlong, length): number => {
	const { at, size } = sizes;
	const logs = logarithms(sizes, 0);
	let sum = 0;
	for (let k = 0; k + 1 < at.length; k++) sum += divisionsIn(size[k]!, size[k + 1]!, logs[k]!, (at[k + 1]! - at[k]!) * length);
	return sum;
});

/** Whether all sizes are one. */
export const isOneSize = cachedFor(({ size }: SizesAlong): boolean => {
	for (let k = 1; k < size.length; k++) if (size[k] !== size[0]) return false;
	return true;
});

/** The integral from the start to each place, while positions are looked for. */
let sums = new Float64Array(256);

/** Positions of n + 1 nodes between which the integral of 1/size is the same, even ones where it has no bound; of the same sizes and count the same list, which stays as it is. */
export const positionsAlong = cachedFor((sizes: SizesAlong, count): Float64Array => {
	const { at, size } = sizes;
	const n = at.length - 1;
	const logs = logarithms(sizes, 0);
	if (sums.length <= n) sums = new Float64Array(2 * n + 1);
	const sum = sums;
	for (let k = 0; k < n; k++) sum[k + 1] = sum[k]! + divisionsIn(size[k]!, size[k + 1]!, logs[k]!, at[k + 1]! - at[k]!);
	const out = pooled(count + 1);
	if (!(sum[n]! > 0 && sum[n]! < Infinity)) return out.map((_, i) => i / count);
	let k = 0;
	for (let i = 1; i < count; i++) {
		const wanted = (i / count) * sum[n]!;
		while (k < n - 1 && sum[k + 1]! < wanted) k++;
		// The way t to where the integral is w, of h = a + (b − a) t / length: a (e^(w slope) − 1) / slope.
		const [a, b, length] = [size[k]!, size[k + 1]!, at[k + 1]! - at[k]!];
		const rest = wanted - sum[k]!;
		const slope = (b - a) / length;
		out[i] = at[k]! + Math.min(length, slope === 0 ? rest * a : (a * expm1(rest * slope)) / slope);
	}
	out[count] = 1;
	return out;
});

/** No more places than this tell of the cells of a piece. */
const mostCells = 4096;

/** Sizes of the cells of given positions: at every node the mean of the cells beside it. */
export function sizesOfPositions(at: Float64Array, length: number): SizesAlong {
	const cells = at.length - 1;
	const stride = Math.ceil(cells / mostCells);
	const count = Math.ceil(cells / stride) + 1;
	const places = new Float64Array(count);
	const size = new Float64Array(count);
	for (let i = 0; i < count; i++) {
		const k = Math.min(i * stride, cells);
		const before = Math.max(0, k - 1);
		const after = Math.min(cells - 1, k);
		places[i] = at[k]!;
		size[i] = ((at[before + 1]! - at[before]!) * length + (at[after + 1]! - at[after]!) * length) / 2;
	}
	return { at: places, size };
}
