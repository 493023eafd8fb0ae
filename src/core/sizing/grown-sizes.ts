import { hypot } from '../numeric/elementary.ts';
import { lengthened } from '../numeric/lengthened.ts';
import { select } from '../numeric/select.ts';

/** Parts with no more points or candidates than this are looked at one by one. */
const few = 8;

/**
 * The smallest, at each of some points, of the sizes of all points, each grown by the slope over the
 * straight way from it: the largest function below the sizes that grows no faster (Persson 2006, for
 * scattered points). The points are halved again and again; a part keeps only the candidates that can
 * be the smallest within its box, so that the work is about n log n.
 *
 * @param x, y places
 * @param size size at each, positive
 */
export function grownSizes(x: Float64Array, y: Float64Array, size: Float64Array, slope: number): Float64Array {
	const out = size.slice();
	const order = Int32Array.from(x, (_, i) => i);
	/** Candidates of the parts on the way down, one list after the other, and what they grow to in the middle of a part. */
	let candidates = new Int32Array(2 * x.length + few);
	const there = new Float64Array(x.length);
	// What is as large as any is nowhere the smallest.
	let largest = 0;
	for (let i = 0; i < size.length; i++) largest = Math.max(largest, size[i]!);
	let count = 0;
	for (let i = 0; i < size.length; i++) if (size[i]! < largest) candidates[count++] = i;
	halve(0, order.length, 0, count);
	return out;

	/** Settles the points order[first … last − 1] by the candidates of a range. */
	function halve(first: number, last: number, from: number, to: number): void {
		if (last - first <= few || to - from <= few) {
			for (let k = first; k < last; k++) {
				const p = order[k]!;
				let least = out[p]!;
				for (let c = from; c < to; c++) {
					const i = candidates[c]!;
					const dx = x[i]! - x[p]!;
					const dy = y[i]! - y[p]!;
					const own = size[i]! + slope * Math.sqrt(dx * dx + dy * dy);
					if (own < least) least = own;
				}
				out[p] = least;
			}
			return;
		}
		let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
		for (let k = first; k < last; k++) {
			const p = order[k]!;
			if (x[p]! < minX) minX = x[p]!;
			if (x[p]! > maxX) maxX = x[p]!;
			if (y[p]! < minY) minY = y[p]!;
			if (y[p]! > maxY) maxY = y[p]!;
		}
		const cx = (minX + maxX) / 2;
		const cy = (minY + maxY) / 2;
		let least = Infinity;
		for (let c = from; c < to; c++) {
			const i = candidates[c]!;
			const dx = x[i]! - cx;
			const dy = y[i]! - cy;
			const own = size[i]! + slope * Math.sqrt(dx * dx + dy * dy);
			there[c - from] = own;
			if (own < least) least = own;
		}
		// What is smallest somewhere in the box is, in its middle, larger by no more than the growth there and back.
		const most = least + slope * hypot(maxX - minX, maxY - minY) * (1 + 1e-12);
		if (candidates.length < 2 * to - from) candidates = lengthened(candidates, 2 * (2 * to - from));
		let end = to;
		for (let c = from; c < to; c++) if (there[c - from]! <= most) candidates[end++] = candidates[c]!;
		const middle = (first + last) >> 1;
		select(order, first, last - 1, middle, maxX - minX >= maxY - minY ? x : y);
		halve(first, middle, to, end);
		halve(middle, last, to, end);
	}
}
