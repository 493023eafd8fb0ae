/** The functions of numbers that an expression may call. */
export const numberFunctions = [
	...(['abs', 'min', 'max', 'floor', 'ceil', 'round', 'sin', 'cos', 'tan'] as const),
	...(['asin', 'acos', 'atan', 'atan2', 'exp', 'log'] as const)
] as const;
export type NumberFunction = (typeof numberFunctions)[number];

/** Points of curves: `start(c)`, `along(c, 0.3)`. */
export const curvePoints: readonly string[] = ['start', 'end', 'middle', 'along', 'centre', 'crossing', 'nearest'];

/** Every name that may be called; whatever else stands before a bracket is no call. */
export const functionNames: readonly string[] = [...numberFunctions, 'sqrt', 'length', 'distance', ...curvePoints];
