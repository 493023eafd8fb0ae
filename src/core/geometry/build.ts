import { atan2, cos, hypot, sin, tan } from '../numeric/elementary.ts';
import { lengthened } from '../numeric/lengthened.ts';
import {
	ARC,
	arcOf,
	cornerTurn,
	CUBIC,
	LINE,
	putSegmentDerivative,
	RATIONAL,
	segmentDerivative,
	segmentLength,
	segmentPoint,
	STRIDE,
	type Segments,
	toleranceOfBox,
	type Curve,
	type Point
} from './curve.ts';
import { cut, rationalPart } from './rational.ts';
import { UserError } from '../text/user-error.ts';

/** Which joints of a chain are corners, by the segments that start there. */
export interface Corners {
	/** The turn, in radians, from which a joint is one; that of {@link cornerTurn} where it is not given. */
	turn?: number;
	/** These alone, whatever the turn. */
	only?: readonly number[];
	/** These too. */
	also?: readonly number[];
}

const sorted = (joints: readonly number[]): number[] => [...new Set(joints)].sort((a, b) => a - b);

/** A chain of segments in the making: add segments end to end, then {@link CurveBuilder.build}. */
export class CurveBuilder {
	private readonly kinds: number[] = [];
	private data = new Float64Array(4 * STRIDE);
	private readonly control: number[] = [];

	get count(): number {
		return this.kinds.length;
	}

	line(a: Point, b: Point): this {
		return this.lineTo(a.x, a.y, b.x, b.y);
	}

	private lineTo(ax: number, ay: number, bx: number, by: number): this {
		const at = this.next(LINE);
		this.data[at] = ax;
		this.data[at + 1] = ay;
		this.data[at + 2] = bx;
		this.data[at + 3] = by;
		return this;
	}

	/** Lines through points, and back to the first where it is closed. */
	lines(x: Float64Array, y: Float64Array, closed: boolean): this {
		for (let i = 1; i < x.length; i++) this.lineTo(x[i - 1]!, y[i - 1]!, x[i]!, y[i]!);
		return closed ? this.lineTo(x.at(-1)!, y.at(-1)!, x[0]!, y[0]!) : this;
	}

	/** An arc; its ends are given too, so that they come out exactly. */
	arc(a: Point, b: Point, centre: Point, radius: number, from: number, sweep: number): this {
		return this.push(ARC, [a.x, a.y, b.x, b.y, centre.x, centre.y, radius, from, sweep]);
	}

	/**
	 * A cubic; one whose points all lie on a line is that line, back and forth where it turns round. An inner point that differs
	 * from its end by rounding is that end: the direction there is that to the other one.
	 */
	cubic(a: Point, inner: Point, other: Point, b: Point): this {
		const near = oneWithin * Math.max(...[inner, other, b].map((r) => hypot(r.x - a.x, r.y - a.y)));
		const p = hypot(inner.x - a.x, inner.y - a.y) <= near ? a : inner;
		const q = hypot(other.x - b.x, other.y - b.y) <= near ? b : other;
		const straight = straightStops(a, p, q, b);
		if (!straight) return this.push(CUBIC, [a.x, a.y, b.x, b.y, p.x, p.y, q.x, q.y, 0]);
		const at = (u: number): Point => {
			const v = 1 - u;
			const mix = (k: 'x' | 'y') => v * v * v * a[k] + 3 * v * v * u * p[k] + 3 * v * u * u * q[k] + u * u * u * b[k];
			return { x: mix('x'), y: mix('y') };
		};
		const points = [a, ...straight.map(at), b];
		for (let k = 0; k + 1 < points.length; k++)
			if (points[k]!.x !== points[k + 1]!.x || points[k]!.y !== points[k + 1]!.y) this.line(points[k]!, points[k + 1]!);
		return this;
	}

