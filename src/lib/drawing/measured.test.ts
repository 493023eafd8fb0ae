import { expect, it } from 'vitest';
import { lengthsAt, measuredBetween } from './measured.ts';

const at = (...places: [number, number][]) => places.map(([x, y]) => ({ x, y }));

it('places measured in turn give step, way, corner and area', () => {
	expect(measuredBetween(at([0, 0]))).toBeUndefined();
	expect(measuredBetween(at([0, 0], [3, 4]))).toEqual({ distance: 5, angle: expect.closeTo(53.13, 2), way: 5 });
	// Around a right-angled triangle of 3, 4 and 5.
	const found = measuredBetween(at([0, 0], [3, 0], [3, 4]));
	expect(found).toMatchObject({ distance: 4, angle: 90, way: 7, corner: expect.closeTo(90, 9), area: 6 });
});

it('gives lengths of the pieces that end at a place, at their middles', () => {
	const pieces = [
		{ start: 0, end: 1, length: 3 },
		{ start: 1, end: 2, length: 4.00000049 },
		{ start: 2, end: 0, length: 5 }
	];
	const arrangement = { pieces, x: Float64Array.of(0, 3, 3), y: Float64Array.of(0, 0, 4) };
	expect(lengthsAt(arrangement as never, { x: 3.001, y: 0 }, 0.01)).toEqual([
		{ x: 1.5, y: 0, text: '3' },
		{ x: 3, y: 2, text: '4' }
	]);
	expect(lengthsAt(arrangement as never, { x: 3.1, y: 0 }, 0.01)).toEqual([]);
});
