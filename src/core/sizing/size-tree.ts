import { keepHiddenClass } from '../numeric/hidden-class.ts';
import { select } from '../numeric/select.ts';

/** A part with no more places than this is not halved any further. */
const few = 8;

/** So many places in a row are looked at together, at the most. */
const mostInRow = 16;

/** A size that grows to another but for this share of it may be the smaller one by rounding, far away. */
const rounding = 1e-9;

/**
 * Sizes at scattered places, each of which grows by a slope with the way from its place: tells the smallest at any point.
 * The places are halved again and again; a part whose smallest size, grown over the way to its box, is no smaller than what
 * is known is passed over, so that a question takes about log n.
 */
export class SizeTree {
	/** The places that count in the order of the tree: those of a part stand one after the other. */
	private readonly order: Int32Array;
	private readonly accepted: number;
	/** minX, minY, maxX, maxY and the smallest size of each part. */
	private readonly bounds: Float64Array;
	/** The first half of a part follows it, this is the other one, 0 at a leaf. */
	private readonly second: Int32Array;
	private readonly first: Int32Array;
	private readonly last: Int32Array;
	private parts = 0;
	/** The parts that are still to be looked at, and how near each may be. */
	private readonly pending = new Int32Array(64);
	private readonly promised = new Float64Array(64);
	/** The place that the last answer grew from, where it was below what was known: what lies near asks the next one, mostly. */
	source = 0;

	/**
	 * @param x, y places
	 * @param size size at each
	 * @param slope by how much sizes grow with the way
	 * @param order the places that take part: those whose sizes grow from that of another one are left out, the others put in
	 *   the order of the tree
	 * @param tolerance an answer may be this many times larger than the smallest size
	 */
	constructor(
		private readonly x: Float64Array,
		private readonly y: Float64Array,
		private readonly size: Float64Array,
		private readonly slope: number,
		order: Int32Array,
		tolerance = 1
	) {
		// Sizes are left out twice, and looked for once.
		const each = 1 + (tolerance - 1) / 4;
		order = this.order = withoutGrown(x, y, size, slope, order, each > 1 ? each : 1 - rounding);
		this.accepted = 1 / each;
		if (order.length > 0) this.source = order[0]!;
		const room = 4 * Math.ceil(order.length / few) + 1;
		this.bounds = new Float64Array(5 * room);
		[this.second, this.first, this.last] = [new Int32Array(room), new Int32Array(room), new Int32Array(room)];
		if (order.length > 0) this.gather(0, order.length);
	}

	/** The smallest size at a point, or `below` where none is smaller. */
	smallest(px: number, py: number, below: number): number {
		if (this.parts === 0) return below;
		const { x, y, size, order, slope, accepted, second, first, last, pending, promised } = this;
		let least = below;
		const nearest = this.grown(this.source, px, py);
		if (nearest < least) least = nearest;
		let depth = 0;
		let part = 0;
		let found = this.promise(0, px, py, px, py);
		for (;;) {
			if (found < least * accepted) {
				const other = second[part]!;
				if (other !== 0) {
					const low = this.promise(part + 1, px, py, px, py);
					const high = this.promise(other, px, py, px, py);
					part = this.betterHalf(part, low, high, depth++);
					found = Math.min(low, high);
					continue;
				}
				for (let k = first[part]!; k < last[part]!; k++) {
					const i = order[k]!;
					const dx = x[i]! - px;
					const dy = y[i]! - py;
					const grown = size[i]! + slope * Math.sqrt(dx * dx + dy * dy);
					if (grown >= least) continue;
					least = grown;
					this.source = i;
				}
			}
			if (depth === 0) return least;
			part = pending[--depth]!;
			found = promised[depth]!;
		}
	}

	/**
	 * Lowers sizes at all places to what has grown there, and notes from where. Places in a row mostly lie near one another, so
	 * that one way through the tree tells all that a few of them need.
	 *
	 * @param grown the sizes at the places
	 * @param from the place that each of them has come from
	 */
	growEach(grown: Float64Array, from: Int32Array): void {
		if (this.parts === 0) return;
		const { x, y, size, slope } = this;
		for (let first = 0; first < grown.length;) {
			let [ax, ay, bx, by] = [x[first]!, y[first]!, x[first]!, y[first]!];
			let last = first + 1;
			for (; last < grown.length && last < first + mostInRow; last++) {
				const [px, py] = [x[last]!, y[last]!];
				if (slope * Math.max(Math.abs(px - x[first]!), Math.abs(py - y[first]!)) > size[first]!) break;
				if (px < ax) ax = px;
				else if (px > bx) bx = px;
				if (py < ay) ay = py;
				else if (py > by) by = py;
			}
			this.passAlong(first, last, grown, from);
			this.growInto(first, last, grown, from, ax, ay, bx, by);
			this.source = from[last - 1]!;
			first = last;
		}
	}

	/** Lets sizes grow from place to place in a row, there and back. */
	private passAlong(first: number, last: number, grown: Float64Array, from: Int32Array): void {
		const { x, y } = this;
		let source = this.source;
		for (let n = 0; n < 2 * (last - first); n++) {
			const k = n < last - first ? first + n : 2 * last - first - 1 - n;
			const size = this.grown(source, x[k]!, y[k]!);
			if (size < grown[k]!) {
				grown[k] = size;
				from[k] = source;
			} else source = from[k]!;
		}
	}

