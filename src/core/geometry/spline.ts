import { atan2, hypot } from '../numeric/elementary.ts';
import { solveCyclicTridiagonal, solveTridiagonal } from '../numeric/tridiagonal.ts';
import { cubicCurve, CurveBuilder } from './build.ts';
import type { Curve, Point } from './curve.ts';

/** How a curve through points finds its parameter: by chord length, or its square root (Lee 1989). */
export type SplineParameter = 'chord' | 'centripetal';

/** How an open spline ends: free of bending, with its first two pieces one cubic, or in given directions. */
export type EndConditions = { kind: 'natural' | 'not-a-knot' } | { kind: 'clamped'; start: Point; end: Point };

/**
 * The C2 interpolating cubic spline through points, periodic when closed (de Boor 1978, ch. IV),
 * as Bézier segments.
 *
 * @param x, y the points, without a repeated last one when closed; at least 2 (closed: 3), no two
 *   neighbours equal
 * @param parameter knot spacing: chord length, or its square root, which overshoots less at uneven
 *   points (Lee 1989, "Choosing nodes in parametric curve interpolation")
 * @param cornerTurn where the points' polygon turns by more than this, in radians, the spline has a
 *   corner and starts anew
 */
export function splineCurve(
	name: string,
	x: Float64Array,
	y: Float64Array,
	closed: boolean,
	parameter: SplineParameter,
	ends: EndConditions = { kind: 'natural' },
	cornerTurn = Infinity
): Curve {
	const n = x.length;
	const corners: number[] = [];
	for (let i = closed ? 0 : 1; i < (closed ? n : n - 1); i++) {
		const [before, after] = [(i + n - 1) % n, (i + 1) % n];
		const [ux, uy, vx, vy] = [x[i]! - x[before]!, y[i]! - y[before]!, x[after]! - x[i]!, y[after]! - y[i]!];
		if (Math.abs(atan2(ux * vy - uy * vx, ux * vx + uy * vy)) > cornerTurn) corners.push(i);
	}
	if (corners.length === 0) return smoothSpline(name, x, y, closed, parameter, ends);
	// From corner to corner, each run a spline of its own.
	const stops = closed ? [...corners, corners[0]! + n] : [0, ...corners, n - 1];
	const builder = new CurveBuilder();
	const joints: number[] = closed ? [0] : [];
	for (let k = 0; k + 1 < stops.length; k++) {
		const run = Array.from({ length: stops[k + 1]! - stops[k]! + 1 }, (_, m) => (stops[k]! + m) % n);
		const pick = (values: Float64Array) => Float64Array.from(run, (i) => values[i]!);
		const conditions: EndConditions = ends.kind === 'clamped' ? { kind: 'natural' } : ends;
		builder.along(smoothSpline('', pick(x), pick(y), false, parameter, conditions));
		if (k + 2 < stops.length) joints.push(builder.count);
	}
	return builder.build(name, closed, { also: joints });
}

function smoothSpline(
	name: string,
	x: Float64Array,
	y: Float64Array,
	closed: boolean,
	parameter: SplineParameter,
	ends: EndConditions
): Curve {
	const n = x.length;
	const count = closed ? n : n - 1;
	const steps = new Float64Array(count);
	for (let i = 0; i < count; i++) {
		const j = (i + 1) % n;
		const chord = hypot(x[j]! - x[i]!, y[j]! - y[i]!);
		steps[i] = parameter === 'chord' ? chord : Math.sqrt(chord);
	}
	const slopes = (f: Float64Array, axis: 'x' | 'y'): Float64Array => {
		if (closed) return periodicSlopes(f, steps);
		if (ends.kind === 'not-a-knot' && n > 2) return notAKnotSlopes(f, steps);
		return openSlopes(f, steps, ends.kind === 'clamped' ? ends : undefined, axis);
	};
	const slopeX = slopes(x, 'x');
	const slopeY = slopes(y, 'y');
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

/**
 * First derivatives at the knots of the open spline: with a vanishing second derivative at both
 * ends, or with given directions there, taken at unit speed in chord length.
 */
function openSlopes(
	f: Float64Array,
	h: Float64Array,
	clamped: Extract<EndConditions, { kind: 'clamped' }> | undefined,
	axis: 'x' | 'y'
): Float64Array {
	const n = f.length;
	const lower = new Float64Array(n);
	const diagonal = new Float64Array(n);
	const upper = new Float64Array(n);
	const right = new Float64Array(n);
	const rise = (i: number) => (f[i + 1]! - f[i]!) / h[i]!;
	for (let i = 1; i < n - 1; i++) {
		lower[i] = h[i]!;
		diagonal[i] = 2 * (h[i - 1]! + h[i]!);
		upper[i] = h[i - 1]!;
		right[i] = 3 * (h[i]! * rise(i - 1) + h[i - 1]! * rise(i));
	}
	if (clamped) {
		const speed = (d: Point) => d[axis] / (hypot(d.x, d.y) || 1);
		diagonal[0] = diagonal[n - 1] = 1;
		right[0] = speed(clamped.start);
		right[n - 1] = speed(clamped.end);
	} else {
		diagonal[0] = diagonal[n - 1] = 2;
		upper[0] = lower[n - 1] = 1;
		right[0] = 3 * rise(0);
		right[n - 1] = 3 * rise(n - 2);
	}
	solveTridiagonal(lower, diagonal, upper, right);
	return right;
}

/** First derivatives at the knots of the spline whose first two pieces, and last two, are one cubic each (de Boor 1978, p. 54). */
function notAKnotSlopes(f: Float64Array, h: Float64Array): Float64Array {
	const n = f.length;
	const rise = (i: number) => (f[i + 1]! - f[i]!) / h[i]!;
	if (n === 3) {
		const [a, b, d, e] = [h[0]!, h[1]!, rise(0), rise(1)];
		return Float64Array.of(d + ((d - e) * a) / (a + b), (b * d + a * e) / (a + b), e + ((e - d) * b) / (a + b));
	}
	const lower = new Float64Array(n);
	const diagonal = new Float64Array(n);
	const upper = new Float64Array(n);
	const right = new Float64Array(n);
	const end = (a: number, b: number, d: number, e: number) => ((a + 2 * (a + b)) * b * d + a * a * e) / (a + b);
	diagonal[0] = h[1]!;
	upper[0] = h[0]! + h[1]!;
	right[0] = end(h[0]!, h[1]!, rise(0), rise(1));
	for (let i = 1; i < n - 1; i++) {
		lower[i] = h[i]!;
		diagonal[i] = 2 * (h[i - 1]! + h[i]!);
		upper[i] = h[i - 1]!;
		right[i] = 3 * (h[i]! * rise(i - 1) + h[i - 1]! * rise(i));
	}
	lower[n - 1] = h[n - 2]! + h[n - 3]!;
	diagonal[n - 1] = h[n - 3]!;
	right[n - 1] = end(h[n - 2]!, h[n - 3]!, rise(n - 2), rise(n - 3));
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
