import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cosh, log1p, sinh } from './elementary.ts';
import { monotoneCubic } from './monotone.ts';
import { stretching, stretchToEnds } from './stretching.ts';

describe('elementary functions', () => {
	it('agree with those of the engine to the last digits', () => {
		fc.assert(
			fc.property(fc.double({ min: -20, max: 20, noNaN: true }), (x) => {
				expect(Math.abs(sinh(x) - Math.sinh(x))).toBeLessThanOrEqual(4e-15 * Math.abs(Math.sinh(x)));
				expect(Math.abs(cosh(x) - Math.cosh(x))).toBeLessThanOrEqual(4e-15 * Math.cosh(x));
				if (x > -0.99) expect(Math.abs(log1p(x) - Math.log1p(x))).toBeLessThanOrEqual(4e-15 * Math.abs(Math.log1p(x)));
			})
		);
	});

	it('lose nothing near zero', () => {
		for (const x of [1e-3, 1e-8, 1e-15]) {
			expect(sinh(x) / x).toBeCloseTo(1, 6);
			expect(log1p(x) / x).toBeCloseTo(1, 3);
		}
	});
});

describe('the monotone cubic', () => {
	it('goes through its data and rises between them', () => {
		fc.assert(
			fc.property(
				fc.array(fc.tuple(fc.double({ min: 0.01, max: 2, noNaN: true }), fc.double({ min: 0.001, max: 5, noNaN: true })), {
					minLength: 2,
					maxLength: 12
				}),
				(steps) => {
					const x = [0];
					const y = [0];
					for (const [dx, dy] of steps) {
						x.push(x.at(-1)! + dx);
						y.push(y.at(-1)! + dy);
					}
					const f = monotoneCubic(x, y);
					x.forEach((at, k) => expect(f(at)).toBeCloseTo(y[k]!, 9));
					let last = -1e-12;
					for (let k = 0; k <= 200; k++) {
						const value = f((k / 200) * x.at(-1)!);
						expect(value).toBeGreaterThanOrEqual(last - 1e-9);
						last = value;
					}
				}
			)
		);
	});

	it('keeps a straight line straight', () => {
		const f = monotoneCubic([0, 1, 3, 4], [1, 3, 7, 9]);
		for (const t of [0.1, 0.9, 1.7, 3.3]) expect(f(t)).toBeCloseTo(1 + 2 * t, 12);
	});
});

describe('the stretching', () => {
	it('has the slopes asked for at its ends', () => {
		fc.assert(
			fc.property(fc.double({ min: 0.02, max: 3, noNaN: true }), fc.double({ min: 0.02, max: 3, noNaN: true }), (s0, s1) => {
				// Both ends far above even leave no smooth way to the other end.
				if (s0 * s1 > 2.4) return;
				const f = stretching(s0, s1);
				expect(f(0)).toBeCloseTo(0, 12);
				expect(f(1)).toBeCloseTo(1, 12);
				const h = 1e-6;
				expect(f(h) / h / s0).toBeCloseTo(1, 3);
				expect((1 - f(1 - h)) / h / s1).toBeCloseTo(1, 3);
			})
		);
	});

	it('meets end cells of any spacing', () => {
		const positions = Float64Array.from({ length: 21 }, (_, k) => (k / 20) ** 1.5);
		const out = stretchToEnds(positions, 0.002, 0.05);
		expect(out[1]).toBeCloseTo(0.002, 12);
		expect(1 - out[19]!).toBeCloseTo(0.05, 12);
		for (let k = 1; k < 21; k++) expect(out[k]!).toBeGreaterThan(out[k - 1]!);
	});
});
