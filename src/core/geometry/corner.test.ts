import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arcCurve, circleCurve, lineCurve, polylineCurve, tangent } from './build.ts';
import { curveLength, pointAt, segmentCount, type Curve, type Point } from './curve.ts';
import { chamfer, fillet } from './corner.ts';
import { nearestOnCurve } from './meet.ts';
import { offsetCurve } from './offset.ts';
import { partArea } from './parts.ts';
import { splineCurve } from './spline.ts';

const line = (ax: number, ay: number, bx: number, by: number) => lineCurve(`l${ax}${ay}`, { x: ax, y: ay }, { x: bx, y: by });
const end = (c: Curve): Point => pointAt(c, segmentCount(c));
const away = (p: Point, q: Point) => Math.hypot(p.x - q.x, p.y - q.y);

describe('a fillet', () => {
	it('of two lines at a right angle takes its radius off both', () => {
		const { first, second, between } = fillet('f', line(0, 0, 10, 0), line(10, 0, 10, 8), 3, 1e-9);
		expect(curveLength(first)).toBeCloseTo(7, 13);
		expect(curveLength(second)).toBeCloseTo(5, 13);
		expect(curveLength(between)).toBeCloseTo(1.5 * Math.PI, 12);
	});

	it('touches both arms smoothly, at any angle and radius that fits', () => {
		fc.assert(
			fc.property(
				fc.double({ min: 0.3, max: 2.8, noNaN: true }),
				fc.double({ min: 0.05, max: 0.9, noNaN: true }),
				(angle, share) => {
					const radius = share * 10 * Math.tan(angle / 2);
					const other = { x: 10 * Math.cos(angle), y: 10 * Math.sin(angle) };
					const { first, second, between } = fillet('f', line(10, 0, 0, 0), lineCurve('b', { x: 0, y: 0 }, other), radius, 1e-9);
					expect(away(end(first), pointAt(between, 0))).toBeLessThan(1e-9);
					expect(away(pointAt(second, 0), end(between))).toBeLessThan(1e-9);
					const [u, v] = [tangent(first, 0, 1), tangent(between, 0, 0)];
					expect(Math.abs(u.x * v.y - u.y * v.x)).toBeLessThan(1e-9);
				}
			)
		);
	});

	it('fits between a line and an arc, and between an arc and a spline', () => {
		const arc = arcCurve('a', { x: 10, y: 0 }, { x: 5, y: 5 }, { x: 5, y: 0 }, false);
		const spline = splineCurve('s', Float64Array.of(5, 3, 0), Float64Array.of(5, 8, 9), false, 'chord');
		for (const [a, b] of [
			[line(0, 0, 10, 0), arc],
			[arc, spline]
		] as const) {
			const { between } = fillet('f', a, b, 0.8, 1e-9);
			const centre = { x: between.data[4]!, y: between.data[5]! };
			expect(nearestOnCurve(a, centre).distance).toBeCloseTo(0.8, 9);
			expect(nearestOnCurve(b, centre).distance).toBeCloseTo(0.8, 9);
		}
	});

	it('says why it cannot be', () => {
		expect(() => fillet('f', line(0, 0, 10, 0), line(10, 0, 10, 8), 9, 1e-9)).toThrow(
			'a radius of 9 does not fit; about 8 is the most here'
		);
		expect(() => fillet('f', line(0, 0, 10, 0), line(10, 0, 20, 0), 1, 1e-9)).toThrow('run on smoothly');
		expect(() => fillet('f', line(0, 0, 10, 0), line(0, 5, 10, 5), 1, 1e-9)).toThrow('do not meet');
		const lens = arcCurve('a', { x: 0, y: 0 }, { x: 10, y: 0 }, { x: 5, y: 0 }, false);
		expect(() => fillet('f', line(0, 0, 10, 0), lens, 1, 1e-9)).toThrow('meet 2 times');
		expect(fillet('f', line(0, 0, 10, 0), lens, 1, 1e-9, { x: 10, y: 0 }).between.name).toBe('f');
	});
});

describe('a chamfer', () => {
	it('takes its lengths off both arms', () => {
		const { first, second, between } = chamfer('c', line(0, 0, 10, 0), line(10, 0, 10, 8), [3, 4], 1e-9);
		expect([curveLength(first), curveLength(second), curveLength(between)]).toEqual([7, 4, 5]);
		expect(() => chamfer('c', line(0, 0, 10, 0), line(10, 0, 10, 8), [3, 9], 1e-9)).toThrow('8 long there');
	});
});

describe('an offset', () => {
	const square = polylineCurve('q', Float64Array.of(0, 10, 10, 0), Float64Array.of(0, 0, 8, 8), true);
	const areaOf = (c: Curve) => partArea({ curve: c, t0: 0, t1: segmentCount(c) }, { x: 0, y: 0 });

	it('of a rectangle has the perimeter that its corners give', () => {
		expect(curveLength(offsetCurve('o', square, -2, false)[0]!)).toBeCloseTo(36 + 4 * Math.PI, 10);
		expect(curveLength(offsetCurve('o', square, -2, true)[0]!)).toBeCloseTo(36 + 16, 10);
		expect(areaOf(offsetCurve('o', square, 2, false)[0]!)).toBeCloseTo(6 * 4, 10);
		expect(offsetCurve('o', square, 4.5, false)).toEqual([]);
	});

	it('of a circle is a circle', () => {
		const circle = circleCurve('c', { x: 3, y: 3 }, 5);
		expect(curveLength(offsetCurve('o', circle, 1, false)[0]!)).toBeCloseTo(8 * Math.PI, 12);
		expect(curveLength(offsetCurve('o', circle, -1, false)[0]!)).toBeCloseTo(12 * Math.PI, 12);
		expect(offsetCurve('o', circle, 6, false)).toEqual([]);
	});

	it('keeps its distance everywhere, on any smooth ring', () => {
		fc.assert(
			fc.property(
				fc.array(fc.double({ min: 0.7, max: 1.3, noNaN: true }), { minLength: 5, maxLength: 9 }),
				fc.boolean(),
				(radii, outward) => {
					const at = (f: (a: number) => number) =>
						Float64Array.from(radii, (r, k) => 10 * r * f((2 * Math.PI * k) / radii.length));
					const ring = splineCurve('s', at(Math.cos), at(Math.sin), true, 'chord');
					for (const part of offsetCurve('o', ring, outward ? -1 : 1, false))
						for (let k = 0; k <= 40; k++) {
							const p = pointAt(part, (k / 40) * segmentCount(part));
							expect(Math.abs(nearestOnCurve(ring, p).distance - 1)).toBeLessThan(2e-6);
						}
				}
			),
			{ numRuns: 6, seed: 2026 }
		);
	});

	it('falls into parts where the outline is narrow', () => {
		// A dumbbell: two 10 × 10 squares with a neck 2 wide between them.
		const x = Float64Array.of(0, 10, 10, 20, 20, 30, 30, 20, 20, 10, 10, 0);
		const y = Float64Array.of(0, 0, 4, 4, 0, 0, 10, 10, 6, 6, 10, 10);
		expect(offsetCurve('o', polylineCurve('d', x, y, true), 1.5, false)).toHaveLength(2);
	});
});
