import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bsplineCurve, circleCurve, CurveBuilder, ellipseCurve, formulaCurve, lineCurve, polylineCurve } from './build.ts';
import {
	curveLength,
	lengthAt,
	parameterAtLength,
	pointAt,
	segmentCount,
	segmentCurvature,
	type Curve,
	type Point
} from './curve.ts';
import { partArea } from './parts.ts';
import { splineCurve } from './spline.ts';
import {
	compose,
	mapPoint,
	partCurve,
	reflection,
	reverseCurve,
	rotation,
	scaling,
	transformCurve,
	translation,
	type Affine
} from './transform.ts';

const unit = { x: 1, y: 0 };
const up = { x: 0, y: 1 };
const origin = { x: 0, y: 0 };
const away = (p: Point, q: Point) => Math.hypot(p.x - q.x, p.y - q.y);
const areaOf = (curve: Curve) => partArea({ curve, t0: 0, t1: segmentCount(curve) }, origin);

describe('ellipses', () => {
	it('with equal radii are circles, in length, area and curvature', () => {
		const curve = ellipseCurve('e', { x: 3, y: 4 }, { x: 2, y: 0 }, { x: 0, y: 2 });
		expect(curve.closed).toBe(true);
		expect(curve.corners).toEqual([]);
		expect(curveLength(curve)).toBeCloseTo(4 * Math.PI, 12);
		expect(areaOf(curve)).toBeCloseTo(4 * Math.PI, 11);
		for (const t of [0.3, 1.7, 2.5, 3.9]) {
			expect(away(pointAt(curve, t), { x: 3, y: 4 })).toBeCloseTo(2, 13);
			expect(segmentCurvature(curve, Math.floor(t), t % 1)).toBeCloseTo(0.5, 11);
		}
	});

	it('have the length of the complete elliptic integral', () => {
		// Ramanujan's second formula is exact to 1e-9 at this axis ratio: 4 a E(e) = 9.688448220547674 for a = 2, b = 1.
		expect(curveLength(ellipseCurve('e', origin, { x: 2, y: 0 }, up))).toBeCloseTo(9.688448220547674, 11);
	});

	it('lie on their equation, whatever part is taken', () => {
		fc.assert(
			fc.property(fc.double({ min: -6, max: 6, noNaN: true }), fc.double({ min: 0.01, max: 6.2, noNaN: true }), (from, sweep) => {
				const arc = ellipseCurve('e', origin, { x: 5, y: 0 }, { x: 0, y: 2 }, from, sweep);
				for (let k = 0; k <= 7; k++) {
					const p = pointAt(arc, (k / 7) * segmentCount(arc));
					expect((p.x / 5) ** 2 + (p.y / 2) ** 2).toBeCloseTo(1, 12);
				}
				expect(
					away(pointAt(arc, segmentCount(arc)), { x: 5 * Math.cos(from + sweep), y: 2 * Math.sin(from + sweep) })
				).toBeLessThan(1e-12);
			})
		);
	});
});

