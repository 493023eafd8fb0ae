import type { Division } from '../divide/division.ts';
import type { Domain } from '../domain/domain.ts';
import { type BoundaryNumbering, nodesAlong } from '../fill/boundary.ts';
import type { Fill } from '../fill/method.ts';
import type { Mesh, MeshGroup } from '../mesh/mesh.ts';
import type { Work } from '../numeric/work.ts';

/** A region's fill, and the global nodes of those that were given to it. */
export interface GlobalFill {
	fill: Fill;
	global: Uint32Array;
}

/** All that a mesh is put together from. */
export interface MeshParts {
	domain: Domain;
	divisions: readonly Division[];
	numbering: BoundaryNumbering;
	/** By region; undefined where one is empty or could not be filled. */
	fills: readonly (GlobalFill | undefined)[];
}

/** Numbers of nodes copied between two yields. */
const chunkSize = 500_000;

/**
 * Puts the fills of all regions together into one mesh.
 *
 * @param last the mesh of an earlier time and its parts: what has not changed is copied whole, or not at all
 */
export function* assembleMesh(
	{ domain, divisions, numbering, fills }: MeshParts,
	groups: MeshGroup[],
	last?: { parts: MeshParts; mesh: Mesh }
): Work<Mesh> {
	const { arrangement, regions } = domain;
	if (last && isSame(last.parts, { domain, divisions, numbering, fills }))
		return { ...last.mesh, regions: regions.map((r) => r.name), groups };
	let [nodes, triangles, quads] = [numbering.count, 0, 0];
	for (const f of fills)
		if (f) {
			nodes += f.fill.x.length;
			triangles += f.fill.triangles.length / 3;
			quads += f.fill.quads.length / 4;
		}
	const mesh: Mesh = {
		x: new Float64Array(nodes),
		y: new Float64Array(nodes),
		triangles: new Uint32Array(3 * triangles),
		triangleRegion: new Uint32Array(triangles),
		quads: new Uint32Array(4 * quads),
		quadRegion: new Uint32Array(quads),
		...collectEdges(domain, divisions, numbering),
		regions: regions.map((r) => r.name),
		groups
	};
	arrangement.x.forEach((x, j) => {
		const node = numbering.junction[j]!;
		if (node < 0) return;
		mesh.x[node] = x;
		mesh.y[node] = arrangement.y[j]!;
	});
	divisions.forEach((d, p) => {
		const first = numbering.piece[p]!;
		if (first < 0) return;
		mesh.x.set(d.x.subarray(1, d.count), first);
		mesh.y.set(d.y.subarray(1, d.count), first);
	});
	let [node, t, q] = [numbering.count, 0, 0];
	for (const [r, f] of fills.entries()) {
		if (!f) continue;
		const { fill, global } = f;
		const given = global.length;
		yield node / nodes;
		mesh.x.set(fill.x, node);
		mesh.y.set(fill.y, node);
		const shift = node - given;
		for (const [from, to, at] of [
			[fill.triangles, mesh.triangles, 3 * t],
			[fill.quads, mesh.quads, 4 * q]
		] as const)
			for (let k = 0; k < from.length; k += chunkSize) {
				copyCorners(from, to, at, k, Math.min(from.length, k + chunkSize), global, shift);
				yield node / nodes;
			}
		mesh.triangleRegion.fill(r, t, t + fill.triangles.length / 3);
		mesh.quadRegion.fill(r, q, q + fill.quads.length / 4);
		node += fill.x.length;
		t += fill.triangles.length / 3;
		q += fill.quads.length / 4;
	}
	return mesh;
}

/** Copies corners of elements, by the numbers of the whole mesh: given nodes have theirs, the others follow one another. */
function copyCorners(
	from: Uint32Array,
	to: Uint32Array,
	at: number,
	first: number,
	last: number,
	global: Uint32Array,
	shift: number
): void {
	const given = global.length;
	for (let k = first; k < last; k++) {
		const i = from[k]!;
		to[at + k] = i < given ? global[i]! : i + shift;
	}
}

/** Whether a mesh would come out the same, but for its names and groups. */
function isSame(a: MeshParts, b: MeshParts): boolean {
	const [one, other] = [a.domain.regions, b.domain.regions];
	return (
		a.domain.arrangement === b.domain.arrangement &&
		one.length === other.length &&
		one.every((r, k) => r.face === other[k]!.face && r.fill === other[k]!.fill) &&
		a.divisions.every((d, p) => d.x === b.divisions[p]!.x && d.y === b.divisions[p]!.y) &&
		a.fills.every((f, k) => f?.fill === b.fills[k]?.fill)
	);
}

function collectEdges(
	{ arrangement, regions }: Domain,
	divisions: readonly Division[],
	numbering: BoundaryNumbering
): Pick<Mesh, 'edges' | 'edgePiece' | 'edgeSide' | 'edgeStretch'> {
	const filled = new Set(regions.filter((r) => r.fill !== 'none').map((r) => r.face));
	const used = arrangement.pieces.flatMap((_, p) => (numbering.piece[p]! < 0 ? [] : [p]));
	const count = used.reduce((sum, p) => sum + divisions[p]!.count, 0);
	const edges = new Uint32Array(2 * count);
	const edgePiece = new Uint32Array(count);
	const edgeSide = new Uint8Array(count);
	const edgeStretch = new Float64Array(2 * count);
	let e = 0;
	for (const p of used) {
		const side = filled.has(arrangement.sides[2 * p]!) ? 0 : 1;
		const nodes = nodesAlong(2 * p + side, arrangement, divisions, numbering);
		const { at, count: n } = divisions[p]!;
		for (let k = 0; k < n; k++, e++) {
			edges[2 * e] = nodes[k]!;
			edges[2 * e + 1] = nodes[k + 1]!;
			edgePiece[e] = p;
			edgeSide[e] = side;
			edgeStretch[2 * e] = at[side ? n - k : k]!;
			edgeStretch[2 * e + 1] = at[side ? n - k - 1 : k + 1]!;
		}
	}
	return { edges, edgePiece, edgeSide, edgeStretch };
}