	/** A rational Bézier curve from its rows x, y, weight. Plain cubics and lines are stored as what they are. */
	rational(rows: ArrayLike<number>): this {
		const degree = rows.length / 3 - 1;
		const at = (k: number): Point => ({ x: rows[3 * k]!, y: rows[3 * k + 1]! });
		let plain = true;
		for (let k = 0; k <= degree; k++) plain &&= rows[3 * k + 2] === rows[2];
		if (plain && degree === 1) return this.line(at(0), at(1));
		if (plain && degree === 3) return this.cubic(at(0), at(1), at(2), at(3));
		if (plain && degree === 2) {
			// Whether it is a line is decided for cubics; this is the same curve as one.
			const third = (k: number): Point => ({ x: (at(k).x + 2 * at(1).x) / 3, y: (at(k).y + 2 * at(1).y) / 3 });
			const stops = straightStops(at(0), third(0), third(2), at(2));
			if (stops) return this.cubic(at(0), third(0), third(2), at(2));
		}
		const [a, b] = [at(0), at(degree)];
		this.push(RATIONAL, [a.x, a.y, b.x, b.y, this.control.length, degree, 0, 0, 0]);
		for (let k = 0; k < rows.length; k++) this.control.push(rows[k]!);
		return this;
	}

	/** A stretch of a segment of another curve, u1 before u0 when it is to run backwards. */
	stretch(curve: Curve, segment: number, u0: number, u1: number): this {
		const [a, b] = [segmentPoint(curve, segment, u0), segmentPoint(curve, segment, u1)];
		if (curve.kinds[segment] === LINE) return this.line(a, b);
		if (curve.kinds[segment] === ARC) {
			const { centre, radius, from, sweep } = arcOf(curve, segment);
			return this.arc(a, b, centre, radius, from + u0 * sweep, (u1 - u0) * sweep);
		}
		const rows = segmentRows(curve, segment);
		const part = rationalPart(rows, Math.min(u0, u1), Math.max(u0, u1));
		const turned = u1 < u0 ? reversedRows(part) : part;
		const n = turned.length;
		[turned[0], turned[1], turned[n - 3], turned[n - 2]] = [a.x, a.y, b.x, b.y];
		return this.rational(turned);
	}

	/** All of another curve, or the stretch between two of its parameters; t1 before t0 runs backwards. */
	along(curve: Curve, t0 = 0, t1 = curve.kinds.length): this {
		const count = curve.kinds.length;
		const [low, high] = [Math.min(t0, t1), Math.max(t0, t1)];
		const ranges: [number, number, number][] = [];
		for (let t = low; t < high;) {
			const base = Math.floor(t);
			const next = Math.min(base + 1, high);
			ranges.push([((base % count) + count) % count, t - base, next - base]);
			t = next;
		}
		if (t1 < t0) ranges.reverse();
		for (const [segment, u0, u1] of ranges) this.stretch(curve, segment, t1 < t0 ? u1 : u0, t1 < t0 ? u0 : u1);
		return this;
	}

	/** Whether the chain ends where it starts, but for rounding. */
	get endsAtStart(): boolean {
		const { data, count } = this;
		if (count === 0) return false;
		const end = (count - 1) * STRIDE;
		return hypot(data[end + 2]! - data[0]!, data[end + 3]! - data[1]!) <= this.rounding();
	}

	/** Goes back to the start: by a line, unless it is there but for rounding. */
	close(): this {
		const { data, count } = this;
		const end = (count - 1) * STRIDE;
		return count === 0 || this.endsAtStart ? this : this.lineTo(data[end + 2]!, data[end + 3]!, data[0]!, data[1]!);
	}

