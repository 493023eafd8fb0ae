import { describe, expect, it } from 'vitest';
import { pieceInLoop } from './outlines.ts';

const flat = (...places: [number, number][]) => Float64Array.from(places.flat());

describe('a piece and a closed line around it', () => {
	const loop = flat([0, 0], [4, 0], [4, 4], [0, 4]);

	it('is taken whole, by one end, and where it only passes through', () => {
		expect(pieceInLoop(flat([1, 1], [2, 3]), loop)).toBe(true);
		expect(pieceInLoop(flat([1, 1], [9, 9]), loop)).toBe(true);
		expect(pieceInLoop(flat([-1, 2], [9, 2]), loop)).toBe(true);
		// Through a corner only, with both ends outside.
		expect(pieceInLoop(flat([3, 5], [5, 2.5]), loop)).toBe(true);
	});

	it('is left where it stays outside, whatever its box', () => {
		expect(pieceInLoop(flat([5, 0], [9, 4]), loop)).toBe(false);
		expect(pieceInLoop(flat([3, 6], [6, 3]), loop)).toBe(false);
		// In the bay of a U, but not in the U.
		const bay = flat([0, 0], [6, 0], [6, 6], [5, 6], [5, 1], [1, 1], [1, 6], [0, 6]);
		expect(pieceInLoop(flat([2, 3], [4, 5]), bay)).toBe(false);
		expect(pieceInLoop(flat([2, 3], [5.5, 5]), bay)).toBe(true);
	});
});
