import { describe, expect, it } from 'vitest';
import { sharpCorners } from './thin.ts';

/** A drop: round, with a tip at its start. */
function drop(points: number, withEnd: boolean): [Float64Array, Float64Array] {
	const count = withEnd ? points + 1 : points;
	const angle = (k: number) => (2 * Math.PI * (k % points)) / points;
	return [
		Float64Array.from({ length: count }, (_, k) => Math.cos(angle(k))),
		Float64Array.from({ length: count }, (_, k) => Math.sin(angle(k)) * Math.sin(angle(k) / 2) ** 2)
	];
}

describe('sharp corners of a line', () => {
	it('count the tip where a closed line starts, whether or not its first point is given again', () => {
		for (const withEnd of [true, false]) expect(sharpCorners(...drop(60, withEnd), true)).toBe(1);
		expect(sharpCorners(...drop(60, true), false)).toBe(0);
	});

	it('are none on a round line', () => {
		const [x, y] = [0, 1].map((k) =>
			Float64Array.from({ length: 41 }, (_, i) => Math.cos((2 * Math.PI * i) / 40 - (k * Math.PI) / 2))
		);
		expect(sharpCorners(x!, y!, true)).toBe(0);
	});
});