	/**
	 * The chain as a curve. Segments shorter than the rounding of its numbers are left out, and what they joined is joined; a
	 * closed chain ends exactly where it starts.
	 *
	 * @param corners which joints are corners
	 */
	build(name: string, closed: boolean, { turn = cornerTurn, only, also = [] }: Corners = {}): Curve {
		let lengths = this.segmentLengths();
		const numberOf = this.leaveOutShort(closed, lengths);
		if (numberOf) lengths = this.segmentLengths();
		const joints = (list: readonly number[]) => (numberOf ? list.map((k) => numberOf[k]!) : list);
		const count = this.kinds.length;
		const curve: Curve = {
			name,
			closed,
			kinds: new Uint8Array(this.kinds),
			data: this.data.slice(0, count * STRIDE),
			control: new Float64Array(this.control),
			lengths: new Float64Array(count + 1),
			corners: []
		};
		for (let i = 0; i < count; i++) curve.lengths[i + 1] = curve.lengths[i]! + lengths[i]!;
		if (only) {
			curve.corners = sorted(joints(only));
			return curve;
		}
		for (let i = closed ? 0 : 1; i < count; i++) {
			const before = (i + count - 1) % count;
			putTangent(curve, before, 1, arriving);
			putTangent(curve, i, 0, leaving);
			const [ux, uy, vx, vy] = [arriving[0]!, arriving[1]!, leaving[0]!, leaving[1]!];
			if (Math.abs(atan2(ux * vy - uy * vx, ux * vx + uy * vy)) > turn) curve.corners.push(i);
		}
		if (also.length > 0) curve.corners = sorted([...curve.corners, ...joints(also)]);
		return curve;
	}

	private segmentLengths(): number[] {
		const chain: Segments = { kinds: Uint8Array.from(this.kinds), data: this.data, control: Float64Array.from(this.control) };
		return this.kinds.map((_, i) => segmentLength(chain, i, 0, 1));
	}

	/** Two points of the chain nearer than this are one: {@link toleranceOfBox}. */
	private rounding(): number {
		const { data, kinds } = this;
		const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
		const take = (x: number, y: number, around: number) => {
			if (x - around < box[0]) box[0] = x - around;
			if (y - around < box[1]) box[1] = y - around;
			if (x + around > box[2]) box[2] = x + around;
			if (y + around > box[3]) box[3] = y + around;
		};
		for (let i = 0; i < kinds.length; i++) {
			const o = i * STRIDE;
			take(data[o]!, data[o + 1]!, 0);
			take(data[o + 2]!, data[o + 3]!, 0);
			// An arc lies within its radius of its middle, and no farther than its length from its start.
			if (kinds[i] === ARC) take(data[o]!, data[o + 1]!, data[o + 6]! * Math.min(1, Math.abs(data[o + 8]!)));
			if (kinds[i] === CUBIC) for (const k of [4, 6]) take(data[o + k]!, data[o + k + 1]!, 0);
		}
		return toleranceOfBox(box);
	}

	/** Leaves segments out that are shorter than the rounding; returns the number of the joint that each joint became, if there are any. */
	private leaveOutShort(closed: boolean, lengths: readonly number[]): number[] | undefined {
		const { kinds, data } = this;
		const count = kinds.length;
		const rounding = this.rounding();
		const isShort = lengths.map((length) => length <= rounding);
		const kept = [...kinds.keys()].filter((i) => !isShort[i]);
		const end = (count - 1) * STRIDE;
		const [startX, startY] = [data[0]!, data[1]!];
		const [endX, endY] = closed && this.endsAtStart ? [startX, startY] : [data[end + 2]!, data[end + 3]!];
		if (count < 2 || kept.length === 0) return undefined;
		if (kept.length === count) {
			if (closed) this.putEnd(count - 1, 1, endX, endY);
			return undefined;
		}
		const numberOf: number[] = [];
		let next = 0;
		for (let i = 0; i < count; i++) {
			numberOf.push(closed ? next % kept.length : Math.min(next, kept.length - 1));
			if (!isShort[i]) next++;
		}
		this.putEnd(kept[0]!, 0, startX, startY);
		for (let k = 1; k < kept.length; k++) {
			const before = kept[k - 1]! * STRIDE;
			this.putEnd(kept[k]!, 0, data[before + 2]!, data[before + 3]!);
		}
		this.putEnd(kept.at(-1)!, 1, endX, endY);
		kept.forEach((i, k) => {
			kinds[k] = kinds[i]!;
			data.copyWithin(k * STRIDE, i * STRIDE, (i + 1) * STRIDE);
		});
		kinds.length = kept.length;
		return numberOf;
	}

