import { keepShape } from '../numeric/keep-shape.ts';
import { select } from '../numeric/select.ts';

/** A part with no more places than this is not halved any further. */
const few = 8;

/**
 * Sizes at scattered places, each of which grows by a slope with the way from its place: tells the smallest at any point.
 * The places are halved again and again; a part whose smallest size, grown over the way to its box, is no smaller than what
 * is known is passed over, so that a question takes about log n.
 */
export class SizeTree {
	/** The places in the order of the tree: those of a part stand one after the other. */
	readonly order: Int32Array;
	/** Boxes and smallest sizes of the parts; the first half of a part follows it, `second` tells the other, 0 at a leaf. */
	private readonly minX: Float64Array;
	private readonly minY: Float64Array;
	private readonly maxX: Float64Array;
	private readonly maxY: Float64Array;
	private readonly least: Float64Array;
	private readonly second: Int32Array;
	private readonly first: Int32Array;
	private readonly last: Int32Array;
	private parts = 0;
	private px = 0;
	private py = 0;
	private known = Infinity;

	/**
	 * @param x, y places
	 * @param size size at each
	 * @param slope by how much sizes grow with the way
	 * @param order the places that take part; put in the order of the tree
	 */
	constructor(
		private readonly x: Float64Array,
		private readonly y: Float64Array,
		private readonly size: Float64Array,
		private readonly slope: number,
		order: Int32Array
	) {
		this.order = order;
		const room = 4 * Math.ceil(order.length / few) + 1;
		const doubles = () => new Float64Array(room);
		[this.minX, this.minY, this.maxX, this.maxY, this.least] = [doubles(), doubles(), doubles(), doubles(), doubles()];
		[this.second, this.first, this.last] = [new Int32Array(room), new Int32Array(room), new Int32Array(room)];
		if (order.length > 0) this.gather(0, order.length);
	}

	/** The smallest size at a point, or `below` where none is smaller. */
	smallest(px: number, py: number, below: number): number {
		if (this.parts === 0) return below;
		this.px = px;
		this.py = py;
		this.known = below;
		if (this.nearest(0) < below) this.visit(0);
		return this.known;
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
		this.minX[part] = ax;
		this.minY[part] = ay;
		this.maxX[part] = bx;
		this.maxY[part] = by;
		this.least[part] = low;
		this.first[part] = from;
		this.last[part] = to;
		if (to - from <= few) return;
		const middle = (from + to) >> 1;
		select(order, from, to - 1, middle, bx - ax >= by - ay ? x : y);
		this.gather(from, middle);
		this.second[part] = this.parts;
		this.gather(middle, to);
	}

	/** The smallest that the sizes of a part can have grown to at the point. */
	private nearest(part: number): number {
		const { px, py } = this;
		const dx = Math.max(this.minX[part]! - px, 0, px - this.maxX[part]!);
		const dy = Math.max(this.minY[part]! - py, 0, py - this.maxY[part]!);
		return this.least[part]! + this.slope * Math.sqrt(dx * dx + dy * dy);
	}

	private visit(part: number): void {
		const other = this.second[part]!;
		if (other === 0) {
			const { x, y, size, order, slope, px, py } = this;
			for (let k = this.first[part]!; k < this.last[part]!; k++) {
				const i = order[k]!;
				const dx = x[i]! - px;
				const dy = y[i]! - py;
				const grown = size[i]! + slope * Math.sqrt(dx * dx + dy * dy);
				if (grown < this.known) this.known = grown;
			}
			return;
		}
		const [low, high] = [this.nearest(part + 1), this.nearest(other)];
		// The half that promises more is looked at first.
		if (low <= high) {
			if (low < this.known) this.visit(part + 1);
			if (high < this.known) this.visit(other);
		} else {
			if (high < this.known) this.visit(other);
			if (low < this.known) this.visit(part + 1);
		}
	}
}

keepShape(new SizeTree(new Float64Array(1), new Float64Array(1), new Float64Array(1), 1, new Int32Array(1)));
