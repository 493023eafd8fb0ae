import { expect, it } from 'vitest';
import { measuredBetween } from './measured.ts';

const at = (...places: [number, number][]) => places.map(([x, y]) => ({ x, y }));

it('places measured in turn give step, way, corner and area', () => {
	expect(measuredBetween(at([0, 0]))).toBeUndefined();
	expect(measuredBetween(at([0, 0], [3, 4]))).toEqual({ distance: 5, angle: expect.closeTo(53.13, 2), way: 5 });
	// Around a right-angled triangle of 3, 4 and 5.
	const found = measuredBetween(at([0, 0], [3, 0], [3, 4]));
	expect(found).toMatchObject({ distance: 4, angle: 90, way: 7, corner: expect.closeTo(90, 9), area: 6 });
});
