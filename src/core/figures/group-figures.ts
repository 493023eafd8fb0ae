import { groupEdges, type Mesh, type MeshGroup } from '../mesh/mesh.ts';
import { nodeSets } from '../mesh/node-sets.ts';
import { hypot } from '../numeric/elementary.ts';

/** What a group of a mesh comes to. */
export interface GroupFigures {
	group: MeshGroup;
	/** Edges of a boundary, as indices into {@link Mesh.edges}, and how long they are together; none for other groups. */
	edges: Uint32Array;
	length: number;
	/** Its nodes, and how many of them no group before it owns. */
	nodes: number;
	owned: number;
}

/** The figures of all groups of a mesh, in their order. */
export function groupFigures(mesh: Mesh): GroupFigures[] {
	const sets = nodeSets(mesh);
	return mesh.groups.map((group, k) => {
		const edges = group.members === 'edges' ? groupEdges(mesh, group) : new Uint32Array();
		let length = 0;
		for (const e of edges) {
			const [a, b] = [mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!];
			length += hypot(mesh.x[b]! - mesh.x[a]!, mesh.y[b]! - mesh.y[a]!);
		}
		const set = sets.find((one) => one.group === k);
		return { group, edges, length, nodes: set?.all.length ?? 0, owned: set?.owned.length ?? 0 };
	});
}
