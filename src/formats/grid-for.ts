import { secondOrder } from '../core/assembly/second-order.ts';
import { secondOrderGrid } from '../core/assembly/second-order-grid.ts';
import { type DeliveryGrid, gridOf, nodesOfShape } from '../core/mesh/grid.ts';
import type { Result } from '../core/pipeline.ts';
import { orderOf } from '../core/recipe/statements/order.ts';
import { solidOf } from '../core/recipe/statements/solid.ts';
import { secondOrderSolid } from '../core/solid/second-order-solid.ts';
import { solidGrid, sweptGrid } from '../core/solid/solid.ts';
import { UserError } from '../core/text/user-error.ts';
import type { GridOptions } from './grid-options.ts';

/** What a mesh is delivered as: the solid that the recipe asks for, or the plane mesh. */
export function gridFor({ mesh, model, arrangement }: Result, { plane }: Pick<GridOptions, 'plane'>): DeliveryGrid {
	const grid = gridOf(mesh, model);
	const [solid, order] = [solidOf(model), orderOf(model)];
	if (solid && plane === 'no') {
		if (!order) return solidGrid(grid, solid, model.frame);
	} else if (!order) return grid;
	const second = secondOrder(mesh, arrangement);
	if (second.folded.length > 0)
		throw new UserError(
			`${second.folded.length} elements of second order fold beside curves; finer divisions there keep them whole, and the findings say where`
		);
	if (solid && plane === 'no') return secondOrderSolid(sweptGrid(grid, solid, model.frame), mesh, second);
	return secondOrderGrid(grid, mesh, second, order.serendipity);
}

/** What is counted of a grid that is not the plane mesh itself: its nodes, and its elements by shape. */
export interface DeliveredCounts {
	/** In words, `slab` or `second order`. */
	as: string;
	nodes: number;
	elements: Record<string, number>;
}

/** Counts of the solid or the mesh of second order that the recipe delivers; undefined where it delivers the plane mesh, or cannot. */
export function deliveredCounts(result: Result): DeliveredCounts | undefined {
	const [solid, order] = [solidOf(result.model), orderOf(result.model)];
	if ((!solid && !order) || result.mesh.x.length === 0) return undefined;
	try {
		const grid = gridFor(result, { plane: 'no' });
		const elements: Record<string, number> = {};
		for (const { shape, nodes } of grid.sections) elements[shape] = (elements[shape] ?? 0) + nodes.length / nodesOfShape[shape];
		const as = [
			...(solid ? [solid.shape.kind === 'slab' ? 'slab' : 'revolved solid'] : []),
			...(order ? ['second order'] : [])
		].join(', ');
		return { as, nodes: grid.coordinates[0].length, elements };
	} catch (error) {
		// The delivery itself reports this error.
		if (error instanceof UserError) return undefined;
		throw error;
	}
}
