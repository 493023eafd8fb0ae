import { FillError, type Fill, type FillInput } from '../method.ts';
import { concatenated } from '../../numeric/lists.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';
import { enclosedArea, OFFSET, triangulateBoundary } from './constrained.ts';
import { expectedTriangles, givenSizes } from './expected.ts';
import { improve } from './improve.ts';
import { findCores } from './lattice.ts';
import type { Core } from './lattice-core.ts';
import { refine } from './refine.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
import { repair } from './repair.ts';
import { findSweptCore, type SweptCore } from './swept-core.ts';
import { next, previous, type Triangulation } from './triangulation.ts';

/**
 * Smoothing, as the quality below which the nodes of a triangle are moved, sweep by sweep: what is poor before the repair
 * of small angles; everything once after it, and what is still poor then; what a second repair leaves.
 */
const beforeRepair = [0.8, 0.8];
const afterRepair = [0.95, 0.85, 0.85, 0.85];
const atLast = [0.85, 0.85, 0.85];

/** A node of a lattice takes so little of the time that any other one takes. */
const latticeEffort = 0.15;

/** A lattice has so many nodes less for every edge. */
const edgesApart = 3;

/** The share of the nodes that may be those of a lattice: as many as there could be of the region's own size. */
function shareInLattice(input: FillInput, { size }: SizeRule, triangles: number): number {
	const nodes = (2 * enclosedArea(input)) / (Math.sqrt(3) * size * size);
	// Beside edges there is no room for them.
	return Math.min(1, Math.max(0, nodes - edgesApart * (input.edges.length / 2)) / Math.max(1, triangles / 2));
}

/** How long one of so many triangles takes to make, over one whose size grows. */
export const effortOf = (input: FillInput, rule: SizeRule, triangles: number): number =>
	1 - (1 - latticeEffort) * shareInLattice(input, rule, triangles);

/** The share of the time that looking for lattices may take. */
function latticeShare(input: FillInput, rule: SizeRule, triangles: number): number {
	const share = shareInLattice(input, rule, triangles);
	return 0.02 + (0.9 * latticeEffort * share) / (latticeEffort * share + 1 - share + 0.05);
}

/** A sweep that leaves fewer nodes than this is not worth its while. */
const fewestSwept = 1000;
/** So many nodes lie too near to an edge, on the inner side of it; and so many must be left for what lies outside. */
const nodesAtEdge = 1.5;
const leastToEdge = 2.5;
/** The share of the time that a sweep takes, with finding what of it is kept. */
const sweptShare = 0.58;

/**
 * Fills a region with triangles of the size asked: where the size is the region's own, those of an
 * equilateral lattice; around it constrained Delaunay triangulation of what is given, frontal
 * refinement, smoothing, repair of small angles, smoothing. Given nodes and edges are kept exactly.
 *
 * @param predicted about how many triangles there will be, where that is known
 * @throws FillError where the given edges cross or coincide
 */
export function* fillTriangles(input: FillInput, rule: SizeRule, predicted?: number): Work<Fill> {
	const sizes = givenSizes(input, rule);
	const triangles = predicted ?? (yield* part(expectedTriangles(input, rule, sizes), 0, 0));
	const share = latticeShare(input, rule, triangles);
	const core = yield* part(findCores(input, rule, sizes), 0, share);
	const expected = Math.max(0, triangles / 2 - (core ? core.innerX.length : 0));
	const belt = yield* part(fillAround(input, core, rule, sizes, expected), share, 1);
	if (!core || !belt) return belt ?? (yield* fillAround(input, undefined, rule, sizes, triangles / 2))!;
	yield 1;
	// The nodes of the core follow all others.
	const given = input.x.length;
	const first = given + belt.x.length;
	const joined = new Uint32Array(belt.triangles.length + core.triangles.length);
	joined.set(belt.triangles);
	const rim = core.rimX.length;
	const ofCore = joined.subarray(belt.triangles.length);
	yield* part(
		inStretches(ofCore.length, chunkSize, (from, to) => renumberCore(core.triangles, ofCore, from, to, rim, given, first)),
		1,
		1
	);
	return { x: concatenated(belt.x, core.innerX), y: concatenated(belt.y, core.innerY), triangles: joined, quads: belt.quads };
}

