import { atan2, cos, hypot, sin } from '../numeric/elementary.ts';
import { CurveBuilder, ellipseCurve, segmentRows } from './build.ts';
import { ARC, arcOf, LINE, segmentCount, segmentPoint, type Curve, type Point } from './curve.ts';

/** An affine map: x' = a x + b y + e, y' = c x + d y + f. */
export interface Affine {
	a: number;
	b: number;
	c: number;
	d: number;
	e: number;
	f: number;
}

export const identity: Affine = { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0 };
export const translation = (e: number, f: number): Affine => ({ ...identity, e, f });

/** A turn by `angle` radians, counter-clockwise, around `centre`. Quarter turns are exact. */
export function rotation(angle: number, centre: Point): Affine {
	const quarters = angle / (Math.PI / 2);
	const exact = Math.abs(quarters - Math.round(quarters)) < 1e-14 ? ((Math.round(quarters) % 4) + 4) % 4 : -1;
	const co = exact >= 0 ? [1, 0, -1, 0][exact]! : cos(angle);
	const si = exact >= 0 ? [0, 1, 0, -1][exact]! : sin(angle);
	return around({ a: co, b: -si, c: si, d: co, e: 0, f: 0 }, centre);
}

export const scaling = (factor: number, centre: Point): Affine => around({ ...identity, a: factor, d: factor }, centre);

/** The mirror image across the line through p and q; horizontal and vertical lines are exact. */
export function reflection(p: Point, q: Point): Affine {
	const [dx, dy] = [q.x - p.x, q.y - p.y];
	const square = dx * dx + dy * dy;
	const [c2, s2] = [(dx * dx - dy * dy) / square, (2 * dx * dy) / square];
	return around({ a: c2, b: s2, c: s2, d: -c2, e: 0, f: 0 }, p);
}

function around(m: Affine, centre: Point): Affine {
	return { ...m, e: centre.x - m.a * centre.x - m.b * centre.y, f: centre.y - m.c * centre.x - m.d * centre.y };
}

/** First `inner`, then `outer`. */
export function compose(outer: Affine, inner: Affine): Affine {
	return {
		a: outer.a * inner.a + outer.b * inner.c,
		b: outer.a * inner.b + outer.b * inner.d,
		c: outer.c * inner.a + outer.d * inner.c,
		d: outer.c * inner.b + outer.d * inner.d,
		e: outer.a * inner.e + outer.b * inner.f + outer.e,
		f: outer.c * inner.e + outer.d * inner.f + outer.f
	};
}

export const mapPoint = (m: Affine, p: Point): Point => ({ x: m.a * p.x + m.b * p.y + m.e, y: m.c * p.x + m.d * p.y + m.f });

/**
 * The exact image of a curve. Arcs stay arcs under a similarity and become rational quadratics
 * under any other map.
 */
export function transformCurve(curve: Curve, m: Affine, name = curve.name): Curve {
	const similar =
		Math.abs(hypot(m.a, m.c) - hypot(m.b, m.d)) + Math.abs(m.a * m.b + m.c * m.d) < 1e-12 * (hypot(m.a, m.c) + 1e-300);
	const flip = m.a * m.d - m.b * m.c < 0 ? -1 : 1;
	const builder = new CurveBuilder();
	for (let i = 0; i < segmentCount(curve); i++) {
		const [a, b] = [mapPoint(m, segmentPoint(curve, i, 0)), mapPoint(m, segmentPoint(curve, i, 1))];
		if (curve.kinds[i] === LINE) builder.line(a, b);
		else if (curve.kinds[i] === ARC) {
			const { centre, radius, from, sweep } = arcOf(curve, i);
			if (similar) {
				const start = atan2(m.c * cos(from) + m.d * sin(from), m.a * cos(from) + m.b * sin(from));
				builder.arc(a, b, mapPoint(m, centre), radius * hypot(m.a, m.c), start, flip * sweep);
			} else {
				const u = { x: m.a * radius, y: m.c * radius };
				const v = { x: m.b * radius, y: m.d * radius };
				builder.along(ellipseCurve('', mapPoint(m, centre), u, v, from, sweep));
			}
		} else {
			const rows = segmentRows(curve, i);
			for (let k = 0; k < rows.length; k += 3) {
				const p = mapPoint(m, { x: rows[k]!, y: rows[k + 1]! });
				[rows[k], rows[k + 1]] = [p.x, p.y];
			}
			builder.rational(rows);
		}
	}
	// A map keeps joints smooth or sharp as they were named, but for what shear does to the angle.
	return builder.build(name, curve.closed, similar ? { only: curve.corners } : {});
}

/** The same curve run the other way. */
export function reverseCurve(curve: Curve, name = curve.name): Curve {
	const count = segmentCount(curve);
	return new CurveBuilder()
		.along(curve, count, 0)
		.build(name, curve.closed, { only: curve.corners.map((c) => (count - c) % count) });
}

/** The part of a curve between two parameters (t1 past the end on a closed curve) as a curve of its own. */
export function partCurve(curve: Curve, t0: number, t1: number, name = curve.name): Curve {
	return new CurveBuilder().along(curve, t0, t1).build(name, false);
}
