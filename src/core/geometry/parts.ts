import { mapped } from '../text/typed.ts';
import { acos, hypot, sin, square } from '../numeric/elementary.ts';
import { Float64List } from '../numeric/lists.ts';
import { pooled } from '../numeric/pooled.ts';
import { integrate } from '../numeric/quadrature.ts';
import { tangent } from './build.ts';
import {
	ARC,
	CUBIC,
	curveLength,
	LINE,
	lengthAt,
	parameterAtLength,
	pointAt,
	putSegmentPoint,
	RATIONAL,
	segmentBox,
	segmentCount,
	segmentDerivative,
	segmentPoint,
	STRIDE,
	type Curve,
	type Point
} from './curve.ts';

/** The part of a curve between two parameters, the same for many of its uses: pieces are such parts. */
export interface CurvePart {
	curve: Curve;
	t0: number;
	/** May exceed the number of segments on a closed curve that the part runs past the start of. */
	t1: number;
}

/** Whether a part is one straight line, or lies on one. */
export const isStraight = ({ curve, t0, t1 }: CurvePart): boolean =>
	Math.ceil(t1) - Math.floor(t0) <= 1 && curve.kinds[Math.floor(t0) % curve.kinds.length] === LINE;

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
export const partPoint = (part: CurvePart, fraction: number, length: number): Point =>
	pointAt(part.curve, partParameter(part, fraction, length));

/** The point of a part at a fraction of its arc length, and the unit direction in which it goes on there. */
export function placeOnPart(part: CurvePart, fraction: number, length: number): { point: Point; direction: Point } {
	const { curve } = part;
	const t = exactParameter(part, fraction, length);
	// At the end it goes on as it arrives.
	const isEnd = fraction === 1;
	const whole = isEnd ? Math.ceil(t) - 1 : Math.floor(t);
	const [segment, u] = [whole % segmentCount(curve), t - whole];
	return { point: segmentPoint(curve, segment, u), direction: tangent(curve, segment, u, !isEnd) };
}

const place = new Float64Array(2);

/** The points of a part at fractions of its arc length that rise. */
export function partPoints(part: CurvePart, at: Float64Array, length: number): { x: Float64Array; y: Float64Array } {
	const { curve, t0, t1 } = part;
	const [x, y] = [pooled(at.length), pooled(at.length)];
	const start = lengthAt(curve, t0);
	const whole = curveLength(curve);
	const isPast = t1 > curve.kinds.length;
	let near = 0;
	for (let k = 0; k < at.length; k++) {
		let along = start + at[k]! * length;
		if (along > whole && isPast) along -= whole;
		const t = parameterAtLength(curve, along, near);
		near = Math.min(Math.floor(t), curve.kinds.length - 1);
		putSegmentPoint(curve, near, t - near, place, 0);
		x[k] = place[0]!;
		y[k] = place[1]!;
	}
	return { x, y };
}

/** The parameter of a part's curve at a fraction of its arc length. */
function partParameter({ curve, t0, t1 }: CurvePart, fraction: number, length: number): number {
	let along = lengthAt(curve, t0) + fraction * length;
	const whole = curveLength(curve);
	if (along > whole && t1 > curve.kinds.length) along -= whole;
	return parameterAtLength(curve, along);
}

/** {@link partParameter}, which at the ends is that of the part, past the start of its curve too. */
const exactParameter = (part: CurvePart, fraction: number, length: number): number =>
	fraction === 0 ? part.t0 : fraction === 1 ? part.t1 : partParameter(part, fraction, length);

/** Nearer to a joint of a curve than this, as a parameter, is at it. */
const atJoint = 1e-9;

/** The unit directions of a part at a fraction of its arc length, and the kinds of the segments that they are of: they differ at a joint. */
export function partDirections(
	part: CurvePart,
	fraction: number,
	length: number
): Record<'before' | 'after', { direction: Point; kind: number }> {
	const { curve } = part;
	const t = exactParameter(part, fraction, length);
	const joint = Math.round(t);
	const count = segmentCount(curve);
	const of = (segment: number, u: number, leaving: boolean) => {
		const index = (segment + count) % count;
		return { direction: tangent(curve, index, u, leaving), kind: curve.kinds[index]! };
	};
	if (Math.abs(t - joint) <= atJoint) return { before: of(joint - 1, 1, false), after: of(joint, 0, true) };
	const side = of(Math.floor(t), t - Math.floor(t), true);
	return { before: side, after: side };
}

/** What is made flat, as long as it is. */
const flat = new Float64List();

/**
 * A polyline along a part that stays within `tolerance` of it; flat x, y pairs, both ends
 * included.
 */
export function flatten(part: CurvePart, tolerance: number): Float64Array {
	const { curve } = part;
	flat.length = 0;
	forEachSegment(part, (segment, u0, u1) => {
		const steps = flatSteps(curve, segment, u0, u1, tolerance);
		for (let k = flat.length === 0 ? 0 : 1; k <= steps; k++) {
			putSegmentPoint(curve, segment, k === steps ? u1 : u0 + ((u1 - u0) * k) / steps, place, 0);
			flat.push(place[0]!);
			flat.push(place[1]!);
		}
	});
	return flat.copied();
}

/** minX, minY, maxX, maxY of flat x, y pairs, or of those from one place in the list to another. */
export function boxOf(line: Float64Array, from = 0, to = line.length): [number, number, number, number] {
	let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
	for (let k = from; k < to; k += 2) {
		const x = line[k]!;
		const y = line[k + 1]!;
		if (x < minX) minX = x;
		if (x > maxX) maxX = x;
		if (y < minY) minY = y;
		if (y > maxY) maxY = y;
	}
	return [minX, minY, maxX, maxY];
}

