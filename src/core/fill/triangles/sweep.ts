import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { lengthened } from '../../numeric/lengthened.ts';
import { square } from '../../numeric/elementary.ts';
import type { Work } from '../../numeric/work.ts';

/** A pocket of the front is closed by one triangle up to this angle, 84°, … */
const closes = 0.10452846326765347;
/** … and gets one node, on its bisector, up to this one, 140°. */
const takesOne = -0.7660444431189779;
/** A new node stays this far, in wanted sizes, from the front beside it; where it would not, that is joined instead. */
const leastDistance = 0.7;
/** An edge steeper than this, as the cosine of its angle to the wall, 75°, gets its node on the wall. */
const isSteep = 0.25881904510252074;
/** A node that would lie behind a wall goes so many sizes before it. */
const besideWall = 0.3;
/** What {@link Sweep.pocket} tells where the front does not turn up. */
const noPocket = -2;
/** Edges of the front come out shorter than the triangles over them are made, by about so much. */
const allowance = 1.03;
/** So many nodes are placed between two looks at whether to go on. */
const stretch = 1 << 12;

/** Gives a sweep the sizes that are wanted. */
export interface SweepSizes {
	/** The wanted size at a place beside two nodes that are there; −1 where there are none yet. */
	at: (x: number, y: number, a: number, b: number) => number;
	/** The last place asked for, or one near it, has become a node. */
	keep: (node: number) => void;
}

/** Triangles of a rectangle: nodes with their sizes, and half-edges as in a triangulation. */
export interface Swept {
	count: number;
	x: Float64Array;
	y: Float64Array;
	size: Float64Array;
	triangleCount: number;
	from: Int32Array;
	twin: Int32Array;
}

/**
 * Fills a rectangle with triangles by a front that rises from its lower side: a chain of nodes from the left side to the
 * right one, which gets its next node where that is lowest among what lies beside it (the order of Fornberg & Flyer 2015,
 * whose front has places where this one has edges). Nothing needs to be searched, and every node comes with its
 * triangles: at a pocket of the front one closes it, or two with a node on its bisector; elsewhere a node goes to the apex
 * over an edge, at the height that makes a triangle of the wanted size. The triangles are nearly, not wholly, Delaunay.
 *
 * The front goes beyond the upper side; what it leaves there has steps.
 *
 * @param box minX, minY, maxX, maxY
 * @param expected about how many nodes there will be
 * @param limit the most nodes
 * @returns undefined where sizes change so much that the front has run into itself, or at the limit
 */
export function* sweep(
	box: readonly [number, number, number, number],
	sizes: SweepSizes,
	expected: number,
	limit: number
): Work<Swept | undefined> {
	const front = new Sweep(box, sizes, expected);
	yield 0;
	while (front.count < limit) {
		const isOver = front.rise(stretch);
		if (isOver) return front.isSound() ? front.swept() : undefined;
		yield Math.min(0.99, front.count / expected);
	}
	return undefined;
}

class Sweep {
	count = 0;
	private x: Float64Array;
	private y: Float64Array;
	private size: Float64Array;
	private triangleCount = 0;
	private from: Int32Array;
	private twin: Int32Array;
	/** The chain: the nodes to the right and to the left of each, −1 at its ends. */
	private after: Int32Array;
	private before: Int32Array;
	/** The half-edge below the edge of the chain from each node to the next one; −1 on the lower side of the rectangle. */
	private under: Int32Array;
	/** How high about the node over that edge would lie. */
	private rank: Float64Array;
	/** The node that the front goes on from. */
	private current = 0;
	/** The node to the left of the pocket that was closed last. */
	private closed = 0;

	constructor(
		private readonly box: readonly [number, number, number, number],
		private readonly sizes: SweepSizes,
		expected: number
	) {
		const room = Math.max(64, Math.ceil(1.1 * expected));
		const doubles = () => new Float64Array(room);
		const links = () => new Int32Array(room);
		[this.x, this.y, this.size, this.rank] = [doubles(), doubles(), doubles(), doubles()];
		[this.after, this.before, this.under] = [links(), links(), links()];
		this.from = new Int32Array(6 * room);
		this.twin = new Int32Array(6 * room).fill(-1);
		this.layOut();
	}

	/** The first nodes, along the lower side. */
	private layOut(): void {
		const [left, low, right] = this.box;
		const at = [0];
		let reached = 0;
		while (reached < right - left) at.push((reached += this.sizes.at(left + reached, low, -1, -1)));
		for (const [k, way] of at.entries()) {
			const px = left + (way * (right - left)) / reached;
			const v = this.add(px, low, this.sizes.at(px, low, -1, -1));
			this.before[v] = v - 1;
			this.after[v] = k + 1 < at.length ? v + 1 : -1;
			this.under[v] = -1;
		}
		for (let v = 0; v < this.count; v++) this.judge(v);
	}

	swept(): Swept {
		const { count, x, y, size, triangleCount, from, twin } = this;
		return { count, x, y, size, triangleCount, from, twin };
	}

