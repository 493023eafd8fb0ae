import { acos, atan2, cos, hypot, sin, square } from '../numeric/elementary.ts';
import { integrate } from '../numeric/quadrature.ts';

/** The elementary kinds of segment. */
export const LINE = 0;
export const ARC = 1;
export const CUBIC = 2;

/** Numbers per segment in {@link Curve.data}. */
export const STRIDE = 9;

/**
 * A plane curve as a chain of segments. A parameter t runs from 0 to the number of segments; its
 * whole part picks the segment, its fraction the place in it. All lengths are in recipe units.
 */
export interface Curve {
	name: string;
	closed: boolean;
	/** LINE, ARC or CUBIC, one per segment. */
	kinds: Uint8Array;
	/**
	 * STRIDE numbers per segment: x0 y0 x1 y1, then for an arc: centre x y, radius, start angle,
	 * sweep (positive counter-clockwise); for a cubic: its two inner Bézier points.
	 */
	data: Float64Array;
	/** Arc length from the curve's start to the start of each segment, and the whole length last. */
	lengths: Float64Array;
	/** Joints, as segment indices, at which the curve turns sharply enough to be a junction. */
	corners: number[];
}

export interface Point {
	x: number;
	y: number;
}

/** The turn, in radians, from which a joint of a polyline is a junction. */
export const cornerTurn = (20 * Math.PI) / 180;

/** A straight line. */
export function lineCurve(name: string, a: Point, b: Point): Curve {
	return assemble(name, false, Uint8Array.of(LINE), Float64Array.of(a.x, a.y, b.x, b.y, 0, 0, 0, 0, 0), []);
}

/** A polyline through `x`, `y`; `closed` adds the segment from the last to the first. */
export function polylineCurve(name: string, x: Float64Array, y: Float64Array, closed: boolean): Curve {
	const count = closed ? x.length : x.length - 1;
	const data = new Float64Array(count * STRIDE);
	for (let i = 0; i < count; i++) {
		const j = (i + 1) % x.length;
		data.set([x[i]!, y[i]!, x[j]!, y[j]!], i * STRIDE);
	}
	const corners: number[] = [];
	for (let i = closed ? 0 : 1; i < count; i++) {
		const before = (i + count - 1) % count;
		const ux = data[before * STRIDE + 2]! - data[before * STRIDE]!;
		const uy = data[before * STRIDE + 3]! - data[before * STRIDE + 1]!;
		const vx = data[i * STRIDE + 2]! - data[i * STRIDE]!;
		const vy = data[i * STRIDE + 3]! - data[i * STRIDE + 1]!;
		if (Math.abs(atan2(ux * vy - uy * vx, ux * vx + uy * vy)) > cornerTurn) corners.push(i);
	}
	return assemble(name, closed, new Uint8Array(count).fill(LINE), data, corners);
}

/**
 * An arc from `a` to `b` around `centre`. The radius is that of `a`; the caller makes sure that
 * `b` lies at the same distance.
 */
export function arcCurve(name: string, a: Point, b: Point, centre: Point, clockwise: boolean): Curve {
	const from = atan2(a.y - centre.y, a.x - centre.x);
	let sweep = atan2(b.y - centre.y, b.x - centre.x) - from;
	if (clockwise) while (sweep >= 0) sweep -= 2 * Math.PI;
	else while (sweep <= 0) sweep += 2 * Math.PI;
	const radius = hypot(a.x - centre.x, a.y - centre.y);
	return assemble(
		name,
		false,
		Uint8Array.of(ARC),
		Float64Array.of(a.x, a.y, b.x, b.y, centre.x, centre.y, radius, from, sweep),
		[]
	);
}

/** A full circle, counter-clockwise from its rightmost point. */
export function circleCurve(name: string, centre: Point, radius: number): Curve {
	const x = centre.x + radius;
	const data = Float64Array.of(x, centre.y, x, centre.y, centre.x, centre.y, radius, 0, 2 * Math.PI);
	return assemble(name, true, Uint8Array.of(ARC), data, []);
}

/**
 * A chain of cubics from their end points and inner Bézier points, given as they stand in
 * {@link Curve.data} but four inner numbers in a row per segment.
 */
