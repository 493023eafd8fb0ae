import { keepShape } from '../numeric/keep-shape.ts';
import { select } from '../numeric/select.ts';

/** A part with no more places than this is not halved any further. */
const few = 8;

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
		let known = below;
		const nearest = this.grown(this.source, px, py);
		if (nearest < known) known = nearest;
		let depth = 0;
		let part = 0;
		let own = this.promise(0, px, py);
		for (;;) {
			if (own < known * accepted) {
				const other = second[part]!;
				if (other !== 0) {
					// The half that promises more is looked at first.
					const low = this.promise(part + 1, px, py);
					const high = this.promise(other, px, py);
					const isFirst = low <= high;
					pending[depth] = isFirst ? other : part + 1;
					promised[depth++] = isFirst ? high : low;
					part = isFirst ? part + 1 : other;
					own = isFirst ? low : high;
					continue;
				}
				for (let k = first[part]!; k < last[part]!; k++) {
					const i = order[k]!;
					const dx = x[i]! - px;
					const dy = y[i]! - py;
					const grown = size[i]! + slope * Math.sqrt(dx * dx + dy * dy);
					if (grown >= known) continue;
					known = grown;
					this.source = i;
				}
			}
			if (depth === 0) return known;
			part = pending[--depth]!;
			own = promised[depth]!;
		}
	}

	/** The size that has grown from a place to a point. */
	grown(i: number, px: number, py: number): number {
		const dx = this.x[i]! - px;
		const dy = this.y[i]! - py;
		return this.size[i]! + this.slope * Math.sqrt(dx * dx + dy * dy);
	}

	/** The smallest that the sizes of a part can have grown to at a point. */
	private promise(part: number, px: number, py: number): number {
		const { bounds } = this;
		const k = 5 * part;
		const dx = px < bounds[k]! ? bounds[k]! - px : px > bounds[k + 2]! ? px - bounds[k + 2]! : 0;
		const dy = py < bounds[k + 1]! ? bounds[k + 1]! - py : py > bounds[k + 3]! ? py - bounds[k + 3]! : 0;
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

keepShape(new SizeTree(new Float64Array(1), new Float64Array(1), new Float64Array(1), 1, new Int32Array(1)));
