import { select } from '../numeric/select.ts';

/** A part of a tree with no more points than this is not halved any further. */
const few = 8;

/**
 * The smallest, at each of some points, of the sizes of all points, each grown by the slope over the
 * straight way from it: the largest function below the sizes that grows no faster (Persson 2006, for
 * scattered points). The points are halved again and again; at every point, parts whose smallest size, grown over the way
 * to their box, is no smaller than what is known are passed over, so that the work is about n log n.
 *
 * @param x, y places
 * @param size size at each, positive
 */
export function grownSizes(x: Float64Array, y: Float64Array, size: Float64Array, slope: number): Float64Array {
	const out = size.slice();
	const count = x.length;
	if (count === 0) return out;
	const order = Int32Array.from(x, (_, i) => i);

	// Phase 1: the tree, one number a part in every list; the first half of a part follows it, `second` tells the other, 0 at a leaf.
	const room = 4 * Math.ceil(count / few) + 1;
	const [minX, minY, maxX, maxY] = [
		new Float64Array(room),
		new Float64Array(room),
		new Float64Array(room),
		new Float64Array(room)
	];
	const least = new Float64Array(room);
	const second = new Int32Array(room);
	const first = new Int32Array(room);
	const last = new Int32Array(room);
	let parts = 0;
	gather(0, count);

	// Phase 2: every point, in the order of the tree.
	let [px, py, own] = [0, 0, 0];
	for (let k = 0; k < count; k++) {
		const p = order[k]!;
		[px, py, own] = [x[p]!, y[p]!, size[p]!];
		visit(0);
		out[p] = own;
	}
	return out;

	/** Makes the part of the points order[from … to − 1]. */
	function gather(from: number, to: number): void {
		const part = parts++;
		let [ax, ay, bx, by, low] = [Infinity, Infinity, -Infinity, -Infinity, Infinity];
		for (let k = from; k < to; k++) {
			const p = order[k]!;
			if (x[p]! < ax) ax = x[p]!;
			if (x[p]! > bx) bx = x[p]!;
			if (y[p]! < ay) ay = y[p]!;
			if (y[p]! > by) by = y[p]!;
			if (size[p]! < low) low = size[p]!;
		}
		minX[part] = ax;
		minY[part] = ay;
		maxX[part] = bx;
		maxY[part] = by;
		least[part] = low;
		first[part] = from;
		last[part] = to;
		if (to - from <= few) return;
		const middle = (from + to) >> 1;
		select(order, from, to - 1, middle, bx - ax >= by - ay ? x : y);
		gather(from, middle);
		second[part] = parts;
		gather(middle, to);
	}

	/** The smallest that the sizes of a part grow to at the point that is looked at. */
	function smallestOf(part: number): number {
		const dx = Math.max(minX[part]! - px, 0, px - maxX[part]!);
		const dy = Math.max(minY[part]! - py, 0, py - maxY[part]!);
		return least[part]! + slope * Math.sqrt(dx * dx + dy * dy);
	}

	function visit(part: number): void {
		if (second[part] === 0) {
			for (let k = first[part]!; k < last[part]!; k++) {
				const i = order[k]!;
				const dx = x[i]! - px;
				const dy = y[i]! - py;
				const grown = size[i]! + slope * Math.sqrt(dx * dx + dy * dy);
				if (grown < own) own = grown;
			}
			return;
		}
		const [a, b] = [part + 1, second[part]!];
		const [low, high] = [smallestOf(a), smallestOf(b)];
		// The half that promises more is looked at first.
		const [near, far, farthest] = low <= high ? [a, b, high] : [b, a, low];
		if (Math.min(low, high) < own) visit(near);
		if (farthest < own) visit(far);
	}
}