export function cubicCurve(name: string, x: Float64Array, y: Float64Array, inner: Float64Array, closed: boolean): Curve {
	const count = inner.length / 4;
	const data = new Float64Array(count * STRIDE);
	for (let i = 0; i < count; i++) {
		const j = (i + 1) % x.length;
		data.set([x[i]!, y[i]!, x[j]!, y[j]!], i * STRIDE);
		data.set(inner.subarray(4 * i, 4 * i + 4), i * STRIDE + 4);
	}
	return assemble(name, closed, new Uint8Array(count).fill(CUBIC), data, []);
}

function assemble(name: string, closed: boolean, kinds: Uint8Array, data: Float64Array, corners: number[]): Curve {
	const lengths = new Float64Array(kinds.length + 1);
	const curve = { name, closed, kinds, data, lengths, corners };
	for (let i = 0; i < kinds.length; i++) lengths[i + 1] = lengths[i]! + segmentLength(curve, i, 0, 1);
	return curve;
}

export const segmentCount = (curve: Curve): number => curve.kinds.length;
export const curveLength = (curve: Curve): number => curve.lengths[curve.kinds.length]!;

/** Splits a parameter into segment and local place; a joint belongs to the segment that it starts, the end to the last. */
export function locate(curve: Curve, t: number): { segment: number; u: number } {
	const segment = Math.min(Math.max(Math.floor(t), 0), curve.kinds.length - 1);
	return { segment, u: t - segment };
}

/** The point at parameter t; the end points of a segment come out exactly as they were given. */
export function pointAt(curve: Curve, t: number): Point {
	const { segment, u } = locate(curve, t);
	return segmentPoint(curve, segment, u);
}

/** The point of one segment at local parameter u in [0, 1]. */
export function segmentPoint(curve: Curve, segment: number, u: number): Point {
	const { data } = curve;
	const o = segment * STRIDE;
	if (u === 0) return { x: data[o]!, y: data[o + 1]! };
	if (u === 1) return { x: data[o + 2]!, y: data[o + 3]! };
	const kind = curve.kinds[segment];
	if (kind === ARC) {
		const angle = data[o + 7]! + u * data[o + 8]!;
		return { x: data[o + 4]! + data[o + 6]! * cos(angle), y: data[o + 5]! + data[o + 6]! * sin(angle) };
	}
	const v = 1 - u;
	if (kind === LINE) return { x: v * data[o]! + u * data[o + 2]!, y: v * data[o + 1]! + u * data[o + 3]! };
	const b0 = v * v * v;
	const b1 = 3 * v * v * u;
	const b2 = 3 * v * u * u;
	const b3 = u * u * u;
	return {
		x: b0 * data[o]! + b1 * data[o + 4]! + b2 * data[o + 6]! + b3 * data[o + 2]!,
		y: b0 * data[o + 1]! + b1 * data[o + 5]! + b2 * data[o + 7]! + b3 * data[o + 3]!
	};
}

/** The derivative of one segment with respect to its local parameter. */
export function segmentDerivative(curve: Curve, segment: number, u: number): Point {
	const { data } = curve;
	const o = segment * STRIDE;
	const kind = curve.kinds[segment];
	if (kind === LINE) return { x: data[o + 2]! - data[o]!, y: data[o + 3]! - data[o + 1]! };
	if (kind === ARC) {
		const angle = data[o + 7]! + u * data[o + 8]!;
		const speed = data[o + 6]! * data[o + 8]!;
		return { x: -speed * sin(angle), y: speed * cos(angle) };
	}
	const v = 1 - u;
	const derivative = (k: number): number => {
		const [p0, p1, p2, p3] = [data[o + k]!, data[o + 4 + k]!, data[o + 6 + k]!, data[o + 2 + k]!];
		return 3 * (v * v * (p1 - p0) + 2 * v * u * (p2 - p1) + u * u * (p3 - p2));
	};
	return { x: derivative(0), y: derivative(1) };
}

