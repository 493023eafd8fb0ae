import { cos, hypot, sin } from '../numeric/elementary.ts';
import { unitVectorAt, unitVectors } from '../numeric/unit-vectors.ts';
import { gauss16, gauss4, integrate, nodes16, weights16 } from '../numeric/quadrature.ts';
import { putRationalDerivative, rationalJet, rationalPoint } from './rational.ts';

/** The elementary kinds of segment. */
export const LINE = 0;
export const ARC = 1;
export const CUBIC = 2;
/** A rational Bézier curve of degree at most 5: conics, B-splines and analytic curves are chains of these. */
export const RATIONAL = 3;

/** Numbers per segment in {@link Curve.data}. */
export const STRIDE = 9;

/**
 * A plane curve as a chain of segments. A parameter t runs from 0 to the number of segments; its
 * whole part picks the segment, its fraction the place in it. All lengths are in recipe units.
 */
export interface Curve {
	name: string;
	closed: boolean;
	/** LINE, ARC, CUBIC or RATIONAL, one per segment. */
	kinds: Uint8Array;
	/**
	 * STRIDE numbers per segment: x0 y0 x1 y1, then for an arc: centre x y, radius, start angle,
	 * sweep (positive counter-clockwise); for a cubic: its two inner Bézier points; for a rational
	 * curve: where its rows start in `control`, and its degree.
	 */
	data: Float64Array;
	/** The control points of the rational segments: rows x, y, weight. */
	control: Float64Array;
	/** Arc length from the curve's start to the start of each segment, and the whole length last. */
	lengths: Float64Array;
	/** Joints, as segment indices, at which the curve turns sharply enough to be a junction. */
	corners: number[];
}

/** The segments of a curve, without what follows from them. */
export type Segments = Pick<Curve, 'kinds' | 'data' | 'control'>;

export interface Point {
	x: number;
	y: number;
}

/** Where nothing else is said, the turn, in radians, from which a joint of a polyline is a junction. */
export const cornerTurn = (20 * Math.PI) / 180;

export const segmentCount = (curve: Curve): number => curve.kinds.length;
export const curveLength = (curve: Curve): number => curve.lengths[curve.kinds.length]!;

/** The circle that an arc segment is a part of: where it starts on it, and how far it runs, counter-clockwise above zero. */
export function arcOf({ data }: Curve, segment: number): { centre: Point; radius: number; from: number; sweep: number } {
	const o = segment * STRIDE;
	return { centre: { x: data[o + 4]!, y: data[o + 5]! }, radius: data[o + 6]!, from: data[o + 7]!, sweep: data[o + 8]! };
}

/** Splits a parameter into segment and local place; a joint belongs to the segment that it starts, the end to the last. */
export function locate(curve: Curve, t: number): { segment: number; u: number } {
	const segment = Math.min(Math.max(Math.floor(t), 0), curve.kinds.length - 1);
	return { segment, u: t - segment };
}

/** The point at parameter t; the end points of a segment come out exactly as they were given. */
export function pointAt(curve: Curve, t: number): Point {
	putPointAt(curve, t, place, 0);
	return { x: place[0]!, y: place[1]! };
}

/** Puts x and y of {@link pointAt} into a list, from a place in it on. */
export function putPointAt(curve: Curve, t: number, into: Float64Array, at: number): void {
	const segment = Math.min(Math.max(Math.floor(t), 0), curve.kinds.length - 1);
	putSegmentPoint(curve, segment, t - segment, into, at);
}

const place = new Float64Array(2);

/** The point of one segment at local parameter u in [0, 1]. */
export function segmentPoint(curve: Curve, segment: number, u: number): Point {
	putSegmentPoint(curve, segment, u, place, 0);
	return { x: place[0]!, y: place[1]! };
}