	/** Whether no triangle is turned over and the front runs from left to right: then no two triangles overlap. */
	isSound(): boolean {
		const { x, y, from, after, before } = this;
		for (let e = 0; e < 3 * this.triangleCount; e += 3) {
			const a = from[e]!;
			const b = from[e + 1]!;
			const c = from[e + 2]!;
			if (!((x[b]! - x[a]!) * (y[c]! - y[a]!) - (y[b]! - y[a]!) * (x[c]! - x[a]!) > 0)) return false;
		}
		let v = this.current;
		while (before[v]! >= 0) v = before[v]!;
		for (; after[v]! >= 0; v = after[v]!) if (!(x[after[v]!]! > x[v]!)) return false;
		return true;
	}

	/** Places about so many nodes more; true when the front is above the rectangle. */
	rise(most: number): boolean {
		const top = this.box[3];
		const end = this.count + most;
		let a = this.current;
		while (this.count < end) {
			const { rank, after, before } = this;
			const b = after[a]!;
			this.current = a;
			if (b < 0) return true;
			const order = rank[a]!;
			const left = before[a]!;
			if (order > top) a = left >= 0 && rank[left]! <= top ? left : b;
			else if (left >= 0 && rank[left]! < order) a = left;
			else if (after[b]! >= 0 && rank[b]! < order) a = b;
			else a = this.advance(a, b);
		}
		this.current = a;
		return false;
	}

	private add(px: number, py: number, size: number): number {
		if (this.count === this.x.length) {
			const room = 2 * this.count;
			[this.x, this.y] = [lengthened(this.x, room), lengthened(this.y, room)];
			[this.size, this.rank] = [lengthened(this.size, room), lengthened(this.rank, room)];
			[this.after, this.before, this.under] = [
				lengthened(this.after, room),
				lengthened(this.before, room),
				lengthened(this.under, room)
			];
		}
		const v = this.count++;
		this.x[v] = px;
		this.y[v] = py;
		this.size[v] = size;
		this.sizes.keep(v);
		return v;
	}

	/** Makes a triangle on the edge a–b of the front; returns its first half-edge. */
	private triangle(a: number, b: number, c: number, below: number): number {
		const e = 3 * this.triangleCount++;
		if (e === this.from.length) {
			this.from = lengthened(this.from, 2 * e);
			this.twin = lengthened(this.twin, 2 * e).fill(-1, e);
		}
		const { from, twin } = this;
		from[e] = a;
		from[e + 1] = b;
		from[e + 2] = c;
		twin[e] = below;
		if (below >= 0) twin[below] = e;
		return e;
	}

	/** Puts b after a in the chain, over a half-edge. */
	private link(a: number, b: number, under: number): void {
		this.after[a] = b;
		this.before[b] = a;
		this.under[a] = under;
		this.judge(a);
	}

	/** Works out how high the node over the edge after a would lie. */
	private judge(a: number): void {
		const b = this.after[a]!;
		if (b < 0) return;
		const { x, y, size } = this;
		const dx = x[b]! - x[a]!;
		const dy = y[b]! - y[a]!;
		this.rank[a] = (y[a]! + y[b]!) / 2 + (0.435 * (size[a]! + size[b]!) * dx) / Math.sqrt(dx * dx + dy * dy);
	}

	/** The cosine of the angle that the front makes at a node, seen from above, where that is less than 180°. */
	private pocket(v: number): number {
		const { x, y } = this;
		const left = this.before[v]!;
		const right = this.after[v]!;
		if (left < 0 || right < 0) return noPocket;
		const ux = x[right]! - x[v]!;
		const uy = y[right]! - y[v]!;
		const wx = x[left]! - x[v]!;
		const wy = y[left]! - y[v]!;
		if (!(ux * wy - uy * wx > 0)) return noPocket;
		return (ux * wx + uy * wy) / Math.sqrt((ux * ux + uy * uy) * (wx * wx + wy * wy));
	}

	/** Closes the pocket at a node by one triangle; returns the node to its left. */
	private close(v: number): number {
		const left = this.before[v]!;
		const right = this.after[v]!;
		const e = this.triangle(left, v, right, this.under[left]!);
		const below = this.under[v]!;
		this.twin[e + 1] = below;
		if (below >= 0) this.twin[below] = e + 1;
		this.link(left, right, e + 2);
		this.before[v] = this.after[v] = -1;
		this.closed = left;
		return left;
	}

	/** Closes the pocket at a node if it is sharp, and what that makes sharp. */
	private closeAround(v: number): void {
		while (this.pocket(v) > closes) {
			const left = this.close(v);
			const right = this.after[left]!;
			v = this.pocket(left) > this.pocket(right) ? left : right;
		}
	}

	/** Advances at the edge a–b of the front; returns a node from which to go on. */
	private advance(a: number, b: number): number {
		const atA = this.pocket(a);
		const atB = this.pocket(b);
		const v = atA >= atB ? a : b;
		const angle = Math.max(atA, atB);
		if (angle > closes) return this.close(v);
		if (angle > takesOne) return this.onBisector(v);
		return this.overEdge(a, b, atA, atB);
	}

