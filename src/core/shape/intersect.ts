import { atan2, hypot } from '../numeric/elementary.ts';
import { turn } from '../numeric/predicates.ts';
import { ARC, CUBIC, LINE, segmentDerivative, segmentPoint, STRIDE, type Curve, type Point } from './curve.ts';

/** Receives a meeting of two segments, by their local parameters. */
export type Hit = (u: number, v: number) => void;

/**
 * Finds where two segments meet: proper crossings, tangencies, and ends of one that lie on the
 * other within `tolerance`. A shared stretch (collinear lines, arcs of one circle) shows as the
 * ends of either that lie on the other. Hits may repeat; the arrangement merges them.
 */
export function intersectSegments(a: Curve, i: number, b: Curve, j: number, tolerance: number, hit: Hit): void {
	endsOn(a, i, b, j, tolerance, (u, v) => hit(u, v));
	endsOn(b, j, a, i, tolerance, (v, u) => hit(u, v));
	const kindA = a.kinds[i]!;
	const kindB = b.kinds[j]!;
	if (kindA === CUBIC || kindB === CUBIC) crossCubic(a, i, b, j, tolerance, hit);
	else if (kindA === LINE && kindB === LINE) crossLines(a.data, i * STRIDE, b.data, j * STRIDE, hit);
	else if (kindA === LINE) crossLineArc(a, i, b, j, tolerance, hit);
	else if (kindB === LINE) crossLineArc(b, j, a, i, tolerance, (v, u) => hit(u, v));
	else crossArcs(a, i, b, j, tolerance, hit);
}

/** Ends of segment i of `a` that lie on segment j of `b`. */
function endsOn(a: Curve, i: number, b: Curve, j: number, tolerance: number, hit: Hit): void {
	for (const u of [0, 1]) {
		const p = segmentPoint(a, i, u);
		const v = nearestOn(b, j, p);
		const q = segmentPoint(b, j, v);
		if (hypot(q.x - p.x, q.y - p.y) <= tolerance) hit(u, v);
	}
}

/** The local parameter of the point of a segment nearest to `p`. */
export function nearestOn(curve: Curve, segment: number, p: Point): number {
	const { data } = curve;
	const o = segment * STRIDE;
	if (curve.kinds[segment] === LINE) {
		const dx = data[o + 2]! - data[o]!;
		const dy = data[o + 3]! - data[o + 1]!;
		const u = ((p.x - data[o]!) * dx + (p.y - data[o + 1]!) * dy) / (dx * dx + dy * dy);
		return Math.min(1, Math.max(0, u));
	}
	if (curve.kinds[segment] === ARC) return arcParameter(data, o, p.x, p.y);
	return nearestOnCubic(curve, segment, p);
}

/** The local parameter of an arc at the direction of (x, y) from its centre, clamped to the nearer end. */
function arcParameter(data: Float64Array, o: number, x: number, y: number): number {
	const sweep = data[o + 8]!;
	const full = 2 * Math.PI;
	let along = (atan2(y - data[o + 5]!, x - data[o + 4]!) - data[o + 7]!) * Math.sign(sweep);
	along -= Math.floor(along / full) * full;
	const span = Math.abs(sweep);
	if (along <= span) return along / span;
	return along - span < full - along ? 1 : 0;
}

function nearestOnCubic(curve: Curve, segment: number, p: Point): number {
	let best = 0;
	let bestDistance = Infinity;
	const steps = 12;
	for (let k = 0; k <= steps; k++) {
		const q = segmentPoint(curve, segment, k / steps);
		const distance = hypot(q.x - p.x, q.y - p.y);
		if (distance < bestDistance) {
			bestDistance = distance;
			best = k / steps;
		}
	}
	let u = best;
	for (let k = 0; k < 20; k++) {
		const q = segmentPoint(curve, segment, u);
		const d = segmentDerivative(curve, segment, u);
		const step = ((p.x - q.x) * d.x + (p.y - q.y) * d.y) / (d.x * d.x + d.y * d.y);
		const next = Math.min(1, Math.max(0, u + step));
		if (Math.abs(next - u) < 1e-15) break;
		u = next;
	}
	const q = segmentPoint(curve, segment, u);
	return hypot(q.x - p.x, q.y - p.y) <= bestDistance ? u : best;
}

/** A proper crossing of two lines, decided by exact orientation tests. */
function crossLines(p: Float64Array, o: number, q: Float64Array, r: number, hit: Hit): void {
	const [ax, ay, bx, by] = [p[o]!, p[o + 1]!, p[o + 2]!, p[o + 3]!];
	const [cx, cy, dx, dy] = [q[r]!, q[r + 1]!, q[r + 2]!, q[r + 3]!];
	const c = turn(ax, ay, bx, by, cx, cy);
	const d = turn(ax, ay, bx, by, dx, dy);
	if (c > 0 === d > 0 || c === 0 || d === 0) return;
	const a = turn(cx, cy, dx, dy, ax, ay);
	const b = turn(cx, cy, dx, dy, bx, by);
	if (a > 0 === b > 0 || a === 0 || b === 0) return;
	hit(a / (a - b), c / (c - d));
}