describe('B-splines', () => {
	it('of degree 2 with the right weights are a quarter circle', () => {
		const curve = bsplineCurve('b', 2, [unit, { x: 1, y: 1 }, up], [1, Math.SQRT1_2, 1], [0, 0, 0, 1, 1, 1]);
		expect(curveLength(curve)).toBeCloseTo(Math.PI / 2, 13);
		expect(away(pointAt(curve, 0.37), origin)).toBeCloseTo(1, 14);
	});

	it('agree with de Boor’s recursion at every parameter', () => {
		const points = [origin, { x: 1, y: 3 }, { x: 4, y: -1 }, { x: 6, y: 2 }, { x: 8, y: 2 }, { x: 9, y: 0 }];
		const weights = [1, 2, 0.5, 1, 3, 1];
		const knots = [0, 0, 0, 0, 0.3, 0.7, 1, 1, 1, 1];
		const curve = bsplineCurve('b', 3, points, weights, knots);
		expect(segmentCount(curve)).toBe(3);
		const basis = (i: number, p: number, u: number): number => {
			if (p === 0) return u >= knots[i]! && u < knots[i + 1]! ? 1 : 0;
			const ratio = (a: number, b: number) => (b === 0 ? 0 : a / b);
			return (
				ratio(u - knots[i]!, knots[i + p]! - knots[i]!) * basis(i, p - 1, u) +
				ratio(knots[i + p + 1]! - u, knots[i + p + 1]! - knots[i + 1]!) * basis(i + 1, p - 1, u)
			);
		};
		for (const u of [0.05, 0.299, 0.31, 0.5, 0.69, 0.9]) {
			const n = points.map((_, i) => basis(i, 3, u) * weights[i]!);
			const sum = n.reduce((a, b) => a + b);
			const wanted = { x: 0, y: 0 };
			points.forEach((p, i) => {
				wanted.x += (n[i]! * p.x) / sum;
				wanted.y += (n[i]! * p.y) / sum;
			});
			const spans = [0, 0.3, 0.7, 1];
			const k = spans.findIndex((s, i) => u >= s && u < spans[i + 1]!);
			const got = pointAt(curve, k + (u - spans[k]!) / (spans[k + 1]! - spans[k]!));
			expect(away(got, wanted)).toBeLessThan(1e-13);
		}
	});

	it('refuse numbers that do not fit together', () => {
		expect(() => bsplineCurve('b', 3, [origin, unit], [1, 1], [0, 1])).toThrow(
			'degree 3 needs at least 4 control points, found 2'
		);
		expect(() => bsplineCurve('b', 1, [origin, unit], [1, 1], [0, 0, 1])).toThrow('need 4 knots, found 3');
		expect(() => bsplineCurve('b', 1, [origin, unit], [1, 0], [0, 0, 1, 1])).toThrow('weights above zero');
		expect(() => bsplineCurve('b', 1, [origin, unit], [1, 1], [0, 1, 0, 1])).toThrow('knots never go down');
		expect(() => bsplineCurve('b', 6, [origin, unit], [1, 1], [])).toThrow('from 1 to 5');
	});
});

describe('curves by formula', () => {
	const cycloid = (t: number) => ({
		x: t - Math.sin(t),
		y: 1 - Math.cos(t),
		dx: 1 - Math.cos(t),
		dy: Math.sin(t),
		ddx: Math.sin(t),
		ddy: Math.cos(t)
	});

	it('follow a cycloid, whose arch is 8 long', () => {
		const curve = formulaCurve('c', cycloid, 0, 2 * Math.PI, 1e-12);
		expect(curveLength(curve)).toBeCloseTo(8, 11);
	});

	it('close where they come back, and refuse jumps', () => {
		const circle = (t: number) => ({
			x: Math.cos(t),
			y: Math.sin(t),
			dx: -Math.sin(t),
			dy: Math.cos(t),
			ddx: -Math.cos(t),
			ddy: -Math.sin(t)
		});
		expect(formulaCurve('c', circle, 0, 2 * Math.PI, 1e-12).closed).toBe(true);
		const jump = (t: number) => ({ x: t, y: t < 0.3 ? 0 : 1, dx: 1, dy: 0, ddx: 0, ddy: 0 });
		expect(() => formulaCurve('c', jump, 0, 1, 1e-9)).toThrow('cannot be followed near t = 0.29');
	});
});

describe('spline ends', () => {
	const x = Float64Array.of(0, 1, 2.5, 4, 5);

	it('not-a-knot gives a cubic back exactly', () => {
		// On the line x = t, chord parameters are equal to x only for a straight line; so take y = 0 and a straight check of slopes.
		const y = x.map((v) => 2 * v + 1);
		const curve = splineCurve('s', x, y, false, 'chord', { kind: 'not-a-knot' });
		for (let k = 0; k <= 20; k++) {
			const p = pointAt(curve, (k / 20) * segmentCount(curve));
			expect(p.y).toBeCloseTo(2 * p.x + 1, 13);
		}
	});

	it('clamped leave and arrive in their directions', () => {
		const curve = splineCurve('s', x, Float64Array.of(0, 1, 0, 1, 0), false, 'chord', {
			kind: 'clamped',
			start: up,
			end: { x: 3, y: 3 }
		});
		const start = pointAt(curve, 1e-6);
		expect(Math.abs(start.x)).toBeLessThan(1e-5 * Math.abs(start.y) + 1e-12);
		const [a, b] = [pointAt(curve, 4 - 1e-7), pointAt(curve, 4)];
		expect((b.y - a.y) / (b.x - a.x)).toBeCloseTo(1, 4);
	});

	it('corners part a spline where its points turn', () => {
		const square = splineCurve(
			's',
			Float64Array.of(0, 5, 5, 0),
			Float64Array.of(0, 0, 5, 5),
			true,
			'chord',
			{ kind: 'natural' },
			0.5
		);
		expect(curveLength(square)).toBeCloseTo(20, 12);
		expect(square.corners).toEqual([0, 1, 2, 3]);
	});
});