	/** Moves the start (0) or end (1) of a segment by a rounding. */
	private putEnd(segment: number, end: 0 | 1, x: number, y: number): void {
		const { data, control } = this;
		const at = segment * STRIDE;
		data[at + 2 * end] = x;
		data[at + 2 * end + 1] = y;
		if (this.kinds[segment] !== RATIONAL) return;
		const row = data[at + 4]! + 3 * end * data[at + 5]!;
		[control[row], control[row + 1]] = [x, y];
	}

	private push(kind: number, numbers: number[]): this {
		const at = this.next(kind);
		this.data.set(numbers, at);
		return this;
	}

	/** Where the numbers of one more segment stand, which are zero. */
	private next(kind: number): number {
		const at = this.kinds.length * STRIDE;
		if (at + STRIDE > this.data.length) this.data = lengthened(this.data, 2 * this.data.length);
		this.kinds.push(kind);
		return at;
	}
}

const [arriving, leaving] = [new Float64Array(2), new Float64Array(2)];

/** Puts x and y of {@link tangent} into a list of two. */
function putTangent(curve: Curve, segment: number, u: 0 | 1, into: Float64Array): void {
	if (curve.kinds[segment] === LINE) {
		putSegmentDerivative(curve, segment, u, into);
		const speed = hypot(into[0]!, into[1]!);
		if (speed > 0) {
			into[0]! /= speed;
			into[1]! /= speed;
			return;
		}
	}
	const { x, y } = tangent(curve, segment, u);
	into[0] = x;
	into[1] = y;
}

/** Points of a segment that are nearer than this share of its size are one. */
const oneWithin = 1e-9;

/** For a cubic whose points lie on one line, the parameters at which it turns round; undefined for any other. */
function straightStops(a: Point, p: Point, q: Point, b: Point): number[] | undefined {
	const far = [p, q, b].reduce((m, r) => (hypot(r.x - a.x, r.y - a.y) > hypot(m.x - a.x, m.y - a.y) ? r : m));
	const [dx, dy] = [far.x - a.x, far.y - a.y];
	const size = hypot(dx, dy);
	if (size === 0) return undefined;
	const off = (r: Point) => Math.abs(dx * (r.y - a.y) - dy * (r.x - a.x)) / size;
	if ([p, q, b].some((r) => off(r) > 1e-14 * size)) return undefined;
	// The derivative along the line is a quadratic in Bernstein form.
	const along = (r: Point, t: Point) => (t.x - r.x) * dx + (t.y - r.y) * dy;
	const [d0, d1, d2] = [along(a, p), along(p, q), along(q, b)];
	const [A, B, C] = [d0 - 2 * d1 + d2, 2 * (d1 - d0), d0];
	const root = B * B - 4 * A * C;
	if (Math.abs(A) < 1e-14 * size * size) return B === 0 ? [] : [-C / B].filter((u) => u > 0 && u < 1);
	if (root <= 0) return [];
	return [(-B - Math.sqrt(root)) / (2 * A), (-B + Math.sqrt(root)) / (2 * A)].filter((u) => u > 0 && u < 1).sort((u, v) => u - v);
}

/**
 * The unit direction in which a segment leaves its start (u = 0) or arrives at u, also where its
 * derivative vanishes: there it is the direction to the nearest control point that stands apart.
 */