	/** Lets all sizes grow to places in a row, which lie in a box. */
	private growInto(
		first: number,
		last: number,
		grown: Float64Array,
		from: Int32Array,
		ax: number,
		ay: number,
		bx: number,
		by: number
	): void {
		const { x, y, size, order, slope, pending, promised } = this;
		let most = largest(grown, first, last);
		let depth = 0;
		let part = 0;
		let found = this.promise(0, ax, ay, bx, by);
		for (;;) {
			if (found < most) {
				const other = this.second[part]!;
				if (other !== 0) {
					const low = this.promise(part + 1, ax, ay, bx, by);
					const high = this.promise(other, ax, ay, bx, by);
					part = this.betterHalf(part, low, high, depth++);
					found = Math.min(low, high);
					continue;
				}
				let isLower = false;
				for (let n = this.first[part]!; n < this.last[part]!; n++) {
					const i = order[n]!;
					const [px, py, typedSize] = [x[i]!, y[i]!, size[i]!];
					const wayX = px < ax ? ax - px : px > bx ? px - bx : 0;
					const wayY = py < ay ? ay - py : py > by ? py - by : 0;
					if (!(typedSize + slope * Math.sqrt(wayX * wayX + wayY * wayY) < most)) continue;
					for (let k = first; k < last; k++) {
						const dx = px - x[k]!;
						const dy = py - y[k]!;
						const there = typedSize + slope * Math.sqrt(dx * dx + dy * dy);
						if (!(there < grown[k]!)) continue;
						grown[k] = there;
						from[k] = i;
						isLower = true;
					}
				}
				if (isLower) most = largest(grown, first, last);
			}
			if (depth === 0) return;
			part = pending[--depth]!;
			found = promised[depth]!;
		}
	}

	/** The size that has grown from a place to a point. */
	grown(i: number, px: number, py: number): number {
		const dx = this.x[i]! - px;
		const dy = this.y[i]! - py;
		return this.size[i]! + this.slope * Math.sqrt(dx * dx + dy * dy);
	}

	/** The half of a part that promises more, which is looked at first; the other one is put aside. */
	private betterHalf(part: number, low: number, high: number, depth: number): number {
		const other = this.second[part]!;
		const isFirst = low <= high;
		this.pending[depth] = isFirst ? other : part + 1;
		this.promised[depth] = isFirst ? high : low;
		return isFirst ? part + 1 : other;
	}

	/** The smallest that the sizes of a part can have grown to anywhere in a box. */
	private promise(part: number, ax: number, ay: number, bx: number, by: number): number {
		const { bounds } = this;
		const k = 5 * part;
		const dx = bx < bounds[k]! ? bounds[k]! - bx : ax > bounds[k + 2]! ? ax - bounds[k + 2]! : 0;
		const dy = by < bounds[k + 1]! ? bounds[k + 1]! - by : ay > bounds[k + 3]! ? ay - bounds[k + 3]! : 0;
		return bounds[k + 4]! + this.slope * Math.sqrt(dx * dx + dy * dy);
	}

	/** Makes the part of the places order[from … to − 1]. */
	private gather(from: number, to: number): void {
		const { x, y, size, order } = this;
		const part = this.parts++;
		let [ax, ay, bx, by, low] = [Infinity, Infinity, -Infinity, -Infinity, Infinity];
		for (let k = from; k < to; k++) {
			const p = order[k]!;
			if (x[p]! < ax) ax = x[p]!;
			if (x[p]! > bx) bx = x[p]!;
			if (y[p]! < ay) ay = y[p]!;
			if (y[p]! > by) by = y[p]!;
			if (size[p]! < low) low = size[p]!;
		}
		this.bounds.set([ax, ay, bx, by, low], 5 * part);
		this.first[part] = from;
		this.last[part] = to;
		if (to - from <= few) return;
		const middle = (from + to) >> 1;
		select(order, from, to - 1, middle, bx - ax >= by - ay ? x : y);
		this.gather(from, middle);
		this.second[part] = this.parts;
		this.gather(middle, to);
	}
}

function largest(numbers: Float64Array, first: number, last: number): number {
	let most = numbers[first]!;
	for (let k = first + 1; k < last; k++) if (numbers[k]! > most) most = numbers[k]!;
	return most;
}

/**
 * The places whose sizes are no more than grown from another of them: what they would say of any point, that one says too.
 * Places that follow one another in the list mostly lie near one another, as along a curve, so that each is held against the
 * last one that counts, there and back: most of them are told so, at little cost.
 */
function withoutGrown(
	x: Float64Array,
	y: Float64Array,
	size: Float64Array,
	slope: number,
	order: Int32Array,
	tolerance: number
): Int32Array {
	const left = order.slice();
	let count = order.length;
	for (let pass = 0; pass < 2; pass++) {
		let kept = 0;
		// The last that counts of those before.
		let s = -1;
		for (let n = 0; n < count; n++) {
			const i = left[n]!;
			if (s >= 0) {
				const dx = x[i]! - x[s]!;
				const dy = y[i]! - y[s]!;
				if (size[s]! + slope * Math.sqrt(dx * dx + dy * dy) < size[i]! * tolerance) continue;
			}
			s = left[kept++] = i;
		}
		count = kept;
		left.subarray(0, count).reverse();
	}
	return left.slice(0, count);
}

keepHiddenClass(new SizeTree(new Float64Array(1), new Float64Array(1), new Float64Array(1), 1, new Int32Array(1)));
