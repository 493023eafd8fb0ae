import { atan2, cos, hypot, sin } from '../../numeric/elementary.ts';
import { numbersBelow } from '../../numeric/lists.ts';
import { part, type Work } from '../../numeric/work.ts';
import type { SizesAt } from '../../sizing/size-rule.ts';
import { solver } from '../cross-field/conjugate-gradients.ts';
import { fourth, stiffness } from '../cross-field/cross-field.ts';
import { OFFSET, triangulateBoundary } from '../triangles/constrained.ts';
import { givenSizes } from '../triangles/expected.ts';
import { refine } from '../triangles/refine.ts';
import { next, previous, type Triangulation } from '../triangles/triangulation.ts';
import type { Outline } from './outline.ts';

/** Triangles grow by this from the outline. */
const coarsening = 1.5;
/** So many rounds of diffusion and scaling back to unit length follow the harmonic field; more change nothing. */
const rounds = 3;
/** The equations are solved to this part of what is missing at first. */
const enough = 1e-5;
/** Around singular nodes triangles have this part of the size that they had before. */
const closer = 0.25;
const closerSlope = 0.25;

/** A place around which the directions turn by a quarter of a full turn. */
export interface Singular {
	triangle: number;
	/** The half-edge of the triangle on which it lies, where it stands between two triangles of a corner; −1 where it lies inside. */
	edge: number;
	x: number;
	y: number;
	/** 1 where three blocks meet, −1 where five do. */
	turn: 1 | -1;
}

/**
 * Four directions, square to one another, all over a region. They stand as fourth powers at the corners of triangles: around a
 * corner of the outline each triangle has a value of its own, so that the directions turn there as its quadrants ask.
 */
export interface Directions {
	mesh: Triangulation;
	/** 1 for each triangle of the region. */
	inside: Uint8Array;
	/** The fourth power at corner k of triangle t, at 3 t + k. */
	u: Float64Array;
	v: Float64Array;
	singular: Singular[];
}

/** Why directions can carry no blocks. */
export interface NoDirections {
	reason: string;
}

/**
 * The smooth directions that follow the outlines: harmonic in the fourth power (N. Kowalski, F. Ledoux & P. Frey 2013), then diffused
 * and scaled in turns (R. Viertel & B. Osting, SIAM J. Sci. Comput. 41 (2019), algorithm 1). The triangles are refined around singular
 * nodes, and the field is solved again on these.
 *
 * @throws FillError where the edges of the outlines cross
 */
export function* directionsIn(outline: Outline): Work<Directions | NoDirections> {
	const first = yield* part(solvedOn(outline, undefined), 0, 0.4);
	if ('reason' in first || first.singular.length === 0) return first;
	return yield* part(solvedOn(outline, sizesNear(first)), 0.4, 1);
}

/** Small sizes around singular nodes. */
function sizesNear({ mesh, singular }: Directions): SizesAt {
	const { x, y, from } = mesh;
	const near = singular.map(({ triangle, x: sx, y: sy }) => {
		let longest = 0;
		for (let e = 3 * triangle; e < 3 * triangle + 3; e++) {
			const [a, b] = [from[e]!, from[next(e)]!];
			longest = Math.max(longest, hypot(x[b]! - x[a]!, y[b]! - y[a]!));
		}
		return { x: sx, y: sy, size: closer * longest };
	});
	return {
		at: (px, py) => {
			let least = Infinity;
			for (const one of near) least = Math.min(least, one.size + closerSlope * hypot(px - one.x, py - one.y));
			return least;
		}
	};
}