export function tangent(curve: Curve, segment: number, u: number, leaving = u === 0): Point {
	const d = segmentDerivative(curve, segment, u);
	const speed = hypot(d.x, d.y);
	const size = curve.lengths[segment + 1]! - curve.lengths[segment]!;
	if (speed > 1e-9 * size) return { x: d.x / speed, y: d.y / speed };
	let rows = segmentRows(curve, segment);
	if (u > 0 && u < 1) rows = cut(rows, u)[leaving ? 1 : 0];
	const from = leaving ? 0 : rows.length - 3;
	for (let k = 1; k < rows.length / 3; k++) {
		const other = leaving ? 3 * k : from - 3 * k;
		const [x, y] = [rows[other]! - rows[from]!, rows[other + 1]! - rows[from + 1]!];
		const apart = hypot(x, y) * (leaving ? 1 : -1);
		if (Math.abs(apart) > 1e-9 * size) return { x: x / apart, y: y / apart };
	}
	return { x: 0, y: 0 };
}

/** A line, cubic or rational segment as rational Bézier rows. */
export function segmentRows(curve: Curve, segment: number): Float64Array {
	const { data, control, kinds } = curve;
	const o = segment * STRIDE;
	const d = data.subarray(o, o + STRIDE);
	if (kinds[segment] === RATIONAL) return control.slice(d[4], d[4]! + 3 * (d[5]! + 1));
	if (kinds[segment] === LINE) return Float64Array.of(d[0]!, d[1]!, 1, d[2]!, d[3]!, 1);
	return Float64Array.of(d[0]!, d[1]!, 1, d[4]!, d[5]!, 1, d[6]!, d[7]!, 1, d[2]!, d[3]!, 1);
}

function reversedRows(rows: Float64Array): Float64Array {
	const out = new Float64Array(rows.length);
	for (let k = 0; k < rows.length; k += 3) out.set(rows.subarray(k, k + 3), rows.length - 3 - k);
	return out;
}

/** A straight line. */
export const lineCurve = (name: string, a: Point, b: Point): Curve => new CurveBuilder().line(a, b).build(name, false);

/** A polyline through `x`, `y`; `closed` adds the segment from the last to the first. */
export function polylineCurve(name: string, x: Float64Array, y: Float64Array, closed: boolean, turn = cornerTurn): Curve {
	return new CurveBuilder().lines(x, y, closed).build(name, closed, { turn });
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
	return new CurveBuilder().arc(a, b, centre, hypot(a.x - centre.x, a.y - centre.y), from, sweep).build(name, false);
}

/** A full circle, counter-clockwise from its rightmost point. */
export function circleCurve(name: string, centre: Point, radius: number): Curve {
	const a = { x: centre.x + radius, y: centre.y };
	return new CurveBuilder().arc(a, a, centre, radius, 0, 2 * Math.PI).build(name, true);
}

/**
 * An ellipse, or the arc of it between two of its eccentric angles, as exact rational quadratics
 * of at most a quarter turn each.
 *
 * @param u, v the two half-axes as vectors: the curve is centre + u cos t + v sin t
 */
export function ellipseCurve(name: string, centre: Point, u: Point, v: Point, from = 0, sweep = 2 * Math.PI): Curve {
	const parts = Math.ceil(Math.abs(sweep) / (Math.PI / 2) - 1e-9);
	const step = sweep / parts;
	const closed = Math.abs(Math.abs(sweep) - 2 * Math.PI) < 1e-12;
	const at = (t: number): Point => ({ x: centre.x + u.x * cos(t) + v.x * sin(t), y: centre.y + u.y * cos(t) + v.y * sin(t) });
	const builder = new CurveBuilder();
	const stops = Array.from({ length: parts + 1 }, (_, k) => (closed && k === parts ? at(from) : at(from + k * step)));
	for (let k = 0; k < parts; k++) {
		const [t, a, b] = [from + k * step, stops[k]!, stops[k + 1]!];
		// The middle control point is where the end tangents meet; its weight is cos(step/2) (Farin 2002, 12.4).
		const reach = tan(step / 2);
		const m = { x: a.x + reach * (v.x * cos(t) - u.x * sin(t)), y: a.y + reach * (v.y * cos(t) - u.y * sin(t)) };
		builder.rational([a.x, a.y, 1, m.x, m.y, cos(step / 2), b.x, b.y, 1]);
	}
	return builder.build(name, closed);
}

