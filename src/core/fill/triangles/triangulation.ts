import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { incircle } from 'robust-predicates';
import { lengthened } from '../../numeric/lengthened.ts';
import { turn } from '../../numeric/predicates.ts';
import type { Work } from '../../numeric/work.ts';

/** The half-edge after e in its triangle. */
export const next = (e: number): number => (e % 3 === 2 ? e - 2 : e + 1);
/** The half-edge before e in its triangle. */
export const previous = (e: number): number => (e % 3 === 0 ? e + 2 : e - 1);

/** Relative error of the floating-point in-circle determinant (Shewchuk 1997, iccerrboundA). */
const inCircleBound = (10 + 96 * 2 ** -53) * 2 ** -53;

/** Steps done between two yields. */
const chunkSize = 0x4000;
/** Or so many half-edges, where they are only copied. */
const copiedAtOnce = 0x40000;
/** A walk through more triangles than this is given up. */
const longestWalk = 64;

/** Where a point lies: in a triangle, or on an edge of it. Valid until the next search. */
export interface Location {
	/** A half-edge of the triangle; the edge itself when `onEdge`. */
	edge: number;
	onEdge: boolean;
	/** The vertex that the point coincides with, or −1. */
	vertex: number;
}

/**
 * A constrained Delaunay triangulation that grows point by point (Lawson 1977; constraints by
 * flipping after Sloan 1993). Every orientation and in-circle decision is exact. Vertices 0 to 3
 * are the corners of a box around everything and belong to no result.
 */
export class Triangulation {
	x: Float64Array;
	y: Float64Array;
	/** Number of vertices, the four of the box included. */
	vertexCount = 4;
	triangleCount = 2;
	/** Vertex that a half-edge starts from; half-edge 3 t + k is edge k of triangle t, counter-clockwise. */
	from: Int32Array;
	/** Half-edge on the other side, −1 on the rim of the box. */
	twin: Int32Array;
	/** 1 where the edge must stay. */
	fixed: Uint8Array;
	/** One half-edge that starts from each vertex. */
	outgoing: Int32Array;
	/**
	 * Whether what rounding leaves open is decided exactly. Without it edges are flipped where that is sure alone, so that
	 * {@link makeDelaunay} has to follow: as nodes of a lattice come in, many are nearly on one circle that will not stay so.
	 */
	isExact = true;
	private stack = new Int32Array(256);
	/** Half-edges that {@link settle} has still to look at. */
	private readonly pending: number[] = [];
	/** Half-edges that {@link restoreDelaunay} looks at, and 1 for each of them. */
	private listed = new Int32Array(1 << 12);
	private isListed = new Uint8Array(0);
	/** What a search found last; one object for all. */
	private readonly found: Location = { edge: 0, onEdge: false, vertex: -1 };

	/** @param box minX, minY, maxX, maxY of everything that will be inserted */
	constructor(box: readonly [number, number, number, number], capacity: number) {
		const size = capacity + 4;
		this.x = new Float64Array(size);
		this.y = new Float64Array(size);
		this.outgoing = new Int32Array(size);
		this.from = new Int32Array(6 * size);
		this.twin = new Int32Array(6 * size).fill(-1);
		this.fixed = new Uint8Array(6 * size);
		const margin = 2 * Math.max(box[2] - box[0], box[3] - box[1]);
		this.x.set([box[0] - margin, box[2] + margin, box[2] + margin, box[0] - margin]);
		this.y.set([box[1] - margin, box[1] - margin, box[3] + margin, box[3] + margin]);
		this.from.set([0, 1, 2, 0, 2, 3]);
		this.link(2, 3);
		this.outgoing.set([0, 1, 2, 5]);
	}

	/** One of nodes and half-edges that are there; twins are −1 on its rim. */
	static of(x: Float64Array, y: Float64Array, vertexCount: number, from: Int32Array, twin: Int32Array, triangleCount: number) {
		const made = new Triangulation([0, 0, 0, 0], 0);
		[made.x, made.y, made.from, made.twin] = [x, y, from, twin];
		[made.vertexCount, made.triangleCount] = [vertexCount, triangleCount];
		made.fixed = new Uint8Array(from.length);
		made.outgoing = new Int32Array(x.length);
		for (let e = 3 * triangleCount - 1; e >= 0; e--) made.outgoing[from[e]!] = e;
		return made;
	}

