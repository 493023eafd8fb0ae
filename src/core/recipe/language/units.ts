/** Millimetres (or radians) in one of each unit that a number may carry. Exact by definition (SI; inch of 1959). */
const lengths: Record<string, number> = { um: 1e-3, mm: 1, cm: 10, m: 1000, km: 1e6, in: 25.4, ft: 304.8 };
const angles: Record<string, number> = { rad: 1, deg: Math.PI / 180 };

/** The units that `units` may name. */
export const lengthUnits: readonly string[] = Object.keys(lengths);
/** Every unit that may follow a number. */
export const knownUnits: ReadonlySet<string> = new Set([...Object.keys(lengths), ...Object.keys(angles)]);

/** Whether a unit measures length or angle. */
export function unitKind(unit: string): 'length' | 'angle' {
	return unit in lengths ? 'length' : 'angle';
}

/** `value` in `unit`, expressed in the recipe's length unit, or in radians for an angle. */
export function toRecipeUnits(value: number, unit: string, recipeUnit: string): number {
	if (unit in angles) return value * angles[unit]!;
	if (unit === recipeUnit) return value;
	return (value * lengths[unit]!) / lengths[recipeUnit]!;
}

/** Recipe units in one unit of a file; 1 where the file says none that is known. */
export const fileScale = (unit: string | undefined, recipeUnit: string): number =>
	unit && lengthUnits.includes(unit) ? toRecipeUnits(1, unit, recipeUnit) : 1;

/** How many metres one recipe unit is. */
export function metres(recipeUnit: string): number {
	return lengths[recipeUnit]! / 1000;
}