/** Numbers copied between two yields. */
const chunkSize = 300_000;

/** The nodes of the triangles of a core as they are numbered in the whole, for a stretch of them. */
function renumberCore(
	triangles: Uint32Array,
	out: Uint32Array,
	first: number,
	last: number,
	rim: number,
	firstOfRim: number,
	firstInside: number
): void {
	for (let k = first; k < last; k++) {
		const p = triangles[k]!;
		out[k] = p < rim ? firstOfRim + p : firstInside + p - rim;
	}
}

function countKept(kept: Uint8Array): number {
	let count = 0;
	for (let t = 0; t < kept.length; t++) count += kept[t]!;
	return count;
}

/**
 * Takes the triangles that stay of a stretch of them into a list, their nodes as they are numbered in the fill: given ones
 * first, then those of a sweep, then the others.
 *
 * @returns the end of the list
 */
function takeKept(
	nodes: ArrayLike<number>,
	kept: Uint8Array,
	first: number,
	last: number,
	out: Uint32Array,
	end: number,
	shift: number,
	outer: number
): number {
	let to = end;
	for (let t = first; t < last; t++) {
		if (!kept[t]) continue;
		for (let e = 3 * t; e < 3 * t + 3; e++) {
			const v = nodes[e]!;
			const k = v - shift - OFFSET;
			out[to++] = v < shift ? outer + v : k < outer ? k : shift + k;
		}
	}
	return to;
}

/**
 * Fills what lies around a core, whose rim and layer are the first of the added nodes. Undefined in
 * the rare case that the result is not Delaunay across the rim.
 *
 * @param expected about how many nodes will be added
 */
function* fillAround(
	input: FillInput,
	core: Core | undefined,
	rule: SizeRule,
	sizes: Float64Array,
	expected: number
): Work<Fill | undefined> {
	const { x, y, edges } = input;
	const given = x.length;
	const rimCount = core?.rimCount ?? 0;
	let whole = core
		? { x: concatenated(x, core.rimX), y: concatenated(y, core.rimY), edges: withRim(edges, core.edges, given) }
		: { x, y, edges };
	let wholeSizes = core ? concatenated(sizes, core.rimSizes) : sizes;
	const edgeCount = whole.edges.length / 2;
	const toSweep = expected - given / 2 - (core ? core.rimX.length : 0) - nodesAtEdge * edgeCount;
	const isWorthIt = toSweep > Math.max(fewestSwept, leastToEdge * edgeCount) && !rule.even;
	const swept = isWorthIt ? yield* part(findSweptCore(whole, rule, wholeSizes, expected), 0, sweptShare) : undefined;
	const outer = whole.x.length;
	if (swept) {
		whole = {
			x: concatenated(whole.x, swept.rimX),
			y: concatenated(whole.y, swept.rimY),
			edges: withRim(whole.edges, swept.edges, outer)
		};
		wholeSizes = concatenated(wholeSizes, swept.rimSizes);
	}
	const left = Math.max(0, expected - (swept ? swept.mesh.vertexCount : 0));
	// How far along things are: what each part costs, by the nodes that it is about.
	const adds = Math.max(1, left - whole.x.length);
	const [laying, refining] = [3 * whole.x.length, 4 * adds];
	const settling = 3 * (whole.x.length + adds) + (swept ? 0.8 * swept.mesh.vertexCount : 0);
	const at = (done: number) => {
		const before = isWorthIt ? sweptShare : 0;
		return before + ((1 - before) * done) / (laying + refining + settling);
	};
	const [start, laid, settled] = [at(0), at(laying), (share: number) => at(laying + refining + share * settling)];
	yield start;
	const boundary = triangulateBoundary(whole, whole.x.length + Math.ceil(1.2 * left));
	const { triangulation: around, inside } = yield* part(boundary, start, laid);
	checkEncloses(input);
	const sizeAt = new Float64Array(around.x.length);
	sizeAt.set(wholeSizes, OFFSET);
	yield laid;
	const most = 200 + 20 * Math.ceil(expected) + 4 * edges.length;
	let refined = yield* part(refine(around, inside, sizeAt, rule, most, adds), laid, settled(0));
	const mesh = swept ? swept.mesh : around;
	/** Nodes of a sweep come first. */
	const shift = swept ? mesh.vertexCount : 0;
	yield settled(0);
	if (swept) refined = yield* part(putAround(swept, around, refined, outer + OFFSET), settled(0), settled(0));
	yield settled(0);
	const isFixed = [shift, shift + OFFSET + given + rimCount] as const;
	// Most of what a sweep placed is fair from the first.
	const [improved, repaired, again, mended] = swept ? [0.13, 0.2, 0.85, 0.92] : [0.27, 0.4, 0.8, 0.9];
	yield* part(improve(mesh, isFixed, refined, beforeRepair), settled(0), settled(improved));
	const once = yield* part(repair(mesh, refined), settled(improved), settled(repaired));
	yield* part(improve(mesh, isFixed, once, afterRepair), settled(repaired), settled(again));
	// What smoothing could not mend, or brought about.
	const kept = yield* part(repair(mesh, once), settled(again), settled(mended));
	if (kept.length > once.length) yield* part(improve(mesh, isFixed, kept, atLast), settled(mended), 1);
	if (core && !isDelaunayAtRim(mesh, core, shift + given)) return undefined;

	yield 1;
	const made = new Uint32Array(3 * countKept(kept));
	let end = 0;
	const take = (from: number, to: number) => {
		end = takeKept(mesh.from, kept, from, to, made, end, shift, outer);
	};
	yield* part(inStretches(kept.length, chunkSize, take), 1, 1);
	const placesOf = (all: Float64Array) => {
		const out = new Float64Array(mesh.vertexCount - OFFSET - given);
		out.set(all.subarray(shift + OFFSET + given, shift + OFFSET + outer));
		out.set(all.subarray(0, shift), outer - given);
		out.set(all.subarray(shift + OFFSET + outer, mesh.vertexCount), outer - given + shift);
		return out;
	};
	return { x: placesOf(mesh.x), y: placesOf(mesh.y), triangles: made, quads: new Uint32Array(0) };
}

