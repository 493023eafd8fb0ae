import { atan2, cos, hypot, sin } from '../../numeric/elementary.ts';
import { numbersBelow } from '../../numeric/lists.ts';
import type { FillInput } from '../method.ts';
import { part, type Work } from '../../numeric/work.ts';
import { OFFSET, triangulateBoundary } from '../triangles/constrained.ts';
import { givenSizes } from '../triangles/expected.ts';
import { refine } from '../triangles/refine.ts';
import { next, previous, type Triangulation } from '../triangles/triangulation.ts';
import { type Matrix, solver } from './conjugate-gradients.ts';

/** The triangles that the field stands on grow by this from the boundary: a field is smooth away from it. */
const coarsening = 1.5;
/** So many rounds of diffusion and scaling back to unit length follow the harmonic field. */
const rounds = 3;
/** The equations are solved to this part of what is missing at first: directions are then good to a hundredth of a degree. */
const enough = 1e-4;

/** A node of the field around which its directions turn by a multiple of 90°. */
export interface SingularNode {
	x: number;
	y: number;
	/** The turn over 360°: 1/4 where three rows meet, −1/4 where five do. */
	index: number;
}

/** Four directions, square to one another, at every place of a region. */
export interface CrossField {
	/**
	 * One of the four directions, in radians from −45° to 45°; near a singular node any.
	 *
	 * @param from where to look first: what `triangle` was after a question nearby
	 */
	at(x: number, y: number, from?: number): number;
	/** The triangle of the field in which the last question lay. */
	readonly triangle: number;
	/** A triangle of the field at a given node. */
	beside(node: number): number;
	singular: SingularNode[];
}

/**
 * The smooth field of crosses that is aligned with all edges of a region: harmonic in the fourth power of the direction
 * (N. Kowalski, F. Ledoux & P. Frey, 2013), then made of unit length by diffusion and scaling in turns, which settles its singular
 * nodes (R. Viertel & B. Osting, SIAM J. Sci. Comput. 41 (2019), algorithm 1), on triangles that are coarse away from the
 * boundary.
 *
 * @throws FillError where the given edges cross or coincide
 */
export function* crossField(input: FillInput): Work<CrossField> {
	// Phase 1: triangles that the field needs.
	const { x, edges } = input;
	const rule = { size: Infinity, growth: coarsening };
	const { triangulation: mesh, inside: first } = yield* part(triangulateBoundary(input, 3 * x.length), 0, 0);
	const sizeAt = new Float64Array(mesh.x.length);
	sizeAt.set(givenSizes(input, rule), OFFSET);
	const inside = yield* part(refine(mesh, first, sizeAt, rule, 200 + 20 * x.length, 2 * x.length), 0, 0.3);
	const count = mesh.vertexCount;

	// Phase 2: directions of the edges, to the fourth power.
	const [u, v] = [new Float64Array(count), new Float64Array(count)];
	for (let k = 0; k < edges.length; k += 2) {
		const [a, b] = [edges[k]! + OFFSET, edges[k + 1]! + OFFSET];
		const [c4, s4] = fourth(mesh.x[b]! - mesh.x[a]!, mesh.y[b]! - mesh.y[a]!);
		for (const node of [a, b]) {
			u[node]! += c4;
			v[node]! += s4;
		}
	}
	const isGiven = new Uint8Array(count);
	for (const node of edges) isGiven[node + OFFSET] = 1;
	for (let i = 0; i < count; i++) {
		if (!isGiven[i]) continue;
		const length = hypot(u[i]!, v[i]!);
		// Two edges at 45° to one another want nothing together.
		if (length < 0.2) isGiven[i] = 0;
		else {
			u[i]! /= length;
			v[i]! /= length;
		}
	}

	// Phase 3: the harmonic field between, then rounds of diffusion and scaling.
	const { matrix, area } = stiffness(mesh, inside, count);
	const free = numbersBelow(count).filter((i) => matrix.mass[i]! > 0 && !isGiven[i]);
	const solve = solver(matrix, free, enough);
	const source = [new Float64Array(count), new Float64Array(count)] as const;
	solve([u, v], source, 0);
	yield 0.5;
	const rate = 20 / Math.max(area, Number.MIN_VALUE);
	for (let round = 0; round < rounds; round++) {
		for (const i of free) {
			const length = hypot(u[i]!, v[i]!);
			const scale = length === 0 ? 1 : 1 / length;
			u[i]! *= scale;
			v[i]! *= scale;
			source[0][i] = rate * matrix.mass[i]! * u[i]!;
			source[1][i] = rate * matrix.mass[i]! * v[i]!;
		}
		solve([u, v], source, rate);
		yield 0.5 + (0.5 * (round + 1)) / rounds;
	}
	const singular = singularNodes(mesh, inside, u, v);

	return new Crosses(mesh, inside, u, v, singular);
}

