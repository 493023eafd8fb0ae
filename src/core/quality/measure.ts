import { atan2, hypot } from '../numeric/elementary.ts';
/**
 * A measure of the shape of one element. `of` takes its corners, counter-clockwise: `px[0..n)`,
 * `py[0..n)` with n = 3 or 4.
 */
export interface Measure {
	key: string;
	title: string;
	/** Unit for the reader, '' for none. */
	unit: string;
	/** Ends of the histogram; values outside count in the outer bins. */
	low: number;
	high: number;
	/** Which end is the good one. */
	best: 'low' | 'high';
	of: (px: Float64Array, py: Float64Array, n: number) => number;
}

/** Twice the signed area of corner k's triangle: the cross product of the sides that leave it. */
export function cornerCross(px: Float64Array, py: Float64Array, n: number, k: number): number {
	const after = k + 1 === n ? 0 : k + 1;
	const before = k === 0 ? n - 1 : k - 1;
	return (px[after]! - px[k]!) * (py[before]! - py[k]!) - (px[before]! - px[k]!) * (py[after]! - py[k]!);
}

/** Length of the side from corner k to the next. */
export function side(px: Float64Array, py: Float64Array, n: number, k: number): number {
	const after = k + 1 === n ? 0 : k + 1;
	return hypot(px[after]! - px[k]!, py[after]! - py[k]!);
}

/** Inner angle at corner k in degrees, 0 to 360; more than 180 where the element is not convex. */
export function cornerAngle(px: Float64Array, py: Float64Array, n: number, k: number): number {
	const after = k + 1 === n ? 0 : k + 1;
	const before = k === 0 ? n - 1 : k - 1;
	const ux = px[after]! - px[k]!;
	const uy = py[after]! - py[k]!;
	const vx = px[before]! - px[k]!;
	const vy = py[before]! - py[k]!;
	const angle = (atan2(ux * vy - uy * vx, ux * vx + uy * vy) * 180) / Math.PI;
	return angle < 0 ? angle + 360 : angle;
}