	private link(e: number, f: number): void {
		this.twin[e] = f;
		if (f >= 0) this.twin[f] = e;
	}

	/** Makes room for so many vertices and half-edges; the arrays may be replaced. */
	private reserve(vertices: number, halfEdges: number): void {
		if (vertices <= this.x.length && halfEdges <= this.from.length) return;
		const size = Math.max(2 * this.x.length, vertices, Math.ceil(halfEdges / 6));
		this.x = lengthened(this.x, size);
		this.y = lengthened(this.y, size);
		this.outgoing = lengthened(this.outgoing, size);
		this.from = lengthened(this.from, 6 * size);
		this.twin = lengthened(this.twin, 6 * size);
		this.fixed = lengthened(this.fixed, 6 * size);
	}

	private at(edge: number, onEdge: boolean, vertex: number): Location {
		const { found } = this;
		found.edge = edge;
		found.onEdge = onEdge;
		found.vertex = vertex;
		return found;
	}

	/**
	 * Finds where a point lies, walking from the triangle of half-edge `start` (Devillers, Pion &
	 * Teillaud 2002). For Delaunay triangulations without fixed edges, in which the walk cannot go in
	 * circles; the point lies within the box.
	 */
	locate(px: number, py: number, start: number): Location {
		const { x, y, from, twin } = this;
		let e = start;
		for (;;) {
			const base = e - (e % 3);
			let crossed = -1;
			let zero = -1;
			for (let g = base; g < base + 3; g++) {
				const a = from[g]!;
				const b = from[next(g)]!;
				const side = turn(x[a]!, y[a]!, x[b]!, y[b]!, px, py);
				if (side < 0) {
					crossed = g;
					break;
				}
				if (side === 0) {
					if (x[a] === px && y[a] === py) return this.at(g, false, a);
					if (x[b] === px && y[b] === py) return this.at(g, false, b);
					zero = g;
				}
			}
			if (crossed < 0) return this.at(zero < 0 ? base : zero, zero >= 0, -1);
			e = twin[crossed]!;
		}
	}

	/**
	 * Follows the straight way from the middle of half-edge `start` to a point on its left, from
	 * triangle to triangle. Undefined when a fixed edge is in the way.
	 */
	walk(px: number, py: number, start: number): Location | undefined {
		const { x, y, from, twin, fixed } = this;
		let e = start;
		const mx = (x[from[e]!]! + x[from[next(e)]!]!) / 2;
		const my = (y[from[e]!]! + y[from[next(e)]!]!) / 2;
		for (let steps = 0; steps < longestWalk; steps++) {
			const right = next(e);
			const left = previous(e);
			const a = from[e]!;
			const b = from[right]!;
			const c = from[left]!;
			const sideRight = turn(x[b]!, y[b]!, x[c]!, y[c]!, px, py);
			const sideLeft = turn(x[c]!, y[c]!, x[a]!, y[a]!, px, py);
			if (sideRight >= 0 && sideLeft >= 0) {
				if (x[c] === px && y[c] === py) return this.at(left, false, c);
				if (sideRight === 0) return this.at(right, true, -1);
				return this.at(sideLeft === 0 ? left : right, sideLeft === 0, -1);
			}
			const exit = turn(mx, my, px, py, x[c]!, y[c]!) > 0 ? right : left;
			if (fixed[exit]) return undefined;
			e = twin[exit]!;
			if (e < 0) return undefined;
		}
		return undefined;
	}

	/** Inserts a vertex at a place found by {@link locate} and restores the Delaunay property; returns its number. */
	insertAt(px: number, py: number, { edge, onEdge }: Location): number {
		this.reserve(this.vertexCount + 1, 3 * this.triangleCount + 6);
		const v = this.vertexCount++;
		this.x[v] = px;
		this.y[v] = py;
		if (onEdge && this.twin[edge]! >= 0) this.splitEdge(edge, v);
		else this.splitTriangle(edge, v);
		return v;
	}

