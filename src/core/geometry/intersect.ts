import { atan2, cos, hypot, tan } from '../numeric/elementary.ts';
import { turn } from '../numeric/predicates.ts';
import { segmentRows } from './build.ts';
import {
	ARC,
	CUBIC,
	LINE,
	RATIONAL,
	segmentBox,
	segmentCurvature,
	segmentDerivative,
	segmentPoint,
	STRIDE,
	type Curve,
	type Point
} from './curve.ts';
import { cut } from './rational.ts';

/** Receives a meeting of two segments, by their local parameters. */
export type Hit = (u: number, v: number) => void;

/**
 * Finds where two segments meet: proper crossings, tangencies, and ends of one that lie on the
 * other within `tolerance`. A shared stretch (collinear lines, arcs of one circle) shows as the
 * ends of either that lie on the other. Hits may repeat; the arrangement merges them.
 */
export function intersectSegments(a: Curve, i: number, b: Curve, j: number, tolerance: number, hit: Hit): void {
	if (a.kinds[i] === LINE && b.kinds[j] === LINE) {
		const [o, r] = [i * STRIDE, j * STRIDE];
		const place = Math.max(sidesOf(a.data, o, b.data, r, tolerance), sidesOf(b.data, r, a.data, o, tolerance));
		if (place === APART) return;
		if (place === ACROSS) {
			crossLines(a.data, o, b.data, r, tolerance, hit);
			return;
		}
	}
	const ends: Meeting[] = [];
	endsOn(a, i, b, j, tolerance, (u, v) => ends.push({ u, v, rank: 0 }));
	endsOn(b, j, a, i, tolerance, (v, u) => ends.push({ u, v, rank: 0 }));
	const kindA = a.kinds[i]!;
	const kindB = b.kinds[j]!;
	const inner: Meeting[] = [];
	const keep: SmoothHit = (u, v, rank = 0) => inner.push({ u, v, rank: rank + 1 });
	if (kindA >= CUBIC || kindB >= CUBIC) {
		if (!overlap(a, i, b, j, ends, tolerance)) crossSmooth(a, i, b, j, tolerance, keep);
	} else if (kindA === LINE && kindB === LINE) crossLines(a.data, i * STRIDE, b.data, j * STRIDE, tolerance, keep);
	else if (kindA === LINE) crossLineArc(a, i, b, j, tolerance, keep);
	else if (kindB === LINE) crossLineArc(b, j, a, i, tolerance, (v, u) => keep(u, v));
	else crossArcs(a, i, b, j, tolerance, keep);
	for (const { u, v } of ends) hit(u, v);
	for (const { u, v } of contacts(a, i, b, j, ends, inner, tolerance)) hit(u, v);
}

/** A meeting of two segments; of several at one contact the one of lowest rank counts: an end that lies on the other, Newton's crossing, one by its sign, a closest approach. */
interface Meeting {
	u: number;
	v: number;
	rank: number;
}

/**
 * The contacts among the crossings found between the ends. Near a tangency a crossing is known no
 * better than to the square root of the rounding: a touch shows as two crossings a little apart,
 * or as one beside an end that lies on the other curve. Meetings between which the curves never
 * part are one contact, and the end is the place of it.
 */
function contacts(
	a: Curve,
	i: number,
	b: Curve,
	j: number,
	ends: readonly Meeting[],
	inner: Meeting[],
	tolerance: number
): Meeting[] {
	if (inner.length === 0) return inner;
	inner.sort((p, q) => p.u - q.u);
	const out: Meeting[] = [];
	for (let k = 0; k < inner.length; k++) {
		const group = [inner[k]!];
		while (k + 1 < inner.length && oneContact(a, i, b, j, inner[k]!, inner[k + 1]!, tolerance)) group.push(inner[++k]!);
		const atEnd = ends.some(
			(e) => oneContact(a, i, b, j, e, group[0]!, tolerance) || oneContact(a, i, b, j, e, group.at(-1)!, tolerance)
		);
		if (atEnd) continue;
		const rank = Math.min(...group.map((h) => h.rank));
		const best = group.filter((h) => h.rank === rank);
		out.push(best[best.length >> 1]!);
	}
	return out;
}

