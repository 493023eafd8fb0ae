import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { square } from '../../numeric/elementary.ts';
import { lengthened } from '../../numeric/lengthened.ts';
import type { Work } from '../../numeric/work.ts';
import { sizeOrField, type SizeRule } from '../../sizing/size-rule.ts';
import { isClear } from './clearance.ts';
import { next, previous, type Location, Triangulation } from './triangulation.ts';

/** State of a triangle. */
const OUTSIDE = 0;
const OPEN = 1;
const DONE = 2;

/** A triangle is done when its circumradius is at most this times that of the wanted equilateral one. */
const doneFactor = 1.25;
/** A new node stays at least this far, in wanted sizes, from those around it. */
const leastDistance = 0.75;
/** So many layers of nodes are laid all along the boundary first; inside of them the newest front goes on first. */
const frontLayers = 4;

/**
 * Frontal Delaunay refinement (Rebay 1993, eq. 6–9): a triangle that is too large and touches one
 * that is done, or a fixed edge, gets a node on the bisector of that edge, at the place that makes
 * a triangle of the wanted size, but never past its circumcentre. Fixed edges are kept as they
 * are: a node that would lie in the half-circle on one, or behind it, is not made.
 *
 * The wanted size at a place is the smallest of the sizes of the given nodes, each grown by
 * `growth − 1` times the way from it, of the field, and of `size`. Every node remembers the given
 * node that its size grows from, so that nothing drifts on the way.
 *
 * A few layers of nodes are laid along the whole boundary first. From there on the newest front
 * goes on first: it leaves a lattice behind it, where fronts that all advance together would keep
 * meeting, and its triangles are still in the cache.
 *
 * @param inside 1 for each triangle of the region
 * @param nodeSize wanted size at each vertex present, by vertex number
 * @param limit the most nodes that may be added
 * @param expected about how many will be
 * @returns 1 for each triangle of the region, as they are now
 */
export function* refine(
	mesh: Triangulation,
	inside: Uint8Array,
	nodeSize: Float64Array,
	rule: SizeRule,
	limit: number,
	expected = limit
): Work<Uint8Array> {
	const front = new Front(mesh, inside, nodeSize, rule);
	for (let added = 0; added < limit && !front.isDone;) {
		added += front.advance(Math.min(chunkSize, limit - added));
		yield Math.min(0.99, added / expected);
	}
	const region = new Uint8Array(mesh.triangleCount);
	for (let t = 0; t < region.length; t++) region[t] = front.state[t] === OUTSIDE ? 0 : 1;
	return region;
}

/** Triangles visited between two yields. */
const chunkSize = 1 << 13;

/** What is known of vertices and triangles while they become more. */
class Front {
	/** State of each triangle. */
	state: Uint8Array;
	/** 1 for each triangle that waits. */
	private queued: Uint8Array;
	/** Wanted size at each vertex. */
	private sizeAt: Float64Array;
	/** The given vertex whose size, grown over the way from it, is the smallest at each vertex. */
	private source: Int32Array;
	/** Layer of each vertex, counted from the given ones; no higher than {@link frontLayers}. */
	private layer: Uint8Array;
	/** Whether no triangle waits any more. */
	isDone = false;
	private readonly queue = new Queue();
	private readonly stack = new Stack();
	private readonly size: number;
	private readonly slope: number;
	private readonly field: SizeRule['field'];
	/** What {@link propose} found: the place, its size, the vertex that this grows from, its layer. */
	private readonly place: { x: number; y: number; size: number; source: number; layer: number; location: Location };

	constructor(
		private readonly mesh: Triangulation,
		inside: Uint8Array,
		nodeSize: Float64Array,
		{ size, growth, field }: SizeRule
	) {
		this.size = size;
		this.slope = growth - 1;
		this.field = field;
		this.place = { x: 0, y: 0, size: 0, source: 0, layer: 0, location: { edge: 0, onEdge: false, vertex: -1 } };
		this.sizeAt = nodeSize;
		this.source = new Int32Array(nodeSize.length);
		this.layer = new Uint8Array(nodeSize.length);
		for (let v = 0; v < mesh.vertexCount; v++) this.source[v] = v;
		this.state = new Uint8Array(mesh.twin.length / 3);
		this.queued = new Uint8Array(this.state.length);
		for (let t = 0; t < mesh.triangleCount; t++) if (inside[t]) this.judge(t);
		for (let t = 0; t < mesh.triangleCount; t++) this.offer(t);
	}

