import type { Mesh } from '../mesh/mesh.ts';
import type { MeshParts } from './assemble.ts';
import type { Pass, PassResult } from './pass.ts';

/** Takes out what belongs to regions that could not be filled: nodes that no element uses, and edges at which no element lies. A solver would get rows of zeros from them. */
export class DropUnused implements Pass {
	private last: { before: Mesh; after: Mesh } | undefined;

	run(before: PassResult, parts: MeshParts): PassResult {
		const { regions } = parts.domain;
		if (regions.every((region, r) => region.fill === 'none' || parts.fills[r])) return before;
		const { mesh } = before;
		const { last } = this;
		const isKnown = last && last.before.x === mesh.x && last.before.y === mesh.y && last.before.triangles === mesh.triangles;
		const after = isKnown
			? { ...last.after, regions: mesh.regions, groups: mesh.groups }
			: usedOnly(mesh, liveEdges(mesh, parts));
		this.last = { before: mesh, after };
		return { ...before, mesh: after };
	}
}

/** The edges beside or inside a region that has elements. */
function liveEdges({ edgePiece }: Mesh, { domain: { arrangement, regions }, fills }: MeshParts): Uint32Array {
	const live = new Set(regions.flatMap((region, r) => (fills[r] ? [region.face] : [])));
	const isLive = arrangement.pieces.map((_, p) => live.has(arrangement.sides[2 * p]!) || live.has(arrangement.sides[2 * p + 1]!));
	const list: number[] = [];
	edgePiece.forEach((p, e) => isLive[p] && list.push(e));
	return Uint32Array.from(list);
}

function usedOnly(mesh: Mesh, kept: Uint32Array): Mesh {
	const number = new Int32Array(mesh.x.length).fill(-1);
	for (const list of [mesh.triangles, mesh.quads]) for (const node of list) number[node] = 0;
	let count = 0;
	for (let i = 0; i < number.length; i++) if (number[i] === 0) number[i] = count++;
	const picked = (values: Float64Array) => values.filter((_, i) => number[i]! >= 0);
	const numbered = (nodes: Uint32Array) => nodes.map((i) => number[i]!);
	const pairs = <T extends Uint32Array | Float64Array>(values: T): T => {
		const out = new (values.constructor as new (length: number) => T)(2 * kept.length);
		kept.forEach((e, k) => {
			out[2 * k] = values[2 * e]!;
			out[2 * k + 1] = values[2 * e + 1]!;
		});
		return out;
	};
	return {
		...mesh,
		x: picked(mesh.x),
		y: picked(mesh.y),
		triangles: numbered(mesh.triangles),
		quads: numbered(mesh.quads),
		edges: numbered(pairs(mesh.edges)),
		edgePiece: kept.map((e) => mesh.edgePiece[e]!),
		edgeSide: Uint8Array.from(kept, (e) => mesh.edgeSide[e]!),
		edgeStretch: pairs(mesh.edgeStretch)
	};
}
