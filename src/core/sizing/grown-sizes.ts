import { hypot } from '../numeric/elementary.ts';

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
	// What is as large as any is nowhere the smallest.
	let largest = 0;
	for (const own of size) largest = Math.max(largest, own);
	halve(
		0,
		order.length,
		order.filter((i) => size[i]! < largest)
	);
	return out;

	function grown(i: number, px: number, py: number): number {
		const [dx, dy] = [x[i]! - px, y[i]! - py];
		return size[i]! + slope * Math.sqrt(dx * dx + dy * dy);
	}

	/** Settles the points order[first … last − 1]. */
	function halve(first: number, last: number, candidates: Int32Array): void {
		if (last - first <= few || candidates.length <= few) {
			for (let k = first; k < last; k++) {
				const p = order[k]!;
				for (const i of candidates) out[p] = Math.min(out[p]!, grown(i, x[p]!, y[p]!));
			}
			return;
		}
		let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
		for (let k = first; k < last; k++) {
			minX = Math.min(minX, x[order[k]!]!);
			maxX = Math.max(maxX, x[order[k]!]!);
			minY = Math.min(minY, y[order[k]!]!);
			maxY = Math.max(maxY, y[order[k]!]!);
		}
		const [cx, cy] = [(minX + maxX) / 2, (minY + maxY) / 2];
		const radius = hypot(maxX - minX, maxY - minY) / 2;
		let least = Infinity;
		for (const i of candidates) least = Math.min(least, grown(i, cx, cy));
		// What is smallest somewhere in the box is, in its middle, larger by no more than the growth there and back.
		const most = least + 2 * slope * radius * (1 + 1e-12);
		const left = candidates.filter((i) => grown(i, cx, cy) <= most);
		const middle = (first + last) >> 1;
		select(order, first, last - 1, middle, maxX - minX >= maxY - minY ? x : y);
		halve(first, middle, left);
		halve(middle, last, left);
	}
}

/** Reorders a part of a list so that the item at k is the one that sorting by key would put there (Hoare 1961). */
function select(order: Int32Array, first: number, last: number, k: number, key: Float64Array): void {
	while (last > first) {
		const pivot = key[order[(first + last) >> 1]!]!;
		let [i, j] = [first, last];
		while (i <= j) {
			while (key[order[i]!]! < pivot) i++;
			while (key[order[j]!]! > pivot) j--;
			if (i > j) break;
			const swapped = order[i]!;
			order[i++] = order[j]!;
			order[j--] = swapped;
		}
		if (k <= j) last = j;
		else if (k >= i) first = i;
		else return;
	}
}