/**
 * A chain of cubics from their end points and inner Bézier points, given as they stand in
 * {@link Curve.data} but four inner numbers in a row per segment.
 */
export function cubicCurve(name: string, x: Float64Array, y: Float64Array, inner: Float64Array, closed: boolean): Curve {
	const builder = new CurveBuilder();
	for (let i = 0; i < inner.length / 4; i++) {
		const j = (i + 1) % x.length;
		builder.cubic(
			{ x: x[i]!, y: y[i]! },
			{ x: inner[4 * i]!, y: inner[4 * i + 1]! },
			{ x: inner[4 * i + 2]!, y: inner[4 * i + 3]! },
			{ x: x[j]!, y: y[j]! }
		);
	}
	return builder.build(name, closed);
}

/** Pieces of a degree above 3 have no closed form for anything: they take many times as long as cubics. */
const mostOfHighDegree = 10_000;

/**
 * A non-uniform rational B-spline as Bézier pieces, by raising every inner knot to the full
 * multiplicity (Boehm 1980).
 *
 * @param knots ascending, one per control point plus degree plus one
 * @throws RangeError when the numbers do not fit together
 */
export function bsplineCurve(
	name: string,
	degree: number,
	points: readonly Point[],
	weights: readonly number[],
	knots: readonly number[]
): Curve {
	const p = degree;
	const n = points.length;
	if (!(Number.isInteger(p) && p >= 1 && p <= 5)) throw new UserError(`the degree is a whole number from 1 to 5, found ${p}`);
	if (p > 3 && n > mostOfHighDegree)
		throw new UserError(
			`a B-spline of degree ${p} has at most ${mostOfHighDegree} control points, found ${n}; lower its degree to 3`
		);
	if (n <= p) throw new UserError(`degree ${p} needs at least ${p + 1} control points, found ${n}`);
	if (knots.length !== n + p + 1)
		throw new UserError(`${n} control points of degree ${p} need ${n + p + 1} knots, found ${knots.length}`);
	if (knots.some((k, i) => i > 0 && k < knots[i - 1]!)) throw new UserError('knots never go down');
	if (weights.length !== n || weights.some((w) => !(w > 0)))
		throw new UserError(`${n} control points need ${n} weights above zero`);
	// Seen from the first point, so that a curve far from the origin loses no digit.
	const origin = points[0]!;
	const [first, last] = [knots[p]!, knots[n]!];
	if (!(last > first)) throw new UserError('the knots leave no curve between them');
	const multiplicity = new Map<number, number>();
	for (const u of knots) multiplicity.set(u, (multiplicity.get(u) ?? 0) + 1);
	const distinct = [...multiplicity.keys()].filter((u) => u >= first && u <= last);
	// Inserted in ascending order, a knot changes only the rows just before it: what stands further on
	// waits, so that each insertion takes a bounded time.
	const rows: number[][] = [];
	const t: number[] = [];
	const rowsAhead = points.map((q, k) => [(q.x - origin.x) * weights[k]!, (q.y - origin.y) * weights[k]!, weights[k]!]).reverse();
	const knotsAhead = [...knots].reverse();
	const reach = (index: number) => {
		while (rows.length <= index && rowsAhead.length > 0) rows.push(rowsAhead.pop()!);
		while (t.length <= index + p && knotsAhead.length > 0) t.push(knotsAhead.pop()!);
	};
	let span = p;
	reach(span + 1);
	const insert = (u: number) => {
		while (span + 1 < rows.length && t[span + 1]! <= u) reach(++span + 1);
		const mixed: number[][] = [];
		for (let i = span - p + 1; i <= span; i++) {
			const f = (u - t[i]!) / (t[i + p]! - t[i]!);
			mixed.push(rows[i]!.map((r, c) => f * r + (1 - f) * rows[i - 1]![c]!));
		}
		rows.splice(span - p + 1, p - 1, ...mixed);
		t.splice(span + 1, 0, u);
	};
	for (const u of distinct) for (let have = multiplicity.get(u)!; have < p; have++) insert(u);
	reach(Infinity);
	const builder = new CurveBuilder();
	for (let d = 0, after = 0; d + 1 < distinct.length; d++) {
		while (t[after]! <= distinct[d]!) after++;
		const start = after - 1 - p;
		const piece = rows.slice(start, start + p + 1).flatMap(([x, y, w]) => [origin.x + x! / w!, origin.y + y! / w!, w!]);
		builder.rational(piece);
	}
	return builder.build(name, builder.endsAtStart);
}

