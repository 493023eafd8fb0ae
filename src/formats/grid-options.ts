import * as v from 'valibot';
import type { Movement } from '../core/geometry/movement.ts';
import { mapCoordinates, type DeliveryGrid } from '../core/mesh/grid.ts';
import { metres } from '../core/recipe/language/units.ts';

/** The options of every format that holds a grid. */
export const GridOptions = v.strictObject({
	/** Whether coordinates are as drawn, in the recipe's unit, or in metres. */
	units: v.optional(v.picklist(['drawn', 'm'], 'the units of a delivery are “drawn” or “m”'), 'drawn'),
	/** Whether the plane mesh is delivered where the recipe makes a solid of it. */
	plane: v.optional(v.picklist(['no', 'yes'], '“plane” is “yes” or “no”'), 'no'),
	/** Whether a mesh is delivered that lacks regions which could not be filled. */
	partial: v.optional(v.picklist(['no', 'yes'], '“partial” is “yes” or “no”'), 'no')
});
export type GridOptions = v.InferOutput<typeof GridOptions>;

/** What has no options. */
export const PageOptions = v.strictObject({});

/** A grid in the units that are requested. */
export function inUnits(grid: DeliveryGrid, { units }: Pick<GridOptions, 'units'>): DeliveryGrid {
	if (units === 'drawn' || grid.units === 'm') return grid;
	const scale = metres(grid.units);
	const inMetres = (movement: Movement): Movement =>
		movement.kind === 'shift'
			? { ...movement, x: scale * movement.x, y: scale * movement.y }
			: { ...movement, about: { x: scale * movement.about.x, y: scale * movement.about.y } };
	return {
		...grid,
		units: 'm',
		coordinates: mapCoordinates(grid.coordinates, (values) => scaled(values, scale)),
		periodic: grid.periodic.map((pair) => ({ ...pair, movement: inMetres(pair.movement) }))
	};
}

function scaled(values: Float64Array, by: number): Float64Array {
	const result = new Float64Array(values.length);
	for (let i = 0; i < values.length; i++) result[i] = values[i]! * by;
	return result;
}