	private splitTriangle(e: number, v: number): void {
		const { from, twin, fixed, outgoing } = this;
		const base = e - (e % 3);
		const t1 = 3 * this.triangleCount;
		const t2 = t1 + 3;
		this.triangleCount += 2;
		const [a, b, c] = [from[base]!, from[base + 1]!, from[base + 2]!];
		const [twin1, twin2] = [twin[base + 1]!, twin[base + 2]!];
		const [fixed1, fixed2] = [fixed[base + 1]!, fixed[base + 2]!];
		from[base + 2] = v; // base: a b v
		from[t1] = b; // t1: b c v
		from[t1 + 1] = c;
		from[t1 + 2] = v;
		from[t2] = c; // t2: c a v
		from[t2 + 1] = a;
		from[t2 + 2] = v;
		this.link(t1, twin1);
		this.link(t2, twin2);
		this.link(base + 1, t1 + 2);
		this.link(t1 + 1, t2 + 2);
		this.link(t2 + 1, base + 2);
		fixed[base + 1] = fixed[base + 2] = 0;
		fixed[t1] = fixed1;
		fixed[t1 + 1] = fixed[t1 + 2] = 0;
		fixed[t2] = fixed2;
		fixed[t2 + 1] = fixed[t2 + 2] = 0;
		outgoing[a] = base;
		outgoing[b] = t1;
		outgoing[c] = t2;
		outgoing[v] = base + 2;
		this.legalize3(base, t1, t2, -1);
	}

	private splitEdge(e: number, v: number): void {
		const { from, twin, fixed, outgoing } = this;
		const f = twin[e]!;
		const [e1, e2, f1, f2] = [next(e), previous(e), next(f), previous(f)];
		const [a, b, c, d] = [from[e]!, from[f]!, from[e2]!, from[f2]!];
		const t = 3 * this.triangleCount; // v b c
		const s = t + 3; // v a d
		this.triangleCount += 2;
		const wasFixed = fixed[e]!;
		const [twinBC, fixedBC] = [twin[e1]!, fixed[e1]!];
		const [twinAD, fixedAD] = [twin[f1]!, fixed[f1]!];
		// e: a v, e1: v c, e2: c a
		from[e1] = v;
		from[t] = v;
		from[t + 1] = b;
		from[t + 2] = c;
		// f: b v, f1: v d, f2: d b
		from[f1] = v;
		from[s] = v;
		from[s + 1] = a;
		from[s + 2] = d;
		this.link(e, s);
		this.link(f, t);
		this.link(e1, t + 2);
		this.link(f1, s + 2);
		this.link(t + 1, twinBC);
		this.link(s + 1, twinAD);
		fixed[e] = fixed[s] = fixed[f] = fixed[t] = wasFixed;
		fixed[e1] = fixed[t + 2] = fixed[f1] = fixed[s + 2] = 0;
		fixed[t + 1] = fixedBC;
		fixed[s + 1] = fixedAD;
		outgoing[a] = e;
		outgoing[b] = f;
		outgoing[c] = e2;
		outgoing[d] = f2;
		outgoing[v] = t;
		this.legalize3(e2, t + 1, f2, s + 1);
	}

	/** Restores the Delaunay property across the edges around a new vertex. */
	private legalize3(e: number, f: number, g: number, h: number): void {
		const { stack } = this;
		stack[0] = e;
		stack[1] = f;
		stack[2] = g;
		stack[3] = h;
		this.legalize(h < 0 ? 3 : 4);
	}

	/** Flips what is not Delaunay among the first `depth` half-edges of the stack and what that uncovers. */
	private legalize(depth: number): void {
		const { twin, fixed } = this;
		let stack = this.stack;
		while (depth > 0) {
			const e = stack[--depth]!;
			const f = twin[e]!;
			if (f < 0 || fixed[e] || !this.mustFlip(e, f)) continue;
			this.flip(e);
			if (depth + 2 > stack.length) {
				this.stack = stack = lengthened(stack, 2 * stack.length);
			}
			// After the flip the edges opposite to the new vertex are e and the one before f.
			stack[depth++] = e;
			stack[depth++] = previous(f);
		}
	}

