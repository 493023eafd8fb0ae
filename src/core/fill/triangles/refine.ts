import { square } from '../../numeric/elementary.ts';
import type { Work } from '../fill.ts';
import { isClear } from './clearance.ts';
import { next, previous, type Triangulation } from './triangulation.ts';

/** Sizes that a fill asks for. */
export interface SizeRule {
	/** Element size away from finer boundaries; Infinity when only the boundary counts. */
	size: number;
	/** Largest ratio of neighbouring sizes, above 1. */
	growth: number;
	/** Size that zones ask for at a place; Infinity where none does. */
	field?: (x: number, y: number) => number;
	/** Whether the triangles are to be as even as the outline allows, rather than grow from its divisions. */
	even?: boolean;
	/** Boxes outside of which nothing is asked to have a certain size of its own, by the zones that the field is made of. */
	plateaus?: readonly { size: number; box: readonly [number, number, number, number] }[];
}

/** State of a triangle. */
const OUTSIDE = 0;
const OPEN = 1;
const DONE = 2;

/** A triangle is done when its circumradius is at most this times that of the wanted equilateral one. */
const doneFactor = 1.25;
/** A new node stays at least this far, in wanted sizes, from those around it. */
const leastDistance = 0.75;

/**
 * Frontal Delaunay refinement (Rebay 1993, eq. 6–9): a triangle that is too large and touches one
 * that is done, or a fixed edge, gets a node on the bisector of that edge, at the place that makes
 * a triangle of the wanted size, but never past its circumcentre. Fixed edges are kept as they
 * are: a node that would lie in the half-circle on one, or behind it, is not made.
 *
 * The wanted size starts from the lengths of the given edges, grows inward by `growth`, and stops
 * at `size`.
 *
 * @param inside 1 for each triangle of the region
 * @param nodeSize wanted size at each vertex present, by vertex number
 * @param limit the most nodes that may be added
 * @returns 1 for each triangle of the region, as they are now
 */
