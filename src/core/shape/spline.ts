import { hypot } from '../numeric/elementary.ts';
import { solveCyclicTridiagonal, solveTridiagonal } from '../numeric/tridiagonal.ts';
import type { SplineParameter } from '../recipe/syntax.ts';
import { type Curve } from './curve.ts';
import { cubicCurve } from './build.ts';

/**
 * The C2 interpolating cubic spline through points, natural at open ends, periodic when closed
 * (de Boor 1978, ch. IV), as Bézier segments.
 *
 * @param x, y the points, without a repeated last one when closed; at least 2 (closed: 3), no two
 *   neighbours equal
 * @param parameter knot spacing: chord length, or its square root, which overshoots less at uneven
 *   points (Lee 1989, "Choosing nodes in parametric curve interpolation")
 */
export function splineCurve(name: string, x: Float64Array, y: Float64Array, closed: boolean, parameter: SplineParameter): Curve {
	const n = x.length;
	const count = closed ? n : n - 1;
	const steps = new Float64Array(count);
	for (let i = 0; i < count; i++) {
		const j = (i + 1) % n;
		const chord = hypot(x[j]! - x[i]!, y[j]! - y[i]!);
		steps[i] = parameter === 'chord' ? chord : Math.sqrt(chord);
	}
	const slopeX = closed ? periodicSlopes(x, steps) : naturalSlopes(x, steps);
	const slopeY = closed ? periodicSlopes(y, steps) : naturalSlopes(y, steps);
	const inner = new Float64Array(4 * count);
	for (let i = 0; i < count; i++) {
		const j = (i + 1) % n;
		const third = steps[i]! / 3;
		inner[4 * i] = x[i]! + third * slopeX[i]!;
		inner[4 * i + 1] = y[i]! + third * slopeY[i]!;
		inner[4 * i + 2] = x[j]! - third * slopeX[j]!;
		inner[4 * i + 3] = y[j]! - third * slopeY[j]!;
	}
	return cubicCurve(name, x, y, inner, closed);
}

/** First derivatives at the knots of the spline whose second derivative vanishes at both ends. */
function naturalSlopes(f: Float64Array, h: Float64Array): Float64Array {
	const n = f.length;
	const lower = new Float64Array(n);
	const diagonal = new Float64Array(n);
	const upper = new Float64Array(n);
	const right = new Float64Array(n);
	const rise = (i: number) => (f[i + 1]! - f[i]!) / h[i]!;
	diagonal[0] = 2;
	upper[0] = 1;
	right[0] = 3 * rise(0);
	for (let i = 1; i < n - 1; i++) {
		lower[i] = h[i]!;
		diagonal[i] = 2 * (h[i - 1]! + h[i]!);
		upper[i] = h[i - 1]!;
		right[i] = 3 * (h[i]! * rise(i - 1) + h[i - 1]! * rise(i));
	}
	lower[n - 1] = 1;
	diagonal[n - 1] = 2;
	right[n - 1] = 3 * rise(n - 2);
	solveTridiagonal(lower, diagonal, upper, right);
	return right;
}

/** First derivatives at the knots of the periodic spline. */
function periodicSlopes(f: Float64Array, h: Float64Array): Float64Array {
	const n = f.length;
	const lower = new Float64Array(n);
	const diagonal = new Float64Array(n);
	const upper = new Float64Array(n);
	const right = new Float64Array(n);
	for (let i = 0; i < n; i++) {
		const before = (i + n - 1) % n;
		const after = (i + 1) % n;
		lower[i] = h[i]!;
		diagonal[i] = 2 * (h[before]! + h[i]!);
		upper[i] = h[before]!;
		const riseBefore = (f[i]! - f[before]!) / h[before]!;
		const riseAfter = (f[after]! - f[i]!) / h[i]!;
		right[i] = 3 * (h[i]! * riseBefore + h[before]! * riseAfter);
	}
	solveCyclicTridiagonal(lower, diagonal, upper, right);
	return right;
}
