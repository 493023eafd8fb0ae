import type { GridCells } from '../core/mesh/grid.ts';

/** Cells with their nodes in the order of the VTK formats: there the base of a prism is counted the other way round. */
export function inVtkOrder({ shape, nodes }: GridCells): GridCells {
	if (shape !== 'prism') return { shape, nodes };
	const turned = nodes.slice();
	for (let k = 0; k < nodes.length; k += 3) {
		turned[k + 1] = nodes[k + 2]!;
		turned[k + 2] = nodes[k + 1]!;
	}
	return { shape, nodes: turned };
}