function crossLineArc(line: Curve, i: number, arc: Curve, j: number, tolerance: number, hit: Hit): void {
	const o = i * STRIDE;
	const r = j * STRIDE;
	const [x0, y0] = [line.data[o]!, line.data[o + 1]!];
	const dx = line.data[o + 2]! - x0;
	const dy = line.data[o + 3]! - y0;
	const length = hypot(dx, dy);
	const [cx, cy, radius] = [arc.data[r + 4]!, arc.data[r + 5]!, arc.data[r + 6]!];
	const along = ((cx - x0) * dx + (cy - y0) * dy) / length;
	const away = ((cx - x0) * dy - (cy - y0) * dx) / length;
	if (Math.abs(away) > radius + tolerance) return;
	const half = Math.sqrt(Math.max(0, radius * radius - away * away));
	for (const s of half <= tolerance ? [along] : [along - half, along + half]) {
		const u = s / length;
		if (u < 0 || u > 1) continue;
		offerOnArc(arc, r, x0 + u * dx, y0 + u * dy, tolerance, (v) => hit(u, v));
	}
}

function offerOnArc(arc: Curve, o: number, x: number, y: number, tolerance: number, hit: (v: number) => void): void {
	const v = arcParameter(arc.data, o, x, y);
	if (v === 0 || v === 1) {
		const k = o + 2 * v;
		if (hypot(arc.data[k]! - x, arc.data[k + 1]! - y) > tolerance) return;
	}
	hit(v);
}

function crossArcs(a: Curve, i: number, b: Curve, j: number, tolerance: number, hit: Hit): void {
	const o = i * STRIDE;
	const r = j * STRIDE;
	const [ax, ay, ra] = [a.data[o + 4]!, a.data[o + 5]!, a.data[o + 6]!];
	const [bx, by, rb] = [b.data[r + 4]!, b.data[r + 5]!, b.data[r + 6]!];
	const distance = hypot(bx - ax, by - ay);
	if (distance <= tolerance || distance > ra + rb + tolerance || distance < Math.abs(ra - rb) - tolerance) return;
	const along = (distance * distance + ra * ra - rb * rb) / (2 * distance);
	const height = Math.sqrt(Math.max(0, ra * ra - along * along));
	const ex = (bx - ax) / distance;
	const ey = (by - ay) / distance;
	for (const h of height <= tolerance ? [0] : [-height, height]) {
		const x = ax + along * ex - h * ey;
		const y = ay + along * ey + h * ex;
		offerOnArc(a, o, x, y, tolerance, (u) => offerOnArc(b, r, x, y, tolerance, (v) => hit(u, v)));
	}
}

/** A stretch of a segment as a Bézier cubic (x0 y0 … x3 y3) over the local parameters [from, to]. */
interface Stretch {
	points: number[];
	from: number;
	to: number;
}

/**
 * Crossings of a cubic with anything: both are halved until they are nearly straight, chords are
 * crossed, and Newton's method finishes on the true curves.
 */
function crossCubic(a: Curve, i: number, b: Curve, j: number, tolerance: number, hit: Hit): void {
	for (const s of stretches(a, i)) for (const t of stretches(b, j)) crossStretches(a, i, s, b, j, t, tolerance, 0, hit);
}

/** A segment as Bézier stretches; an arc in parts of at most 45°, near enough for bracketing. */
function stretches(curve: Curve, segment: number): Stretch[] {
	const { data } = curve;
	const o = segment * STRIDE;
	const [x0, y0, x1, y1] = [data[o]!, data[o + 1]!, data[o + 2]!, data[o + 3]!];
	if (curve.kinds[segment] === CUBIC)
		return [{ points: [x0, y0, data[o + 4]!, data[o + 5]!, data[o + 6]!, data[o + 7]!, x1, y1], from: 0, to: 1 }];
	if (curve.kinds[segment] === LINE) {
		const [dx, dy] = [(x1 - x0) / 3, (y1 - y0) / 3];
		return [{ points: [x0, y0, x0 + dx, y0 + dy, x1 - dx, y1 - dy, x1, y1], from: 0, to: 1 }];
	}
	const parts = Math.ceil(Math.abs(data[o + 8]!) / (Math.PI / 4));
	return Array.from({ length: parts }, (_, k) => {
		const [from, to] = [k / parts, (k + 1) / parts];
		const [p, q] = [segmentPoint(curve, segment, from), segmentPoint(curve, segment, to)];
		const [dp, dq] = [segmentDerivative(curve, segment, from), segmentDerivative(curve, segment, to)];
		const step = (to - from) / 3;
		return { points: [p.x, p.y, p.x + step * dp.x, p.y + step * dp.y, q.x - step * dq.x, q.y - step * dq.y, q.x, q.y], from, to };
	});
}