/** Puts the triangulation around a swept core there, from its vertex `first` on; what is inside is told anew. */
function* putAround({ mesh, rim }: SweptCore, around: Triangulation, inside: Uint8Array, first: number): Work<Uint8Array> {
	const given = mesh.triangleCount;
	yield* part(mesh.putAround(around, rim, first), 0, 0.7);
	const joined = new Uint8Array(mesh.triangleCount).fill(1, 0, given);
	joined.set(inside, given);
	yield* part(mesh.restoreDelaunay(rim, joined), 0.7, 1);
	return joined;
}

function withRim(edges: Uint32Array, rim: Uint32Array, given: number): Uint32Array {
	const out = new Uint32Array(edges.length + rim.length);
	out.set(edges);
	for (let k = 0; k < rim.length; k++) out[edges.length + k] = given + rim[k]!;
	return out;
}

/**
 * Whether no node beside the core lies in the circle around one of its triangles. A triangle that
 * does not touch the rim needs no look: its circle stays within its neighbours.
 */
function isDelaunayAtRim(mesh: Triangulation, { edges }: Core, given: number): boolean {
	const { x, y, from } = mesh;
	for (let k = 0; k < edges.length; k += 2) {
		const e = mesh.edgeBetween(edges[k]! + given + OFFSET, edges[k + 1]! + given + OFFSET);
		const [a, b, d] = [from[e]!, from[next(e)]!, from[previous(e)]!];
		// The centre lies on the right, at a third of the height below the middle of the edge.
		const [dx, dy] = [x[b]! - x[a]!, y[b]! - y[a]!];
		const below = 0.5 / Math.sqrt(3);
		const [cx, cy] = [(x[a]! + x[b]!) / 2 + below * dy, (y[a]! + y[b]!) / 2 - below * dx];
		const radiusSquare = (dx * dx + dy * dy) / 3;
		if ((x[d]! - cx) ** 2 + (y[d]! - cy) ** 2 < radiusSquare * (1 + 1e-9)) return false;
	}
	return true;
}

/** Refuses a boundary whose straight edges enclose nothing, like a lens whose two arcs are one division each. */
function checkEncloses(input: FillInput): void {
	const { x, y } = input;
	if (!(enclosedArea(input) > 0))
		throw new FillError('chords-cross', 'the straight edges of its boundary enclose nothing; divide its curves more finely', {
			x: x[0]!,
			y: y[0]!
		});
}
