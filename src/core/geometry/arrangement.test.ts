import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { arrange, arranging } from './arrangement.ts';
import type { Arrangement } from './pieces.ts';
import { euler, expectSound } from './sound.test-support.ts';
import { arcCurve, circleCurve, cubicCurve, CurveBuilder, ellipseCurve, lineCurve, polylineCurve } from './build.ts';
import { ARC, LINE, segmentPoint, type Curve } from './curve.ts';
import { faceAt } from './faces.ts';
import { meetings } from './meet.ts';
import { splineCurve } from './spline.ts';
import { reverseCurve, scaling, transformCurve } from './transform.ts';

const areas = (a: Arrangement) => a.faces.map((f) => f.area).sort((p, q) => p - q);

const whole = fc.integer({ min: 0, max: 6 });
const real = fc.integer({ min: 0, max: 6_000_000 }).map((v) => v / 1e6);
const curveOf = (n: fc.Arbitrary<number>): fc.Arbitrary<Curve> =>
	fc.oneof(
		fc
			.tuple(n, n, n, n)
			.filter(([a, b, c, d]) => a !== c || b !== d)
			.map(([a, b, c, d]) => lineCurve('l', { x: a, y: b }, { x: c, y: d })),
		fc.tuple(n, n, fc.integer({ min: 1, max: 3 })).map(([x, y, r]) => circleCurve('c', { x, y }, r)),
		fc.tuple(n, n, fc.integer({ min: 1, max: 3 }), fc.boolean()).map(([x, y, r, clockwise]) => {
			const centre = { x, y };
			return arcCurve('a', { x: x + r, y }, { x, y: y + r }, centre, clockwise);
		}),
		// Joints that are no corners, so that pieces run over them.
		fc
			.tuple(n, n, n)
			.map(([x, y, h]) => polylineCurve('p', Float64Array.of(x, x + 3, x + 6), Float64Array.of(y, y + 0.08 * (h + 1), y), false)),
		fc.tuple(n, n).map(([x, y]) => ellipseCurve('e', { x, y }, { x: 2, y: 0 }, { x: 0, y: 1 })),
		fc
			.array(fc.tuple(n, n), { minLength: 4, maxLength: 4 })
			.filter((p) => new Set(p.map(String)).size === 4)
			.map((p) =>
				splineCurve(
					's',
					Float64Array.from(p, (q) => q[0]),
					Float64Array.from(p, (q) => q[1]),
					false,
					'chord'
				)
			)
	);
/** Lines, circles and arcs only: what has a closed form is exact in every degenerate case. */
const closedForms = (most: number) =>
	fc.array(
		curveOf(whole).filter((c) => c.kinds.every((kind) => kind === LINE || kind === ARC)),
		{ minLength: 1, maxLength: most }
	);
const drawing = (n: fc.Arbitrary<number>, most: number) => fc.array(curveOf(n), { minLength: 1, maxLength: most });

