import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layerNumbers, progressionSum, stackThickness, type LayerInputs } from './layer-numbers.ts';

describe('the numbers of a stack', () => {
	it('follow from any three of them', () => {
		fc.assert(
			fc.property(
				fc.double({ min: 1e-6, max: 1e3, noNaN: true }),
				fc.double({ min: 1.02, max: 2, noNaN: true }),
				fc.integer({ min: 2, max: 40 }),
				(first, growth, count) => {
					const all = {
						first,
						growth,
						count,
						thickness: stackThickness({ first, growth, count }),
						last: first * growth ** (count - 1)
					};
					const words = Object.keys(all) as (keyof typeof all)[];
					for (const a of words)
						for (const b of words)
							for (const c of words) {
								if (!(a < b && b < c)) continue;
								const found = layerNumbers({ [a]: all[a], [b]: all[b], [c]: all[c] });
								expect(found.count, `${a} ${b} ${c}`).toBe(count);
								expect(found.first / first, `${a} ${b} ${c}`).toBeCloseTo(1, 5);
								expect(found.growth / growth).toBeCloseTo(1, 5);
							}
				}
			)
		);
	});

	it('are summed by the closed form', () => {
		for (const growth of [1, 1 + 1e-12, 1.0001, 1.2, 3])
			for (const count of [1, 2, 17]) {
				let sum = 0;
				for (let k = 0; k < count; k++) sum += growth ** k;
				expect(progressionSum(count, growth) / sum).toBeCloseTo(1, 9);
			}
	});

	it('keep first and growth where a thickness is no whole number of cells', () => {
		expect(layerNumbers({ first: 0.02, growth: 1.2, thickness: 0.8 })).toEqual({ first: 0.02, growth: 1.2, count: 12 });
		expect(layerNumbers({ first: 0.02, growth: 1.2, toSize: true })).toMatchObject({ first: 0.02, growth: 1.2 });
	});

	it('say what is missing, too much, or does not go together', () => {
		const says = (given: LayerInputs) => {
			try {
				return JSON.stringify(layerNumbers(given));
			} catch (error) {
				return (error as Error).message;
			}
		};
		expect(says({})).toContain('nothing says how high the layers are');
		expect(says({ first: 0.1, count: 5 })).toContain('first and count alone do not say');
		expect(says({ first: 0.1, growth: 1.2, count: 5, thickness: 3 })).toContain('say too much');
		expect(says({ first: 1, count: 5, thickness: 2 })).toContain('do not go together');
		expect(says({ first: 1, growth: 0.5, count: 3 })).toContain('a growth of 0.5 does not work');
		expect(says({ first: 1, growth: 1.2, count: 2.5 })).toContain('a whole number');
		expect(says({ first: 1, count: 3, toSize: true })).toContain('“first” and “growth”');
	});
});
