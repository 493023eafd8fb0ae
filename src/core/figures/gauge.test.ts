import { describe, expect, it } from 'vitest';
import type { Division } from '../divide/division.ts';
import { countIn, countWithin, divisionSizes, rangeOf, valuesIn, worstElements } from './gauge.ts';

describe('figures of the gauge', () => {
	it('are the extremes of all divisions, of many pieces too', () => {
		const piece = (smallest: number, largest: number) => ({ figures: { smallest, largest } }) as Division;
		expect(divisionSizes([])).toBeUndefined();
		expect(divisionSizes([piece(1, 2), piece(0.5, 1), piece(1, 7)])).toEqual({ smallest: 0.5, largest: 7 });
		// More than an argument list holds.
		expect(divisionSizes(Array.from({ length: 400_000 }, (_, k) => piece(k + 1, k + 2)))).toEqual({
			smallest: 1,
			largest: 400_001
		});
	});

	it('are taken of ranges of elements', () => {
		const values = Float32Array.of(5, 1, 4, 2, 3);
		expect(countIn([0, 2, 4, 5])).toBe(3);
		expect([...valuesIn([0, 2, 4, 5], values)]).toEqual([5, 1, 3]);
		expect(rangeOf(values)).toEqual({ min: 1, mean: 3, max: 5 });
		expect(rangeOf(new Float32Array())).toBeUndefined();
		expect(countWithin(values, [2, 4])).toBe(3);
	});

	it('name the worst elements first, those of the ranges alone', () => {
		const values = Float32Array.of(5, 1, 4, 2, 3);
		expect(worstElements(values, 'high')).toEqual([1, 3, 4, 2, 0]);
		expect(worstElements(values, 'low', undefined, 2)).toEqual([0, 2]);
		expect(worstElements(values, 'high', [0, 1, 2, 5], 2)).toEqual([3, 4]);
	});
});