/** Whether two curves stay together all the way from one of their meetings to another. */
function oneContact(a: Curve, i: number, b: Curve, j: number, s: Meeting, t: Meeting, tolerance: number): boolean {
	return [0.5, 0.25, 0.75, 0.1, 0.9].every((f) => {
		const p = segmentPoint(a, i, s.u + f * (t.u - s.u));
		// Looked for between the two meetings, so that what comes back later to the same place is another contact.
		const v = s.v + f * (t.v - s.v);
		let q = segmentPoint(b, j, v);
		if (hypot(q.x - p.x, q.y - p.y) > tolerance) {
			const foot = nearestOn(b, j, p);
			if (foot < Math.min(s.v, t.v) || foot > Math.max(s.v, t.v)) return false;
			q = segmentPoint(b, j, foot);
		}
		return hypot(q.x - p.x, q.y - p.y) <= 4 * tolerance;
	});
}

/** Whether two segments lie on one another between the ends that they share: then those ends are all there is to find. */
function overlap(a: Curve, i: number, b: Curve, j: number, ends: readonly Meeting[], tolerance: number): boolean {
	const [from, to] = [Math.min(...ends.map((e) => e.u)), Math.max(...ends.map((e) => e.u))];
	if (!(to - from > 1e-6)) return false;
	return [0.13, 0.37, 0.5, 0.71, 0.94].every((f) => {
		const p = segmentPoint(a, i, from + f * (to - from));
		const q = segmentPoint(b, j, nearestOn(b, j, p));
		return hypot(q.x - p.x, q.y - p.y) <= tolerance;
	});
}

