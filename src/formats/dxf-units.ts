/** The values of $INSUNITS that are units of a recipe. */
export const insertUnits: Record<number, string> = { 1: 'in', 2: 'ft', 4: 'mm', 5: 'cm', 6: 'm', 7: 'km', 13: 'um' };
