import { atan2 } from '../../numeric/elementary.ts';
import { part, type Work } from '../../numeric/work.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
import { crossField } from '../cross-field/cross-field.ts';
import type { Fill, FillInput } from '../method.ts';
import { OFFSET, triangulateBoundary } from '../triangles/constrained.ts';
import { givenSizes } from '../triangles/expected.ts';
import { CleanUp, joinTriangles } from './clean-up.ts';
import { pairTriangles } from './pair.ts';
import { placeInRows } from './place.ts';
import type { QuadMesh } from './quad-mesh.ts';
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
	const crosses = crossField(input);
	yield 0.05;
	const { triangulation, inside } = triangulateBoundary(input, Math.ceil(1.2 * expected) + given + 64);
	const sizes = new Float64Array(triangulation.x.length);
	sizes.set(givenSizes(input, rule), OFFSET);
	const starts = Int32Array.from({ length: given }, (_, i) => i + OFFSET);
	const limit = 200 + 20 * Math.ceil(expected) + 4 * edges.length;
	const placed = yield* part(
		placeInRows(triangulation, inside, sizes, starts, cornersOf(input), rule, crosses, limit),
		0.05,
		0.4
	);
	const mesh = pairTriangles(triangulation, placed.inside, OFFSET, given, edges);
	yield 0.5;
	if (!rule.mostly) joinTriangles(mesh);
	smooth(mesh, 2);
	yield 0.6;
	const cleanUp = new CleanUp(mesh);
	cleanUp.run();
	cleanUp.mendFlat();
	yield 0.75;
	smooth(mesh, 3);
	for (let k = 0; k < 3; k++) {
		if (cleanUp.wander() + cleanUp.run() === 0) break;
		smooth(mesh, 2);
	}
	cleanUp.mendFlat();
	yield 0.85;
	smooth(mesh, 4);
	smooth(mesh, 10, 0.6);
	return fillOf(mesh);
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
