import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fulfils, nearestIntegers, type Equation } from './integer-programme.ts';

const equation = (terms: Record<number, number>, total: number): Equation => ({
	terms: new Map(Object.entries(terms).map(([v, c]) => [Number(v), c])),
	total
});
const target = (variable: number, value: number) => ({ variable, value, weight: 1 });

describe('the integer programme', () => {
	it('keeps to its targets where it can', () => {
		const found = nearestIntegers([0, 1, 2], [equation({ 0: 1, 1: 1, 2: -1 }, 0)], [target(0, 3), target(1, 4), target(2, 7)]);
		expect([...found!]).toEqual([
			[0, 3],
			[1, 4],
			[2, 7]
		]);
	});

	it('deviates by no more than it must', () => {
		const found = nearestIntegers([0, 1], [equation({ 0: 1, 1: 1 }, 10)], [target(0, 3), target(1, 4)])!;
		expect(Math.abs(found.get(0)! - 3) + Math.abs(found.get(1)! - 4)).toBe(3);
	});

	it('proves that there is nothing: parity, and what would have to be below one', () => {
		expect(nearestIntegers([0, 1], [equation({ 0: 2, 1: -2 }, 1)], [target(0, 1), target(1, 1)])).toBeUndefined();
		expect(nearestIntegers([0, 1], [equation({ 0: 1, 1: 1 }, 1)], [target(0, 1), target(1, 1)])).toBeUndefined();
		expect(
			nearestIntegers([0, 1, 2], [equation({ 0: 1, 1: -1 }, 0), equation({ 0: 1, 1: 1, 2: -2 }, 1)], [target(0, 5)])
		).toBeUndefined();
	});

	it('is the best there is, by trying all of them', () => {
		const coefficient = fc.integer({ min: -2, max: 2 });
		fc.assert(
			fc.property(
				fc.array(fc.tuple(coefficient, coefficient, coefficient, fc.integer({ min: -4, max: 9 })), {
					minLength: 1,
					maxLength: 2
				}),
				fc.tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 6 })),
				(rows, wanted) => {
					const equations = rows.map(([a, b, c, total]) => equation({ 0: a, 1: b, 2: c }, total));
					const targets = wanted.map((value, v) => target(v, value));
					const cost = (values: ReadonlyMap<number, number>) =>
						wanted.reduce((sum, value, v) => sum + Math.abs(values.get(v)! - value), 0);
					let best = Infinity;
					for (let a = 1; a <= 14; a++)
						for (let b = 1; b <= 14; b++)
							for (let c = 1; c <= 14; c++) {
								const values = new Map([
									[0, a],
									[1, b],
									[2, c]
								]);
								if (fulfils(values, equations)) best = Math.min(best, cost(values));
							}
					const found = nearestIntegers([0, 1, 2], equations, targets);
					if (!found) expect(best).toBe(Infinity);
					else {
						expect(fulfils(found, equations)).toBe(true);
						expect(cost(found)).toBeLessThanOrEqual(best);
					}
				}
			),
			{ numRuns: 150 }
		);
	});

	it('makes many sums even at once, as well as one by one', () => {
		fc.assert(
			fc.property(fc.array(fc.double({ min: 1, max: 9, noNaN: true }), { minLength: 40, maxLength: 40 }), (wanted) => {
				// A band of twenty squares: two sides of each are its own, one is the next one's, too; then half the sum of each.
				const sides = Array.from({ length: 20 }, (_, k) => [2 * k, 2 * k + 1, ...(k < 19 ? [2 * k + 2] : [])]);
				const equations = sides.map((list, k) => equation(Object.fromEntries([...list.map((v) => [v, 1]), [100 + k, -2]]), 0));
				const targets = wanted.map((value, v) => target(v, value));
				const found = nearestIntegers([...wanted.keys(), ...sides.map((_, k) => 100 + k)], equations, targets)!;
				expect(fulfils(found, equations)).toBe(true);
				// Nothing is moved by more than to the other whole number beside its target.
				for (const [v, value] of wanted.entries()) expect(Math.abs(found.get(v)! - value)).toBeLessThanOrEqual(1);
			}),
			{ numRuns: 60 }
		);
	});
});