/** A box around a part: the smallest one of lines and whole arcs, of the others that of the segments that it has a share in. */
export function partBox(part: CurvePart): [number, number, number, number] {
	const { curve } = part;
	let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
	const take = (x0: number, y0: number, x1: number, y1: number) => {
		if (x0 < minX) minX = x0;
		if (y0 < minY) minY = y0;
		if (x1 > maxX) maxX = x1;
		if (y1 > maxY) maxY = y1;
	};
	forEachSegment(part, (segment, u0, u1) => {
		if (curve.kinds[segment] !== LINE) take(...segmentBox(curve, segment));
		else
			for (const u of [u0, u1]) {
				const { x, y } = segmentPoint(curve, segment, u);
				take(x, y, x, y);
			}
	});
	return [minX, minY, maxX, maxY];
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
	if (curve.kinds[segment] === RATIONAL) return Math.max(1, Math.ceil((u1 - u0) * rationalSteps(curve, segment, tolerance)));
	// Wang's bound on the distance of a cubic from its chord (Wang 1984).
	const bend = hypot(secondDifference(data, o), secondDifference(data, o + 1));
	return Math.min(2000, Math.max(1, Math.ceil((u1 - u0) * Math.sqrt((0.75 * bend) / tolerance))));
}

/** The larger second difference of the control points of a cubic, of x or of y. */
const secondDifference = (data: Float64Array, k: number): number =>
	Math.max(Math.abs(data[k]! - 2 * data[k + 4]! + data[k + 6]!), Math.abs(data[k + 4]! - 2 * data[k + 6]! + data[k + 2]!));

/** Steps over a whole rational segment: doubled until the middles of the chords are near enough. */
function rationalSteps(curve: Curve, segment: number, tolerance: number): number {
	for (let steps = 4; ; steps *= 2) {
		let farthest = 0;
		for (let k = 0; k < steps; k++) {
			const [a, m, b] = mapped([0, 0.5, 1], (f) => segmentPoint(curve, segment, (k + f) / steps));
			farthest = Math.max(farthest, hypot(m.x - (a.x + b.x) / 2, m.y - (a.y + b.y) / 2));
		}
		if (farthest <= tolerance || steps >= 2048) return steps;
	}
}

/**
 * ½∮ x dy − y dx along a part (its share of the area that a closed walk encloses), relative to the
 * point `origin`; exact for lines and arcs, by quadrature for the others.
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
		} else if (curve.kinds[segment] === CUBIC) bulge = cubicBulge(curve, segment, u0, u1, a);
		else if (curve.kinds[segment] !== LINE) {
			bulge = integrate(
				(u) => {
					const p = segmentPoint(curve, segment, u);
					const d = segmentDerivative(curve, segment, u);
					return (p.x - a.x) * d.y - (p.y - a.y) * d.x;
				},
				u0,
				u1,
				square(hypot(b.x - a.x, b.y - a.y))
			);
		}
		sum += chord + bulge;
	});
	return sum / 2;
}

/**
 * ∫ (p − a) × dp along a part of a cubic: of degree five in the parameter, so that three Gauss points are exact; over all of
 * it, from its control points against the first one, (p₁ × p₂ + p₁ × p₃ + 2 p₂ × p₃) · 3/10.
 */
function cubicBulge(curve: Curve, segment: number, from: number, to: number, a: Point): number {
	if (from === 0 && to === 1) {
		const { data } = curve;
		const o = segment * STRIDE;
		const [x1, y1, x2, y2] = [data[o + 4]! - a.x, data[o + 5]! - a.y, data[o + 6]! - a.x, data[o + 7]! - a.y];
		const [x3, y3] = [data[o + 2]! - a.x, data[o + 3]! - a.y];
		return 0.3 * (x1 * y2 - y1 * x2 + (x1 * y3 - y1 * x3) + 2 * (x2 * y3 - y2 * x3));
	}
	let sum = 0;
	for (let k = -1; k <= 1; k++) {
		const u = (from + to) / 2 + ((k * (to - from)) / 2) * Math.sqrt(0.6);
		const p = segmentPoint(curve, segment, u);
		const d = segmentDerivative(curve, segment, u);
		sum += (k === 0 ? 8 / 9 : 5 / 9) * ((p.x - a.x) * d.y - (p.y - a.y) * d.x);
	}
	return (sum * (to - from)) / 2;
}

/** The sine of the angle at which two parts leave the point in which their ends meet. */
export function sineBetween(a: CurvePart, endOfA: 'start' | 'end', b: CurvePart, endOfB: 'start' | 'end'): number {
	const [u, v] = [leavingDirection(a, endOfA), leavingDirection(b, endOfB)];
	return Math.abs(u.x * v.y - u.y * v.x);
}

/** The unit direction in which a part leaves its start, or in which it would leave its end going back. */
export function leavingDirection({ curve, t0, t1 }: CurvePart, end: 'start' | 'end'): Point {
	const atStart = end === 'start';
	const t = atStart ? t0 : t1;
	const segment = atStart ? Math.floor(t) : Math.ceil(t) - 1;
	const d = tangent(curve, segment % segmentCount(curve), t - segment, atStart);
	return atStart ? d : { x: -d.x, y: -d.y };
}
