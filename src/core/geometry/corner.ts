import { atan2, hypot, tan } from '../numeric/elementary.ts';
import { CurveBuilder, lineCurve, tangent } from './build.ts';
import {
	curveLength,
	lengthAt,
	locate,
	parameterAtLength,
	pointAt,
	segmentCount,
	segmentCurvature,
	segmentDerivative,
	type Curve,
	type Point
} from './curve.ts';
import { meetings } from './meet.ts';
import { partCurve } from './transform.ts';
import { UserError } from '../text/user-error.ts';

/** What rounding or bevelling a corner leaves: both curves cut short, and what joins them. */
export interface CornerCut {
	first: Curve;
	second: Curve;
	between: Curve;
}

/** One of the two curves at a corner: the parameter of the corner, and which way the kept part runs from there. */
interface Arm {
	curve: Curve;
	at: number;
	way: 1 | -1;
}

/** Both arms of the corner of two curves: at the ends that meet, or where they cross, each curve keeping its longer part. */
function arms(a: Curve, b: Curve, tolerance: number, near?: Point): [Arm, Arm] {
	const places = meetings(a, b, tolerance);
	if (places.length === 0) throw new UserError(`“${a.name}” and “${b.name}” do not meet`);
	if (places.length > 1 && !near)
		throw new UserError(
			`“${a.name}” and “${b.name}” meet ${places.length} times; say where with “near (${places.map((p) => `${round(p.x)}, ${round(p.y)}`)[0]})”`
		);
	const place = near
		? places.reduce((p, q) => (hypot(p.x - near.x, p.y - near.y) <= hypot(q.x - near.x, q.y - near.y) ? p : q))
		: places[0]!;
	const arm = (curve: Curve, at: number): Arm => ({ curve, at, way: lengthAt(curve, at) < curveLength(curve) / 2 ? 1 : -1 });
	return [arm(a, place.s), arm(b, place.t)];
}

const round = (v: number) => Number(v.toPrecision(6));

/** The arm's unit direction away from the corner at a distance along it, its point and its signed curvature in that direction. */
function along({ curve, at, way }: Arm, distance: number): { p: Point; d: Point; bend: number } | undefined {
	const length = lengthAt(curve, at) + way * distance;
	if (length < 0 || length > curveLength(curve)) return undefined;
	const t = parameterAtLength(curve, length);
	const { segment, u } = locate(curve, t);
	const d = segmentDerivative(curve, segment, u);
	const speed = hypot(d.x, d.y) || 1;
	return {
		p: pointAt(curve, t),
		d: { x: (way * d.x) / speed, y: (way * d.y) / speed },
		bend: way * segmentCurvature(curve, segment, u)
	};
}

function departure({ curve, at, way }: Arm): Point {
	const { segment, u } = locate(curve, way > 0 || at === 0 ? at : at - 1e-12);
	const d = tangent(curve, segment, way > 0 ? u : Math.min(1, u + 1e-12) || 1);
	return { x: way * d.x, y: way * d.y };
}

const kept = ({ curve, at, way }: Arm, distance: number): Curve => {
	const t = parameterAtLength(curve, lengthAt(curve, at) + way * distance);
	return way > 0 ? partCurve(curve, t, segmentCount(curve)) : partCurve(curve, 0, t);
};

const available = ({ curve, at, way }: Arm): number => (way > 0 ? curveLength(curve) - lengthAt(curve, at) : lengthAt(curve, at));

/**
 * Rounds the corner of two curves of any kind by an arc tangent to both: Newton's method on the two
 * distances at which normals of length `radius` meet in one centre.
 *
 * @throws RangeError when they do not meet, are tangent there, or are too short for the radius
 */
export function fillet(name: string, a: Curve, b: Curve, radius: number, tolerance: number, near?: Point): CornerCut {
	const [first, second] = arms(a, b, tolerance, near);
	const [d, e] = [departure(first), departure(second)];
	const cross = d.x * e.y - d.y * e.x;
	const angle = Math.abs(atan2(cross, d.x * e.x + d.y * e.y));
	if (angle > Math.PI - 1e-6)
		throw new UserError(`“${a.name}” and “${b.name}” run on smoothly there; there is no corner to round`);
	if (angle < 1e-6)
		throw new UserError(`“${a.name}” and “${b.name}” leave their corner side by side, so no arc fits between them`);
	// The centre lies to the left of the first arm when the second one does.
	const side = Math.sign(cross);
	let s = radius / tan(angle / 2);
	let t = s;
	let centre: Point;
	for (let k = 0; ; k++) {
		const [p, q] = [along(first, s), along(second, t)];
		if (!p || !q || k > 60) {
			const most = Math.min(available(first), available(second)) * tan(angle / 2);
			throw new UserError(`a radius of ${round(radius)} does not fit; about ${round(most)} is the most here`);
		}
		const c = { x: p.p.x - side * radius * p.d.y, y: p.p.y + side * radius * p.d.x };
		const g = { x: q.p.x + side * radius * q.d.y, y: q.p.y - side * radius * q.d.x };
		centre = c;
		const [ex, ey] = [g.x - c.x, g.y - c.y];
		if (hypot(ex, ey) <= 1e-14 * (radius + hypot(centre.x, centre.y))) break;
		// d(centre)/ds = d (1 ∓ radius · bend) on either arm.
		const [fp, fq] = [1 - side * radius * p.bend, 1 + side * radius * q.bend];
		const [ax, ay, bx, by] = [p.d.x * fp, p.d.y * fp, -q.d.x * fq, -q.d.y * fq];
		const determinant = ax * by - ay * bx;
		const [ds, dt] = [(ex * by - ey * bx) / determinant, (ax * ey - ay * ex) / determinant];
		if (k > 3 && Math.abs(ds) + Math.abs(dt) < 1e-15 * (s + t)) break;
		s += ds;
		t += dt;
		if (!(s > 0) || !(t > 0) || !Number.isFinite(s + t)) {
			s = NaN;
			t = NaN;
		}
	}
	const [p, q] = [along(first, s)!.p, along(second, t)!.p];
	const from = atan2(p.y - centre.y, p.x - centre.x);
	let sweep = atan2(q.y - centre.y, q.x - centre.x) - from;
	while (sweep > Math.PI) sweep -= 2 * Math.PI;
	while (sweep < -Math.PI) sweep += 2 * Math.PI;
	const between = new CurveBuilder().arc(p, q, centre, radius, from, sweep).build(name, false);
	return { first: kept(first, s), second: kept(second, t), between };
}

/** Bevels the corner of two curves by a straight line, taking `lengths` off the first and the second. */
export function chamfer(name: string, a: Curve, b: Curve, lengths: [number, number], tolerance: number, near?: Point): CornerCut {
	const [first, second] = arms(a, b, tolerance, near);
	for (const [arm, length] of [
		[first, lengths[0]],
		[second, lengths[1]]
	] as const)
		if (length >= available(arm))
			throw new UserError(
				`“${arm.curve.name}” is ${round(available(arm))} long there, not enough for a chamfer of ${round(length)}`
			);
	const [p, q] = [along(first, lengths[0])!.p, along(second, lengths[1])!.p];
	return { first: kept(first, lengths[0]), second: kept(second, lengths[1]), between: lineCurve(name, p, q) };
}
