import { mapped } from '../../text/typed.ts';
import type { Point } from '../../geometry/curve.ts';
import { part, type Work } from '../../numeric/work.ts';
import { placeText } from '../../text/sentences.ts';
import type { Fill, FillInput, FillRemark } from '../method.ts';
import { fillTriangles } from '../triangles/fill-triangles.ts';
import { layQuads, type QuadRule } from './lay-quads.ts';
import { NONE, type QuadMesh } from './quad-mesh.ts';

/**
 * Fills a region with quadrilaterals: a cross field from its edges, nodes in rows along it, their triangulation, triangles in pairs,
 * those left alone moved together, irregular nodes cancelled, nodes moved to where their elements are best; where the region is large,
 * that for coarse sizes, and its inner elements divided. Given nodes and edges are kept exactly.
 *
 * @param expected about how many elements there will be
 * @throws FillError where the given edges cross or coincide
 */
export function* fillQuads(input: FillInput, rule: QuadRule, expected: number): Work<Fill> {
	const mesh = yield* part(layQuads(input, rule, expected), 0, 0.97);
	const { cut, worst, least } = yield* part(cutPoor(mesh, rule.mostly ? poorQuad : leastQuad), 0.97, 0.99);
	const remarks = rule.mostly ? [] : remarksOf(mesh, cut);
	yield 0.99;
	if (least > 0) return { ...(yield* part(fillOf(mesh), 0.99, 1)), ...(remarks.length > 0 ? { remarks } : {}) };
	// Nothing that is folded is ever handed on.
	const instead = yield* part(fillTriangles(input, rule), 0.99, 1);
	const at = placeOf(mesh, worst);
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

/** A quadrilateral whose worst corner is sharper or wider than this, as a sine, becomes two triangles … */
const leastQuad = 0.002;
/** … or, where triangles may stay, this. */
const poorQuad = 0.55;

/**
 * Cuts quadrilaterals worse than this along the diagonal that leaves the better triangles, if these are better.
 *
 * @returns one of each pair of triangles, and the worst of all elements then, with its shape
 */
function* cutPoor(mesh: QuadMesh, below: number): Work<{ cut: number[]; worst: number; least: number }> {
	const cut: number[] = [];
	let worst = 0;
	let least = Infinity;
	const look = (e: number, shape: number) => {
		// From the last on: of several the first is the one.
		if (shape < least || (shape === least && e < worst)) [worst, least] = [e, shape];
	};
	for (let e = mesh.elementCount - 1; e >= 0; e--) {
		if ((e & 0x1ffff) === 0) yield 1 - e / mesh.elementCount;
		const size = mesh.sizeOf(e);
		if (size === 0) continue;
		const before = mesh.shape(e);
		if (size === 3 || before >= below) {
			look(e, before);
			continue;
		}
		const [a, b, c, d] = mapped([0, 1, 2, 3], (k) => mesh.nodes[4 * e + k]!);
		const one = (first: boolean) => {
			mesh.set(e, a, b, first ? c : d, NONE);
			const other = first ? mesh.add(a, c, d, NONE) : mesh.add(b, c, d, NONE);
			return Math.min(mesh.shape(e), mesh.shape(other));
		};
		const value = one(true);
		mesh.takeBack();
		const other = one(false);
		if (other < value || other <= before) mesh.takeBack();
		if (other < value && value > before) one(true);
		const isCut = mesh.sizeOf(e) === 3;
		if (isCut) cut.push(e);
		look(e, mesh.shape(e));
		if (isCut) look(mesh.elementCount - 1, mesh.shape(mesh.elementCount - 1));
		mesh.keep();
	}
	return { cut, worst, least };
}

function remarksOf(mesh: QuadMesh, cut: readonly number[]): FillRemark[] {
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

export function placeOf(mesh: QuadMesh, e: number): Point {
	const n = mesh.sizeOf(e);
	let [px, py] = [0, 0];
	for (let k = 0; k < n; k++) {
		px += mesh.x[mesh.nodes[4 * e + k]!]! / n;
		py += mesh.y[mesh.nodes[4 * e + k]!]! / n;
	}
	return { x: px, y: py };
}

/** The elements that are there, free nodes that are used numbered anew. */
function* fillOf(mesh: QuadMesh): Work<Fill> {
	const { given } = mesh;
	const number = new Int32Array(mesh.nodeCount).fill(-1);
	let nodes = 0;
	for (let v = 0; v < mesh.nodeCount; v++) {
		if ((v & 0x1ffff) === 0) yield (0.2 * v) / mesh.nodeCount;
		if (v < given) number[v] = v;
		else if (mesh.countAt(v) > 0) number[v] = given + nodes++;
	}
	const x = new Float64Array(nodes);
	const y = new Float64Array(nodes);
	for (let v = given; v < mesh.nodeCount; v++) {
		if (number[v]! < 0) continue;
		x[number[v]! - given] = mesh.x[v]!;
		y[number[v]! - given] = mesh.y[v]!;
	}
	yield 0.3;
	const counts = [0, 0, 0, 0, 0];
	for (let e = 0; e < mesh.elementCount; e++) counts[mesh.sizeOf(e)]!++;
	const triangles = new Uint32Array(3 * counts[3]!);
	const quads = new Uint32Array(4 * counts[4]!);
	let [toTriangles, toQuads] = [0, 0];
	for (let e = 0; e < mesh.elementCount; e++) {
		if ((e & 0x1ffff) === 0) yield 0.6 + (0.4 * e) / mesh.elementCount;
		const n = mesh.sizeOf(e);
		for (let k = 4 * e; k < 4 * e + n; k++) {
			if (n === 3) triangles[toTriangles++] = number[mesh.nodes[k]!]!;
			else quads[toQuads++] = number[mesh.nodes[k]!]!;
		}
	}
	return { x, y, triangles, quads };
}