/** Puts x and y of {@link segmentPoint} into a list, from a place in it on. */
export function putSegmentPoint(curve: Curve, segment: number, u: number, into: Float64Array, at: number): void {
	const { data } = curve;
	const o = segment * STRIDE;
	if (u === 0 || u === 1) {
		into[at] = data[o + 2 * u]!;
		into[at + 1] = data[o + 2 * u + 1]!;
		return;
	}
	const kind = curve.kinds[segment];
	if (kind === ARC) {
		const k = unitVectorAt(data[o + 7]! + u * data[o + 8]!);
		into[at] = data[o + 4]! + data[o + 6]! * unitVectors[k]!;
		into[at + 1] = data[o + 5]! + data[o + 6]! * unitVectors[k + 1]!;
		return;
	}
	if (kind === RATIONAL) {
		const { x, y } = rationalPoint(curve.control, data[o + 4]!, data[o + 5]!, u);
		into[at] = x;
		into[at + 1] = y;
		return;
	}
	const v = 1 - u;
	if (kind === LINE) {
		// What is parallel to an axis has one coordinate, to the last bit.
		into[at] = data[o] === data[o + 2] ? data[o]! : v * data[o]! + u * data[o + 2]!;
		into[at + 1] = data[o + 1] === data[o + 3] ? data[o + 1]! : v * data[o + 1]! + u * data[o + 3]!;
		return;
	}
	const b0 = v * v * v;
	const b1 = 3 * v * v * u;
	const b2 = 3 * v * u * u;
	const b3 = u * u * u;
	into[at] = b0 * data[o]! + b1 * data[o + 4]! + b2 * data[o + 6]! + b3 * data[o + 2]!;
	into[at + 1] = b0 * data[o + 1]! + b1 * data[o + 5]! + b2 * data[o + 7]! + b3 * data[o + 3]!;
}

/** The derivative of one segment with respect to its local parameter. */
export function segmentDerivative(curve: Segments, segment: number, u: number): Point {
	putSegmentDerivative(curve, segment, u, place);
	return { x: place[0]!, y: place[1]! };
}

/** Puts x and y of {@link segmentDerivative} into a list of two. */
export function putSegmentDerivative(curve: Segments, segment: number, u: number, into: Float64Array): void {
	const { data } = curve;
	const o = segment * STRIDE;
	const kind = curve.kinds[segment];
	if (kind === LINE) {
		into[0] = data[o + 2]! - data[o]!;
		into[1] = data[o + 3]! - data[o + 1]!;
	} else if (kind === ARC) {
		const k = unitVectorAt(data[o + 7]! + u * data[o + 8]!);
		const speed = data[o + 6]! * data[o + 8]!;
		into[0] = -speed * unitVectors[k + 1]!;
		into[1] = speed * unitVectors[k]!;
	} else if (kind === RATIONAL) {
		putRationalDerivative(curve.control, data[o + 4]!, data[o + 5]!, u, into);
	} else {
		into[0] = cubicDerivative(data, o, u);
		into[1] = cubicDerivative(data, o + 1, u);
	}
}

function cubicDerivative(data: Float64Array, k: number, u: number): number {
	const v = 1 - u;
	const p1 = data[k + 4]!;
	const p2 = data[k + 6]!;
	return 3 * (v * v * (p1 - data[k]!) + 2 * v * u * (p2 - p1) + u * u * (data[k + 2]! - p2));
}

/** Gauss–Legendre rules of 8 and 16 points on [-1, 1], the positive halves (Abramowitz & Stegun 25.4.30). */
const eight = {
	nodes: Float64Array.of(0.1834346424956498, 0.525532409916329, 0.7966664774136267, 0.9602898564975363),
	weights: Float64Array.of(0.362683783378362, 0.3137066458778873, 0.2223810344533745, 0.1012285362903763)
};
const sixteen = { nodes: Float64Array.from(nodes16), weights: Float64Array.from(weights16) };

/** A part of a cubic that turns sharply is halved so often at most. */
const mostHalvings = 24;
/** Two rules agree on a length where they differ by this share of it: the rounding of their sums. */
const agreement = 1e-15;

/** The lengths of a part of a cubic by the two rules, the coarse one first. */
const byRules = new Float64Array(2);

function putLengths(data: Float64Array, o: number, from: number, to: number): void {
	// The derivative as a polynomial of the parameter.
	const x0 = 3 * (data[o + 4]! - data[o]!);
	const y0 = 3 * (data[o + 5]! - data[o + 1]!);
	const x1 = 6 * (data[o + 6]! - 2 * data[o + 4]! + data[o]!);
	const y1 = 6 * (data[o + 7]! - 2 * data[o + 5]! + data[o + 1]!);
	const x2 = 3 * (data[o + 2]! - 3 * data[o + 6]! + 3 * data[o + 4]! - data[o]!);
	const y2 = 3 * (data[o + 3]! - 3 * data[o + 7]! + 3 * data[o + 5]! - data[o + 1]!);
	const middle = (from + to) / 2;
	const half = (to - from) / 2;
	for (let rule = 0; rule < 2; rule++) {
		const { nodes, weights } = rule === 0 ? eight : sixteen;
		let sum = 0;
		for (let k = 0; k < nodes.length; k++) {
			for (let side = -1; side <= 1; side += 2) {
				const u = middle + side * half * nodes[k]!;
				const dx = x0 + u * (x1 + u * x2);
				const dy = y0 + u * (y1 + u * y2);
				sum += weights[k]! * Math.sqrt(dx * dx + dy * dy);
			}
		}
		byRules[rule] = sum * half;
	}
}

