import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { circleCurve, lineCurve, polylineCurve } from './build.ts';
import { boxesOf, type Curve, type Point, pointAt, segmentCount } from './curve.ts';
import { findCuts, stopsOf } from './cuts.ts';

const tolerance = 1e-9;
const cut = (curves: Curve[], nodes: Point[] = []) => {
	const cutUp = finish(findCuts(boxesOf(curves), nodes, tolerance, new Set(), 0))!;
	const stops = finish(stopsOf(curves, cutUp.cuts, new Set(), tolerance));
	const places = curves.map((curve, c) =>
		[...stops.t.subarray(stops.first[c]!, stops.first[c + 1]!)].map((t) => pointAt(curve, Math.min(t, segmentCount(curve))))
	);
	return { ...cutUp, places };
};
const line = (ax: number, ay: number, bx: number, by: number) => lineCurve('l', { x: ax, y: ay }, { x: bx, y: by });
const short = (list: readonly Point[]) => list.map(({ x, y }) => [Math.round(x * 1e6) / 1e6, Math.round(y * 1e6) / 1e6]);

describe('where curves are cut', () => {
	it('is where they cross, at their ends, and where one ends on another', () => {
		const { places } = cut([line(0, 0, 10, 0), line(5, -5, 5, 5), line(8, 0, 8, 3)]);
		expect(places.map(short)).toEqual([
			[
				[0, 0],
				[5, 0],
				[8, 0],
				[10, 0]
			],
			[
				[5, -5],
				[5, 0],
				[5, 5]
			],
			[
				[8, 0],
				[8, 3]
			]
		]);
	});

	it('is at points that are to be junctions; those beside all curves are loose', () => {
		const { places, loose } = cut(
			[line(0, 0, 10, 0)],
			[
				{ x: 4, y: 0 },
				{ x: 4, y: 1 }
			]
		);
		expect(short(places[0]!)).toEqual([
			[0, 0],
			[4, 0],
			[10, 0]
		]);
		expect(loose).toEqual([{ x: 4, y: 1 }]);
	});

	it('is where a line meets a circle twice, touches it once, or misses it', () => {
		const circle = circleCurve('c', { x: 0, y: 0 }, 2);
		for (const [y, count] of [
			[1, 2],
			[2, 1],
			[2.001, 0]
		] as const)
			expect(cut([circle, line(-5, y, 5, y)]).places[1]).toHaveLength(2 + count);
	});

	it('is where a curve crosses itself', () => {
		const eight = polylineCurve('e', Float64Array.of(0, 4, 4, 0), Float64Array.of(0, 3, 0, 3), false, Math.PI);
		expect(short(cut([eight]).places[0]!)).toContainEqual([2, 1.5]);
	});

	it('leaves out what meets others too often, and answers nothing until it has', () => {
		const comb = (turned: boolean) => {
			const along = Float64Array.from({ length: 1400 }, (_, k) => (k >> 1) + 0.25);
			const across = Float64Array.from({ length: 1400 }, (_, k) => (((k + 1) >> 1) % 2 === 0 ? 0 : 700));
			return polylineCurve('comb', turned ? across : along, turned ? along : across, false, Math.PI);
		};
		const curves = [comb(false), comb(true), line(-5, -5, -1, -1)];
		const tangled = new Set<number>();
		expect(finish(findCuts(boxesOf(curves), [], tolerance, tangled, 0))).toBeUndefined();
		expect([...tangled].every((c) => c < 2)).toBe(true);
		expect(tangled.size).toBeGreaterThan(0);
	});

	it('is where every two of some segments cross, by the rule of four orientations', () => {
		const number = fc.integer({ min: -50, max: 50 });
		fc.assert(
			fc.property(fc.array(fc.tuple(number, number, number, number), { minLength: 2, maxLength: 12 }), (rows) => {
				// Shifted by odd fractions, so that none ends on another.
				const ends = rows
					.map(([ax, ay, bx, by], k) => [ax + 0.0137 * k, ay + 0.0291 * k * k, bx + 0.0173 * k, by - 0.0311 * k] as const)
					.filter(([ax, ay, bx, by]) => Math.abs(ax - bx) + Math.abs(ay - by) > 1);
				const { places } = cut(ends.map(([ax, ay, bx, by]) => line(ax, ay, bx, by)));
				const side = (p: readonly [number, number], [ax, ay, bx, by]: (typeof ends)[number]) =>
					(bx - ax) * (p[1] - ay) - (by - ay) * (p[0] - ax);
				ends.forEach((a, i) => {
					let crossings = 0;
					let isClear = true;
					ends.forEach((b, j) => {
						if (i === j) return;
						const sides = [side([b[0], b[1]], a), side([b[2], b[3]], a), side([a[0], a[1]], b), side([a[2], a[3]], b)];
						if (sides.some((s) => Math.abs(s) < 1e-6)) isClear = false;
						if (sides[0]! * sides[1]! < 0 && sides[2]! * sides[3]! < 0) crossings++;
					});
					if (isClear) expect(places[i]!.length).toBe(2 + crossings);
				});
			}),
			{ numRuns: 200 }
		);
	});
});