describe('an arrangement', () => {
	it('of random lines, arcs, ellipses and splines is a plane graph', () => {
		fc.assert(
			fc.property(drawing(real, 8), (curves) => expectSound(arrange(curves))),
			{ numRuns: 120, seed: 2026 }
		);
	});

	it('of long polylines that wind is cut where that of their lines, each a curve of its own, is', () => {
		const step = fc.record({
			turn: fc.oneof(fc.double({ min: 0.3, max: 0.9, noNaN: true }), fc.double({ min: -0.5, max: 0.5, noNaN: true })),
			length: fc.double({ min: 0.1, max: 1, noNaN: true })
		});
		fc.assert(
			fc.property(fc.array(fc.array(step, { minLength: 2, maxLength: 90 }), { minLength: 1, maxLength: 3 }), (all) => {
				const curves = all.map((steps, k) => {
					let [x, y, direction] = [0.37 * k, 0.21 * k * k, k];
					const points = [{ x, y }];
					for (const { turn, length } of steps) {
						direction += turn;
						points.push({ x: (x += length * Math.cos(direction)), y: (y += length * Math.sin(direction)) });
					}
					const list = (key: 'x' | 'y') => Float64Array.from(points, (p) => p[key]);
					return polylineCurve(`c${k}`, list('x'), list('y'), false);
				});
				const lines = curves.flatMap((curve) =>
					Array.from(curve.kinds, (_, i) => lineCurve(`${curve.name} ${i}`, segmentPoint(curve, i, 0), segmentPoint(curve, i, 1)))
				);
				/** Where there is a junction that is no point of a polyline. */
				const crossings = ({ x, y }: { x: Float64Array; y: Float64Array }) => {
					const given = new Set(lines.flatMap((l) => [`${l.data[0]} ${l.data[1]}`, `${l.data[2]} ${l.data[3]}`]));
					return Array.from(x, (px, k) => `${px} ${y[k]}`).filter((at) => !given.has(at)).length;
				};
				expect(crossings(arrange(curves))).toBe(crossings(arrange(lines)));
				expectSound(arrange(curves));
			}),
			{ numRuns: 150, seed: 2026 }
		);
	});

	it('of long splines that wind is cut where that of their cubics, each a curve of its own, is', () => {
		const turn = fc.oneof(fc.double({ min: 0.3, max: 0.9, noNaN: true }), fc.double({ min: -0.4, max: 0.4, noNaN: true }));
		fc.assert(
			fc.property(fc.array(fc.array(turn, { minLength: 4, maxLength: 60 }), { minLength: 1, maxLength: 2 }), (all) => {
				const curves = all.map((turns, k) => {
					let [x, y, direction] = [0.37 * k, 0.21 * k, k];
					const points = [{ x, y }];
					for (const [n, turn] of turns.entries()) {
						direction += turn;
						const length = 0.3 + ((7919 * n) % 97) / 140;
						points.push({ x: (x += length * Math.cos(direction)), y: (y += length * Math.sin(direction)) });
					}
					const list = (key: 'x' | 'y') => Float64Array.from(points, (p) => p[key]);
					return splineCurve(`c${k}`, list('x'), list('y'), false, 'chord');
				});
				const cubics = curves.flatMap((curve) =>
					Array.from(curve.kinds, (_, i) => new CurveBuilder().stretch(curve, i, 0, 1).build(`${curve.name} ${i}`, false))
				);
				const [whole, parts] = [arrange(curves), arrange(cubics)];
				expect(whole.faces).toHaveLength(parts.faces.length);
				expect(areas(whole).every((area, k) => Math.abs(area - areas(parts)[k]!) < 1e-9)).toBe(true);
				expectSound(whole);
			}),
			{ numRuns: 60, seed: 2026 }
		);
	});

	it('of curves on a grid, full of coincident, collinear and tangent cases, is one too', () => {
		fc.assert(
			fc.property(
				fc.array(
					fc.oneof(
						fc
							.tuple(whole, whole, whole, whole)
							.filter(([a, b, c, d]) => a !== c || b !== d)
							.map(([a, b, c, d]) => lineCurve('l', { x: a, y: b }, { x: c, y: d })),
						fc.tuple(whole, whole, fc.integer({ min: 1, max: 3 })).map(([x, y, r]) => circleCurve('c', { x, y }, r))
					),
					{ minLength: 2, maxLength: 12 }
				),
				(curves) => expectSound(arrange(curves))
			),
			{ numRuns: 150, seed: 2026 }
		);
	});

	it('does not depend on the order of the curves, nor on their direction', () => {
		fc.assert(
			fc.property(closedForms(7), fc.array(fc.boolean(), { minLength: 7, maxLength: 7 }), (curves, turned) => {
				const first = arrange(curves);
				const second = arrange([...curves].reverse().map((c, k) => (turned[k] ? reverseCurve(c) : c)));
				expect(second.pieces.length).toBe(first.pieces.length);
				expect(second.faces.length).toBe(first.faces.length);
				areas(first).forEach((area, k) => expect(Math.abs(area - areas(second)[k]!)).toBeLessThan(1e-7));
			}),
			{ numRuns: 60, seed: 2026 }
		);
	});

	it.each([1e-9, 1e6])('is the same at a scale of %s', (factor) => {
		fc.assert(
			fc.property(closedForms(6), (all) => {
				const curves = all.filter((c) => c.kinds[0] === LINE);
				fc.pre(curves.length > 0);
				const plain = arrange(curves);
				const scaled = arrange(curves.map((c) => transformCurve(c, scaling(factor, { x: 0, y: 0 }))));
				expect(scaled.faces.length).toBe(plain.faces.length);
				expect(scaled.pieces.length).toBe(plain.pieces.length);
				areas(scaled).forEach((area, k) => expect(area / factor ** 2).toBeCloseTo(areas(plain)[k]!, 6));
			}),
			{ numRuns: 40, seed: 2026 }
		);
	});

	it('is the same whether it is made anew or after another in which some curves are otherwise', () => {
		const place = fc.integer({ min: 10, max: 90 });
		const small = fc.oneof(
			fc.tuple(place, place, fc.integer({ min: 1, max: 14 })).map(([x, y, r]) => circleCurve('c', { x, y }, r)),
			fc.tuple(place, place, fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 9 })).map(([x, y, w, h]) => {
				const [right, top] = [x + w, y + h];
				return polylineCurve('p', Float64Array.of(x, right, right, x), Float64Array.of(y, y, top, top), true);
			}),
			fc.tuple(place, place, fc.integer({ min: 1, max: 20 })).map(([x, y, w]) => lineCurve('l', { x, y }, { x: x + w, y: y + 1 }))
		);
		const edit = fc.tuple(fc.nat(), fc.constantFrom('put', 'change', 'take', 'swap'), small);
		const node = fc.record({ x: place, y: place });
		const box = polylineCurve('box', Float64Array.of(0, 100, 100, 0), Float64Array.of(0, 0, 100, 100), true);
		const bare = ({ faces, sides, isolated, vanished, x, y, pieces }: Arrangement) => ({
			faces,
			sides,
			isolated,
			vanished,
			x,
			y,
			pieces
		});
		fc.assert(
			fc.property(
				fc.array(small, { minLength: 5, maxLength: 25 }),
				fc.array(edit, { minLength: 1, maxLength: 6 }),
				fc.boolean(),
				fc.array(node, { maxLength: 3 }),
				(start, edits, isFramed, given) => {
					// Corners of the box that do not move keep the scale of the drawing, with or without a side around everything.
					const frame = isFramed ? box : polylineCurve('ell', Float64Array.of(0, 100, 100), Float64Array.of(0, 0, 100), false);
					let curves = [frame, ...start];
					let nodes = given;
					let previous = arrange(curves, nodes);
					for (const [k, what, curve] of edits) {
						const at = 1 + (k % curves.length);
						if (what === 'swap') {
							curves = curves.toSpliced(at, 2, ...curves.slice(at, at + 2).reverse());
							nodes = nodes.slice(1);
						} else curves = curves.toSpliced(at, what === 'put' ? 0 : 1, ...(what === 'take' ? [] : [curve]));
						previous = finish(arranging(curves, nodes, previous));
						expect(bare(previous)).toEqual(bare(arrange(curves, nodes)));
					}
				}
			),
			{ numRuns: 150, seed: 2026 }
		);
	});

	it('shares collinear stretches and arcs of one circle', () => {
		const a = arrange([lineCurve('a', { x: 0, y: 0 }, { x: 4, y: 0 }), lineCurve('b', { x: 6, y: 0 }, { x: 2, y: 0 })]);
		expect(a.pieces.map((p) => p.length).sort()).toEqual([2, 2, 2]);
		expect(a.byCurve[1]!.map((p) => p.piece)).toContain(a.byCurve[0]![1]!.piece);
		const half = arcCurve('h', { x: 1, y: 0 }, { x: -1, y: 0 }, { x: 0, y: 0 }, false);
		const b = arrange([circleCurve('c', { x: 0, y: 0 }, 1), half]);
		expect(b.faces).toHaveLength(1);
		expect(b.pieces).toHaveLength(2);
	});

	it('knows holes, islands in holes, and inner edges', () => {
		const square = (s: number) => polylineCurve('q', Float64Array.of(-s, s, s, -s), Float64Array.of(-s, -s, s, s), true);
		const a = arrange([square(10), square(6), square(3), lineCurve('in', { x: 7, y: 0 }, { x: 9, y: 0 })]);
		expect(areas(a).map((v) => Math.round(v))).toEqual([36, 108, 256]);
		const ring = faceAt(a, { x: 8, y: 5 });
		expect(a.faces[ring]!.inner).toHaveLength(2);
		expect(faceAt(a, { x: 0, y: 0 })).not.toBe(ring);
		expect(faceAt(a, { x: 11, y: 0 })).toBe(-1);
	});

	it('knows what lies between a gentle joint and the chord under it', () => {
		const roof = polylineCurve('r', Float64Array.of(0, 10, 20), Float64Array.of(0, 1, 0), false);
		const walls = [6, 14].map((x) => lineCurve('w', { x, y: -5 }, { x, y: 2 }));
		// Between the walls the roof is cut less than a segment apart, and is no straight line.
		const a = arrange([roof, ...walls, lineCurve('f', { x: 0, y: -5 }, { x: 20, y: -5 })]);
		expect(a.faces).toHaveLength(1);
		expect(a.faces[0]!.area).toBeCloseTo(8 * 5.8, 12);
		expect(faceAt(a, { x: 10, y: 0.8 })).toBe(0);
		expect(faceAt(a, { x: 10, y: 1.1 })).toBe(-1);
	});

	it('cuts a curve at a node that lies on it, and keeps others alone with their face', () => {
		const a = arrange(
			[circleCurve('c', { x: 0, y: 0 }, 2)],
			[
				{ x: 0, y: 2 },
				{ x: 1, y: 0 },
				{ x: 5, y: 5 }
			]
		);
		expect(a.pieces).toHaveLength(1);
		expect(a.x[a.pieces[0]!.start]).toBeCloseTo(0, 12);
		expect(a.isolated.map((p) => p.face)).toEqual([0, -1]);
	});

	it('finds where a cubic crosses itself', () => {
		// A loop that is symmetric about x = 0 crosses itself there.
		const loop = cubicCurve('k', Float64Array.of(-1, 1), Float64Array.of(0, 0), Float64Array.of(3, 4, -3, 4), false);
		const a = arrange([loop]);
		expect(a.faces).toHaveLength(1);
		const crossing = [...a.x].findIndex((x, j) => Math.abs(x) < 1e-9 && a.degree[j] === 4);
		expect(crossing).toBeGreaterThanOrEqual(0);
		expect(euler(a)).toBe(0);
	});

	it('takes a grid of lines in its stride, and finds every hole of a crowd', () => {
		const lines = Array.from({ length: 60 }, (_, k) => [
			lineCurve('h', { x: 0, y: k }, { x: 59, y: k }),
			lineCurve('v', { x: k, y: 0 }, { x: k, y: 59 })
		]).flat();
		expect(arrange(lines).faces).toHaveLength(59 * 59);
		const crowd = Array.from({ length: 900 }, (_, k) => circleCurve('c', { x: k % 30, y: Math.floor(k / 30) }, 0.3));
		const frame = polylineCurve('f', Float64Array.of(-1, 30, 30, -1), Float64Array.of(-1, -1, 30, 30), true);
		const a = arrange([...crowd, frame]);
		expect(a.faces[faceAt(a, { x: -0.9, y: -0.9 })]!.inner).toHaveLength(900);
	});
});

