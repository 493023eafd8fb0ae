import type { Work } from '../../numeric/work.ts';
import { NONE, type QuadMesh } from './quad-mesh.ts';

/**
 * Triangles move through quadrilaterals until they meet another, and join it.
 *
 * @param enough so many triangles may stay
 * @param least a way that leaves an element of a worse shape is not gone
 * @returns how many triangles are left
 */
export function* joinTriangles(mesh: QuadMesh, enough = 0, least = -Infinity): Work<number> {
	let left = mesh.triangleCount();
	const parent = new Int32Array(mesh.elementCount).fill(-2);
	for (let t = 0; t < mesh.elementCount && left > enough; t++) {
		if ((t & 0xff) === 0) yield t / mesh.elementCount;
		if (mesh.sizeOf(t) !== 3) continue;
		const ways = waysFrom(mesh, t, parent);
		if (ways.length === 0) continue;
		// Of the first ways that were found, the one that leaves the best elements.
		let best: { shape: number; way: number[] } | undefined;
		for (const way of ways) {
			const shape = follow(mesh, way);
			mesh.takeBack();
			if (!best || shape > best.shape) best = { shape, way };
		}
		if (best!.shape < least) continue;
		follow(mesh, best!.way);
		mesh.keep();
		left -= 2;
	}
	return left;
}

/** So many ways are tried. */
const mostWays = 3;

/**
 * The shortest ways from a triangle to others, each to another, over edges that may change.
 *
 * @param parent −2 for every element, before and after
 */
function waysFrom(mesh: QuadMesh, t: number, parent: Int32Array): number[][] {
	const { nodes } = mesh;
	parent[t] = -1;
	const queue = [t];
	const ends: number[] = [];
	for (let head = 0; head < queue.length && ends.length < mostWays; head++) {
		const e = queue[head]!;
		const n = mesh.sizeOf(e);
		for (let k = 0; k < n; k++) {
			const [a, b] = [nodes[4 * e + k]!, nodes[4 * e + (k + 1 === n ? 0 : k + 1)]!];
			if (mesh.isFixedEdge(a, b)) continue;
			const f = mesh.across(e, a, b);
			if (f < 0 || parent[f] !== -2) continue;
			parent[f] = e;
			if (mesh.sizeOf(f) === 4) queue.push(f);
			else ends.push(f);
		}
	}
	const ways = ends.map((end) => {
		const way: number[] = [];
		for (let at = end; at >= 0; at = parent[at]!) way.unshift(at);
		return way;
	});
	for (const e of [...queue, ...ends]) parent[e] = -2;
	return ways;
}

/** Ways of at most so many elements lead round. */
const longestRound = 7;

/** Ways from one triangle to another that do not cross an edge, short ones first. */
export function waysBetween(mesh: QuadMesh, from: number, to: number, [p, q]: readonly [number, number]): number[][] {
	const ways: number[][] = [];
	const way = [from];
	const go = (depth: number) => {
		const e = way.at(-1)!;
		const n = mesh.sizeOf(e);
		for (let k = 0; k < n && ways.length < 3 * mostWays; k++) {
			const [a, b] = [mesh.nodes[4 * e + k]!, mesh.nodes[4 * e + ((k + 1) % n)]!];
			if (mesh.isFixedEdge(a, b) || (a === p && b === q) || (a === q && b === p)) continue;
			const f = mesh.across(e, a, b);
			if (f < 0 || way.includes(f)) continue;
			if (f === to) {
				if (depth === 1) ways.push([...way, f]);
			} else if (depth > 1 && mesh.sizeOf(f) === 4) {
				way.push(f);
				go(depth - 1);
				way.pop();
			}
		}
	};
	for (let depth = 2; depth < longestRound; depth++) go(depth);
	return ways;
}

/** Takes a triangle step by step to another and joins them; @returns the worst shape on the way. */
export function follow(mesh: QuadMesh, way: readonly number[]): number {
	for (let k = 1; k + 1 < way.length; k++) step(mesh, way[k - 1]!, way[k]!, way[k + 1]!);
	const [last, other] = [way.at(-2)!, way.at(-1)!];
	const edge = sharedEdge(mesh, last, other)!;
	const [c, d] = [oppositeTo(mesh, last, edge), oppositeTo(mesh, other, edge)];
	mesh.remove(other);
	// Counter-clockwise: the edge runs from a to b in `last`.
	mesh.set(last, edge[0], d, edge[1], c);
	return Math.min(...mesh.changed().map((e) => mesh.shape(e)));
}

const oppositeTo = (mesh: QuadMesh, t: number, [a, b]: readonly [number, number]): number =>
	[0, 1, 2].map((k) => mesh.nodes[4 * t + k]!).find((n) => n !== a && n !== b)!;

/** The edge that two elements share, as it runs in the first. */
function sharedEdge(mesh: QuadMesh, e: number, f: number): [number, number] | undefined {
	const n = mesh.sizeOf(e);
	for (let k = 0; k < n; k++) {
		const [a, b] = [mesh.nodes[4 * e + k]!, mesh.nodes[4 * e + ((k + 1) % n)]!];
		if (mesh.hasEdge(f, a, b)) return [a, b];
	}
	return undefined;
}

/**
 * Moves a triangle on through a quadrilateral toward the next element: the five corners of both are split anew, so that the
 * triangle, which takes the number of the quadrilateral, lies at the edge to the next.
 */
function step(mesh: QuadMesh, triangle: number, quad: number, following: number): void {
	const [a, b] = sharedEdge(mesh, triangle, quad)!;
	const c = oppositeTo(mesh, triangle, [a, b]);
	const place = mesh.placeOf(quad, b);
	// In the quadrilateral the edge runs from b to a; then come d and e.
	const [d, e] = [mesh.after(quad, place, 2), mesh.after(quad, place, 3)];
	const ring = [c, a, d, e, b];
	const edge = sharedEdge(mesh, quad, following)!;
	let best: { value: number; at: number } | undefined;
	for (let k = 0; k < 5; k++) {
		const corners = [0, 1, 2].map((i) => ring[(k + i) % 5]!);
		const has = corners.includes(edge[0]) && corners.includes(edge[1]);
		const isSide = (corners[0] === edge[0] && corners[1] === edge[1]) || (corners[1] === edge[0] && corners[2] === edge[1]);
		if (!has || !isSide) continue;
		split(mesh, triangle, quad, ring, k);
		const value = Math.min(mesh.shape(triangle), mesh.shape(quad));
		if (!best || value > best.value) best = { value, at: k };
	}
	split(mesh, triangle, quad, ring, best!.at);
}

/** Three of five corners in a row become the triangle, numbered as the quadrilateral was, the others with its ends the quadrilateral. */
function split(mesh: QuadMesh, triangle: number, quad: number, ring: readonly number[], k: number): void {
	const at = (i: number) => ring[(k + i) % 5]!;
	mesh.set(quad, at(0), at(1), at(2), NONE);
	mesh.set(triangle, at(2), at(3), at(4), at(0));
}