function crossStretches(
	a: Curve,
	i: number,
	s: Stretch,
	b: Curve,
	j: number,
	t: Stretch,
	tolerance: number,
	depth: number,
	hit: Hit
): void {
	const slack = tolerance + 1e-3 * Math.min(size(s), size(t));
	if (apart(s.points, t.points, slack)) return;
	const straightA = isStraight(s.points, tolerance);
	const straightB = isStraight(t.points, tolerance);
	if ((straightA && straightB) || depth > 40) {
		polish(a, i, s, b, j, t, tolerance, hit);
		return;
	}
	const halvesA = straightA ? [s] : halve(s);
	const halvesB = straightB ? [t] : halve(t);
	for (const p of halvesA) for (const q of halvesB) crossStretches(a, i, p, b, j, q, tolerance, depth + 1, hit);
}

const size = ({ points: p }: Stretch) => hypot(p[6]! - p[0]!, p[7]! - p[1]!);

function apart(p: number[], q: number[], slack: number): boolean {
	for (const k of [0, 1]) {
		const lowP = Math.min(p[k]!, p[2 + k]!, p[4 + k]!, p[6 + k]!);
		const highP = Math.max(p[k]!, p[2 + k]!, p[4 + k]!, p[6 + k]!);
		const lowQ = Math.min(q[k]!, q[2 + k]!, q[4 + k]!, q[6 + k]!);
		const highQ = Math.max(q[k]!, q[2 + k]!, q[4 + k]!, q[6 + k]!);
		if (lowP > highQ + slack || lowQ > highP + slack) return true;
	}
	return false;
}

function isStraight(p: number[], tolerance: number): boolean {
	const bendX = Math.max(Math.abs(p[0]! - 2 * p[2]! + p[4]!), Math.abs(p[2]! - 2 * p[4]! + p[6]!));
	const bendY = Math.max(Math.abs(p[1]! - 2 * p[3]! + p[5]!), Math.abs(p[3]! - 2 * p[5]! + p[7]!));
	return hypot(bendX, bendY) <= Math.max(tolerance, 1e-3 * hypot(p[6]! - p[0]!, p[7]! - p[1]!));
}

function halve({ points: p, from, to }: Stretch): Stretch[] {
	const left: number[] = [];
	const right: number[] = [];
	for (const k of [0, 1]) {
		const [p0, p1, p2, p3] = [p[k]!, p[2 + k]!, p[4 + k]!, p[6 + k]!];
		const [a, b, c] = [(p0 + p1) / 2, (p1 + p2) / 2, (p2 + p3) / 2];
		const [d, e] = [(a + b) / 2, (b + c) / 2];
		const f = (d + e) / 2;
		[left[k], left[2 + k], left[4 + k], left[6 + k]] = [p0, a, d, f];
		[right[k], right[2 + k], right[4 + k], right[6 + k]] = [f, e, c, p3];
	}
	const middle = (from + to) / 2;
	return [
		{ points: left, from, to: middle },
		{ points: right, from: middle, to }
	];
}

/** Crosses the chords of two nearly straight stretches and finishes by Newton's method. */
function polish(a: Curve, i: number, s: Stretch, b: Curve, j: number, t: Stretch, tolerance: number, hit: Hit): void {
	const p = s.points;
	const q = t.points;
	const [ax, ay] = [p[6]! - p[0]!, p[7]! - p[1]!];
	const [bx, by] = [q[6]! - q[0]!, q[7]! - q[1]!];
	const cross = ax * by - ay * bx;
	if (cross === 0) return;
	const [cx, cy] = [q[0]! - p[0]!, q[1]! - p[1]!];
	const f = (cx * by - cy * bx) / cross;
	const g = (cx * ay - cy * ax) / cross;
	if (f < -0.1 || f > 1.1 || g < -0.1 || g > 1.1) return;
	let u = s.from + f * (s.to - s.from);
	let v = t.from + g * (t.to - t.from);
	for (let k = 0; k < 30; k++) {
		const x = segmentPoint(a, i, u);
		const y = segmentPoint(b, j, v);
		const dx = segmentDerivative(a, i, u);
		const dy = segmentDerivative(b, j, v);
		const determinant = dx.x * dy.y - dx.y * dy.x;
		if (determinant === 0) break;
		const [ex, ey] = [y.x - x.x, y.y - x.y];
		const du = (ex * dy.y - ey * dy.x) / determinant;
		const dv = (ex * dx.y - ey * dx.x) / determinant;
		u += du;
		v += dv;
		if (Math.abs(du) + Math.abs(dv) < 1e-15) break;
	}
	if (!(u >= -1e-9 && u <= 1 + 1e-9 && v >= -1e-9 && v <= 1 + 1e-9)) return;
	u = Math.min(1, Math.max(0, u));
	v = Math.min(1, Math.max(0, v));
	const x = segmentPoint(a, i, u);
	const y = segmentPoint(b, j, v);
	if (hypot(x.x - y.x, x.y - y.y) <= tolerance) hit(u, v);
}
