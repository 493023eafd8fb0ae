import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { lengthened } from '../../numeric/lengthened.ts';
import type { Work } from '../../numeric/work.ts';

/** A place in the list of an element that holds no node: the fourth of a triangle, all of an element that is gone. */
export const NONE = -1;

/**
 * Elements of three and four nodes that can be joined, turned and taken apart. Every change is written down, so that one that
 * makes things worse can be taken back.
 */
export class QuadMesh {
	x: Float64Array;
	y: Float64Array;
	nodeCount: number;
	/** Four nodes to an element, counter-clockwise. */
	nodes: Int32Array;
	elementCount = 0;
	/** A corner at each node, four times its element and its place in it; −1 where it has none. The others follow it in {@link otherCorner}. */
	corner: Int32Array;
	/** The next corner at the same node, −1 after the last. */
	otherCorner: Int32Array;
	/** How many elements each node has. */
	private counts: Int32Array;
	/** Edges that must stay, by {@link key}. */
	private readonly fixedEdges = new Set<number>();
	/** What was before: an element with its four nodes, or −1 − a node with its place; five numbers each. */
	private readonly journal: number[] = [];

	/**
	 * @param given how many of the first nodes stay where they are
	 * @param room how many elements there is room for; more is made where it is wanted
	 */
	constructor(
		x: Float64Array,
		y: Float64Array,
		readonly given: number,
		edges: Uint32Array,
		room = x.length + 16
	) {
		this.x = x;
		this.y = y;
		this.nodeCount = x.length;
		this.nodes = new Int32Array(4 * room).fill(NONE);
		this.otherCorner = new Int32Array(4 * room);
		this.corner = new Int32Array(x.length).fill(-1);
		this.counts = new Int32Array(x.length);
		for (let k = 0; k < edges.length; k += 2) this.fixedEdges.add(key(edges[k]!, edges[k + 1]!));
	}

	isFixedEdge(a: number, b: number): boolean {
		return a < this.given && b < this.given && this.fixedEdges.has(key(a, b));
	}

	/** How many elements a node has. */
	countAt(v: number): number {
		return this.counts[v]!;
	}

	/** The elements around a node, in no order. */
	elementsAt(v: number): number[] {
		const list: number[] = [];
		for (let c = this.corner[v]!; c >= 0; c = this.otherCorner[c]!) list.push(c >> 2);
		return list;
	}

	/** How many corners an element has; 0 where it is gone. */
	sizeOf(e: number): 0 | 3 | 4 {
		return this.nodes[4 * e]! < 0 ? 0 : this.nodes[4 * e + 3]! < 0 ? 3 : 4;
	}

	/** How many elements have three corners. */
	triangleCount(): number {
		let count = 0;
		for (let e = 0; e < this.elementCount; e++) if (this.sizeOf(e) === 3) count++;
		return count;
	}

	/** The place of a node in an element. */
	placeOf(e: number, v: number): number {
		const { nodes } = this;
		for (let k = 0; k < 4; k++) if (nodes[4 * e + k] === v) return k;
		return -1;
	}

	/** The node `step` corners after the one at a place. */
	after(e: number, place: number, step = 1): number {
		return this.nodes[4 * e + ((place + step) % this.sizeOf(e))]!;
	}

	add(a: number, b: number, c: number, d: number): number {
		const e = this.newElement();
		this.set(e, a, b, c, d);
		return e;
	}

	/** Adds an element that cannot be taken back. */
	lay(a: number, b: number, c: number, d: number): void {
		this.put(this.newElement(), a, b, c, d);
	}

	private newElement(): number {
		const e = this.elementCount++;
		if (4 * this.elementCount > this.nodes.length) {
			const { length } = this.nodes;
			this.nodes = lengthened(this.nodes, length + 4 * Math.ceil(length / 8));
			this.nodes.fill(NONE, length);
			this.otherCorner = lengthened(this.otherCorner, this.nodes.length);
		}
		return e;
	}

	remove(e: number): void {
		this.set(e, NONE, NONE, NONE, NONE);
	}

	/** Gives an element other nodes. */
	set(e: number, a: number, b: number, c: number, d: number): void {
		const { nodes, journal } = this;
		journal.push(e, nodes[4 * e]!, nodes[4 * e + 1]!, nodes[4 * e + 2]!, nodes[4 * e + 3]!);
		this.put(e, a, b, c, d);
	}

	private put(e: number, a: number, b: number, c: number, d: number): void {
		const { nodes } = this;
		for (let k = 4 * e; k < 4 * e + 4; k++) if (nodes[k]! >= 0) this.leave(k, nodes[k]!);
		nodes[4 * e] = a;
		nodes[4 * e + 1] = b;
		nodes[4 * e + 2] = c;
		nodes[4 * e + 3] = d;
		for (let k = 4 * e; k < 4 * e + 4; k++) if (nodes[k]! >= 0) this.join(k, nodes[k]!);
	}