describe('crossings', () => {
	it('of two circles agree with the radical line', () => {
		fc.assert(
			fc.property(fc.double({ min: 0.2, max: 2.8, noNaN: true }), (d) => {
				const found = meetings(circleCurve('a', { x: 0, y: 0 }, 2), circleCurve('b', { x: d, y: 0 }, 1), 1e-12);
				const x = (d * d + 3) / (2 * d);
				if (Math.abs(x) > 2 - 1e-6) return;
				expect(found).toHaveLength(2);
				for (const p of found) {
					expect(p.x).toBeCloseTo(x, 11);
					expect(Math.abs(p.y)).toBeCloseTo(Math.sqrt(4 - x * x), 11);
				}
			})
		);
	});

	it('of an ellipse and a line are the roots of a quadratic', () => {
		const ellipse = ellipseCurve('e', { x: 0, y: 0 }, { x: 3, y: 0 }, { x: 0, y: 1 });
		const found = meetings(ellipse, lineCurve('l', { x: -4, y: -2 }, { x: 4, y: 2 }), 1e-11);
		// x²/9 + x²/4 = 1
		const x = Math.sqrt(1 / (1 / 9 + 1 / 4));
		expect(found.map((p) => p.x).sort((p, q) => p - q)).toEqual([expect.closeTo(-x, 12), expect.closeTo(x, 12)]);
	});

	it('of smooth curves that only touch are found too', () => {
		const ellipse = ellipseCurve('e', { x: 0, y: 0 }, { x: 3, y: 0 }, { x: 0, y: 1 });
		const parabola = cubicCurve(
			'p',
			Float64Array.of(-1, 1),
			Float64Array.of(2, 2),
			Float64Array.of(-1 / 3, 2 / 3, 1 / 3, 2 / 3),
			false
		);
		const found = meetings(ellipse, parabola, 1e-8);
		expect(found).toHaveLength(1);
		expect(found[0]!.x).toBeCloseTo(0, 3);
		expect(found[0]!.y).toBeCloseTo(1, 6);
	});
});
