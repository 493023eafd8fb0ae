import { type CellShape, type GridCells, nodesOfShape } from '../core/mesh/grid.ts';

/** For every place of a cell in the VTK formats the node of the SIDS that stands there: the base of a prism is counted the other way round, and edges from plane to plane come last. */
const orders: Partial<Record<CellShape, readonly number[]>> = {
	prism: [0, 2, 1, 3, 5, 4],
	prism15: [0, 2, 1, 3, 5, 4, 8, 7, 6, 14, 13, 12, 9, 11, 10],
	hexahedron20: [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 16, 17, 18, 19, 12, 13, 14, 15]
};

/** Cells with their nodes in the order of the VTK formats. */
export function inVtkOrder({ shape, nodes }: GridCells): GridCells {
	const order = orders[shape];
	if (!order) return { shape, nodes };
	const turned = new Uint32Array(nodes.length);
	const size = nodesOfShape[shape];
	for (let k = 0; k < nodes.length; k += size) for (let i = 0; i < size; i++) turned[k + i] = nodes[k + order[i]!]!;
	return { shape, nodes: turned };
}
