import { hypot, log } from '../numeric/elementary.ts';
import type { Mesh } from '../mesh/mesh.ts';

/** Lines on which the elements have the same size. */
export interface SizeContour {
	size: number;
	/** Straight bits: x, y of both ends, four numbers each. */
	segments: Float64Array;
}

/** Passes that even out the sizes from node to node. */
const passes = 4;
/** A contour is drawn in a triangle only where the size changes by this share of it: within a plateau there is none. */
const leastChange = 0.02;

/** The size at every node: the mean length of the sides that meet there, evened out over its neighbours. */
export function nodeSizes(mesh: Mesh): Float64Array {
	let sizes = meanAtNodes(mesh, (a, b) => hypot(mesh.x[b]! - mesh.x[a]!, mesh.y[b]! - mesh.y[a]!));
	for (let pass = 0; pass < passes; pass++) {
		const last = sizes;
		sizes = meanAtNodes(mesh, (a, b) => (last[a]! + last[b]!) / 2);
	}
	return sizes;
}

/** The mean over the sides that meet at every node; 0 where none does. */
function meanAtNodes(mesh: Mesh, of: (a: number, b: number) => number): Float64Array {
	const { x } = mesh;
	const sum = new Float64Array(x.length);
	const sides = new Uint32Array(x.length);
	eachElement(mesh, (nodes) => {
		for (let k = 0; k < nodes.length; k++) {
			const [a, b] = [nodes[k]!, nodes[(k + 1) % nodes.length]!];
			const value = of(a, b);
			sum[a]! += value;
			sum[b]! += value;
			sides[a]!++;
			sides[b]!++;
		}
	});
	return sum.map((s, p) => (sides[p]! > 0 ? s / sides[p]! : 0));
}

/**
 * Sizes worth a contour, round numbers strictly between the smallest and the largest; for large ranges
 * fewer.
 *
 * @param plateaus sizes that whole areas have, where a contour would wander
 */
export function contourLevels(smallest: number, largest: number, plateaus: readonly number[] = [], most = 12): number[] {
	if (!(smallest > 0 && largest > smallest)) return [];
	const levels: number[] = [];
	const first = Math.floor(log(smallest) / Math.LN10);
	for (const leads of [[1, 1.5, 2, 3, 5, 7], [1, 2, 5], [1, 3], [1]]) {
		levels.length = 0;
		for (let power = first; Number(`1e${power}`) < largest; power++)
			for (const lead of leads) {
				const level = Number(`${lead}e${power}`);
				if (level > smallest && level < largest && !plateaus.some((plateau) => Math.abs(plateau / level - 1) < 0.05))
					levels.push(level);
			}
		if (levels.length <= most) break;
	}
	return levels;
}

/**
 * Contours of the sizes at the nodes, which run straight within triangles; a quadrilateral counts
 * as the four triangles around its middle.
 *
 * @param sizes one per node, from {@link nodeSizes}
 */
export function sizeContours(mesh: Mesh, sizes: Float64Array, levels: readonly number[]): SizeContour[] {
	const { x, y } = mesh;
	const found = levels.map((): number[] => []);
	const [px, py, ps] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
	/** The bits within the triangle of px, py, ps. */
	const cut = () => {
		const [low, high] = [Math.min(ps[0]!, ps[1]!, ps[2]!), Math.max(ps[0]!, ps[1]!, ps[2]!)];
		levels.forEach((level, l) => {
			if (!(low < level && level <= high) || high - low < leastChange * level) return;
			for (let k = 0; k < 3; k++) {
				const n = (k + 1) % 3;
				// One end of the bit on each side of the triangle that has the level between its ends.
				if (ps[k]! < level === ps[n]! < level) continue;
				const t = (level - ps[k]!) / (ps[n]! - ps[k]!);
				found[l]!.push(px[k]! + t * (px[n]! - px[k]!), py[k]! + t * (py[n]! - py[k]!));
			}
		});
	};
	eachElement(mesh, (nodes) => {
		if (nodes.length === 3) {
			for (let k = 0; k < 3; k++) [px[k], py[k], ps[k]] = [x[nodes[k]!]!, y[nodes[k]!]!, sizes[nodes[k]!]!];
			cut();
			return;
		}
		let [mx, my, ms] = [0, 0, 0];
		for (const p of nodes) {
			mx += x[p]! / 4;
			my += y[p]! / 4;
			ms += sizes[p]! / 4;
		}
		for (let k = 0; k < 4; k++) {
			const [a, b] = [nodes[k]!, nodes[(k + 1) % 4]!];
			[px[0], py[0], ps[0]] = [x[a]!, y[a]!, sizes[a]!];
			[px[1], py[1], ps[1]] = [x[b]!, y[b]!, sizes[b]!];
			[px[2], py[2], ps[2]] = [mx, my, ms];
			cut();
		}
	});
	return levels.map((size, l) => ({ size, segments: Float64Array.from(found[l]!) }));
}

function eachElement(mesh: Mesh, visit: (nodes: Uint32Array) => void): void {
	for (let t = 0; t < mesh.triangles.length; t += 3) visit(mesh.triangles.subarray(t, t + 3));
	for (let q = 0; q < mesh.quads.length; q += 4) visit(mesh.quads.subarray(q, q + 4));
}