/** A field by the fourth powers of its directions at the vertices of triangles. */
class Crosses implements CrossField {
	triangle: number;

	constructor(
		private readonly mesh: Triangulation,
		private readonly inside: Uint8Array,
		private readonly u: Float64Array,
		private readonly v: Float64Array,
		readonly singular: SingularNode[]
	) {
		this.triangle = Math.max(0, inside.indexOf(1));
	}

	beside(node: number): number {
		return insideAt(this.mesh, this.inside, node + OFFSET);
	}

	at(px: number, py: number, from?: number): number {
		const { mesh, inside, u, v } = this;
		let triangle = walkTo(mesh, inside, px, py, from ?? this.triangle);
		// Without a place to start from, a hole may have been in the way.
		if (from === undefined && !contains(mesh, triangle, px, py)) triangle = searchFor(mesh, inside, px, py, triangle);
		this.triangle = triangle;
		const a = mesh.from[3 * triangle]!;
		const b = mesh.from[3 * triangle + 1]!;
		const c = mesh.from[3 * triangle + 2]!;
		const [wa, wb, wc] = weights(mesh, a, b, c, px, py);
		const re = wa * u[a]! + wb * u[b]! + wc * u[c]!;
		const im = wa * v[a]! + wb * v[b]! + wc * v[c]!;
		return atan2(im, re) / 4;
	}
}

/** A direction's fourth power: the same for all four of a cross. */
export function fourth(dx: number, dy: number): [number, number] {
	const length = hypot(dx, dy) || 1;
	const [c, s] = [dx / length, dy / length];
	const [c2, s2] = [c * c - s * s, 2 * c * s];
	return [c2 * c2 - s2 * s2, 2 * c2 * s2];
}

/**
 * The Laplacian by cotangents, none of them below a small one, the area of each node, and what each side of a triangle, by its
 * half-edge, gives to the weight of its edge.
 */
export function stiffness(
	mesh: Triangulation,
	inside: Uint8Array,
	count: number
): { matrix: Matrix; area: number; sides: Float64Array } {
	const { x, y, from, twin } = mesh;
	const mass = new Float64Array(count);
	/** The weight of each edge, at the one of its half-edges that comes first. */
	const weights = new Float64Array(3 * inside.length);
	const sides = new Float64Array(3 * inside.length);
	const start = new Int32Array(count + 1);
	let area = 0;
	for (let t = 0; t < inside.length; t++) {
		if (!inside[t]) continue;
		const a = from[3 * t]!;
		const b = from[3 * t + 1]!;
		const c = from[3 * t + 2]!;
		const cross = (x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!);
		area += cross / 2;
		for (let e = 3 * t; e < 3 * t + 3; e++) {
			const q = from[e]!;
			const r = from[next(e)]!;
			const p = from[previous(e)]!;
			mass[p]! += cross / 6;
			const dot = (x[q]! - x[p]!) * (x[r]! - x[p]!) + (y[q]! - y[p]!) * (y[r]! - y[p]!);
			const f = twin[e]!;
			const first = f >= 0 && f < e && inside[(f / 3) | 0] ? f : e;
			if (first === e) {
				start[q + 1]!++;
				start[r + 1]!++;
			}
			const weight = Math.max(0.05, dot / Math.max(cross, Number.MIN_VALUE) / 2);
			sides[e] = weight;
			weights[first]! += weight;
		}
	}
	for (let i = 0; i < count; i++) start[i + 1]! += start[i]!;
	const column = new Int32Array(start[count]!);
	const value = new Float64Array(start[count]!);
	const to = start.slice();
	for (let e = 0; e < weights.length; e++) {
		if (weights[e] === 0) continue;
		const a = from[e]!;
		const b = from[next(e)]!;
		column[to[a]!] = b;
		value[to[a]!++] = weights[e]!;
		column[to[b]!] = a;
		value[to[b]!++] = weights[e]!;
	}
	return { matrix: { start, column, value, mass }, area, sides };
}

