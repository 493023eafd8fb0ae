import { QuadMesh, NONE } from './quad-mesh.ts';
import { next, previous, type Triangulation } from '../triangles/triangulation.ts';

/** A pair of triangles is not joined at first if its worst corner is this near to 0° or 180°, as in {@link squareness}. */
const poor = 0.1;
/** Nor later, if it is this near. */
const fair = 0.05;

/**
 * Pairs the triangles of a region: the best pairs first (the measure of J.-F. Remacle et al., Int. J. Num. Meth. Eng. 89 (2012),
 * eq. 2), then along alternating ways from triangles that are left alone to others that are, until there is no short one.
 *
 * @param first number of the first vertex that is a node
 * @returns the elements, as many of them quadrilaterals as were found
 */
export function pairTriangles(
	mesh: Triangulation,
	inside: Uint8Array,
	first: number,
	given: number,
	edges: Uint32Array
): QuadMesh {
	const { x, y, from, twin, fixed } = mesh;
	const count = inside.length;

	// Phase 1: edges by how square their quadrilateral would be.
	const candidates: number[] = [];
	const value = new Float32Array(3 * count);
	for (let e = 0; e < 3 * count; e++) {
		const f = twin[e]!;
		if (!inside[(e / 3) | 0] || f < e || fixed[e] || !inside[(f / 3) | 0]) continue;
		value[e] = value[f] = squareness(x, y, from[e]!, from[previous(f)]!, from[f]!, from[previous(e)]!);
		if (value[e]! > poor) candidates.push(e);
	}
	const bestFirst = Int32Array.from(candidates).sort((e, f) => value[f]! - value[e]! || e - f);

	// Phase 2: the best first.
	const mate = new Int32Array(count).fill(-1);
	for (const e of bestFirst) {
		const [s, t] = [(e / 3) | 0, (twin[e]! / 3) | 0];
		if (mate[s]! >= 0 || mate[t]! >= 0) continue;
		mate[s] = t;
		mate[t] = s;
	}

	// Phase 3: from one that is alone to another, over pairs that change partners.
	const parent = new Int32Array(count).fill(-1);
	const seen = new Int32Array(count).fill(-1);
	for (let root = 0; root < count; root++) {
		if (!inside[root] || mate[root]! >= 0) continue;
		const queue = [root];
		seen[root] = root;
		search: for (let head = 0; head < queue.length && head < 400; head++) {
			const t = queue[head]!;
			for (let e = 3 * t; e < 3 * t + 3; e++) {
				if (value[e]! < fair) continue;
				const s = (twin[e]! / 3) | 0;
				if (seen[s] === root) continue;
				seen[s] = root;
				parent[s] = t;
				if (mate[s]! < 0) {
					// Partners change all the way back.
					for (let at = s; ;) {
						const back = parent[at]!;
						const before = mate[back]!;
						mate[at] = back;
						mate[back] = at;
						if (back === root) break;
						at = before;
					}
					break search;
				}
				const other = mate[s]!;
				if (seen[other] === root) continue;
				seen[other] = root;
				queue.push(other);
			}
		}
	}

	// Phase 4: the elements.
	const nodes = mesh.vertexCount - first;
	const result = new QuadMesh(x.slice(first, first + nodes), y.slice(first, first + nodes), given, edges);
	for (let t = 0; t < count; t++) {
		if (!inside[t]) continue;
		const s = mate[t]!;
		const [a, b, c] = [from[3 * t]! - first, from[3 * t + 1]! - first, from[3 * t + 2]! - first];
		if (s < 0) {
			result.add(a, b, c, NONE);
			continue;
		}
		if (s < t) continue;
		let e = 3 * t;
		while (((twin[e]! / 3) | 0) !== s) e++;
		result.add(from[e]! - first, from[previous(twin[e]!)]! - first, from[next(e)]! - first, from[previous(e)]! - first);
	}
	result.keep();
	return result;
}

/** How square a quadrilateral is: 1 for right angles, falling to 0 as one comes near 0° or 180°, below that where it is folded. */
function squareness(x: Float64Array, y: Float64Array, a: number, b: number, c: number, d: number): number {
	const ab = sineAt(x, y, a, b, d);
	const bc = sineAt(x, y, b, c, a);
	const cd = sineAt(x, y, c, d, b);
	return Math.min(1, ab, bc, cd, sineAt(x, y, d, a, c));
}

/** The sine of the corner at p: it falls with the angle as the measure of a corner does, and costs no arc. */
function sineAt(x: Float64Array, y: Float64Array, p: number, q: number, r: number): number {
	const ux = x[q]! - x[p]!;
	const uy = y[q]! - y[p]!;
	const vx = x[r]! - x[p]!;
	const vy = y[r]! - y[p]!;
	return (ux * vy - uy * vx) / Math.sqrt((ux * ux + uy * uy) * (vx * vx + vy * vy));
}
