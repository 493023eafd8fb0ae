import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { progressionSum } from '../../recipe/model/layer-numbers.ts';
import { leastScale, stackWithin } from './plan.ts';

const thicknessOf = (first: number, { scale, growth, count }: ReturnType<typeof stackWithin>) =>
	scale * first * progressionSum(count, growth);

describe('a stack in a room', () => {
	const anyStack = {
		first: fc.double({ min: 1e-6, max: 1, noNaN: true }),
		growth: fc.double({ min: 1, max: 2, noNaN: true }),
		count: fc.integer({ min: 1, max: 40 }),
		share: fc.double({ min: 0, max: 1.5, noNaN: true })
	};

	it('gives up growth first, then heights to a half, then cells, and fits', () => {
		fc.assert(
			fc.property(fc.record(anyStack), ({ first, growth, count, share }) => {
				const asked = first * progressionSum(count, growth);
				const room = share * asked;
				const plan = stackWithin({}, first, growth, count, room);
				expect(thicknessOf(first, plan)).toBeLessThanOrEqual(room * (1 + 1e-6));
				if (share >= 1) expect(plan).toEqual({ scale: 1, growth, count });
				// No later number is touched before the one before it is at its end.
				if (plan.scale < 1) expect(plan.growth).toBe(1);
				if (plan.count < count) expect(plan.scale).toBeCloseTo(leastScale, 9);
				// And no more is given up than is needed.
				if (plan.count === count && share < 1) expect(thicknessOf(first, plan)).toBeGreaterThan(room * (1 - 1e-6));
				if (plan.count < count) expect(thicknessOf(first, { ...plan, count: plan.count + 1 })).toBeGreaterThan(room);
			})
		);
	});

	it('keeps every height with “exact”, and every cell with “squeeze”', () => {
		fc.assert(
			fc.property(fc.record(anyStack), ({ first, growth, count, share }) => {
				const room = share * first * progressionSum(count, growth);
				const exact = stackWithin({ exact: true }, first, growth, count, room);
				expect([exact.scale, exact.growth]).toEqual([1, growth]);
				expect(thicknessOf(first, exact)).toBeLessThanOrEqual(room * (1 + 1e-6));
				const squeezed = stackWithin({ squeeze: true }, first, growth, count, room);
				expect(squeezed.growth).toBe(growth);
				if (share > 1e-3) expect(squeezed.count).toBe(count);
			})
		);
	});

	it('in no room has no cell', () => {
		for (const makesRoom of [{}, { exact: true }, { squeeze: true }])
			expect(stackWithin(makesRoom, 0.1, 1.2, 8, 0).count).toBe(0);
	});
});
