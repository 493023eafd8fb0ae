/** Units of length that SVG has a name for, by the recipe's. */
export const absoluteUnits: Record<string, string> = { mm: 'mm', cm: 'cm', in: 'in' };