export function* refine(
	mesh: Triangulation,
	inside: Uint8Array,
	nodeSize: Float64Array,
	rule: SizeRule,
	limit: number
): Work<Uint8Array> {
	const { size, growth, field } = rule;
	let { x, y, from, twin, fixed } = mesh;
	let sizeAt = nodeSize;
	let state = new Uint8Array(twin.length / 3);
	for (let t = 0; t < mesh.triangleCount; t++) if (inside[t]) state[t] = OPEN;
	let queued = new Uint8Array(state.length);
	const queue = new Queue();

	const wanted = (a: number, b: number, c: number) => Math.min(size, (sizeAt[a]! + sizeAt[b]! + sizeAt[c]!) / 3);

	/** Settles whether a triangle is done; a collapsed one never is. */
	const judge = (t: number): void => {
		const [a, b, c] = [from[3 * t]!, from[3 * t + 1]!, from[3 * t + 2]!];
		const [ux, uy, vx, vy] = [x[b]! - x[a]!, y[b]! - y[a]!, x[c]! - x[a]!, y[c]! - y[a]!];
		const [wx, wy] = [vx - ux, vy - uy];
		const cross = ux * vy - uy * vx;
		// R² = (|u||v||w| / 2 cross)²; the wanted circumradius is size / √3.
		const product = (ux * ux + uy * uy) * (vx * vx + vy * vy) * (wx * wx + wy * wy);
		const h = doneFactor * wanted(a, b, c);
		state[t] = 3 * product <= 4 * cross * cross * h * h ? DONE : OPEN;
	};
	const isFront = (e: number): boolean => fixed[e] === 1 || state[(twin[e]! / 3) | 0] === DONE;
	const offer = (t: number): void => {
		if (state[t] !== OPEN || queued[t]) return;
		const e = 3 * t;
		if (!isFront(e) && !isFront(e + 1) && !isFront(e + 2)) return;
		queued[t] = 1;
		queue.push(t);
	};

	for (let t = 0; t < mesh.triangleCount; t++) if (state[t] === OPEN) judge(t);
	for (let t = 0; t < mesh.triangleCount; t++) offer(t);

	let added = 0;
	for (let t = queue.shift(); t >= 0; t = queue.shift()) {
		queued[t] = 0;
		if (state[t] !== OPEN) continue;
		if (added >= limit) break;
		const place = propose(t);
		if (!place) {
			// Nothing fits here: treat it as done, so that its neighbours may go on.
			state[t] = DONE;
			for (let e = 3 * t; e < 3 * t + 3; e++) if (!fixed[e]) offer((twin[e]! / 3) | 0);
			continue;
		}
		const v = mesh.insertAt(place.x, place.y, place.location);
		if (mesh.x !== x) grow();
		sizeAt[v] = place.size;
		added++;
		settleAround(v);
		if ((added & 0x3fff) === 0) yield Math.min(0.99, added / limit);
	}
	const result = new Uint8Array(mesh.triangleCount);
	for (let t = 0; t < result.length; t++) if (state[t] !== OUTSIDE) result[t] = 1;
	return result;

	function grow(): void {
		({ x, y, from, twin, fixed } = mesh);
		const larger = (old: Uint8Array) => {
			const copy = new Uint8Array(twin.length / 3);
			copy.set(old);
			return copy;
		};
		state = larger(state);
		queued = larger(queued);
		const sizes = new Float64Array(x.length);
		sizes.set(sizeAt);
		sizeAt = sizes;
	}

	/** Judges the triangles around a new vertex, and offers them and their neighbours. */
	function settleAround(v: number): void {
		const first = mesh.outgoing[v]!;
		let e = first;
		do {
			judge((e / 3) | 0);
			e = twin[previous(e)]!;
		} while (e !== first);
		do {
			const t = (e / 3) | 0;
			if (state[t] === OPEN) offer(t);
			else {
				const outer = next(e);
				if (!fixed[outer]) offer((twin[outer]! / 3) | 0);
			}
			e = twin[previous(e)]!;
		} while (e !== first);
	}

	/** Where a triangle wants its node, or undefined when no place will do. */
	function propose(
		t: number
	): { x: number; y: number; size: number; location: { edge: number; onEdge: boolean; vertex: number } } | undefined {
		// The shortest front edge is the one to build on.
		let front = -1;
		let shortest = Infinity;
		for (let e = 3 * t; e < 3 * t + 3; e++) {
			if (!isFront(e)) continue;
			const [a, b] = [from[e]!, from[next(e)]!];
			const lengthSquare = square(x[b]! - x[a]!) + square(y[b]! - y[a]!);
			if (lengthSquare < shortest) {
				shortest = lengthSquare;
				front = e;
			}
		}
		if (front < 0) return undefined;
		const [a, b, c] = [from[front]!, from[next(front)]!, from[previous(front)]!];
		const [mx, my] = [(x[a]! + x[b]!) / 2, (y[a]! + y[b]!) / 2];
		const length = Math.sqrt(shortest);
		const half = length / 2;
		const [nx, ny] = [-(y[b]! - y[a]!) / length, (x[b]! - x[a]!) / length];
		// q: signed height of the circumcentre above the edge.
		const [cx, cy] = [x[c]! - mx, y[c]! - my];
		const height = cx * nx + cy * ny;
		const q = (cx * cx + cy * cy - half * half) / (2 * height);
		if (!(q > 0 && q < Infinity)) return undefined;
		const near = (sizeAt[a]! + sizeAt[b]!) / 2;
		let h = Math.min(size, near * (1 + 0.87 * (growth - 1)));
		// The field where the node will be, about one size ahead.
		if (field) h = Math.min(h, field(mx + 0.87 * h * nx, my + 0.87 * h * ny));
		const radius = Math.min(Math.max(h / Math.sqrt(3), half), (half * half + q * q) / (2 * q));
		const d = radius + Math.sqrt(Math.max(0, radius * radius - half * half));
		const [px, py] = [mx + d * nx, my + d * ny];
		const location = mesh.walk(px, py, front);
		if (!location || location.vertex >= 0 || (location.onEdge && fixed[location.edge])) return undefined;
		return isClear(mesh, px, py, location.edge, leastDistance * h) ? { x: px, y: py, size: h, location } : undefined;
	}
}

/** First in, first out, on one growing ring of numbers. */
class Queue {
	private items = new Int32Array(1 << 12);
	private head = 0;
	private tail = 0;

	push(item: number): void {
		const { items } = this;
		items[this.tail] = item;
		this.tail = (this.tail + 1) & (items.length - 1);
		if (this.tail !== this.head) return;
		const larger = new Int32Array(2 * items.length);
		larger.set(items.subarray(this.head));
		larger.set(items.subarray(0, this.head), items.length - this.head);
		this.head = 0;
		this.tail = items.length;
		this.items = larger;
	}

	/** The oldest item, or −1. */
	shift(): number {
		if (this.head === this.tail) return -1;
		const item = this.items[this.head]!;
		this.head = (this.head + 1) & (this.items.length - 1);
		return item;
	}
}
