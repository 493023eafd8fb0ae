import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../geometry/arrangement.ts';
import { arcCurve, circleCurve, lineCurve, polylineCurve } from '../geometry/build.ts';
import {
	type Curve,
	curveLength,
	lengthAt,
	parameterAtLength,
	pointAt,
	segmentDerivative,
	segmentPoint
} from '../geometry/curve.ts';
import { faceAt } from '../geometry/faces.ts';
import { pointInFace } from '../geometry/inside.ts';
import { flatten, partArea, partPoint } from '../geometry/parts.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { splineCurve } from '../geometry/spline.ts';

const line = (name: string, ax: number, ay: number, bx: number, by: number) =>
	lineCurve(name, { x: ax, y: ay }, { x: bx, y: by });
const square = (name: string, x: number, y: number, side: number) =>
	polylineCurve(name, Float64Array.of(x, x + side, x + side, x), Float64Array.of(y, y, y + side, y + side), true);
const areas = (a: Arrangement) => a.faces.map((f) => f.area).sort((p, q) => p - q);

/** Euler's formula for a plane graph: V − E + F = 1 + C, the outer face counted. */
function euler(a: Arrangement): number {
	const used = new Set(a.pieces.flatMap((p) => [p.start, p.end]));
	const parent = new Map([...used].map((j) => [j, j]));
	const root = (j: number): number => (parent.get(j) === j ? j : root(parent.get(j)!));
	for (const p of a.pieces) parent.set(root(p.start), root(p.end));
	const components = new Set([...used].map(root)).size;
	return used.size - a.pieces.length + (a.faces.length + 1) - (1 + components);
}

describe('curves', () => {
	it('have the lengths of their closed forms', () => {
		expect(curveLength(line('l', 0, 0, 3, 4))).toBe(5);
		expect(curveLength(circleCurve('c', { x: 1, y: 1 }, 2))).toBeCloseTo(4 * Math.PI, 13);
		// A parabola y = x² on [0, 1] as a spline cannot be; as a cubic Bézier it can be exactly.
	});

	it('give back the parameter of an arc length', () => {
		const x = Float64Array.from({ length: 12 }, (_, i) => i);
		const spline = splineCurve(
			's',
			x,
			x.map((v) => Math.sin(v)),
			false,
			'chord'
		);
		fc.assert(
			fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (f) => {
				const length = f * curveLength(spline);
				expect(Math.abs(lengthAt(spline, parameterAtLength(spline, length)) - length)).toBeLessThan(1e-12 * curveLength(spline));
			})
		);
	});

	it('that are splines pass through their points with continuous second derivatives', () => {
		const x = Float64Array.of(0, 1, 3, 4, 7);
		const y = Float64Array.of(0, 2, 1, 3, 0);
		const closed = splineCurve('s', x, y, true, 'chord');
		const spans = x.map((_, i) => Math.hypot(x[(i + 1) % 5]! - x[i]!, y[(i + 1) % 5]! - y[i]!));
		const second = (i: number, u: number) => {
			const h = 1e-5;
			const [a, b] = [segmentDerivative(closed, i, u - h), segmentDerivative(closed, i, u + h)];
			return { x: (b.x - a.x) / (2 * h) / spans[i]! ** 2, y: (b.y - a.y) / (2 * h) / spans[i]! ** 2 };
		};
		for (let i = 0; i < 5; i++) {
			expect(pointAt(closed, i)).toEqual({ x: x[i], y: y[i] });
			const [end, start] = [second(i, 1), second((i + 1) % 5, 0)];
			expect(end.x).toBeCloseTo(start.x, 4);
			expect(end.y).toBeCloseTo(start.y, 4);
		}
	});

	it('that are open splines end straight, and follow a circle to fourth order', () => {
		const error = (n: number) => {
			const angle = Float64Array.from({ length: n + 1 }, (_, i) => (2 * Math.PI * i) / n).slice(0, n);
			const s = splineCurve('s', angle.map(Math.cos), angle.map(Math.sin), true, 'chord');
			const p = segmentPoint(s, 0, 0.5);
			return Math.abs(Math.hypot(p.x, p.y) - 1);
		};
		expect(error(16) / error(32)).toBeGreaterThan(14);
	});

	it('are flattened within the tolerance', () => {
		const arc = arcCurve('a', { x: 1, y: 0 }, { x: 0, y: 1 }, { x: 0, y: 0 }, false);
		const flat = flatten({ curve: arc, t0: 0, t1: 1 }, 1e-3);
		for (let k = 0; k + 3 < flat.length; k += 2)
			expect(1 - Math.hypot((flat[k]! + flat[k + 2]!) / 2, (flat[k + 1]! + flat[k + 3]!) / 2)).toBeLessThan(1e-3);
	});

	it('enclose the area of their closed forms, whatever the origin', () => {
		const circle = circleCurve('c', { x: 5, y: 5 }, 3);
		for (const origin of [
			{ x: 0, y: 0 },
			{ x: 100, y: -7 }
		])
			expect(partArea({ curve: circle, t0: 0, t1: 1 }, origin)).toBeCloseTo(9 * Math.PI, 10);
	});
});