const samples: [string, Curve][] = [
	['a line', lineCurve('l', { x: 1, y: 2 }, { x: 4, y: -1 })],
	['a circle', circleCurve('c', { x: 2, y: 1 }, 3)],
	['an ellipse', ellipseCurve('e', { x: 2, y: 1 }, { x: 3, y: 1 }, { x: -0.5, y: 1.5 })],
	['a spline', splineCurve('s', Float64Array.of(0, 2, 5, 6), Float64Array.of(1, 3, 0, 4), false, 'chord')],
	['a polyline', polylineCurve('p', Float64Array.of(0, 3, 3, 1), Float64Array.of(0, 0, 2, 5), true)],
	['a rational curve', new CurveBuilder().rational([0, 0, 1, 1, 4, 2, 5, 4, 0.7, 7, 0, 1, 8, 2, 2]).build('r', false)]
];

describe.each(samples)('%s', (_, curve) => {
	const affine = fc.record({
		a: fc.double({ min: -3, max: 3, noNaN: true }),
		b: fc.double({ min: -3, max: 3, noNaN: true }),
		c: fc.double({ min: -3, max: 3, noNaN: true }),
		d: fc.double({ min: -3, max: 3, noNaN: true }),
		e: fc.double({ min: -9, max: 9, noNaN: true }),
		f: fc.double({ min: -9, max: 9, noNaN: true })
	});

	it('maps exactly under any affine map: its area by the determinant', () => {
		fc.assert(
			fc.property(
				affine.filter((m) => Math.abs(m.a * m.d - m.b * m.c) > 0.1),
				(m: Affine) => {
					const image = transformCurve(curve, m);
					expect(away(pointAt(image, 0), mapPoint(m, pointAt(curve, 0)))).toBeLessThan(1e-12);
					const chord = (c: Curve) => {
						const [p, q] = [pointAt(c, segmentCount(c)), pointAt(c, 0)];
						return areaOf(c) + (p.x * q.y - q.x * p.y) / 2;
					};
					const wanted = chord(curve) * (m.a * m.d - m.b * m.c);
					expect(Math.abs(chord(image) - wanted)).toBeLessThan(1e-9 * (1 + Math.abs(wanted)));
				}
			),
			{ numRuns: 60 }
		);
	});

	it('keeps its length when moved, turned, mirrored; scales with a scale', () => {
		const map = compose(translation(3, -2), compose(rotation(0.7, unit), reflection(origin, { x: 2, y: 1 })));
		expect(curveLength(transformCurve(curve, map))).toBeCloseTo(curveLength(curve), 11);
		expect(curveLength(transformCurve(curve, scaling(2.5, unit)))).toBeCloseTo(2.5 * curveLength(curve), 10);
	});

	it('runs backwards through the same points', () => {
		const back = reverseCurve(curve);
		const whole = curveLength(curve);
		for (const f of [0, 0.1, 0.5, 0.83, 1]) {
			const p = pointAt(curve, parameterAtLength(curve, f * whole));
			const q = pointAt(back, parameterAtLength(back, (1 - f) * whole));
			expect(away(p, q)).toBeLessThan(1e-11 * whole);
		}
		expect(areaOf(back)).toBeCloseTo(-areaOf(curve), 9);
	});

	it('is cut into parts that add up', () => {
		const count = segmentCount(curve);
		fc.assert(
			fc.property(fc.double({ min: 0.01, max: 0.98, noNaN: true }), (f) => {
				const t = f * count;
				const [a, b] = [partCurve(curve, 0, t), partCurve(curve, t, count)];
				expect(curveLength(a)).toBeCloseTo(lengthAt(curve, t), 10);
				expect(curveLength(a) + curveLength(b)).toBeCloseTo(curveLength(curve), 10);
				expect(away(pointAt(a, segmentCount(a)), pointAt(b, 0))).toBeLessThan(1e-12);
			}),
			{ numRuns: 40 }
		);
	});

	it('gives lengths back to 1e-12', () => {
		const whole = curveLength(curve);
		for (let k = 0; k <= 10; k++)
			expect(Math.abs(lengthAt(curve, parameterAtLength(curve, (k / 10) * whole)) - (k / 10) * whole)).toBeLessThan(
				1e-12 * whole
			);
	});
});