/** Arc length of one segment between local parameters; cubics by adaptive Gauss–Legendre quadrature. */
export function segmentLength(curve: Curve, segment: number, from: number, to: number): number {
	const { data } = curve;
	const o = segment * STRIDE;
	const kind = curve.kinds[segment];
	if (kind === LINE) return (to - from) * hypot(data[o + 2]! - data[o]!, data[o + 3]! - data[o + 1]!);
	if (kind === ARC) return (to - from) * data[o + 6]! * Math.abs(data[o + 8]!);
	return integrate(
		(u) => {
			const d = segmentDerivative(curve, segment, u);
			return hypot(d.x, d.y);
		},
		from,
		to
	);
}

/** Arc length from the curve's start to parameter t. */
export function lengthAt(curve: Curve, t: number): number {
	const { segment, u } = locate(curve, t);
	if (u === 0) return curve.lengths[segment]!;
	if (u === 1) return curve.lengths[segment + 1]!;
	return curve.lengths[segment]! + segmentLength(curve, segment, 0, u);
}

/** The parameter at an arc length from the curve's start: the inverse of {@link lengthAt}, to 1e-13 of the segment. */
export function parameterAtLength(curve: Curve, length: number): number {
	const { lengths, kinds } = curve;
	if (length <= 0) return 0;
	if (length >= lengths[kinds.length]!) return kinds.length;
	let low = 0;
	let high = kinds.length - 1;
	while (low < high) {
		const middle = (low + high + 1) >> 1;
		if (lengths[middle]! <= length) low = middle;
		else high = middle - 1;
	}
	const span = lengths[low + 1]! - lengths[low]!;
	const wanted = length - lengths[low]!;
	let u = wanted / span;
	if (kinds[low] !== CUBIC) return low + u;
	// Newton from the proportional guess, kept inside a shrinking bracket.
	let a = 0;
	let b = 1;
	for (let i = 0; i < 60; i++) {
		const error = segmentLength(curve, low, 0, u) - wanted;
		if (Math.abs(error) <= 1e-13 * span) break;
		if (error > 0) b = u;
		else a = u;
		const d = segmentDerivative(curve, low, u);
		const next = u - error / hypot(d.x, d.y);
		u = next > a && next < b ? next : (a + b) / 2;
	}
	return low + u;
}

/** The smallest box around one segment: [minX, minY, maxX, maxY]; for cubics, the box of the control points. */
export function segmentBox(curve: Curve, segment: number): [number, number, number, number] {
	const { data } = curve;
	const o = segment * STRIDE;
	let minX = Math.min(data[o]!, data[o + 2]!);
	let maxX = Math.max(data[o]!, data[o + 2]!);
	let minY = Math.min(data[o + 1]!, data[o + 3]!);
	let maxY = Math.max(data[o + 1]!, data[o + 3]!);
	const take = (x: number, y: number) => {
		minX = Math.min(minX, x);
		maxX = Math.max(maxX, x);
		minY = Math.min(minY, y);
		maxY = Math.max(maxY, y);
	};
	if (curve.kinds[segment] === CUBIC) {
		take(data[o + 4]!, data[o + 5]!);
		take(data[o + 6]!, data[o + 7]!);
	} else if (curve.kinds[segment] === ARC) {
		const [cx, cy, radius, start, sweep] = [data[o + 4]!, data[o + 5]!, data[o + 6]!, data[o + 7]!, data[o + 8]!];
		const first = Math.min(start, start + sweep);
		const last = Math.max(start, start + sweep);
		for (let q = Math.ceil(first / (Math.PI / 2)); q * (Math.PI / 2) <= last; q++)
			take(cx + radius * cos((q * Math.PI) / 2), cy + radius * sin((q * Math.PI) / 2));
	}
	return [minX, minY, maxX, maxY];
}

/** The part of a curve between two parameters, the same for many of its uses: pieces are such parts. */
export interface CurvePart {
	curve: Curve;
	t0: number;
	/** May exceed the number of segments on a closed curve that the part runs past the start of. */
	t1: number;
}

