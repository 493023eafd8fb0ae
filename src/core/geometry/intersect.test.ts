import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { segmentPoint, type Curve } from './curve.ts';
import { arcCurve, circleCurve, cubicCurve, lineCurve } from './build.ts';
import { intersectSegments, nearestOn } from './intersect.ts';

const line = (ax: number, ay: number, bx: number, by: number) => lineCurve('l', { x: ax, y: ay }, { x: bx, y: by });
const cubic = (...p: [number, number, number, number, number, number, number, number]) =>
	cubicCurve('b', Float64Array.of(p[0], p[6]), Float64Array.of(p[1], p[7]), Float64Array.of(p[2], p[3], p[4], p[5]), false);

/** Where two curves of one segment meet, repeats taken once, from left to right. */
function meetings(a: Curve, b: Curve, tolerance = 1e-12): { x: number; y: number }[] {
	const found: { x: number; y: number }[] = [];
	intersectSegments(a, 0, b, 0, tolerance, (u, v) => {
		const [p, q] = [segmentPoint(a, 0, u), segmentPoint(b, 0, v)];
		expect(Math.hypot(p.x - q.x, p.y - q.y)).toBeLessThan(1e-9);
		if (!found.some((f) => Math.hypot(f.x - p.x, f.y - p.y) < 1e-9)) found.push(p);
	});
	return found.sort((p, q) => p.x - q.x || p.y - q.y);
}

describe('lines', () => {
	it('cross, touch, or pass one another by', () => {
		expect(meetings(line(0, 0, 4, 4), line(0, 4, 4, 0))).toEqual([{ x: 2, y: 2 }]);
		expect(meetings(line(0, 0, 4, 0), line(2, 0, 2, 3))).toEqual([{ x: 2, y: 0 }]);
		expect(meetings(line(0, 0, 4, 0), line(0, 1, 4, 1))).toEqual([]);
		expect(meetings(line(0, 0, 1, 0), line(2, -1, 2, 1))).toEqual([]);
	});

	it('that lie on one another meet at the ends of the shared stretch', () => {
		expect(meetings(line(0, 0, 4, 0), line(1, 0, 6, 0))).toEqual([
			{ x: 1, y: 0 },
			{ x: 4, y: 0 }
		]);
	});

	it('meet at the same place, whichever comes first and whichever way they run', () => {
		const n = fc.integer({ min: -20, max: 20 });
		fc.assert(
			fc.property(n, n, n, n, n, n, n, n, (a, b, c, d, e, f, g, h) => {
				fc.pre(Math.hypot(c - a, d - b) > 0.1 && Math.hypot(g - e, h - f) > 0.1);
				const all = [
					meetings(line(a, b, c, d), line(e, f, g, h)),
					meetings(line(e, f, g, h), line(a, b, c, d)),
					meetings(line(c, d, a, b), line(g, h, e, f))
				];
				for (const other of all.slice(1)) {
					expect(other).toHaveLength(all[0]!.length);
					other.forEach((p, k) => expect(Math.hypot(p.x - all[0]![k]!.x, p.y - all[0]![k]!.y)).toBeLessThan(1e-8));
				}
			})
		);
	});
});

describe('arcs', () => {
	const quarter = arcCurve('a', { x: 1, y: 0 }, { x: 0, y: 1 }, { x: 0, y: 0 }, false);

	it('meet lines where they run, and not where they would go on', () => {
		expect(meetings(line(0, 0, 2, 2), quarter)[0]!.x).toBeCloseTo(Math.SQRT1_2, 14);
		expect(meetings(line(0, 0, -2, -2), quarter)).toEqual([]);
		expect(meetings(line(0, 1, 5, 1), quarter)).toHaveLength(1);
	});

	it('meet circles in two points, in one, or in none', () => {
		const unit = circleCurve('c', { x: 0, y: 0 }, 1);
		expect(meetings(unit, circleCurve('d', { x: 1.2, y: 0 }, 1)).map((p) => Number(p.x.toFixed(12)))).toEqual([0.6, 0.6]);
		expect(meetings(unit, circleCurve('d', { x: 2, y: 0 }, 1), 1e-9)).toHaveLength(1);
		expect(meetings(unit, circleCurve('d', { x: 0.5, y: 0 }, 0.5), 1e-9)).toHaveLength(1);
		expect(meetings(unit, circleCurve('d', { x: 0.2, y: 0 }, 0.5))).toEqual([]);
		expect(meetings(unit, circleCurve('d', { x: 3, y: 0 }, 1))).toEqual([]);
	});
});

describe('cubics', () => {
	// y = x³ − x on [−1.5, 1.5] as a Bézier curve.
	const f = (x: number) => x ** 3 - x;
	const slope = (x: number) => 3 * x * x - 1;
	const s = cubic(-1.5, f(-1.5), -0.5, f(-1.5) + slope(-1.5), 0.5, f(1.5) - slope(1.5), 1.5, f(1.5));

	it('meet a line in the roots of their polynomial', () => {
		expect(meetings(s, line(-2, 0, 2, 0)).map((p) => Number(p.x.toFixed(12)) + 0)).toEqual([-1, 0, 1]);
		// x³ − x = x/2: x = 0, ±√1.5.
		const [low, middle, high] = meetings(s, line(-1.4, -0.7, 1.4, 0.7));
		expect([low!.x, middle!.x, high!.x]).toEqual([
			expect.closeTo(-Math.sqrt(1.5), 12),
			expect.closeTo(0, 12),
			expect.closeTo(Math.sqrt(1.5), 12)
		]);
	});

	it('meet circles and other cubics', () => {
		expect(meetings(s, circleCurve('c', { x: 0, y: 0 }, 0.5))).toHaveLength(2);
		const turned = cubic(f(-1.5), -1.5, f(-1.5) + slope(-1.5), -0.5, f(1.5) - slope(1.5), 0.5, f(1.5), 1.5);
		// x³ − x = y and y³ − y = x leave x = y: 0 and ±√2.
		const [low, middle, high] = meetings(s, turned);
		expect([low!.x, middle!.x, high!.x]).toEqual([
			expect.closeTo(-Math.SQRT2, 12),
			expect.closeTo(0, 12),
			expect.closeTo(Math.SQRT2, 12)
		]);
	});

	it('give the point of theirs that is nearest', () => {
		const n = fc.double({ min: -2, max: 2, noNaN: true });
		fc.assert(
			fc.property(n, n, (x, y) => {
				const best = segmentPoint(s, 0, nearestOn(s, 0, { x, y }));
				const distance = Math.hypot(best.x - x, best.y - y);
				for (let k = 0; k <= 200; k++) {
					const p = segmentPoint(s, 0, k / 200);
					expect(distance).toBeLessThanOrEqual(Math.hypot(p.x - x, p.y - y) + 1e-3);
				}
			})
		);
	});
});