	/** Adds nodes until there is no triangle left that wants one, at most so many; returns how many. */
	advance(most: number): number {
		const { mesh, queue, stack, place } = this;
		let added = 0;
		for (let visited = 0; added < most && visited < chunkSize; visited++) {
			let t = queue.shift();
			if (t < 0) t = stack.pop();
			if (t < 0) {
				this.isDone = true;
				break;
			}
			this.queued[t] = 0;
			if (this.state[t] !== OPEN) continue;
			if (!this.propose(t)) {
				// Nothing fits here: treat it as done, so that its neighbours may go on.
				this.state[t] = DONE;
				for (let e = 3 * t; e < 3 * t + 3; e++) if (!mesh.fixed[e]) this.offer((mesh.twin[e]! / 3) | 0);
				continue;
			}
			const v = mesh.insertAt(place.x, place.y, place.location);
			if (mesh.x.length > this.sizeAt.length) this.grow();
			this.sizeAt[v] = place.size;
			this.source[v] = place.source;
			this.layer[v] = place.layer;
			added++;
			this.settleAround(v);
		}
		return added;
	}

	private grow(): void {
		const { x, twin } = this.mesh;
		this.state = lengthened(this.state, twin.length / 3);
		this.queued = lengthened(this.queued, twin.length / 3);
		this.sizeAt = lengthened(this.sizeAt, x.length);
		this.source = lengthened(this.source, x.length);
		this.layer = lengthened(this.layer, x.length);
	}

	/** Settles whether a triangle is done; a collapsed one never is. */
	private judge(t: number): void {
		const { sizeAt } = this;
		const { x, y, from } = this.mesh;
		const a = from[3 * t]!;
		const b = from[3 * t + 1]!;
		const c = from[3 * t + 2]!;
		const ux = x[b]! - x[a]!;
		const uy = y[b]! - y[a]!;
		const vx = x[c]! - x[a]!;
		const vy = y[c]! - y[a]!;
		const wx = vx - ux;
		const wy = vy - uy;
		const cross = ux * vy - uy * vx;
		// R² = (|u||v||w| / 2 cross)²; the wanted circumradius is size / √3.
		const product = (ux * ux + uy * uy) * (vx * vx + vy * vy) * (wx * wx + wy * wy);
		const h = doneFactor * Math.min(this.size, (sizeAt[a]! + sizeAt[b]! + sizeAt[c]!) / 3);
		this.state[t] = 3 * product <= 4 * cross * cross * h * h ? DONE : OPEN;
	}

	/** Whether an edge is fixed or has a triangle behind it that is done; what lies outside is behind a fixed one. */
	private isFront(e: number): boolean {
		return this.state[(this.mesh.twin[e]! / 3) | 0] !== OPEN || this.mesh.fixed[e] === 1;
	}

	/** Puts a triangle on the list when it is open and touches the front. */
	private offer(t: number): void {
		if (this.state[t] !== OPEN || this.queued[t] === 1) return;
		const e = 3 * t;
		if (!this.isFront(e) && !this.isFront(e + 1) && !this.isFront(e + 2)) return;
		this.queued[t] = 1;
		const { from } = this.mesh;
		const { layer } = this;
		const lowest = Math.min(layer[from[e]!]!, layer[from[e + 1]!]!, layer[from[e + 2]!]!);
		if (lowest < frontLayers) this.queue.push(t);
		else this.stack.push(t);
	}

	/** Judges the triangles around a new vertex, and offers them and their neighbours. */
	private settleAround(v: number): void {
		const { state } = this;
		const { twin, fixed, outgoing } = this.mesh;
		const first = outgoing[v]!;
		let e = first;
		do {
			this.judge((e / 3) | 0);
			e = twin[previous(e)]!;
		} while (e !== first);
		do {
			const t = (e / 3) | 0;
			if (state[t] === OPEN) this.offer(t);
			else {
				const outer = next(e);
				if (fixed[outer] === 0) this.offer((twin[outer]! / 3) | 0);
			}
			e = twin[previous(e)]!;
		} while (e !== first);
	}

