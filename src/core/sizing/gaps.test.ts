import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Pipeline } from '../pipeline.ts';
import { finish } from '../numeric/work.ts';
import { pieceNames } from '../domain/references.ts';
import { gapsBeside, GapCache } from './gaps.ts';

/** Arranges a drawing and asks for the gap beside a piece, at a part of its length. */
function gapsIn(text: string, isFilled: (side: number) => boolean = () => true) {
	const { arrangement } = finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
	const names = pieceNames(arrangement);
	const filled = Uint8Array.from(arrangement.sides, (_, side) => Number(isFilled(side)));
	const gaps = finish(gapsBeside(arrangement, filled, new GapCache()));
	return (name: string, fraction: number, reach = 1e6) => gaps.beside(names.indexOf(name), fraction, reach).width;
}

describe('the gap beside a piece', () => {
	it('is the shortest way to the opposite side', () => {
		const gap = gapsIn('rectangle b = (0, 0) to (40, 3)');
		expect(gap('b.bottom', 0.5)).toBeCloseTo(3, 9);
		expect(gap('b.left', 0.5)).toBeCloseTo(40, 9);
	});

	it('is looked for no farther than the reach', () => {
		const gap = gapsIn('rectangle b = (0, 0) to (40, 3)');
		expect(gap('b.bottom', 0.5, 2.9)).toBe(Infinity);
		expect(gap('b.bottom', 0.5, 3.1)).toBeCloseTo(3, 9);
	});

	it('is the smaller one of both sides, of those that are meshed', () => {
		const text = 'line low = (0, 0) to (10, 0)\nline middle = (0, 1) to (10, 1)\nline high = (0, 5) to (10, 5)';
		expect(gapsIn(text)('middle', 0.5)).toBeCloseTo(1, 9);
		// The left of a line that runs to the right is above it.
		expect(gapsIn(text, (side) => side % 2 === 0)('middle', 0.5)).toBeCloseTo(4, 9);
		expect(gapsIn(text, () => false)('middle', 0.5)).toBe(Infinity);
	});

	it('between a circle and a wall is smallest at the foot, and grows as the circle leaves', () => {
		const gap = gapsIn('rectangle b = (-20, 0) to (20, 30)\ncircle c = around (0, 10.5) radius 10');
		// The circle as a polyline is within a few thousandths.
		expect(gap('b.bottom', 0.5)).toBeCloseTo(0.5, 1);
		// A way of 6 from the foot: √(6² + 10.5²) − 10 = 2.09, aslant.
		expect(gap('b.bottom', 0.5 + 6 / 40)).toBeCloseTo(Math.hypot(6, 10.5) - 10, 1);
		expect(gap('b.bottom', 0.9)).toBeCloseTo(Math.hypot(16, 10.5) - 10, 1);
	});

	it('is none in a corner of 30° or more, and the width of the wedge in a sharper one', () => {
		const wedge = (degrees: number) => {
			const [x, y] = [10 * Math.cos((degrees * Math.PI) / 180), 10 * Math.sin((degrees * Math.PI) / 180)];
			return gapsIn(`line low = (0, 0) to (10, 0)\nline high = (0, 0) to (${x}, ${y})`);
		};
		expect(wedge(45)('low', 0.5)).toBe(Infinity);
		expect(wedge(10)('low', 0.5)).toBeCloseTo(5 * Math.sin(Math.PI / 18), 9);
	});

	it('is seen between corners, and between a corner and a side', () => {
		const corners = gapsIn(
			'rectangle a = (0, 0) to (10, 10)\nrectangle b = (10.001, 10.001) to (20, 20)\nrectangle c = (-5, -5) to (25, 25)'
		);
		expect(corners('a.top', 0)).toBeCloseTo(0.001 * Math.SQRT2, 9);
		expect(corners('a.right', 1)).toBeCloseTo(0.001 * Math.SQRT2, 9);
		const tip = gapsIn('polyline t = (0, 0) to (4, 5) to (-4, 5) closed\nline floor = (-10, -0.02) to (10, -0.02)');
		expect(tip('t[1]', 0)).toBeCloseTo(0.02, 9);
	});

	it('is not looked for through another curve', () => {
		const gap = gapsIn(
			'line low = (0, 0) to (10, 0)\nline wall = (0, 0.5) to (10, 0.5)\nline high = (0, 1) to (10, 1)',
			(side) => side !== 0
		);
		expect(gap('low', 0.5)).toBe(Infinity);
		expect(gap('high', 0.5)).toBeCloseTo(0.5, 9);
	});

	it('is seen by a curve that comes near to itself', () => {
		const gap = gapsIn('polyline u = (0, 0) to (10, 0) to (10, 1) to (0, 1)');
		expect(gap('u[1]', 0.5)).toBeCloseTo(1, 9);
	});
});

/** Curves that come near one another, and to themselves, in a drawing of about ten by ten. */
const coordinate = fc.integer({ min: -500, max: 500 }).map((v) => v / 100);
const place = fc.tuple(coordinate, coordinate).map(([x, y]) => `(${x}, ${y})`);
const curve = fc.oneof(
	fc.tuple(place, fc.integer({ min: 5, max: 200 })).map(([c, r]) => `circle @ = around ${c} radius ${r / 100}`),
	fc.tuple(place, place).map(([a, b]) => `line @ = ${a} to ${b}`),
	fc.tuple(place, place, fc.integer({ min: 6, max: 30 })).map(([a, b, r]) => `arc @ = ${a} to ${b} radius ${r}`),
	fc.array(place, { minLength: 3, maxLength: 9 }).map((all) => `polyline @ = ${all.join(' to ')}`),
	fc.array(place, { minLength: 3, maxLength: 7 }).map((all) => `spline @ = ${all.join(' to ')}`)
);

describe('the gap within a reach', () => {
	it('is the one that is found when looking everywhere, or none', () => {
		fc.assert(
			fc.property(
				fc.array(curve, { minLength: 1, maxLength: 7 }),
				fc.array(fc.tuple(fc.nat(), fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0.005, max: 3, noNaN: true })), {
					minLength: 20,
					maxLength: 20
				}),
				(curves, wanted) => {
					const text = curves.map((curve, k) => curve.replace('@', `c${k}`)).join('\n');
					const { arrangement } = finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
					const count = arrangement.pieces.length;
					fc.pre(count > 0);
					const filled = new Uint8Array(2 * count).fill(1);
					const gaps = finish(gapsBeside(arrangement, filled, new GapCache()));
					const everywhere = finish(gapsBeside(arrangement, filled, new GapCache()));
					for (const [k, fraction, reach] of wanted) {
						const { width } = everywhere.beside(k % count, fraction, 1e3);
						const near = gaps.beside(k % count, fraction, reach).width;
						// What is as wide as the reach, but for rounding, may be found or not.
						if (Math.abs(width - reach) < 1e-9 * reach) continue;
						if (width < reach) expect(near).toBeCloseTo(width, 12);
						else expect(near).toBe(Infinity);
					}
				}
			),
			{ numRuns: 300 }
		);
	});
});