	/** Whether the apex across edge e lies inside the circle around e's triangle. */
	mustFlip(e: number, f: number): boolean {
		const { x, y, from } = this;
		const a = from[e]!;
		const b = from[f]!;
		const c = from[previous(e)]!;
		const d = from[previous(f)]!;
		const dx = x[d]!;
		const dy = y[d]!;
		const adx = x[a]! - dx;
		const ady = y[a]! - dy;
		const bdx = x[b]! - dx;
		const bdy = y[b]! - dy;
		const cdx = x[c]! - dx;
		const cdy = y[c]! - dy;
		const bdxcdy = bdx * cdy;
		const cdxbdy = cdx * bdy;
		const cdxady = cdx * ady;
		const adxcdy = adx * cdy;
		const adxbdy = adx * bdy;
		const bdxady = bdx * ady;
		const alift = adx * adx + ady * ady;
		const blift = bdx * bdx + bdy * bdy;
		const clift = cdx * cdx + cdy * cdy;
		const determinant = alift * (bdxcdy - cdxbdy) + blift * (cdxady - adxcdy) + clift * (adxbdy - bdxady);
		// Shewchuk's permanent, (|bx cy| + |cx by|) a² + …, is at most this, as |bx cy| + |cx by| ≤ (b² + c²) / 2.
		const bound = inCircleBound * (alift * blift + blift * clift + clift * alift);
		if (determinant > bound) return true;
		if (-determinant > bound) return false;
		return this.isExact && incircle(x[a]!, y[a]!, x[b]!, y[b]!, x[c]!, y[c]!, dx, dy) > 0;
	}

	/**
	 * Turns the edge between the triangles (a b c) of e and (b a d) of its twin f into c–d. Afterwards
	 * e runs a → d, the half-edge after e runs d → c, f runs b → c.
	 */
	flip(e: number): void {
		const { from, twin, fixed, outgoing } = this;
		const f = twin[e]!;
		const [e1, f1] = [next(e), next(f)];
		const [a, b, c, d] = [from[e]!, from[f]!, from[previous(e)]!, from[previous(f)]!];
		const [outerE, outerF] = [twin[e1]!, twin[f1]!];
		const [fixedE, fixedF] = [fixed[e1]!, fixed[f1]!];
		from[e1] = d;
		from[f1] = c;
		this.link(e, outerF);
		this.link(f, outerE);
		this.link(e1, f1);
		fixed[e] = fixedF;
		fixed[f] = fixedE;
		fixed[e1] = fixed[f1] = 0;
		outgoing[a] = e;
		outgoing[b] = f;
		outgoing[c] = f1;
		outgoing[d] = e1;
	}

	/** The half-edge from a to b, or −1. */
	edgeBetween(a: number, b: number): number {
		const direct = this.edgeAround(a, b);
		if (direct >= 0) return direct;
		// Around a corner of the box the turn ends at its rim; the other end sees the rest.
		const opposite = this.edgeAround(b, a);
		return opposite < 0 ? -1 : this.twin[opposite]!;
	}

	private edgeAround(a: number, b: number): number {
		const { from, twin, outgoing } = this;
		const first = outgoing[a]!;
		let e = first;
		do {
			if (from[next(e)] === b) return e;
			const back = previous(e);
			if (from[back] === b) return twin[back]!;
			e = twin[back]!;
		} while (e >= 0 && e !== first);
		return -1;
	}

	/**
	 * Makes the edge a–b part of the triangulation and fixes it (Sloan 1993). Returns what stands in
	 * its way, when another fixed edge crosses it or a vertex lies on it.
	 */
	constrain(a: number, b: number): { vertex: number } | { crossing: [number, number] } | undefined {
		let e = this.edgeBetween(a, b);
		if (e < 0) {
			const crossed = this.crossedEdges(a, b);
			if (!Array.isArray(crossed)) return crossed;
			this.flipAway(crossed, a, b);
			e = this.edgeBetween(a, b);
		}
		this.fixed[e] = 1;
		this.fixed[this.twin[e]!] = 1;
		return undefined;
	}

	/** The edges that the segment a–b crosses, as vertex pairs, flat. */
	private crossedEdges(a: number, b: number): number[] | { vertex: number } | { crossing: [number, number] } {
		const { x, y, from, twin, fixed, outgoing } = this;
		const side = (v: number) => turn(x[a]!, y[a]!, x[b]!, y[b]!, x[v]!, y[v]!);
		const ahead = (v: number) => (x[v]! - x[a]!) * (x[b]! - x[a]!) + (y[v]! - y[a]!) * (y[b]! - y[a]!) > 0;
		// Phase 1: the triangle at a that the segment leaves through.
		let e = outgoing[a]!;
		for (;;) {
			const [right, left] = [from[next(e)]!, from[previous(e)]!];
			const [sideRight, sideLeft] = [side(right), side(left)];
			if (sideRight === 0 && ahead(right)) return { vertex: right };
			if (sideLeft === 0 && ahead(left)) return { vertex: left };
			if (sideRight < 0 && sideLeft > 0) break;
			e = twin[previous(e)]!;
		}
		// Phase 2: from edge to edge until b.
		const crossed: number[] = [];
		let g = next(e);
		for (;;) {
			const [p, q] = [from[g]!, from[next(g)]!];
			if (fixed[g]) return { crossing: [p, q] };
			crossed.push(p, q);
			const f = twin[g]!;
			const d = from[previous(f)]!;
			if (d === b) return crossed;
			const sideD = side(d);
			if (sideD === 0) return { vertex: d };
			g = sideD > 0 ? next(f) : previous(f);
		}
	}

