import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evenlyPlaced } from '../sizing/size-along.ts';
import { countBetween, positionsBetween } from './heights.ts';

const sizes = (...values: number[]) => evenlyPlaced(Float64Array.from(values));

describe('a piece with heights that fills demand at its ends', () => {
	it('has its first nodes at just these heights, and the rest by sizes', () => {
		// Cells of 0.1, 0.2 and 0.4 from the start; 9.3 are left, at 1 each.
		const heights = { start: [0.1, 0.3, 0.7], end: [] };
		const count = countBetween(heights, sizes(1, 1), 10);
		expect(count).toBe(3 + 9);
		const at = positionsBetween(heights, sizes(1, 1), 10, count);
		expect(at).toHaveLength(count + 1);
		expect([...at.slice(0, 4)].map((t) => 10 * t)).toEqual([0, 0.1, 0.3, 0.7].map((d) => expect.closeTo(d, 12)));
		const rest = [...at.slice(3)].map((t, k, all) => 10 * ((all[k + 1] ?? 1) - t)).slice(0, -1);
		for (const cell of rest) expect(cell).toBeCloseTo(9.3 / 9, 9);
	});

	it('keeps the heights of both ends, whatever they and the sizes are', () => {
		const stack = fc.array(fc.double({ min: 0.01, max: 0.5, noNaN: true }), { maxLength: 5 }).map((cells) => {
			let sum = 0;
			return cells.map((cell) => (sum += cell));
		});
		fc.assert(
			fc.property(stack, stack, fc.double({ min: 0.2, max: 3, noNaN: true }), (start, end, size) => {
				const heights = { start, end };
				const wanted = sizes(size, 2 * size, size);
				const count = countBetween(heights, wanted, 10);
				const at = positionsBetween(heights, wanted, 10, count);
				expect(at).toHaveLength(count + 1);
				for (let k = 1; k < at.length; k++) expect(at[k]!).toBeGreaterThan(at[k - 1]!);
				start.forEach((d, k) => expect(10 * at[k + 1]!).toBeCloseTo(d, 9));
				end.forEach((d, k) => expect(10 * (1 - at[count - k - 1]!)).toBeCloseTo(d, 9));
			})
		);
	});
});