/**
 * Arc length of a part of a cubic: where two rules do not agree on it to the rounding of their sums, as where it turns sharply,
 * that of its halves.
 *
 * @param tolerance how far the two rules may be apart; a share of the whole part where it is given for none
 */
function cubicLength(data: Float64Array, o: number, from: number, to: number, tolerance = -1, depth = mostHalvings): number {
	putLengths(data, o, from, to);
	const [coarse, fine] = byRules as unknown as [number, number];
	const within = tolerance < 0 ? agreement * fine : tolerance;
	if (Math.abs(fine - coarse) <= within || depth === 0) return fine;
	const middle = (from + to) / 2;
	return cubicLength(data, o, from, middle, within, depth - 1) + cubicLength(data, o, middle, to, within, depth - 1);
}

/** The speed of a segment at a local parameter. */
const speedOf = (curve: Segments, segment: number) => (u: number) => {
	putSegmentDerivative(curve, segment, u, place);
	return hypot(place[0]!, place[1]!);
};

/** Lengths of a cubic or rational segment from its start up to local parameters, between which one rule holds. */
interface Stretches {
	curve: Segments;
	segment: number;
	ends: number[];
	lengths: number[];
}

/** The stretch between two of some rising lengths in which a length lies. */
function stretchWith(lengths: ArrayLike<number>, length: number): number {
	let low = 0;
	let high = lengths.length - 2;
	while (low < high) {
		const middle = (low + high + 1) >> 1;
		if (lengths[middle]! <= length) low = middle;
		else high = middle - 1;
	}
	return low;
}

/** Those of the last segment that was asked for: places along a curve are looked for one after the other. */
let lastStretches: Stretches | undefined;

function stretchesOf(curve: Segments, segment: number): Stretches {
	if (lastStretches?.curve === curve && lastStretches.segment === segment) return lastStretches;
	const [ends, lengths] = [[0], [0]];
	integrate(speedOf(curve, segment), 0, 1, 0, (end, sum) => {
		ends.push(end);
		lengths.push(lengths.at(-1)! + sum);
	});
	return (lastStretches = { curve, segment, ends, lengths });
}

/** Signed curvature of one segment, positive where it bends to the left; 1 over recipe units. */
export function segmentCurvature(curve: Curve, segment: number, u: number): number {
	const { data } = curve;
	const o = segment * STRIDE;
	const kind = curve.kinds[segment];
	if (kind === LINE) return 0;
	if (kind === ARC) return Math.sign(data[o + 8]!) / data[o + 6]!;
	const { dx, dy, ddx, ddy } =
		kind === RATIONAL ? rationalJet(curve.control, data[o + 4]!, data[o + 5]!, u) : cubicJet(curve, segment, u);
	const speed = hypot(dx, dy);
	return (dx * ddy - dy * ddx) / (speed * speed * speed);
}

function cubicJet(curve: Curve, segment: number, u: number): { dx: number; dy: number; ddx: number; ddy: number } {
	const { x: dx, y: dy } = segmentDerivative(curve, segment, u);
	const { data } = curve;
	const o = segment * STRIDE;
	const second = (k: number): number => {
		const [p0, p1, p2, p3] = [data[o + k]!, data[o + 4 + k]!, data[o + 6 + k]!, data[o + 2 + k]!];
		return 6 * ((1 - u) * (p2 - 2 * p1 + p0) + u * (p3 - 2 * p2 + p1));
	};
	return { dx, dy, ddx: second(0), ddy: second(1) };
}

/** Arc length of one segment between local parameters; cubics and rational ones by adaptive Gauss–Legendre quadrature. */
export function segmentLength(curve: Segments, segment: number, from: number, to: number): number {
	const { data } = curve;
	const o = segment * STRIDE;
	const kind = curve.kinds[segment];
	if (kind === LINE) return (to - from) * hypot(data[o + 2]! - data[o]!, data[o + 3]! - data[o + 1]!);
	if (kind === ARC) return (to - from) * data[o + 6]! * Math.abs(data[o + 8]!);
	if (kind === CUBIC) return cubicLength(data, o, from, to);
	if (from === 0 && to === 1) return integrate(speedOf(curve, segment), 0, 1);
	const stretches = stretchesOf(curve, segment);
	return isSharp(stretches) ? lengthByStretches(stretches, from, to) : integrate(speedOf(curve, segment), from, to);
}