function* solvedOn(outline: Outline, field: SizesAt | undefined): Work<Directions | NoDirections> {
	const { input } = outline;
	// Phase 1: triangles, coarse away from the outlines.
	const rule = { size: Infinity, growth: coarsening, ...(field ? { field } : {}) };
	const { triangulation: mesh, inside: start } = yield* part(triangulateBoundary(input, 4 * input.x.length), 0, 0);
	const sizeAt = new Float64Array(mesh.x.length);
	sizeAt.set(givenSizes(input, { size: Infinity, growth: coarsening }), OFFSET);
	const inside = yield* part(refine(mesh, start, sizeAt, rule, 1000 + 40 * input.x.length, 3 * input.x.length), 0, 0.3);
	const count = mesh.vertexCount;

	// Phase 2: values at the outlines; at corners one to each triangle.
	const [u, v] = [new Float64Array(3 * inside.length), new Float64Array(3 * inside.length)];
	const isGiven = new Uint8Array(count);
	const [givenU, givenV] = [new Float64Array(count), new Float64Array(count)];
	const isFan = new Uint8Array(count);
	for (let i = 0; i < input.x.length; i++) {
		isGiven[i + OFFSET] = 1;
		if (outline.quadrants[i]! > 0) {
			isFan[i + OFFSET] = 1;
			setFan(outline, i, mesh, inside, u, v);
			continue;
		}
		const b = outline.before[i]!;
		const [ax, ay] = fourth(input.x[i]! - input.x[b]!, input.y[i]! - input.y[b]!);
		const end = input.edges[2 * i + 1]!;
		const [cx, cy] = fourth(input.x[end]! - input.x[i]!, input.y[end]! - input.y[i]!);
		const length = hypot(ax + cx, ay + cy);
		if (length < 0.1) isGiven[i + OFFSET] = 0;
		else [givenU[i + OFFSET], givenV[i + OFFSET]] = [(ax + cx) / length, (ay + cy) / length];
	}

	// Phase 3: the harmonic field, and rounds of diffusion and scaling.
	const { matrix, area, sides } = stiffness(mesh, inside, count);
	const fans = [u, v].map((values) => fromFans(mesh, inside, isFan, sides, values, count)) as [Float64Array, Float64Array];
	const free = numbersBelow(count).filter((i) => matrix.mass[i]! > 0 && !isGiven[i]);
	const solve = solver(matrix, free, enough);
	const w = [givenU, givenV] as const;
	solve(w, fans, 0);
	yield 0.6;
	const rate = 20 / Math.max(area, Number.MIN_VALUE);
	for (let round = 0; round < rounds; round++) {
		const source = [fans[0].slice(), fans[1].slice()] as const;
		for (const i of free) {
			const length = hypot(w[0][i]!, w[1][i]!) || 1;
			for (const h of [0, 1] as const) {
				w[h][i]! /= length;
				source[h][i]! += rate * matrix.mass[i]! * w[h][i]!;
			}
		}
		solve(w, source, rate);
		yield 0.6 + (0.4 * (round + 1)) / (rounds + 1);
	}
	for (let e = 0; e < u.length; e++) {
		const i = mesh.from[e]!;
		if (inside[(e / 3) | 0] && !isFan[i]) [u[e], v[e]] = [w[0][i]!, w[1][i]!];
	}
	const found = { mesh, inside, u, v };
	const singular = singularIn(found);
	return 'reason' in singular ? singular : { ...found, singular };
}

/** The half-edges that leave a node of the outline within the region, from that along its own edge on, counter-clockwise. */
function fanAt(outline: Outline, i: number, mesh: Triangulation, inside: Uint8Array): number[] {
	const end = outline.input.edges[2 * i + 1]! + OFFSET;
	const list: number[] = [];
	for (let e = mesh.edgeBetween(i + OFFSET, end); e >= 0 && inside[(e / 3) | 0];) {
		list.push(e);
		const across = previous(e);
		if (mesh.fixed[across] || list.length > 10_000) break;
		e = mesh.twin[across]!;
	}
	return list;
}

/** The triangles around a node of the outline within the region, with the angle of each, all of them, and the direction of its own edge. */
export function sectorAt(
	outline: Outline,
	i: number,
	mesh: Triangulation,
	inside: Uint8Array
): { fan: number[]; angles: number[]; whole: number; start: number } {
	const { x, y, from } = mesh;
	const node = i + OFFSET;
	const fan = fanAt(outline, i, mesh, inside);
	const angles = fan.map((e) => {
		const [a, b] = [from[next(e)]!, from[previous(e)]!];
		const [ax, ay, bx, by] = [x[a]! - x[node]!, y[a]! - y[node]!, x[b]! - x[node]!, y[b]! - y[node]!];
		return atan2(ax * by - ay * bx, ax * bx + ay * by);
	});
	const first = from[next(fan[0]!)]!;
	return {
		...{ fan, angles },
		whole: angles.reduce((sum, angle) => sum + angle, 0),
		start: atan2(y[first]! - y[node]!, x[first]! - x[node]!)
	};
}