/** Cuts a part at the joints inside it: calls back with segment and local range, in order. */
export function forEachSegment(part: CurvePart, visit: (segment: number, u0: number, u1: number) => void): void {
	const count = part.curve.kinds.length;
	for (let t = part.t0; t < part.t1;) {
		const base = Math.floor(t);
		const next = Math.min(base + 1, part.t1);
		visit(base % count, t - base, next - base);
		t = next;
	}
}

/** Arc length of a part. */
export function partLength({ curve, t0, t1 }: CurvePart): number {
	const count = curve.kinds.length;
	if (t1 <= count) return lengthAt(curve, t1) - lengthAt(curve, t0);
	return curveLength(curve) - lengthAt(curve, t0) + lengthAt(curve, t1 - count);
}

/** The point of a part at a fraction of its arc length. */
export function partPoint(part: CurvePart, fraction: number, length: number): Point {
	const { curve } = part;
	let along = lengthAt(curve, part.t0) + fraction * length;
	const whole = curveLength(curve);
	if (along > whole && part.t1 > curve.kinds.length) along -= whole;
	return pointAt(curve, parameterAtLength(curve, along));
}

/**
 * A polyline along a part that stays within `tolerance` of it; flat x, y pairs, both ends
 * included.
 */
export function flatten(part: CurvePart, tolerance: number): Float64Array {
	const out: number[] = [];
	const { curve } = part;
	forEachSegment(part, (segment, u0, u1) => {
		const steps = flatSteps(curve, segment, u0, u1, tolerance);
		for (let k = out.length === 0 ? 0 : 1; k <= steps; k++) {
			const p = segmentPoint(curve, segment, k === steps ? u1 : u0 + ((u1 - u0) * k) / steps);
			out.push(p.x, p.y);
		}
	});
	return Float64Array.from(out);
}

function flatSteps(curve: Curve, segment: number, u0: number, u1: number, tolerance: number): number {
	const o = segment * STRIDE;
	const { data } = curve;
	if (curve.kinds[segment] === LINE) return 1;
	if (curve.kinds[segment] === ARC) {
		// Sagitta of a chord over angle a: r (1 − cos(a/2)).
		const radius = data[o + 6]!;
		const angle = Math.abs(data[o + 8]!) * (u1 - u0);
		const step = 2 * acos(Math.max(0, 1 - tolerance / radius));
		return Math.min(2000, Math.max(2, Math.ceil(angle / Math.max(step, 1e-4))));
	}
	// Wang's bound on the distance of a cubic from its chord (Wang 1984).
	const second = (k: number): number =>
		Math.max(
			Math.abs(data[o + k]! - 2 * data[o + 4 + k]! + data[o + 6 + k]!),
			Math.abs(data[o + 4 + k]! - 2 * data[o + 6 + k]! + data[o + 2 + k]!)
		);
	const bend = hypot(second(0), second(1));
	return Math.min(2000, Math.max(1, Math.ceil((u1 - u0) * Math.sqrt((0.75 * bend) / tolerance))));
}

/**
 * ½∮ x dy − y dx along a part (its share of the area that a closed walk encloses), relative to the
 * point `origin`; exact for lines and arcs, and by the polynomial's own integral for cubics.
 */
export function partArea(part: CurvePart, origin: Point): number {
	const { curve } = part;
	const { data } = curve;
	let sum = 0;
	forEachSegment(part, (segment, u0, u1) => {
		const o = segment * STRIDE;
		const a = segmentPoint(curve, segment, u0);
		const b = segmentPoint(curve, segment, u1);
		const chord = (a.x - origin.x) * (b.y - origin.y) - (b.x - origin.x) * (a.y - origin.y);
		let bulge = 0;
		if (curve.kinds[segment] === ARC) {
			const angle = data[o + 8]! * (u1 - u0);
			bulge = square(data[o + 6]!) * (angle - sin(angle));
		} else if (curve.kinds[segment] === CUBIC) {
			bulge = integrate(
				(u) => {
					const p = segmentPoint(curve, segment, u);
					const d = segmentDerivative(curve, segment, u);
					return (p.x - a.x) * d.y - (p.y - a.y) * d.x;
				},
				u0,
				u1
			);
		}
		sum += chord + bulge;
	});
	return sum / 2;
}