/** Triangles around which the field turns, by the sum of the smallest turns along their edges. */
function singularNodes(mesh: Triangulation, inside: Uint8Array, u: Float64Array, v: Float64Array): SingularNode[] {
	const found: SingularNode[] = [];
	for (let t = 0; t < inside.length; t++) {
		if (!inside[t]) continue;
		let turn = 0;
		const corner = [0, 1, 2].map((k) => mesh.from[3 * t + k]!);
		for (let k = 0; k < 3; k++) {
			const [a, b] = [corner[k]!, corner[(k + 1) % 3]!];
			turn += atan2(u[a]! * v[b]! - v[a]! * u[b]!, u[a]! * u[b]! + v[a]! * v[b]!);
		}
		const index = Math.round(turn / (2 * Math.PI)) / 4;
		if (index === 0) continue;
		const mean = (values: Float64Array) => (values[corner[0]!]! + values[corner[1]!]! + values[corner[2]!]!) / 3;
		found.push({ x: mean(mesh.x), y: mean(mesh.y), index });
	}
	return found;
}

function weights({ x, y }: Triangulation, a: number, b: number, c: number, px: number, py: number): [number, number, number] {
	const cross = (i: number, j: number) => (x[i]! - px) * (y[j]! - py) - (x[j]! - px) * (y[i]! - py);
	const [wa, wb, wc] = [Math.max(0, cross(b, c)), Math.max(0, cross(c, a)), Math.max(0, cross(a, b))];
	const sum = wa + wb + wc;
	return sum > 0 ? [wa / sum, wb / sum, wc / sum] : [1 / 3, 1 / 3, 1 / 3];
}

/** The triangle with a point, by walking; the last one on the way where the point lies outside. */
function walkTo(mesh: Triangulation, inside: Uint8Array, px: number, py: number, start: number): number {
	const { x, y, from, twin } = mesh;
	let [t, last] = [start, -1];
	for (let step = 0; step < 400; step++) {
		let crossed = -1;
		for (let k = 0; k < 3; k++) {
			const e = 3 * t + ((k + step) % 3);
			const f = twin[e]!;
			if (f < 0 || ((f / 3) | 0) === last) continue;
			const [a, b] = [from[e]!, from[next(e)]!];
			if ((x[b]! - x[a]!) * (py - y[a]!) - (px - x[a]!) * (y[b]! - y[a]!) >= 0) continue;
			if (inside[(f / 3) | 0]) crossed = f;
		}
		if (crossed < 0) return t;
		last = t;
		t = (crossed / 3) | 0;
	}
	return t;
}

function contains({ x, y, from }: Triangulation, t: number, px: number, py: number): boolean {
	for (let e = 3 * t; e < 3 * t + 3; e++) {
		const [a, b] = [from[e]!, from[next(e)]!];
		if ((x[b]! - x[a]!) * (py - y[a]!) - (px - x[a]!) * (y[b]! - y[a]!) < 0) return false;
	}
	return true;
}

/** The triangle with a point among all, or another one where none has it. */
function searchFor(mesh: Triangulation, inside: Uint8Array, px: number, py: number, otherwise: number): number {
	for (let t = 0; t < inside.length; t++) if (inside[t] && contains(mesh, t, px, py)) return t;
	return otherwise;
}

/** A triangle of the region at a vertex. */
function insideAt({ outgoing, twin }: Triangulation, inside: Uint8Array, v: number): number {
	const first = outgoing[v]!;
	let e = first;
	do {
		if (inside[(e / 3) | 0]) return (e / 3) | 0;
		e = twin[previous(e)]!;
	} while (e >= 0 && e !== first);
	return Math.max(0, inside.indexOf(1));
}

/** The direction of a field nearest to a given one. */
export function nearestDirection(angle: number, dx: number, dy: number): { x: number; y: number } {
	const [c, s] = [cos(angle), sin(angle)];
	const [along, across] = [c * dx + s * dy, c * dy - s * dx];
	return Math.abs(along) >= Math.abs(across)
		? { x: along >= 0 ? c : -c, y: along >= 0 ? s : -s }
		: { x: across >= 0 ? -s : s, y: across >= 0 ? c : -c };
}
