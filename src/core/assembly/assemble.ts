import type { Division } from '../divide/division.ts';
import type { Fill } from '../fill/method.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import type { Region } from '../domain/regions.ts';
import type { Mesh, MeshGroup } from '../mesh/mesh.ts';
import { type BoundaryNumbering, nodesAlong } from '../fill/boundary.ts';

/** Puts the fills of all regions together into one mesh. */
export function assembleMesh(
	arrangement: Arrangement,
	divisions: readonly Division[],
	numbering: BoundaryNumbering,
	regions: readonly Region[],
	fills: readonly ({ fill: Fill; global: Uint32Array } | undefined)[],
	groups: MeshGroup[]
): Mesh {
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
		...collectEdges(arrangement, divisions, numbering, regions),
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
	fills.forEach((f, r) => {
		if (!f) return;
		const { fill, global } = f;
		const given = global.length;
		mesh.x.set(fill.x, node);
		mesh.y.set(fill.y, node);
		const shift = node - given;
		const copy = (from: Uint32Array, to: Uint32Array, at: number) => {
			for (let k = 0; k < from.length; k++) {
				const i = from[k]!;
				to[at + k] = i < given ? global[i]! : i + shift;
			}
		};
		copy(fill.triangles, mesh.triangles, 3 * t);
		copy(fill.quads, mesh.quads, 4 * q);
		mesh.triangleRegion.fill(r, t, t + fill.triangles.length / 3);
		mesh.quadRegion.fill(r, q, q + fill.quads.length / 4);
		node += fill.x.length;
		t += fill.triangles.length / 3;
		q += fill.quads.length / 4;
	});
	return mesh;
}

function collectEdges(
	arrangement: Arrangement,
	divisions: readonly Division[],
	numbering: BoundaryNumbering,
	regions: readonly Region[]
): Pick<Mesh, 'edges' | 'edgePiece'> {
	const filled = new Set(regions.filter((r) => r.fill !== 'none').map((r) => r.face));
	const edges: number[] = [];
	const edgePiece: number[] = [];
	arrangement.pieces.forEach((_, p) => {
		if (numbering.piece[p]! < 0) return;
		const leftFilled = filled.has(arrangement.sides[2 * p]!);
		const nodes = nodesAlong(leftFilled ? 2 * p : 2 * p + 1, arrangement, divisions, numbering);
		for (let k = 0; k + 1 < nodes.length; k++) {
			edges.push(nodes[k]!, nodes[k + 1]!);
			edgePiece.push(p);
		}
	});
	return { edges: Uint32Array.from(edges), edgePiece: Uint32Array.from(edgePiece) };
}
