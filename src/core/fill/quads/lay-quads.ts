import { atan2, hypot } from '../../numeric/elementary.ts';
import { concatenated, numbersBelow } from '../../numeric/lists.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
import { crossField } from '../cross-field/cross-field.ts';
import { FillError, type FillInput } from '../method.ts';
import { OFFSET, triangulateBoundary } from '../triangles/constrained.ts';
import { givenSizes } from '../triangles/expected.ts';
import { next, type Triangulation } from '../triangles/triangulation.ts';
import { CleanUp } from './clean-up.ts';
import { coarseOutlines, DIVISION } from './coarse-outlines.ts';
import { divideCore, type DividedCore } from './divided-core.ts';
import { joinTriangles } from './join-triangles.ts';
import { pairTriangles } from './pair.ts';
import { placeInRows } from './place.ts';
import { QuadMesh } from './quad-mesh.ts';
import { smooth } from './smooth.ts';

/** What a fill with quadrilaterals is asked. */
export interface QuadRule extends SizeRule {
	/** Triangles may stay where quadrilaterals would be worse. */
	mostly?: boolean;
}

/** A region that will have so many elements gets its inner part from a coarse fill. */
const many = 12_000;

/** Elements laid between two yields. */
const chunkSize = 50_000;

/** The elements of a region: its inner part divided from coarse ones where it is large enough, the rest in rows. */
export function* layQuads(input: FillInput, rule: QuadRule, expected: number, isCoarse = false): Work<QuadMesh> {
	if (!(expected > many)) return yield* layInRows(input, rule, expected);
	const mesh = yield* part(layWithCore(input, rule, expected), 0, 0.9);
	// Of coarse elements those that fold are not divided.
	if (mesh && (isCoarse || (yield* part(mesh.worstShape(), 0.9, 0.9)) > 0)) return mesh;
	return yield* part(layInRows(input, rule, expected), 0.9, 1);
}

/** @returns undefined where there is no core */
function* layWithCore(input: FillInput, rule: QuadRule, expected: number): Work<QuadMesh | undefined> {
	try {
		const core = yield* part(coreOf(input, rule, expected), 0, 0.45);
		if (!core) return undefined;
		return yield* part(layAround(input, rule, expected, core), 0.45, 1);
	} catch (error) {
		// A coarse outline may cross itself where the fine one does not.
		if (error instanceof FillError) return undefined;
		throw error;
	}
}

/** Sizes of a coarse fill grow by no more than this, so that its elements are fair; where they should grow faster, rows fill the region. */
const coarseGrowth = 1.5;

/** What of a region comes from a coarse fill, in which sizes are larger and grow faster. */
export function* coreOf(input: FillInput, rule: QuadRule, expected: number): Work<DividedCore | undefined> {
	const { field } = rule;
	const outlines = coarseOutlines(input);
	if (!outlines) return undefined;
	const coarseRule: QuadRule = {
		size: DIVISION * rule.size,
		growth: Math.min(coarseGrowth, 1 + DIVISION * (rule.growth - 1)),
		...(field ? { field: { at: (px: number, py: number) => DIVISION * field.at(px, py) } } : {})
	};
	const coarse = yield* part(layQuads(outlines.input, coarseRule, expected / (DIVISION * DIVISION), true), 0, 0.5);
	return yield* part(divideCore(input, rule, outlines, coarse), 0.5, 1);
}

/** Rows in what the core of a region leaves, joined with it. */
function* layAround(input: FillInput, rule: QuadRule, expected: number, core: DividedCore): Work<QuadMesh> {
	const { edges } = input;
	const given = input.x.length;
	const all = { x: concatenated(input.x, core.x), y: concatenated(input.y, core.y) };
	// The nodes of what is left: given ones on its edges, those that stand alone, those of the rim.
	const isUsed = new Uint8Array(given + core.rimCount).fill(1);
	for (const v of edges) isUsed[v] = 0;
	for (const v of core.rest) isUsed[v] = 1;
	const used = numbersBelow(isUsed.length).filter((v) => isUsed[v]);
	const number = new Int32Array(isUsed.length);
	for (let i = 0; i < used.length; i++) number[used[i]!] = i;
	const left: FillInput = {
		x: Float64Array.from(used, (v) => all.x[v]!),
		y: Float64Array.from(used, (v) => all.y[v]!),
		edges: core.rest.map((v) => number[v]!)
	};
	yield 0;
	const few = Math.max(expected - core.quads.length / 4, core.rest.length);
	const rows = yield* part(layInRows(left, rule, few), 0, 0.55);

	const mesh = new QuadMesh(
		concatenated(all.x, rows.x.subarray(used.length, rows.nodeCount)),
		concatenated(all.y, rows.y.subarray(used.length, rows.nodeCount)),
		given,
		edges,
		rows.elementCount + core.quads.length / 4
	);
	// The numbers of the nodes of the rows in all.
	const numbers = new Int32Array(rows.nodeCount);
	numbers.set(used);
	for (let v = used.length; v < numbers.length; v++) numbers[v] = all.x.length + v - used.length;
	// The core is even already.
	const isBeside = new Uint8Array(mesh.nodeCount);
	yield* part(
		inStretches(rows.elementCount, chunkSize, (from, to) => layRows(mesh, rows, numbers, isBeside, from, to)),
		0.55,
		0.57
	);
	const { quads } = core;
	yield* part(
		inStretches(quads.length / 4, chunkSize, (from, to) => layCore(mesh, quads, from, to)),
		0.57,
		0.7
	);
	yield* part(smooth(mesh, 4, Infinity, isBeside), 0.7, 0.85);
	yield* part(smooth(mesh, 12, 0.6), 0.85, 1);
	return mesh;
}

