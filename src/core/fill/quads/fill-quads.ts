import { atan2, hypot } from '../../numeric/elementary.ts';
import { part, type Work } from '../../numeric/work.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
import { crossField } from '../cross-field/cross-field.ts';
import type { Point } from '../../geometry/curve.ts';
import { placeText } from '../../text/sentences.ts';
import { fillTriangles } from '../triangles/fill-triangles.ts';
import type { Fill, FillInput, FillRemark } from '../method.ts';
import { OFFSET, triangulateBoundary } from '../triangles/constrained.ts';
import { next, type Triangulation } from '../triangles/triangulation.ts';
import { givenSizes } from '../triangles/expected.ts';
import { CleanUp, joinTriangles } from './clean-up.ts';
import { pairTriangles } from './pair.ts';
import { placeInRows } from './place.ts';
import { NONE, type QuadMesh } from './quad-mesh.ts';
import { smooth } from './smooth.ts';

/** What a fill with quadrilaterals is asked. */
export interface QuadRule extends SizeRule {
	/** Triangles may stay where quadrilaterals would be worse. */
	mostly?: boolean;
}

/**
 * Fills a region with quadrilaterals: a cross field from its edges, nodes in rows along it, their triangulation, triangles in pairs,
 * those left alone moved together, irregular nodes cancelled, nodes moved to where their elements are best. Given nodes and
 * edges are kept exactly.
 *
 * @param expected about how many elements there will be
 * @throws FillError where the given edges cross or coincide
 */
export function* fillQuads(input: FillInput, rule: QuadRule, expected: number): Work<Fill> {
	const { x, edges } = input;
	const given = x.length;
	const crosses = yield* part(crossField(input), 0, 0.15);
	const { triangulation, inside } = triangulateBoundary(input, Math.ceil(1.2 * expected) + given + 64);
	const sizes = new Float64Array(triangulation.x.length);
	sizes.set(givenSizes(input, rule), OFFSET);
	sizeLooseNodes(input, triangulation, sizes);
	const starts = Int32Array.from({ length: given }, (_, i) => i + OFFSET);
	const limit = 200 + 20 * Math.ceil(expected) + 4 * edges.length;
	const placed = yield* part(
		placeInRows(triangulation, inside, sizes, starts, cornersOf(input), rule, crosses, limit),
		0.05,
		0.4
	);
	const mesh = pairTriangles(triangulation, placed.inside, OFFSET, given, edges);
	yield 0.4;
	if (!rule.mostly) yield* part(joinTriangles(mesh), 0.4, 0.45);
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
	yield* part(smooth(mesh, 4), 0.89, 0.95);
	yield* part(smooth(mesh, 12, 0.6), 0.95, 1);
	const remarks = remarksOf(mesh, rule.mostly === true, cutFolded(mesh));
	if (worstOf(mesh) > 0) return { ...fillOf(mesh), ...(remarks.length > 0 ? { remarks } : {}) };
	// Nothing that is folded is ever handed on.
	const instead = yield* part(fillTriangles(input, rule), 0.99, 1);
	const at = placeOf(mesh, worstElement(mesh));
	return {
		...instead,
		remarks: [
			{
				code: 'not-quads',
				message: `quadrilaterals would fold near ${placeText(at)}, so it is filled with triangles; finer divisions there let it be filled with quadrilaterals`,
				at
			}
		]
	};
}

/** A quadrilateral whose worst corner is sharper or wider than this, as a sine, becomes two triangles. */
const leastQuad = 0.002;

/** Cuts quadrilaterals that stay folded, or nearly so, along the diagonal that leaves fair triangles; @returns one of each pair. */
function cutFolded(mesh: QuadMesh): number[] {
	const cut: number[] = [];
	for (let e = mesh.elementCount - 1; e >= 0; e--) {
		if (mesh.sizeOf(e) !== 4 || mesh.shape(e) >= leastQuad) continue;
		const [a, b, c, d] = [0, 1, 2, 3].map((k) => mesh.nodes[4 * e + k]!) as [number, number, number, number];
		const one = (first: boolean) => {
			mesh.set(e, a, b, first ? c : d, NONE);
			const other = first ? mesh.add(a, c, d, NONE) : mesh.add(b, c, d, NONE);
			return Math.min(mesh.shape(e), mesh.shape(other));
		};
		const value = one(true);
		mesh.takeBack();
		if (one(false) < value) {
			mesh.takeBack();
			one(true);
		}
		mesh.keep();
		cut.push(e);
	}
	return cut;
}

function remarksOf(mesh: QuadMesh, mostly: boolean, cut: readonly number[]): FillRemark[] {
	if (mostly) return [];
	const left: number[] = [];
	for (let e = 0; e < mesh.elementCount; e++) if (mesh.sizeOf(e) === 3) left.push(e);
	if (left.length === 0) return [];
	const at = placeOf(mesh, cut[0] ?? left[0]!);
	const isOdd = cut.length === 0;
	return [
		{
			code: 'triangles-left',
			message: isOdd
				? `its outlines have an odd number of divisions together, so ${left.length === 1 ? 'a triangle is' : `${left.length} triangles are`} left at ${placeText(at)}; one division more or less somewhere around it leaves none`
				: `${left.length} triangles are left, the first at ${placeText(at)}, where quadrilaterals would fold; finer divisions there leave none`,
			at
		}
	];
}

function worstElement(mesh: QuadMesh): number {
	let [worst, least] = [0, Infinity];
	for (let e = 0; e < mesh.elementCount; e++) {
		if (mesh.sizeOf(e) === 0) continue;
		const value = mesh.shape(e);
		if (value < least) [worst, least] = [e, value];
	}
	return worst;
}

const worstOf = (mesh: QuadMesh): number => mesh.shape(worstElement(mesh));

function placeOf(mesh: QuadMesh, e: number): Point {
	const n = mesh.sizeOf(e);
	let [px, py] = [0, 0];
	for (let k = 0; k < n; k++) {
		px += mesh.x[mesh.nodes[4 * e + k]!]! / n;
		py += mesh.y[mesh.nodes[4 * e + k]!]! / n;
	}
	return { x: px, y: py };
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

/** The elements that are there, free nodes that are used numbered anew. */
function fillOf(mesh: QuadMesh): Fill {
	const { given } = mesh;
	const number = new Int32Array(mesh.nodeCount).fill(-1);
	const [xs, ys]: [number[], number[]] = [[], []];
	for (let v = 0; v < mesh.nodeCount; v++) {
		if (v < given) number[v] = v;
		else if (mesh.around[v]!.length > 0) {
			number[v] = given + xs.length;
			xs.push(mesh.x[v]!);
			ys.push(mesh.y[v]!);
		}
	}
	const [triangles, quads]: [number[], number[]] = [[], []];
	for (let e = 0; e < mesh.elementCount; e++) {
		const n = mesh.sizeOf(e);
		for (let k = 0; k < n; k++) (n === 3 ? triangles : quads).push(number[mesh.nodes[4 * e + k]!]!);
	}
	return {
		x: Float64Array.from(xs),
		y: Float64Array.from(ys),
		triangles: Uint32Array.from(triangles),
		quads: Uint32Array.from(quads)
	};
}