/** Whether a segment turns so sharply that one halving is not enough to measure it. */
const isSharp = ({ ends }: Stretches): boolean => ends.length > 3;

/** The length between local parameters: over whole stretches it is known, and in a part of one the rule of the stretch holds. */
function lengthByStretches({ curve, segment, ends, lengths }: Stretches, from: number, to: number): number {
	const speed = speedOf(curve, segment);
	const [first, last] = [stretchWith(ends, from), stretchWith(ends, to)];
	if (first === last) return gauss16(speed, from, to);
	const between = lengths[last]! - lengths[first + 1]!;
	return gauss16(speed, from, ends[first + 1]!) + between + gauss16(speed, ends[last]!, to);
}

/** Arc length from the curve's start to parameter t. */
export function lengthAt(curve: Curve, t: number): number {
	const { segment, u } = locate(curve, t);
	if (u === 0) return curve.lengths[segment]!;
	if (u === 1) return curve.lengths[segment + 1]!;
	return curve.lengths[segment]! + segmentLength(curve, segment, 0, u);
}

/**
 * The parameter at an arc length from the curve's start: the inverse of {@link lengthAt}, to 1e-13 of the segment.
 *
 * @param near a segment at or right after which it may be, which saves looking for it
 */
export function parameterAtLength(curve: Curve, length: number, near = 0): number {
	const { lengths, kinds } = curve;
	if (length <= 0) return 0;
	if (length >= lengths[kinds.length]!) return kinds.length;
	let low = near;
	if (!(lengths[low]! <= length && length < lengths[low + 1]!)) low++;
	if (!(lengths[low]! <= length && length < lengths[low + 1]!)) low = stretchWith(lengths, length);
	const span = lengths[low + 1]! - lengths[low]!;
	const wanted = length - lengths[low]!;
	let u = wanted / span;
	if (kinds[low] === LINE || kinds[low] === ARC) return low + u;
	const stretches = stretchesOf(curve, low);
	if (kinds[low] === RATIONAL || isSharp(stretches)) return low + parameterByStretches(stretches, wanted, 1e-13 * span);
	// Newton from the proportional guess, kept inside a shrinking bracket.
	const speed = speedOf(curve, low);
	let [a, b] = [0, 1];
	for (let i = 0; i < 60; i++) {
		const error = segmentLength(curve, low, 0, u) - wanted;
		if (Math.abs(error) <= 1e-13 * span) break;
		if (error > 0) b = u;
		else a = u;
		const next = u - error / speed(u);
		u = next > a && next < b ? next : (a + b) / 2;
	}
	return low + u;
}

/** A step of this share of a stretch is so short that four places measure it as well as sixteen do the stretch. */
const shortStep = 0.05;

/**
 * The parameter at a length from the start of a segment: Newton within the stretch in which it lies, from a guess that has the
 * right speed at both ends (inverse Hermite interpolation), and measuring only what each step adds.
 */
function parameterByStretches({ curve, segment, ends, lengths }: Stretches, wanted: number, tolerance: number): number {
	const speed = speedOf(curve, segment);
	const k = stretchWith(lengths, wanted);
	let [a, b] = [ends[k]!, ends[k + 1]!];
	const [width, length] = [b - a, lengths[k + 1]! - lengths[k]!];
	const t = (wanted - lengths[k]!) / length;
	const [first, last] = [length / speed(a), length / speed(b)];
	const isMonotone = first <= 3 * width && last <= 3 * width;
	let u = isMonotone ? a + t * (width * t * (3 - 2 * t) + (1 - t) * ((1 - t) * first - t * last)) : a + t * width;
	let upTo = lengths[k]! + gauss16(speed, a, u);
	for (let i = 0; i < 60; i++) {
		const error = upTo - wanted;
		if (Math.abs(error) <= tolerance) break;
		if (error > 0) b = u;
		else a = u;
		const step = u - error / speed(u);
		const next = step > a && step < b ? step : (a + b) / 2;
		upTo += Math.abs(next - u) <= shortStep * width ? gauss4(speed, u, next) : gauss16(speed, u, next);
		u = next;
	}
	return u;
}

/** The smallest box around one segment: [minX, minY, maxX, maxY]; for cubics and rational ones, the box of the control points. */
export function segmentBox(curve: Curve, segment: number): [number, number, number, number] {
	putSegmentBox(curve, segment, box, 0);
	return [box[0]!, box[1]!, box[2]!, box[3]!];
}

const box = new Float64Array(4);