/** Lays some elements of rows into a mesh, where their nodes have other numbers, and marks those. */
function layRows(mesh: QuadMesh, { nodes }: QuadMesh, numbers: Int32Array, isBeside: Uint8Array, from: number, to: number): void {
	for (let k = 4 * from; k < 4 * to; k += 4) {
		if (nodes[k]! < 0) continue;
		const a = numbers[nodes[k]!]!;
		const b = numbers[nodes[k + 1]!]!;
		const c = numbers[nodes[k + 2]!]!;
		const d = nodes[k + 3]! < 0 ? nodes[k + 3]! : numbers[nodes[k + 3]!]!;
		mesh.lay(a, b, c, d);
		isBeside[a] = isBeside[b] = isBeside[c] = 1;
		if (d >= 0) isBeside[d] = 1;
	}
}

function layCore(mesh: QuadMesh, quads: Uint32Array, from: number, to: number): void {
	for (let k = 4 * from; k < 4 * to; k += 4) mesh.lay(quads[k]!, quads[k + 1]!, quads[k + 2]!, quads[k + 3]!);
}

/** Of elements that are mostly quadrilaterals so many may be triangles. */
const mostTriangles = 0.02;

/** All elements in rows along a cross field. */
function* layInRows(input: FillInput, rule: QuadRule, expected: number): Work<QuadMesh> {
	const { x, edges } = input;
	const given = x.length;
	const crosses = yield* part(crossField(input), 0, 0.15);
	const boundary = triangulateBoundary(input, Math.ceil(1.2 * expected) + given + 64);
	const { triangulation, inside } = yield* part(boundary, 0.15, 0.15);
	const sizes = new Float64Array(triangulation.x.length);
	sizes.set(givenSizes(input, rule), OFFSET);
	sizeLooseNodes(input, triangulation, sizes);
	const starts = Int32Array.from({ length: given }, (_, i) => i + OFFSET);
	const limit = 200 + 20 * Math.ceil(expected) + 4 * edges.length;
	const placed = yield* part(
		placeInRows(triangulation, inside, sizes, starts, cornersOf(input), rule, crosses, limit, expected),
		0.15,
		0.4
	);
	yield 0.4;
	const mesh = pairTriangles(triangulation, placed.inside, OFFSET, given, edges);
	yield 0.4;
	const enough = rule.mostly ? Math.floor(mostTriangles * (mesh.elementCount - mesh.triangleCount() / 2)) : 0;
	// Where some may stay, those are joined first whose ways leave fair elements.
	if (rule.mostly) {
		yield* part(joinTriangles(mesh, enough, 0.4), 0.4, 0.41);
		yield* part(joinTriangles(mesh, enough, 0.2), 0.41, 0.42);
	}
	yield* part(joinTriangles(mesh, enough), 0.42, 0.45);
	yield* part(smooth(mesh, 2), 0.45, 0.55);
	const cleanUp = new CleanUp(mesh);
	yield* part(cleanUp.run(), 0.55, 0.6);
	yield* part(cleanUp.mendFlat(), 0.6, 0.61);
	yield* part(smooth(mesh, 3), 0.61, 0.7);
	for (let k = 0, from = 0.7; k < 3; k++, from += 0.06) {
		const met = yield* part(cleanUp.wander(), from, from + 0.04);
		const made = yield* part(cleanUp.run(), from + 0.04, from + 0.05);
		if (met + made === 0) break;
		yield* part(smooth(mesh, 2), from + 0.05, from + 0.06);
	}
	yield* part(cleanUp.mendFlat(), 0.88, 0.89);
	yield* part(smooth(mesh, 10), 0.89, 0.95);
	yield* part(smooth(mesh, 12, 0.6), 0.95, 1);
	return mesh;
}

/** Nodes that stand alone want elements no larger than the way to the nearest other node. */
function sizeLooseNodes({ x, edges }: FillInput, mesh: Triangulation, sizes: Float64Array): void {
	const onEdge = new Uint8Array(x.length);
	for (const node of edges) onEdge[node] = 1;
	for (let e = 0; e < 3 * mesh.triangleCount; e++) {
		const [a, b] = [mesh.from[e]!, mesh.from[next(e)]!];
		if (a < OFFSET || b < OFFSET || onEdge[a - OFFSET]) continue;
		sizes[a] = Math.min(sizes[a]!, hypot(mesh.x[b]! - mesh.x[a]!, mesh.y[b]! - mesh.y[a]!));
	}
}

/** Corners of the outline between these angles, in radians, hold one quadrilateral that is far from square. */
const oblique = [0.5, 1.35] as const;

/** The vertices around each such corner. */
function cornersOf({ x, y, edges }: FillInput): number[] {
	const after = new Map<number, number>();
	const before = new Map<number, number>();
	const shared = new Set<number>();
	for (let k = 0; k < edges.length; k += 2) {
		if (after.has(edges[k]!)) shared.add(edges[k]!);
		after.set(edges[k]!, edges[k + 1]!);
		before.set(edges[k + 1]!, edges[k]!);
	}
	const corners: number[] = [];
	for (const [v, b] of after) {
		const a = before.get(v);
		if (a === undefined || shared.has(v)) continue;
		// The region lies between the edge that leaves and the one that comes.
		const [ux, uy, wx, wy] = [x[b]! - x[v]!, y[b]! - y[v]!, x[a]! - x[v]!, y[a]! - y[v]!];
		const angle = atan2(ux * wy - uy * wx, ux * wx + uy * wy);
		if (angle > oblique[0] && angle < oblique[1]) corners.push(a + OFFSET, v + OFFSET, b + OFFSET);
	}
	return corners;
}
