import type { Mesh } from '../mesh/mesh.ts';

/** Nodes inside, among quadrilaterals alone, that other than four of them meet at. */
export interface IrregularNodes {
	/** Such nodes, rising. */
	nodes: Uint32Array;
	/** How many quadrilaterals meet at each. */
	counts: Uint8Array;
	/** How many nodes inside there are among quadrilaterals alone. */
	inner: number;
}

/** Finds the irregular nodes of a mesh; nodes of edges on pieces, and of triangles, are none. */
export function irregularNodes({
	x,
	triangles,
	quads,
	edges
}: Pick<Mesh, 'x' | 'triangles' | 'quads' | 'edges'>): IrregularNodes {
	const count = new Uint8Array(x.length);
	for (const node of quads) if (count[node]! < 255) count[node]!++;
	for (const list of [triangles, edges]) for (const node of list) count[node] = 0;
	let inner = 0;
	const nodes: number[] = [];
	for (let i = 0; i < count.length; i++) {
		if (count[i] === 0) continue;
		inner++;
		if (count[i] !== 4) nodes.push(i);
	}
	return { nodes: Uint32Array.from(nodes), counts: Uint8Array.from(nodes, (i) => count[i]!), inner };
}