	/** Size that grows from a given vertex to a place. */
	private grown(v: number, px: number, py: number): number {
		const dx = this.mesh.x[v]! - px;
		const dy = this.mesh.y[v]! - py;
		return this.sizeAt[v]! + this.slope * Math.sqrt(dx * dx + dy * dy);
	}

	/** Finds where a triangle wants its node, and writes it down; false when no place will do. */
	private propose(t: number): boolean {
		const { mesh, sizeAt, source, layer, size, field, place } = this;
		const { x, y, from, fixed } = mesh;
		// The shortest front edge is the one to build on.
		let front = -1;
		let shortest = Infinity;
		for (let e = 3 * t; e < 3 * t + 3; e++) {
			if (!this.isFront(e)) continue;
			const lengthSquare = square(x[from[next(e)]!]! - x[from[e]!]!) + square(y[from[next(e)]!]! - y[from[e]!]!);
			if (lengthSquare < shortest) {
				shortest = lengthSquare;
				front = e;
			}
		}
		if (front < 0) return false;
		const a = from[front]!;
		const b = from[next(front)]!;
		const c = from[previous(front)]!;
		const mx = (x[a]! + x[b]!) / 2;
		const my = (y[a]! + y[b]!) / 2;
		const length = Math.sqrt(shortest);
		const half = length / 2;
		const nx = (y[a]! - y[b]!) / length;
		const ny = (x[b]! - x[a]!) / length;
		// q: signed height of the circumcentre above the edge.
		const cx = x[c]! - mx;
		const cy = y[c]! - my;
		const q = (cx * cx + cy * cy - half * half) / (2 * (cx * nx + cy * ny));
		if (!(q > 0 && q < Infinity)) return false;
		// The size where the node will be, about one size ahead.
		const base = (sizeAt[a]! + sizeAt[b]!) / 2;
		const ahead = 0.87 * Math.min(size, base);
		const ax = mx + ahead * nx;
		const ay = my + ahead * ny;
		let nearest = source[a]!;
		let h = this.grown(nearest, ax, ay);
		for (let k = 0; k < 2; k++) {
			const other = source[k === 0 ? b : c]!;
			if (other === nearest) continue;
			const otherSize = this.grown(other, ax, ay);
			if (otherSize < h) {
				h = otherSize;
				nearest = other;
			}
		}
		h = sizeOrField(Math.min(size, h), field, ax, ay);
		// The triangle is as large as its sizes are on the whole: those of its base count for more than the one ahead.
		const whole = 0.75 * base + 0.25 * h;
		const radius = Math.min(Math.max(whole / Math.sqrt(3), half), (half * half + q * q) / (2 * q));
		const d = radius + Math.sqrt(Math.max(0, radius * radius - half * half));
		const px = mx + d * nx;
		const py = my + d * ny;
		const location = mesh.walk(px, py, front);
		if (!location || location.vertex >= 0 || (location.onEdge && fixed[location.edge] === 1)) return false;
		if (!isClear(mesh, px, py, location.edge, leastDistance * h)) return false;
		place.x = px;
		place.y = py;
		place.size = h;
		place.source = nearest;
		place.layer = Math.min(frontLayers, 1 + Math.max(layer[a]!, layer[b]!));
		place.location = location;
		return true;
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

/** Last in, first out. */
class Stack {
	private items = new Int32Array(1 << 12);
	private count = 0;

	push(item: number): void {
		if (this.count === this.items.length) {
			this.items = lengthened(this.items, 2 * this.count);
		}
		this.items[this.count++] = item;
	}

	/** The newest item, or −1. */
	pop(): number {
		return this.count === 0 ? -1 : this.items[--this.count]!;
	}
}

keepHiddenClass(
	new Front(new Triangulation([0, 0, 1, 1], 1), new Uint8Array(2), new Float64Array(5), { size: 0.5, growth: 1.2 })
);