	private flipAway(queue: number[], a: number, b: number): void {
		const { x, y, from, twin } = this;
		const at = (u: number, v: number, w: number) => turn(x[u]!, y[u]!, x[v]!, y[v]!, x[w]!, y[w]!);
		const made: number[] = [];
		for (let head = 0; head < queue.length; head += 2) {
			const [p, q] = [queue[head]!, queue[head + 1]!];
			const e = this.edgeBetween(p, q);
			const [c, d] = [from[previous(e)]!, from[previous(twin[e]!)]!];
			// Flipping needs a strictly convex quadrilateral; try again when its neighbours have changed.
			if (at(d, c, p) * at(d, c, q) >= 0) {
				queue.push(p, q);
				continue;
			}
			this.flip(e);
			const crossesStill = c !== a && c !== b && d !== a && d !== b && at(a, b, c) > 0 !== at(a, b, d) > 0;
			(crossesStill ? queue : made).push(c, d);
		}
		for (let changed = true; changed;) {
			changed = false;
			for (let k = 0; k < made.length; k += 2) {
				const [p, q] = [made[k]!, made[k + 1]!];
				if ((p === a && q === b) || (p === b && q === a)) continue;
				const e = this.edgeBetween(p, q);
				const f = twin[e]!;
				if (this.fixed[e] || !this.mustFlip(e, f)) continue;
				const [c, d] = [from[previous(e)]!, from[previous(f)]!];
				this.flip(e);
				made[k] = c;
				made[k + 1] = d;
				changed = true;
			}
		}
	}

	/**
	 * Flips edges of the triangles around the given vertices, and what that uncovers, until they are
	 * Delaunay.
	 *
	 * @param inside 1 for each triangle that may change
	 * @returns the vertices whose edges changed
	 */
	*restoreDelaunay(vertices: ArrayLike<number>, inside: Uint8Array): Work<number[]> {
		// Phase 1: every edge around the vertices once, known by the half-edge of the lower number.
		if (this.isListed.length < this.from.length) this.isListed = new Uint8Array(this.from.length);
		let count = 0;
		for (let k = 0; k < vertices.length; k += chunkSize) {
			count = this.listAround(vertices, k, Math.min(vertices.length, k + chunkSize), count);
			yield (0.4 * k) / vertices.length;
		}
		for (let k = 0; k < count; k++) this.isListed[this.listed[k]!] = 0;
		// Phase 2: flips, and what they uncover.
		const changed: number[] = [];
		for (let k = 0; k < count; k += chunkSize) {
			this.settleSome(k, Math.min(count, k + chunkSize), inside, changed);
			yield 0.4 + (0.6 * k) / count;
		}
		return changed;
	}

	/** Lists the edges around some of the vertices that are not listed yet; @returns how many are now. */
	private listAround(vertices: ArrayLike<number>, start: number, end: number, before: number): number {
		const { twin, fixed, outgoing, isListed } = this;
		let { listed } = this;
		let count = before;
		for (let k = start; k < end; k++) {
			const first = outgoing[vertices[k]!]!;
			let e = first;
			do {
				const f = twin[e]!;
				const spoke = f >= 0 && f < e ? f : e;
				const across = next(e);
				const g = twin[across]!;
				const outer = g >= 0 && g < across ? g : across;
				if (count + 2 > listed.length) listed = lengthened(listed, 2 * listed.length);
				if (isListed[spoke] === 0 && fixed[spoke] === 0) {
					isListed[spoke] = 1;
					listed[count++] = spoke;
				}
				if (isListed[outer] === 0 && fixed[outer] === 0) {
					isListed[outer] = 1;
					listed[count++] = outer;
				}
				e = twin[previous(e)]!;
			} while (e >= 0 && e !== first);
		}
		this.listed = listed;
		return count;
	}