/** Ends of segment i of `a` that lie on segment j of `b`. */
function endsOn(a: Curve, i: number, b: Curve, j: number, tolerance: number, hit: Hit): void {
	const [minX, minY, maxX, maxY] = segmentBox(b, j);
	for (const u of [0, 1]) {
		const p = segmentPoint(a, i, u);
		if (p.x < minX - tolerance || p.x > maxX + tolerance || p.y < minY - tolerance || p.y > maxY + tolerance) continue;
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
		const u = ((p.x - data[o]!) * dx + (p.y - data[o + 1]!) * dy) / (dx * dx + dy * dy || 1);
		return Math.min(1, Math.max(0, u));
	}
	if (curve.kinds[segment] === ARC) return arcParameter(data, o, p.x, p.y);
	return nearestOnSmooth(curve, segment, p);
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

/** Every local minimum among samples is followed down by Newton's method on the foot-point condition. */
function nearestOnSmooth(curve: Curve, segment: number, p: Point): number {
	const steps = 16;
	const distance = new Float64Array(steps + 1);
	for (let k = 0; k <= steps; k++) {
		const q = segmentPoint(curve, segment, k / steps);
		distance[k] = hypot(q.x - p.x, q.y - p.y);
	}
	let best = 0;
	let bestDistance = Infinity;
	for (let k = 0; k <= steps; k++) {
		if ((k > 0 && distance[k - 1]! < distance[k]!) || (k < steps && distance[k + 1]! < distance[k]!)) continue;
		let u = k / steps;
		for (let n = 0; n < 30; n++) {
			const q = segmentPoint(curve, segment, u);
			const d = segmentDerivative(curve, segment, u);
			const speed = d.x * d.x + d.y * d.y;
			const bend = segmentCurvature(curve, segment, u);
			// d/du of (p − q)·q' is −|q'|² + (p − q)·q''; the part of q'' along q' does not matter at the foot.
			const normal = (p.y - q.y) * d.x - (p.x - q.x) * d.y;
			const slope = Math.max(0.2, 1 - bend * (normal / Math.sqrt(speed || 1)));
			const step = ((p.x - q.x) * d.x + (p.y - q.y) * d.y) / (speed * slope || 1);
			const next = Math.min(1, Math.max(0, u + step));
			const settled = Math.abs(next - u) < 1e-15;
			u = next;
			if (settled) break;
		}
		const q = segmentPoint(curve, segment, u);
		const found = hypot(q.x - p.x, q.y - p.y);
		if (found < bestDistance) [best, bestDistance] = [u, found];
	}
	return best;
}

/** How the ends of a line lie beside another one: on the two sides of it, near it, or both on one side; what matters more is larger. */
const [ACROSS, NEAR, APART] = [0, 1, 2];

/** How the ends of line q lie beside line p. */
function sidesOf(p: Float64Array, o: number, q: Float64Array, r: number, tolerance: number): number {
	const [x, y] = [p[o]!, p[o + 1]!];
	const dx = p[o + 2]! - x;
	const dy = p[o + 3]! - y;
	// Well above what the ends of lines that touch are off by.
	const near = 2 * tolerance * Math.sqrt(dx * dx + dy * dy);
	const c = dx * (q[r + 1]! - y) - dy * (q[r]! - x);
	const d = dx * (q[r + 3]! - y) - dy * (q[r + 2]! - x);
	if (!(Math.abs(c) > near && Math.abs(d) > near)) return NEAR;
	return c > 0 === d > 0 ? APART : ACROSS;
}

/** A proper crossing of two lines, decided by exact orientation tests. */
function crossLines(p: Float64Array, o: number, q: Float64Array, r: number, tolerance: number, hit: Hit): void {
	const [ax, ay, bx, by] = [p[o]!, p[o + 1]!, p[o + 2]!, p[o + 3]!];
	const [cx, cy, dx, dy] = [q[r]!, q[r + 1]!, q[r + 2]!, q[r + 3]!];
	const c = turn(ax, ay, bx, by, cx, cy);
	const d = turn(ax, ay, bx, by, dx, dy);
	if (c > 0 === d > 0 || c === 0 || d === 0) return;
	const a = turn(cx, cy, dx, dy, ax, ay);
	const b = turn(cx, cy, dx, dy, bx, by);
	if (a > 0 === b > 0 || a === 0 || b === 0) return;
	// Lines that lie on one another but for rounding cross anywhere; the ends of their shared stretch say all.
	const cross = Math.abs((bx - ax) * (dy - cy) - (by - ay) * (dx - cx));
	if (cross <= tolerance * Math.max(hypot(bx - ax, by - ay), hypot(dx - cx, dy - cy))) return;
	hit(a / (a - b), c / (c - d));
}

function crossLineArc(line: Curve, i: number, arc: Curve, j: number, tolerance: number, hit: Hit): void {
	const o = i * STRIDE;
	const r = j * STRIDE;
	const [x0, y0] = [line.data[o]!, line.data[o + 1]!];
	const dx = line.data[o + 2]! - x0;
	const dy = line.data[o + 3]! - y0;
	const length = hypot(dx, dy);
	if (length === 0) return;
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

/** A hit of smooth segments, with its rank after that of Newton's method (see {@link Meeting}). */
type SmoothHit = (u: number, v: number, rank?: number) => void;

/** A stretch of a segment as rational Bézier rows x, y, weight over the local parameters [from, to]. */
interface Stretch {
	rows: Float64Array;
	from: number;
	to: number;
	/** The arc that it is part of, if it is one. */
	arc?: { curve: Curve; segment: number };
}

/**
 * Where a segment crosses itself: it is cut into stretches that turn by less than a half turn,
 * which cannot cross themselves, and those are crossed with one another.
 */
export function selfCrossings(curve: Curve, segment: number, tolerance: number, hit: Hit): void {
	if (curve.kinds[segment] !== CUBIC && curve.kinds[segment] !== RATIONAL) return;
	if (curve.kinds[segment] === CUBIC && goesAhead(curve, segment)) return;
	const simple: Stretch[] = [];
	const divide = (s: Stretch, depth: number) => {
		if (turning(s.rows) < 2.5 || depth > 8) simple.push(s);
		else for (const half of halve(s)) divide(half, depth + 1);
	};
	divide({ rows: segmentRows(curve, segment), from: 0, to: 1 }, 0);
	for (let a = 0; a < simple.length; a++)
		for (let b = a + 1; b < simple.length; b++)
			crossStretches(curve, segment, simple[a]!, curve, segment, simple[b]!, tolerance, 0, (u, v) => {
				if (Math.abs(u - v) > 1e-6) hit(u, v);
			});
}

/** Whether a cubic goes on all the way in the direction from its start to its end, as all legs of its control polygon do. */
function goesAhead({ data }: Curve, segment: number): boolean {
	const o = segment * STRIDE;
	const dx = data[o + 2]! - data[o]!;
	const dy = data[o + 3]! - data[o + 1]!;
	return (
		(data[o + 4]! - data[o]!) * dx + (data[o + 5]! - data[o + 1]!) * dy > 0 &&
		(data[o + 6]! - data[o + 4]!) * dx + (data[o + 7]! - data[o + 5]!) * dy > 0 &&
		(data[o + 2]! - data[o + 6]!) * dx + (data[o + 3]! - data[o + 7]!) * dy > 0
	);
}

/** The sum of the turns of a control polygon, which the curve's own turning never exceeds. */
function turning(rows: Float64Array): number {
	let sum = 0;
	let [dx, dy] = [0, 0];
	for (let k = 3; k < rows.length; k += 3) {
		const [ex, ey] = [rows[k]! - rows[k - 3]!, rows[k + 1]! - rows[k - 2]!];
		if (ex === 0 && ey === 0) continue;
		if (dx !== 0 || dy !== 0) sum += Math.abs(atan2(dx * ey - dy * ex, dx * ex + dy * ey));
		[dx, dy] = [ex, ey];
	}
	return sum;
}

let steps = 0;

/** How many pairs of stretches of curved segments were held against one another in all; it counts the work, and only rises. */
export const stepsTaken = (): number => steps;

/**
 * Crossings of a smooth segment with anything: both are halved until they are nearly straight,
 * chords are crossed, and Newton's method finishes on the true curves (Sederberg & Nishita 1990
 * compare such schemes).
 */
function crossSmooth(a: Curve, i: number, b: Curve, j: number, tolerance: number, hit: SmoothHit): void {
	for (const s of stretches(a, i)) for (const t of stretches(b, j)) crossStretches(a, i, s, b, j, t, tolerance, 0, hit);
}

/** A segment as Bézier stretches; an arc in parts of at most 45°. */
function stretches(curve: Curve, segment: number): Stretch[] {
	if (curve.kinds[segment] !== ARC) return [{ rows: segmentRows(curve, segment), from: 0, to: 1 }];
	const parts = Math.ceil(Math.abs(curve.data[segment * STRIDE + 8]!) / (Math.PI / 4));
	return Array.from({ length: parts }, (_, k) => arcStretch(curve, segment, k / parts, (k + 1) / parts));
}

/** Part of an arc as a rational quadratic; exact, but for its parameter, which is why an arc is cut by angle. */
function arcStretch(curve: Curve, segment: number, from: number, to: number): Stretch {
	const [p, q] = [segmentPoint(curve, segment, from), segmentPoint(curve, segment, to)];
	const d = segmentDerivative(curve, segment, from);
	const half = (curve.data[segment * STRIDE + 8]! * (to - from)) / 2;
	const reach = ((to - from) * tan(half)) / (2 * half);
	const rows = Float64Array.of(p.x, p.y, 1, p.x + reach * d.x, p.y + reach * d.y, cos(half), q.x, q.y, 1);
	return { rows, from, to, arc: { curve, segment } };
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
	hit: SmoothHit
): void {
	steps++;
	const slack = tolerance + 1e-3 * Math.min(chord(s.rows), chord(t.rows));
	if (apart(s.rows, t.rows, slack)) return;
	const straightA = isStraight(s.rows, tolerance);
	const straightB = isStraight(t.rows, tolerance);
	if ((straightA && straightB) || depth > 40) {
		polish(a, i, s, b, j, t, tolerance, hit);
		return;
	}
	const halvesA = straightA ? [s] : halve(s);
	const halvesB = straightB ? [t] : halve(t);
	for (const p of halvesA) for (const q of halvesB) crossStretches(a, i, p, b, j, q, tolerance, depth + 1, hit);
}

const chord = (rows: Float64Array) => hypot(rows[rows.length - 3]! - rows[0]!, rows[rows.length - 2]! - rows[1]!);

function apart(p: Float64Array, q: Float64Array, slack: number): boolean {
	for (const k of [0, 1]) {
		let [lowP, highP, lowQ, highQ] = [Infinity, -Infinity, Infinity, -Infinity];
		for (let n = k; n < p.length; n += 3) {
			lowP = Math.min(lowP, p[n]!);
			highP = Math.max(highP, p[n]!);
		}
		for (let n = k; n < q.length; n += 3) {
			lowQ = Math.min(lowQ, q[n]!);
			highQ = Math.max(highQ, q[n]!);
		}
		if (lowP > highQ + slack || lowQ > highP + slack) return true;
	}
	return false;
}

function isStraight(rows: Float64Array, tolerance: number): boolean {
	let bend = 0;
	for (let k = 6; k < rows.length; k += 3)
		bend = Math.max(bend, hypot(rows[k - 6]! - 2 * rows[k - 3]! + rows[k]!, rows[k - 5]! - 2 * rows[k - 2]! + rows[k + 1]!));
	return bend <= Math.max(tolerance, 1e-3 * chord(rows));
}

function halve({ rows, from, to, arc }: Stretch): Stretch[] {
	const middle = (from + to) / 2;
	if (arc) return [arcStretch(arc.curve, arc.segment, from, middle), arcStretch(arc.curve, arc.segment, middle, to)];
	const [left, right] = cut(rows, 0.5);
	return [
		{ rows: left, from, to: middle },
		{ rows: right, from: middle, to }
	];
}

/** Crosses the chords of two nearly straight stretches and finishes by Newton's method; looks for a touch where they run alongside. */
function polish(a: Curve, i: number, s: Stretch, b: Curve, j: number, t: Stretch, tolerance: number, hit: SmoothHit): void {
	const [p, q] = [s.rows, t.rows];
	const [ax, ay] = [p.at(-3)! - p[0]!, p.at(-2)! - p[1]!];
	const [bx, by] = [q.at(-3)! - q[0]!, q.at(-2)! - q[1]!];
	const cross = ax * by - ay * bx;
	if (Math.abs(cross) < 0.02 * hypot(ax, ay) * hypot(bx, by) && mayTouch(p, q, tolerance)) {
		// Stretches that lie on one another cross nowhere and everywhere; their ends are found as ends.
		if (liesOn(a, i, s, b, j, t, tolerance) || liesOn(b, j, t, a, i, s, tolerance)) return;
		if (!crossAlongside(a, i, s, b, j, t, tolerance, hit)) touch(a, i, s, b, j, t, tolerance, (u, v) => hit(u, v, 2));
	}
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
	offer(a, i, u, b, j, v, tolerance, hit);
}

function offer(a: Curve, i: number, u: number, b: Curve, j: number, v: number, tolerance: number, hit: Hit): void {
	u = Math.min(1, Math.max(0, u));
	v = Math.min(1, Math.max(0, v));
	const x = segmentPoint(a, i, u);
	const y = segmentPoint(b, j, v);
	if (hypot(x.x - y.x, x.y - y.y) <= tolerance) hit(u, v);
}

/** Whether two nearly straight stretches can come within the tolerance: their chords do, but for how far they bend from them. */
function mayTouch(p: Float64Array, q: Float64Array, tolerance: number): boolean {
	const bend = 2e-3 * (chord(p) + chord(q)) + 4 * tolerance;
	const n = p.length;
	const m = q.length;
	const near = (x: number, y: number, r: Float64Array): boolean => {
		const [ax, ay] = [r[0]!, r[1]!];
		const [dx, dy] = [r.at(-3)! - ax, r.at(-2)! - ay];
		const f = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
		return hypot(ax + f * dx - x, ay + f * dy - y) <= bend;
	};
	return near(p[0]!, p[1]!, q) || near(p[n - 3]!, p[n - 2]!, q) || near(q[0]!, q[1]!, p) || near(q[m - 3]!, q[m - 2]!, p);
}

/** Whether both ends and the middle of a stretch lie on another one. */
function liesOn(a: Curve, i: number, s: Stretch, b: Curve, j: number, t: Stretch, tolerance: number): boolean {
	return [s.from, (s.from + s.to) / 2, s.to].every((u) => {
		const p = segmentPoint(a, i, u);
		const q = segmentPoint(b, j, footWithin(b, j, t, p));
		return hypot(q.x - p.x, q.y - p.y) <= tolerance;
	});
}

/** The parameter within a stretch at the foot of a point, by Newton's method from the foot on its chord. */
function footWithin(curve: Curve, segment: number, { rows, from, to }: Stretch, p: Point): number {
	const [dx, dy] = [rows.at(-3)! - rows[0]!, rows.at(-2)! - rows[1]!];
	const along = ((p.x - rows[0]!) * dx + (p.y - rows[1]!) * dy) / (dx * dx + dy * dy || 1);
	let v = from + Math.min(1, Math.max(0, along)) * (to - from);
	for (let n = 0; n < 8; n++) {
		const q = segmentPoint(curve, segment, v);
		const d = segmentDerivative(curve, segment, v);
		const step = ((p.x - q.x) * d.x + (p.y - q.y) * d.y) / (d.x * d.x + d.y * d.y || 1);
		const next = Math.min(to, Math.max(from, v + step));
		const settled = Math.abs(next - v) < 1e-14;
		v = next;
		if (settled) break;
	}
	return v;
}

/**
 * Crossings of two stretches that run alongside, at angles so small that their bend hides where
 * their chords would cross: the signed distance of one from the other is followed from sample to
 * sample, and every change of its sign is bisected. Returns whether there was one.
 */
function crossAlongside(
	a: Curve,
	i: number,
	s: Stretch,
	b: Curve,
	j: number,
	t: Stretch,
	tolerance: number,
	hit: SmoothHit
): boolean {
	const away = (u: number): number => {
		const p = segmentPoint(a, i, u);
		const v = footWithin(b, j, t, p);
		const q = segmentPoint(b, j, v);
		const d = segmentDerivative(b, j, v);
		return (d.x * (p.y - q.y) - d.y * (p.x - q.x)) / (hypot(d.x, d.y) || 1);
	};
	const samples = 8;
	let found = false;
	let [u, d] = [s.from, away(s.from)];
	for (let k = 1; k <= samples; k++) {
		const next = s.from + (k / samples) * (s.to - s.from);
		const e = away(next);
		if (d > 0 !== e > 0) {
			let [low, high] = [u, next];
			while (high - low > 1e-15) {
				const middle = (low + high) / 2;
				if (middle <= low || middle >= high) break;
				if (away(middle) > 0 === d > 0) low = middle;
				else high = middle;
			}
			offer(a, i, low, b, j, footWithin(b, j, t, segmentPoint(a, i, low)), tolerance, (m, n) => {
				found = true;
				hit(m, n, 1);
			});
		}
		[u, d] = [next, e];
	}
	return found;
}

/**
 * A tangency of two stretches that run alongside: the place where their distance is smallest, by
 * golden-section search. Stretches that lie on one another all the way do not touch, they overlap.
 */
function touch(a: Curve, i: number, s: Stretch, b: Curve, j: number, t: Stretch, tolerance: number, hit: Hit): void {
	const away = (u: number): number => {
		const p = segmentPoint(a, i, u);
		const q = segmentPoint(b, j, footWithin(b, j, t, p));
		return hypot(q.x - p.x, q.y - p.y);
	};
	const ratio = (Math.sqrt(5) - 1) / 2;
	let [low, high] = [s.from, s.to];
	let [m, n] = [high - ratio * (high - low), low + ratio * (high - low)];
	let [dm, dn] = [away(m), away(n)];
	for (let k = 0; k < 70 && high - low > 1e-14; k++) {
		if (dm <= dn) {
			[high, n, dn] = [n, m, dm];
			m = high - ratio * (high - low);
			dm = away(m);
		} else {
			[low, m, dm] = [m, n, dn];
			n = low + ratio * (high - low);
			dn = away(n);
		}
	}
	const u = (low + high) / 2;
	if (away(u) <= tolerance) offer(a, i, u, b, j, footWithin(b, j, t, segmentPoint(a, i, u)), tolerance, hit);
}
