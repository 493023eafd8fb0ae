/**
 * Elementary functions that give the same last bit everywhere. Those of `Math` may differ from one JavaScript engine to the
 * next, and the same recipe must give the same file in the browser, on the server and from the command line.
 */
export { acos, asin, atan, atan2, cos, exp, expm1, log, pow, sin, tan } from './fdlibm.ts';

import { exp, expm1, log } from './fdlibm.ts';

/** √(x² + y²); lengths of a drawing are far from where the squares overflow. */
export const hypot = (x: number, y: number): number => Math.sqrt(x * x + y * y);

export const square = (x: number): number => x * x;

/** ln(1 + x) without loss near zero (Kahan 1987). */
export function log1p(x: number): number {
	const u = 1 + x;
	return u === 1 ? x : (log(u) * x) / (u - 1);
}

export function sinh(x: number): number {
	const e = expm1(Math.abs(x));
	return (Math.sign(x) * (e + e / (e + 1))) / 2;
}

export function cosh(x: number): number {
	const e = exp(Math.abs(x));
	return (e + 1 / e) / 2;
}
