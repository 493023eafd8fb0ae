import { addTo } from '../numeric/lists.ts';
import type { PeriodicPair } from '../domain/periodic.ts';
import type { Mesh, PeriodicNodes } from '../mesh/mesh.ts';

/** The nodes of periodic pairs as they are in a finished mesh; a node at a corner stands in as many pairs as pieces have it. */
export function periodicNodes(mesh: Mesh, pairs: readonly PeriodicPair[]): PeriodicNodes[] {
	if (pairs.length === 0) return [];
	const edgesOf = new Map<number, number[]>();
	mesh.edgePiece.forEach((p, e) => {
		addTo(edgesOf, p, e);
	});
	/** Node pairs of the edges of a piece, from its start on, each from the earlier node to the later. */
	const along = (p: number) =>
		(edgesOf.get(p) ?? [])
			.map((e) => {
				const turned = mesh.edgeSide[e] === 1;
				return {
					at: Math.min(mesh.edgeStretch[2 * e]!, mesh.edgeStretch[2 * e + 1]!),
					nodes: [mesh.edges[2 * e + (turned ? 1 : 0)]!, mesh.edges[2 * e + (turned ? 0 : 1)]!] as const
				};
			})
			.sort((a, b) => a.at - b.at);
	return pairs.flatMap(({ line, movement, pieces }): PeriodicNodes[] => {
		const found = new Map<string, [number, number]>();
		for (const { from, to, reversed } of pieces) {
			const [near, other] = [along(from), along(to)];
			if (near.length !== other.length) return [];
			if (reversed) other.reverse();
			near.forEach(({ nodes: [a, b] }, k) => {
				const [c, d] = other[k]!.nodes;
				for (const pair of reversed
					? ([
							[a, d],
							[b, c]
						] as const)
					: ([
							[a, c],
							[b, d]
						] as const))
					found.set(pair.join(' '), [...pair]);
			});
		}
		const list = [...found.values()].sort((p, q) => p[0] - q[0] || p[1] - q[1]);
		return [{ line, movement, from: Uint32Array.from(list, ([a]) => a), to: Uint32Array.from(list, ([, b]) => b) }];
	});
}
