import { expect, test } from 'vitest';
import { boxOf, colourOfGroup, viewOfBox } from './mesh-box.ts';

test('a box fits its frame with the margin, whichever way it is longer', () => {
	const box = boxOf({ x: Float64Array.of(2, -2, 0), y: Float64Array.of(0, 1, 5) });
	expect(box).toEqual({ x: [-2, 2], y: [0, 5] });
	expect(viewOfBox(box, 448, 148)).toEqual({ x: 0, y: 2.5, scale: 20 });
	expect(viewOfBox(box, 88, 1000)).toEqual({ x: 0, y: 2.5, scale: 10 });
});

test('a mesh on a line has a scale, too', () => {
	expect(viewOfBox(boxOf({ x: Float64Array.of(0, 10), y: Float64Array.of(3, 3) }), 148, 148).scale).toBe(10);
});

test('colours of many groups come again in turn', () => {
	let period = 1;
	while (colourOfGroup(period) !== colourOfGroup(0)) period++;
	expect(period).toBeGreaterThan(4);
	expect(colourOfGroup(period + 1)).toBe(colourOfGroup(1));
});