/** A curve given by formulas: its point at t with first and second derivatives. */
export type Formula = (t: number) => { x: number; y: number; dx: number; dy: number; ddx: number; ddy: number };

/**
 * An analytic curve as quintics that share its point, first and second derivatives at their ends
 * (Hermite interpolation; the error falls with the sixth power of the step), halved until they are
 * within `tolerance` of it.
 *
 * @throws RangeError when it cannot be followed, at a jump or a pole
 */
export function formulaCurve(name: string, formula: Formula, from: number, to: number, tolerance: number): Curve {
	const builder = new CurveBuilder();
	const quintic = (a: number, b: number): number[] => {
		const h = b - a;
		const [p, q] = [formula(a), formula(b)];
		const row = (k: 'x' | 'y'): number[] => {
			const [d, dd] = [`d${k}`, `dd${k}`] as ['dx', 'ddx'] | ['dy', 'ddy'];
			const [p1, q1] = [(h * p[d]) / 5, (h * q[d]) / 5];
			const [p2, q2] = [(h * h * p[dd]) / 20, (h * h * q[dd]) / 20];
			return [p[k], p[k] + p1, p[k] + 2 * p1 + p2, q[k] - 2 * q1 + q2, q[k] - q1, q[k]];
		};
		const [x, y] = [row('x'), row('y')];
		return x.flatMap((v, k) => [v, y[k]!, 1]);
	};
	const off = (rows: number[], a: number, b: number): number => {
		let farthest = 0;
		for (const f of [0.25, 0.5, 0.75]) {
			const p = formula(a + f * (b - a));
			let [x, y] = [0, 0];
			const binomial = [1, 5, 10, 10, 5, 1];
			let power = 1;
			for (let k = 0; k <= 5; k++) {
				let rest = 1;
				for (let m = k; m < 5; m++) rest *= 1 - f;
				x += binomial[k]! * power * rest * rows[3 * k]!;
				y += binomial[k]! * power * rest * rows[3 * k + 1]!;
				power *= f;
			}
			farthest = Math.max(farthest, hypot(x - p.x, y - p.y));
		}
		return farthest;
	};
	const follow = (a: number, b: number, depth: number): void => {
		const rows = quintic(a, b);
		if (off(rows, a, b) <= tolerance && depth >= 2) {
			builder.rational(rows);
			return;
		}
		if (depth > 14 || builder.count > 20_000)
			throw new UserError(`the formula cannot be followed near t = ${Number(a.toPrecision(6))}; does it jump there?`);
		const middle = (a + b) / 2;
		follow(a, middle, depth + 1);
		follow(middle, b, depth + 1);
	};
	follow(from, to, 0);
	const [p, q] = [formula(from), formula(to)];
	return builder.build(name, hypot(p.x - q.x, p.y - q.y) <= tolerance);
}