describe('segments below the rounding of their numbers', () => {
	const rounding = 4e-15;

	it('are left out, and what they joined is joined', () => {
		const square = [
			{ x: 0, y: 0 },
			{ x: 8, y: 0 },
			{ x: 8, y: 8 },
			{ x: 0, y: 8 }
		];
		const short = { x: 8 + rounding, y: 8 };
		const chain = new CurveBuilder().line(square[0]!, square[1]!).line(square[1]!, square[2]!).line(square[2]!, short);
		const curve = chain.line(short, square[3]!).line(square[3]!, square[0]!).build('a', true);
		expect(segmentCount(curve)).toBe(4);
		expect(curve.corners).toEqual([0, 1, 2, 3]);
		expect([...curve.data.subarray(18, 22)]).toEqual([8, 8, 0, 8]);
	});

	it('close nothing twice: an end that is the start but for rounding is the start', () => {
		const chain = () => new CurveBuilder().line({ x: 0, y: 0 }, { x: 5, y: 0 }).line({ x: 5, y: 0 }, { x: 0, y: 3 });
		const end = { x: rounding, y: -rounding };
		const curve = chain().line({ x: 0, y: 3 }, end).close().build('a', true);
		expect(segmentCount(curve)).toBe(3);
		expect(pointAt(curve, 3)).toEqual({ x: 0, y: 0 });
		expect(chain().line({ x: 0, y: 3 }, end).endsAtStart).toBe(true);
		expect(chain().endsAtStart).toBe(false);
		expect(segmentCount(chain().close().build('a', true))).toBe(3);
	});

	it('take the corners that are named with them', () => {
		const chain = new CurveBuilder().line({ x: 0, y: 0 }, { x: 4, y: 0 }).line({ x: 4, y: 0 }, { x: 4 + rounding, y: 0 });
		const curve = chain.line({ x: 4 + rounding, y: 0 }, { x: 9, y: 0 }).build('a', false, { only: [2] });
		expect([segmentCount(curve), curve.corners]).toEqual([2, [1]]);
	});

	it('are not what a whole curve consists of', () => {
		const curve = new CurveBuilder()
			.line({ x: 1e9, y: 0 }, { x: 1e9 + 1e-7, y: 0 })
			.line({ x: 1e9 + 1e-7, y: 0 }, { x: 1e9, y: 0 });
		expect(segmentCount(curve.build('a', false))).toBe(2);
	});

	it('never remain, in chains of any steps', () => {
		const step = fc.tuple(fc.constantFrom(0, 1e-16, 1e-13, 1, 3), fc.constantFrom(0, 1e-16, -1e-13, 1, -2));
		fc.assert(
			fc.property(fc.array(step, { minLength: 2, maxLength: 30 }), fc.boolean(), (steps, closed) => {
				const builder = new CurveBuilder();
				let at = { x: 10, y: 10 };
				for (const [dx, dy] of steps) builder.line(at, (at = { x: at.x + dx, y: at.y + dy }));
				if (closed) builder.close();
				const curve = builder.build('a', closed);
				const lengths = Array.from({ length: segmentCount(curve) }, (_, k) => curve.lengths[k + 1]! - curve.lengths[k]!);
				if (curveLength(curve) > 1e-9 && lengths.length > 1) expect(Math.min(...lengths)).toBeGreaterThan(1e-9);
				// Each starts where the one before it ends.
				for (let k = 1; k < lengths.length; k++)
					expect([...curve.data.subarray(9 * k, 9 * k + 2)]).toEqual([...curve.data.subarray(9 * k - 7, 9 * k - 5)]);
			})
		);
	});
});

describe('a cubic with an inner point on its end', () => {
	it('leaves in the direction of the other, whatever the rounding between the two', () => {
		for (const off of [0, 1e-15, -3e-14]) {
			const curve = new CurveBuilder()
				.cubic({ x: 0, y: 0 }, { x: off, y: -off }, { x: 1, y: 2 }, { x: 3, y: 2 })
				.build('a', false);
			expect([...curve.data.subarray(4, 6)]).toEqual([0, 0]);
		}
	});

	it('that comes back to its start along a line is two lines', () => {
		const curve = new CurveBuilder().cubic({ x: 0, y: 0 }, { x: 3, y: 3 }, { x: 0, y: 0 }, { x: 0, y: 0 }).build('a', false);
		expect([...curve.kinds]).toEqual([0, 0]);
		expect(pointAt(curve, 1).x).toBeCloseTo(pointAt(curve, 1).y, 12);
	});
});
