/**
 * Powers of length and angle of a quantity, or null for a bare number, which takes the meaning
 * of whatever it meets: a length in the recipe's unit, an angle in radians, or a plain number.
 */
export type Dimension = { length: number; angle: number } | null;

export type Value = { kind: 'number'; value: number; dimension: Dimension } | { kind: 'point'; x: number; y: number };

/** What an expression is wanted for. */
export type ExpectedKind = 'length' | 'angle' | 'number' | 'any';

export const bare = (value: number): Value => ({ kind: 'number', value, dimension: null });

/** A dimension in words. */
export function dimensionName(dimension: Dimension): string {
	if (!dimension) return 'a plain number';
	const { length, angle } = dimension;
	if (length === 1 && angle === 0) return 'a length';
	if (length === 0 && angle === 1) return 'an angle';
	if (length === 2 && angle === 0) return 'an area';
	if (length === 0 && angle === 0) return 'a plain number';
	return `a quantity of length^${length} angle^${angle}`;
}

/** Whether a quantity of this dimension can serve as `want`. */
export function fits(dimension: Dimension, want: ExpectedKind): boolean {
	if (!dimension || want === 'any') return true;
	if (want === 'length') return dimension.length === 1 && dimension.angle === 0;
	if (want === 'angle') return dimension.length === 0 && dimension.angle === 1;
	return dimension.length === 0 && dimension.angle === 0;
}

/** The common dimension of two summands, or undefined when they do not add. */
export function common(a: Dimension, b: Dimension): Dimension | undefined {
	if (!a) return b;
	if (!b) return a;
	return a.length === b.length && a.angle === b.angle ? a : undefined;
}

/** The dimension of a product (`sign` 1) or a quotient (`sign` −1). */
export function product(a: Dimension, b: Dimension, sign: 1 | -1): Dimension {
	if (!a && !b) return null;
	const length = (a?.length ?? 0) + sign * (b?.length ?? 0);
	const angle = (a?.angle ?? 0) + sign * (b?.angle ?? 0);
	return length === 0 && angle === 0 ? null : { length, angle };
}