	/** A node on the bisector of a pocket. */
	private onBisector(v: number): number {
		const { x, y, size } = this;
		const left = this.before[v]!;
		const right = this.after[v]!;
		const ux = x[right]! - x[v]!;
		const uy = y[right]! - y[v]!;
		const wx = x[left]! - x[v]!;
		const wy = y[left]! - y[v]!;
		const u = Math.sqrt(ux * ux + uy * uy);
		const w = Math.sqrt(wx * wx + wy * wy);
		let bx = ux / u + wx / w;
		let by = uy / u + wy / w;
		const b = Math.sqrt(bx * bx + by * by);
		bx /= b;
		by /= b;
		const base = size[v]! / 2 + (size[left]! + size[right]!) / 4;
		const ahead = this.sizes.at(x[v]! + base * bx, y[v]! + base * by, v, left);
		const way = allowance * (0.75 * base + 0.25 * ahead);
		const px = x[v]! + way * bx;
		const py = y[v]! + way * by;
		const least = leastDistance * ahead;
		if (this.isNear(this.before[left]!, px, py, least) && this.pocket(left) > noPocket) return this.close(left);
		if (this.isNear(this.after[right]!, px, py, least) && this.pocket(right) > noPocket) return this.close(right);
		if (px < this.box[0] || px > this.box[2]) return this.close(v);
		const q = this.add(px, py, ahead);
		const e = this.triangle(left, v, q, this.under[left]!);
		const f = this.triangle(v, right, q, this.under[v]!);
		this.twin[e + 1] = f + 2;
		this.twin[f + 2] = e + 1;
		this.link(left, q, e + 2);
		this.link(q, right, f + 1);
		this.closeAround(left);
		this.closeAround(right);
		return this.leftOf(q);
	}

	/** A node over an edge, at the apex of a triangle of the wanted size, or on the wall beside a steep one. */
	private overEdge(a: number, b: number, atA: number, atB: number): number {
		const { x, y, size, box } = this;
		const left = this.before[a]!;
		const right = this.after[b]!;
		const dx = x[b]! - x[a]!;
		const dy = y[b]! - y[a]!;
		const length = Math.sqrt(dx * dx + dy * dy);
		const half = length / 2;
		const nx = -dy / length;
		const ny = dx / length;
		const mx = (x[a]! + x[b]!) / 2;
		const my = (y[a]! + y[b]!) / 2;
		const base = (size[a]! + size[b]!) / 2;
		const ahead = this.sizes.at(mx + 0.87 * base * nx, my + 0.87 * base * ny, a, b);
		// The triangle is as large as its sizes are on the whole: those of its base count for more than the one ahead.
		const whole = allowance * (0.75 * base + 0.25 * ahead);
		const radius = Math.max(whole / Math.sqrt(3), half);
		const height = radius + Math.sqrt(Math.max(0, radius * radius - half * half));
		let px = mx + height * nx;
		const py = my + height * ny;
		if (left < 0 && (dy > isSteep * length || px < box[0])) return this.onWall(a, b, box[0], Math.max(y[a]! + base, my));
		if (right < 0 && (-dy > isSteep * length || px > box[2])) return this.onWall(a, b, box[2], Math.max(y[b]! + base, my));
		if (px < box[0] || px > box[2]) {
			px = px < box[0] ? box[0] + besideWall * base : box[2] - besideWall * base;
			if (!(dx * (py - y[a]!) - dy * (px - x[a]!) > 0)) {
				// No room: what lies beside it may still close over it.
				this.rank[a] = Infinity;
				return a;
			}
		}
		const least = leastDistance * ahead;
		if (this.isNear(left, px, py, least) && atA > noPocket) return this.close(a);
		if (this.isNear(right, px, py, least) && atB > noPocket) return this.close(b);
		const q = this.add(px, py, ahead);
		const e = this.triangle(a, b, q, this.under[a]!);
		this.link(a, q, e + 2);
		this.link(q, b, e + 1);
		this.closeAround(a);
		this.closeAround(b);
		return this.leftOf(q);
	}

	/** A node on the left or right wall, over the first or the last edge of the front. */
	private onWall(a: number, b: number, px: number, py: number): number {
		const q = this.add(px, py, this.sizes.at(px, py, a, b));
		const e = this.triangle(a, b, q, this.under[a]!);
		if (px === this.box[0]) {
			this.before[q] = -1;
			this.link(q, b, e + 1);
			this.closeAround(b);
		} else {
			this.after[q] = -1;
			this.link(a, q, e + 2);
			this.closeAround(a);
		}
		return this.leftOf(q);
	}

	/** The node to the left of one, itself at the left end; where closing pockets has left it behind, that beside the last of them. */
	private leftOf(v: number): number {
		if (this.before[v]! >= 0) return this.before[v]!;
		return this.after[v]! >= 0 ? v : this.closed;
	}

	/** Whether a node of the front, or none, lies nearer to a place than so much. */
	private isNear(v: number, px: number, py: number, least: number): boolean {
		return v >= 0 && square(this.x[v]! - px) + square(this.y[v]! - py) < least * least;
	}
}

keepHiddenClass(new Sweep([0, 0, 1, 1], { at: () => 1, keep: () => undefined }, 1));