/** The box around curves: [minX, minY, maxX, maxY]; undefined when there are none. */
export const extent = (curves: readonly Curve[]): [number, number, number, number] | undefined =>
	boxAround(boxesOf(curves).boxes);

/** The boxes of all segments of curves. */
export interface CurveBoxes {
	curves: readonly Curve[];
	/** minX, minY, maxX, maxY of every segment, as {@link segmentBox} has them, one curve after the other. */
	boxes: Float64Array;
	/** The first box of each curve, and the end of the last. */
	first: Uint32Array;
}

/** @param before those of curves before an edit, and the number of each curve among these, −1 for none: what is there already is taken from them */
export function boxesOf(curves: readonly Curve[], before?: { boxes: CurveBoxes; numbers: Int32Array }): CurveBoxes {
	const first = new Uint32Array(curves.length + 1);
	for (let c = 0; c < curves.length; c++) first[c + 1] = first[c]! + segmentCount(curves[c]!);
	const boxes = new Float64Array(4 * first[curves.length]!);
	for (let c = 0; c < curves.length; c++) {
		const q = before ? before.numbers[c]! : -1;
		const at = 4 * first[c]!;
		if (q < 0) for (let i = 0; i < segmentCount(curves[c]!); i++) putSegmentBox(curves[c]!, i, boxes, at + 4 * i);
		else {
			const { boxes: previous, first: starts } = before!.boxes;
			for (let k = 4 * starts[q]!, n = at; k < 4 * starts[q + 1]!; k++, n++) boxes[n] = previous[k]!;
		}
	}
	return { curves, boxes, first };
}

/** The box around some boxes of a list, four numbers each: [minX, minY, maxX, maxY]; undefined when there are none. */
export function boxAround(boxes: Float64Array, from = 0, to = boxes.length / 4): [number, number, number, number] | undefined {
	let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
	for (let k = 4 * from; k < 4 * to; k += 4) {
		if (boxes[k]! < minX) minX = boxes[k]!;
		if (boxes[k + 1]! < minY) minY = boxes[k + 1]!;
		if (boxes[k + 2]! > maxX) maxX = boxes[k + 2]!;
		if (boxes[k + 3]! > maxY) maxY = boxes[k + 3]!;
	}
	return minX <= maxX ? [minX, minY, maxX, maxY] : undefined;
}

/** Puts {@link segmentBox} into a list. */
function putSegmentBox({ kinds, data, control }: Curve, segment: number, into: Float64Array, at: number): void {
	const o = segment * STRIDE;
	into[at] = into[at + 2] = data[o]!;
	into[at + 1] = into[at + 3] = data[o + 1]!;
	widen(into, at, data[o + 2]!, data[o + 3]!);
	if (kinds[segment] === CUBIC) {
		widen(into, at, data[o + 4]!, data[o + 5]!);
		widen(into, at, data[o + 6]!, data[o + 7]!);
	} else if (kinds[segment] === RATIONAL) {
		const first = data[o + 4]!;
		for (let k = first; k <= first + 3 * data[o + 5]!; k += 3) widen(into, at, control[k]!, control[k + 1]!);
	} else if (kinds[segment] === ARC) {
		const cx = data[o + 4]!;
		const cy = data[o + 5]!;
		const radius = data[o + 6]!;
		const [start, sweep] = [data[o + 7]!, data[o + 8]!];
		const last = Math.max(start, start + sweep);
		for (let q = Math.ceil(Math.min(start, start + sweep) / (Math.PI / 2)); q * (Math.PI / 2) <= last; q++)
			widen(into, at, cx + radius * cos((q * Math.PI) / 2), cy + radius * sin((q * Math.PI) / 2));
	}
}

/** Widens a box of a list until it holds a point. */
function widen(boxes: Float64Array, at: number, x: number, y: number): void {
	if (x < boxes[at]!) boxes[at] = x;
	if (y < boxes[at + 1]!) boxes[at + 1] = y;
	if (x > boxes[at + 2]!) boxes[at + 2] = x;
	if (y > boxes[at + 3]!) boxes[at + 3] = y;
}

/**
 * Two points nearer than this are one: 1e-9 of the diagonal of the box, or 32 roundings of its
 * largest coordinate where that is more, as it is far from the origin.
 */
export const toleranceOfBox = ([minX, minY, maxX, maxY]: readonly [number, number, number, number]): number =>
	Math.max(
		1e-9 * hypot(maxX - minX, maxY - minY),
		32 * Number.EPSILON * Math.max(Math.abs(minX), Math.abs(minY), Math.abs(maxX), Math.abs(maxY))
	);