	private settleSome(from: number, to: number, inside: Uint8Array, changed: number[]): void {
		const { listed } = this;
		for (let k = from; k < to; k++) this.settle(listed[k]!, inside, changed);
	}

	/** Flips an edge that is not Delaunay, and what that uncovers; vertices whose edges changed are added to a list. */
	private settle(e: number, inside: Uint8Array | undefined, changed?: number[]): void {
		const { from, twin, fixed, pending } = this;
		for (;;) {
			const f = twin[e]!;
			if (f >= 0 && fixed[e] === 0 && (!inside || inside[(e / 3) | 0] === 1) && this.mustFlip(e, f)) {
				this.flip(e);
				changed?.push(from[e]!, from[f]!, from[next(e)]!, from[next(f)]!);
				pending.push(e, previous(e), f, previous(f));
			}
			if (pending.length === 0) return;
			e = pending.pop()!;
		}
	}

	/**
	 * Flips edges until all are Delaunay.
	 *
	 * @param inside 1 for each triangle that this is about; all where it is not given
	 */
	*makeDelaunay(inside?: Uint8Array): Work<void> {
		for (let e = 0; e < 3 * this.triangleCount; e++) {
			if ((e & 0x3ffff) === 0) yield e / (3 * this.triangleCount);
			if (this.twin[e]! > e) this.settle(e, inside);
		}
	}

	/**
	 * Puts another triangulation around this one: what lies inside of a rim of fixed edges there is this one, whose vertices
	 * on the rim are the same as those. The rim is fixed no longer. What lay inside of it stays in the arrays, but nothing leads there.
	 *
	 * @param rim the vertices on the rim here, whose numbers there follow one another
	 * @param first number there of the first of them; vertices before it get numbers from the end of these on, those after them likewise
	 */
	*putAround(outer: Triangulation, rim: Int32Array, first: number): Work<void> {
		const vertices = this.vertexCount;
		const base = 3 * this.triangleCount;
		const last = first + rim.length;
		// Phase 1: pairs of half-edges along the rim, before anything is joined anew.
		const place = new Map(Array.from(rim, (v, k) => [v, first + k]));
		const seam: number[] = [];
		const { twin: twins } = this;
		for (let e = 0; e < base; e++)
			if (twins[e]! < 0) seam.push(e, base + outer.edgeBetween(place.get(this.from[next(e)]!)!, place.get(this.from[e]!)!));
		// Phase 2: vertices and triangles.
		this.reserve(vertices + outer.vertexCount - rim.length, base + 3 * outer.triangleCount);
		const number = new Int32Array(outer.vertexCount);
		for (let v = 0; v < number.length; v++)
			number[v] = v < first ? vertices + v : v < last ? rim[v - first]! : vertices + v - rim.length;
		yield 0.3;
		const { x, y, outgoing } = this;
		for (let v = 0; v < outer.vertexCount; v++) {
			if (v >= first && v < last) continue;
			const copy = number[v]!;
			x[copy] = outer.x[v]!;
			y[copy] = outer.y[v]!;
			outgoing[copy] = base + outer.outgoing[v]!;
		}
		const count = 3 * outer.triangleCount;
		this.fixed.set(outer.fixed.subarray(0, count), base);
		for (let e = 0; e < count; e += copiedAtOnce) {
			yield 0.5 + (0.5 * e) / count;
			this.takeHalfEdges(outer, number, base, e, Math.min(count, e + copiedAtOnce));
		}
		this.vertexCount += outer.vertexCount - rim.length;
		this.triangleCount += outer.triangleCount;
		for (let k = 0; k < seam.length; k += 2) {
			this.fixed[seam[k + 1]!] = 0;
			this.link(seam[k]!, seam[k + 1]!);
		}
	}

	/** Takes half-edges of another triangulation behind those that it has, with their vertices as they are numbered here. */
	private takeHalfEdges(other: Triangulation, number: Int32Array, base: number, first: number, end: number): void {
		const { from, twin } = this;
		for (let e = first; e < end; e++) {
			from[base + e] = number[other.from[e]!]!;
			twin[base + e] = other.twin[e]! < 0 ? -1 : base + other.twin[e]!;
		}
	}
}

keepHiddenClass(new Triangulation([0, 0, 1, 1], 1));