/** Values of the triangles around a corner: from one of its sides to the other they turn by its angle less its quadrants. */
function setFan(outline: Outline, i: number, mesh: Triangulation, inside: Uint8Array, u: Float64Array, v: Float64Array): void {
	const { fan, angles, whole, start } = sectorAt(outline, i, mesh, inside);
	const turn = whole - (outline.quadrants[i]! * Math.PI) / 2;
	let sum = 0;
	for (const [k, e] of fan.entries()) {
		const angle = 4 * (start + ((sum + angles[k]! / 2) / whole) * turn);
		sum += angles[k]!;
		[u[e], v[e]] = [cos(angle), sin(angle)];
	}
}

/** What triangles around corners give to the nodes beside a corner: it stands apart, as each triangle has a value of its own there. */
function fromFans(
	{ from }: Triangulation,
	inside: Uint8Array,
	isFan: Uint8Array,
	sides: Float64Array,
	values: Float64Array,
	count: number
): Float64Array {
	const sums = new Float64Array(count);
	for (let e = 0; e < 3 * inside.length; e++) {
		if (!inside[(e / 3) | 0]) continue;
		const [q, r] = [from[e]!, from[next(e)]!];
		if (isFan[q]) sums[r]! += sides[e]! * values[e]!;
		if (isFan[r]) sums[q]! += sides[e]! * values[next(e)]!;
	}
	return sums;
}

/** The smallest turn from one fourth power to another. */
const turnTo = (a: number, b: number, u: Float64Array, v: Float64Array): number =>
	atan2(u[a]! * v[b]! - v[a]! * u[b]!, u[a]! * u[b]! + v[a]! * v[b]!);

/** Places around which the directions turn: in triangles, and on edges between the triangles of a corner. */
function singularIn({ mesh, inside, u, v }: Omit<Directions, 'singular'>): Singular[] | NoDirections {
	const found: Singular[] = [];
	for (let t = 0; t < inside.length; t++) {
		if (!inside[t]) continue;
		let turn = 0;
		for (let k = 0; k < 3; k++) turn += turnTo(3 * t + k, 3 * t + ((k + 1) % 3), u, v);
		const times = Math.round(turn / (2 * Math.PI));
		if (times === 0) continue;
		if (Math.abs(times) > 1) return { reason: 'its directions turn twice at one place' };
		found.push({ triangle: t, edge: -1, ...zeroIn(mesh, u, v, t), turn: times > 0 ? 1 : -1 });
	}
	for (let e = 0; e < 3 * inside.length; e++) {
		const f = mesh.twin[e]!;
		if (!inside[(e / 3) | 0] || f < e || !inside[(f / 3) | 0]) continue;
		// Around an edge: from its start to its end on this side, and back on the other.
		const turn = turnTo(e, next(e), u, v) + turnTo(next(e), f, u, v) + turnTo(f, next(f), u, v) + turnTo(next(f), e, u, v);
		const times = Math.round(turn / (2 * Math.PI));
		if (times === 0) continue;
		if (Math.abs(times) > 1) return { reason: 'its directions turn twice at one place' };
		const [a, b] = [mesh.from[e]!, mesh.from[next(e)]!];
		const [x, y] = [(mesh.x[a]! + mesh.x[b]!) / 2, (mesh.y[a]! + mesh.y[b]!) / 2];
		found.push({ triangle: (e / 3) | 0, edge: e, x, y, turn: times > 0 ? 1 : -1 });
	}
	return found;
}

/** Where a linear field is zero in a triangle; its middle where that lies at the rim. */
function zeroIn({ x, y, from }: Triangulation, u: Float64Array, v: Float64Array, t: number): { x: number; y: number } {
	const cross = (i: number, j: number) => u[3 * t + i]! * v[3 * t + j]! - v[3 * t + i]! * u[3 * t + j]!;
	const weights = [cross(1, 2), cross(2, 0), cross(0, 1)];
	const sum = weights[0]! + weights[1]! + weights[2]!;
	const least = 0.12;
	const shares = weights.map((w) => Math.max(least, sum === 0 ? 1 / 3 : w / sum));
	const whole = shares[0]! + shares[1]! + shares[2]!;
	const mean = (values: Float64Array) =>
		(shares[0]! * values[from[3 * t]!]! + shares[1]! * values[from[3 * t + 1]!]! + shares[2]! * values[from[3 * t + 2]!]!) /
		whole;
	return { x: mean(x), y: mean(y) };
}