describe('the arrangement', () => {
	it('splits lines that cross and lines that touch', () => {
		const cross = arrange([line('a', -1, 0, 1, 0), line('b', 0, -1, 0, 1)]);
		expect(cross.pieces).toHaveLength(4);
		const tee = arrange([line('a', -1, 0, 1, 0), line('b', 0, 0, 0, 1)]);
		expect(tee.pieces).toHaveLength(3);
		expect(tee.byCurve[0]).toHaveLength(2);
	});

	it('splits line and arc, arc and arc at the closed form', () => {
		const a = arrange([line('l', -2, 0.6, 2, 0.6), circleCurve('c', { x: 0, y: 0 }, 1)]);
		expect([...a.x].some((x, j) => Math.abs(x - 0.8) < 1e-14 && Math.abs(a.y[j]! - 0.6) < 1e-14)).toBe(true);
		const lens = arrange([circleCurve('c', { x: 0, y: 0 }, 1), circleCurve('d', { x: 1, y: 0 }, 1)]);
		expect(lens.faces).toHaveLength(3);
		// Lens of two unit circles at unit distance: 2π/3 − √3/2.
		expect(areas(lens)[0]).toBeCloseTo((2 * Math.PI) / 3 - Math.sqrt(3) / 2, 12);
	});

	it('splits a circle at a tangent line once', () => {
		const a = arrange([line('l', -2, 1, 2, 1), circleCurve('c', { x: 0, y: 0 }, 1)]);
		expect(a.byCurve[0]).toHaveLength(2);
		expect(a.faces).toHaveLength(1);
	});

	it('finds where a spline crosses a line', () => {
		const x = Float64Array.from({ length: 41 }, (_, i) => i / 5);
		const a = arrange([splineCurve('s', x, x.map(Math.sin), false, 'chord'), line('l', -1, 0.5, 9, 0.5)]);
		const at = [...a.x]
			.filter((_, j) => Math.abs(a.y[j]! - 0.5) < 1e-12)
			.filter((v) => v > 0 && v < 8)
			.sort((p, q) => p - q);
		// The spline stands for sin x to about 1e-5 at this spacing.
		[Math.PI / 6, (5 * Math.PI) / 6, (13 * Math.PI) / 6].forEach((v, k) => expect(at[k]).toBeCloseTo(v, 4));
		expect(at).toHaveLength(3);
	});

	it('shares the piece where two rectangles touch', () => {
		const a = arrange([square('a', 0, 0, 1), square('b', 1, 0, 1)]);
		expect(a.pieces).toHaveLength(7);
		expect(areas(a)).toEqual([1, 1]);
	});

	it('shares part of a side', () => {
		const a = arrange([square('a', 0, 0, 4), square('b', 4, 1, 2)]);
		expect(areas(a)).toEqual([4, 16]);
		expect(euler(a)).toBe(0);
	});

	it('nests holes and islands', () => {
		const a = arrange([
			square('a', 0, 0, 10),
			square('b', 2, 2, 6),
			circleCurve('c', { x: 5, y: 5 }, 1),
			line('inside', 3, 3, 4, 3)
		]);
		expect(areas(a).map((v) => Number(v.toFixed(9)))).toEqual([
			Number(Math.PI.toFixed(9)),
			Number((36 - Math.PI).toFixed(9)),
			64
		]);
		const middle = a.faces.find((f) => f.inner.length === 2)!;
		expect(middle.area).toBeCloseTo(36 - Math.PI, 10);
		expect(faceAt(a, { x: 1, y: 1 })).toBe(a.faces.findIndex((f) => f.area === 64));
		expect(faceAt(a, { x: 20, y: 1 })).toBe(-1);
	});

	it('keeps a piece on both sides apart from its reversed neighbour', () => {
		const a = arrange([
			line('a', 0, 0, 1, 0),
			arcCurve('b', { x: 0, y: 0 }, { x: 1, y: 0 }, { x: 0.5, y: 0 }, true),
			arcCurve('c', { x: 0, y: 0 }, { x: 1, y: 0 }, { x: 0.5, y: 0 }, false)
		]);
		expect(a.pieces).toHaveLength(3);
		areas(a).forEach((v) => expect(v).toBeCloseTo(Math.PI / 8, 14));
	});

	it('sorts arcs that leave a point tangentially to one another', () => {
		// Three circles through the origin with a common tangent, nested.
		const a = arrange([1, 2, 3].map((r) => circleCurve(`c${r}`, { x: r, y: 0 }, r)).concat(line('l', 0, -10, 0, 10)));
		expect(areas(a).map((v) => Number((v / Math.PI).toFixed(9)))).toEqual([1, 3, 5]);
	});

	it('splits corners of polylines, and not their gentle joints', () => {
		expect(arrange([square('a', 0, 0, 1)]).pieces).toHaveLength(4);
		const angle = Float64Array.from({ length: 60 }, (_, i) => (2 * Math.PI * i) / 60);
		expect(arrange([polylineCurve('p', angle.map(Math.cos), angle.map(Math.sin), true)]).pieces).toHaveLength(1);
	});

	it('is a plane graph for any set of lines, in any order and direction', () => {
		const coordinate = fc.integer({ min: 0, max: 6 });
		const segment = fc.tuple(coordinate, coordinate, coordinate, coordinate).filter(([a, b, c, d]) => a !== c || b !== d);
		fc.assert(
			fc.property(fc.array(segment, { minLength: 1, maxLength: 14 }), fc.integer(), (list, seed) => {
				const a = arrange(list.map((s, i) => line(`l${i}`, ...s)));
				expect(euler(a)).toBe(0);
				const shuffled = list
					.map((s, i) => ({ s: (i + seed) % 2 ? s : ([s[2], s[3], s[0], s[1]] as typeof s), k: Math.sin(seed + i) }))
					.sort((p, q) => p.k - q.k);
				const b = arrange(shuffled.map(({ s }, i) => line(`l${i}`, ...s)));
				expect(b.pieces).toHaveLength(a.pieces.length);
				expect(areas(b).map((v) => Number(v.toFixed(6)))).toEqual(areas(a).map((v) => Number(v.toFixed(6))));
			}),
			{ numRuns: 300 }
		);
	});

	it('is a plane graph for lines and circles at any scale', () => {
		const number = fc.double({ min: -1, max: 1, noNaN: true });
		fc.assert(
			fc.property(
				fc.array(fc.tuple(number, number, number, number, fc.boolean()), { minLength: 2, maxLength: 8 }),
				fc.constantFrom(1e-9, 1, 1e6),
				(list, scale) => {
					const curves = list.flatMap(([a, b, c, d, isCircle], i): Curve[] => {
						if (isCircle)
							return Math.abs(c) > 0.01 ? [circleCurve(`c${i}`, { x: a * scale, y: b * scale }, Math.abs(c) * scale)] : [];
						return Math.hypot(c - a, d - b) > 0.01 ? [line(`l${i}`, a * scale, b * scale, c * scale, d * scale)] : [];
					});
					const arrangement = arrange(curves);
					expect(euler(arrangement)).toBe(0);
					arrangement.faces.forEach((face, f) => {
						if (face.area > 1e-4 * scale * scale) expect(faceAt(arrangement, pointInFace(arrangement, f))).toBe(f);
					});
				}
			),
			{ numRuns: 200 }
		);
	});

	it('places nodes on the true curve past the start of a closed one', () => {
		const a = arrange([circleCurve('c', { x: 0, y: 0 }, 1), line('l', -2, 0.5, 2, 0.5)]);
		const lower = a.byCurve[0]!.map(({ piece }) => a.pieces[piece]!).find((p) => p.length > 4)!;
		const middle = partPoint(lower, 0.5, lower.length);
		expect(middle.x).toBeCloseTo(0, 12);
		expect(middle.y).toBeCloseTo(-1, 12);
	});
});