	private join(at: number, v: number): void {
		const { corner, otherCorner } = this;
		this.counts[v]!++;
		otherCorner[at] = -1;
		let last = corner[v]!;
		if (last < 0) {
			corner[v] = at;
			return;
		}
		while (otherCorner[last]! >= 0) last = otherCorner[last]!;
		otherCorner[last] = at;
	}

	private leave(at: number, v: number): void {
		const { corner, otherCorner } = this;
		this.counts[v]!--;
		if (corner[v] === at) {
			corner[v] = otherCorner[at]!;
			return;
		}
		let before = corner[v]!;
		while (otherCorner[before] !== at) before = otherCorner[before]!;
		otherCorner[before] = otherCorner[at]!;
	}

	move(v: number, px: number, py: number): void {
		this.journal.push(-1 - v, this.x[v]!, this.y[v]!, 0, 0);
		this.x[v] = px;
		this.y[v] = py;
	}

	addNode(px: number, py: number): number {
		const v = this.nodeCount++;
		if (v >= this.x.length) {
			this.x = lengthened(this.x, 2 * v + 16);
			this.y = lengthened(this.y, 2 * v + 16);
			this.corner = lengthened(this.corner, this.x.length);
			this.corner.fill(-1, v);
			this.counts = lengthened(this.counts, this.x.length);
		}
		this.x[v] = px;
		this.y[v] = py;
		return v;
	}

	/** Forgets how things were: what was done stays. */
	keep(): void {
		this.journal.length = 0;
	}

	/** Takes back all that was done since {@link keep}. */
	takeBack(): void {
		const { journal } = this;
		for (let k = journal.length - 5; k >= 0; k -= 5) {
			const what = journal[k]!;
			if (what >= 0) this.put(what, journal[k + 1]!, journal[k + 2]!, journal[k + 3]!, journal[k + 4]!);
			else {
				this.x[-1 - what] = journal[k + 1]!;
				this.y[-1 - what] = journal[k + 2]!;
			}
		}
		journal.length = 0;
	}

	/** The elements that were changed since {@link keep} and are there. */
	changed(): number[] {
		const list: number[] = [];
		for (let k = 0; k < this.journal.length; k += 5) {
			const e = this.journal[k]!;
			if (e >= 0 && this.sizeOf(e) > 0 && !list.includes(e)) list.push(e);
		}
		return list;
	}

	/** The element on the other side of an edge of an element; −1 where there is none. */
	across(e: number, a: number, b: number): number {
		const { nodes, corner, otherCorner } = this;
		for (let c = corner[a]!; c >= 0; c = otherCorner[c]!) {
			const f = c >> 2;
			if (f === e) continue;
			const place = c & 3;
			const n = nodes[4 * f + 3]! < 0 ? 3 : 4;
			if (nodes[4 * f + (place + 1 === n ? 0 : place + 1)] === b) return f;
			if (nodes[4 * f + (place === 0 ? n - 1 : place - 1)] === b) return f;
		}
		return -1;
	}

	hasEdge(e: number, a: number, b: number): boolean {
		const place = this.placeOf(e, a);
		if (place < 0) return false;
		const n = this.sizeOf(e);
		return this.nodes[4 * e + ((place + 1) % n)] === b || this.nodes[4 * e + ((place + n - 1) % n)] === b;
	}

	/** The smallest scaled Jacobian at the corners of an element: the sine of the angle; a triangle's over that of 60°. */
	shape(e: number): number {
		const { nodes, x, y } = this;
		const n = this.sizeOf(e);
		let least = Infinity;
		for (let k = 0; k < n; k++) {
			const p = nodes[4 * e + k]!;
			const q = nodes[4 * e + (k + 1 === n ? 0 : k + 1)]!;
			const r = nodes[4 * e + (k === 0 ? n - 1 : k - 1)]!;
			const ux = x[q]! - x[p]!;
			const uy = y[q]! - y[p]!;
			const vx = x[r]! - x[p]!;
			const vy = y[r]! - y[p]!;
			const length = Math.sqrt((ux * ux + uy * uy) * (vx * vx + vy * vy));
			const value = length > 0 ? (ux * vy - uy * vx) / length : -1;
			if (value < least) least = value;
		}
		return n === 3 ? least * 1.1547005383792517 : least;
	}

	/** The shape of the worst element. */
	*worstShape(): Work<number> {
		let worst = Infinity;
		for (let e = 0; e < this.elementCount; e++) {
			if ((e & 0x1ffff) === 0) yield e / this.elementCount;
			if (this.sizeOf(e) > 0) worst = Math.min(worst, this.shape(e));
		}
		return worst;
	}
}

/** An edge as one number, whichever way it runs. */
export const key = (a: number, b: number): number => (a < b ? a * 2 ** 26 + b : b * 2 ** 26 + a);

keepHiddenClass(new QuadMesh(new Float64Array(), new Float64Array(), 0, new Uint32Array()));
