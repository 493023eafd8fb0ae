import { describe, expect, it } from 'vitest';
import { applyEdits } from '../../text/edit.ts';
import { evaluateRecipe } from '../model/evaluate.ts';
import { dimensionsOf, gripsOf } from './grips-of.ts';
import { parseRecipe } from '../language/parse.ts';

const modelOf = (text: string) => evaluateRecipe(parseRecipe(text), {});
const grips = (text: string, line = 0) => gripsOf(modelOf(text), line);
/** The text after the grip nearest to a place was dragged to another. */
function dragged(text: string, from: [number, number], to: [number, number], line = 0): string {
	const near = grips(text, line)
		.map((grip) => ({ grip, away: Math.hypot(grip.x - from[0], grip.y - from[1]) }))
		.sort((a, b) => a.away - b.away)[0]!;
	expect(near.away).toBeLessThan(1e-9);
	return applyEdits(text, near.grip.move({ x: to[0], y: to[1] }));
}

describe('grips', () => {
	it('of a rectangle by two corners are its corners and the middles of its sides', () => {
		const text = 'rectangle r = (40, 30) to (0, 10)';
		expect(grips(text)).toHaveLength(8);
		expect(dragged(text, [0, 10], [5, 12])).toBe('rectangle r = (40, 30) to (5, 12)');
		expect(dragged(text, [0, 30], [5, 35])).toBe('rectangle r = (40, 35) to (5, 10)');
		expect(dragged(text, [20, 10], [99, 8])).toBe('rectangle r = (40, 30) to (0, 8)');
		// Nothing would be left of it.
		expect(dragged(text, [20, 10], [99, 30])).toBe(text);
	});

	it('of a rectangle by centre and size, turned, set width and height about the centre', () => {
		const text = 'rectangle r = around (10, 10) size 8, 4 turned 90 deg';
		// Its width runs upward.
		expect(dragged(text, [10, 14], [10, 16])).toMatch(/size 12, 4 turned/);
		expect(dragged(text, [10, 10], [0, 0])).toMatch(/around \(0, 0\)/);
	});

	it('of a circle are its centre and its rim', () => {
		expect(dragged('circle c = around (1, 2) radius 3', [4, 2], [1, 7])).toBe('circle c = around (1, 2) radius 5');
		expect(dragged('circle c = around (1, 2) radius 3', [1, 2], [0, 0])).toBe('circle c = around (0, 0) radius 3');
	});

	it('of an ellipse are its centre and the ends of its axes', () => {
		expect(dragged('ellipse e = around (0, 0) radii 8, 3', [0, 3], [5, 4])).toBe('ellipse e = around (0, 0) radii 8, 4');
	});

	it('of an arc around a centre keep both ends at one distance', () => {
		const text = 'arc a = (10, 0) to (0, 10) around (0, 0)';
		expect(dragged(text, [10, 0], [0, -20])).toBe('arc a = (0, -20) to (0, 20) around (0, 0)');
		expect(dragged(text, [0, 0], [1, 2])).toBe('arc a = (11, 2) to (1, 12) around (1, 2)');
		for (const after of [dragged(text, [10, 0], [7, -3]), dragged(text, [0, 0], [4, 4])])
			expect(modelOf(after).findings.filter((f) => f.severity === 'error')).toEqual([]);
	});

	it('of an arc by radius set the radius at its middle', () => {
		const text = 'arc a = (0, 0) to (10, 0) radius 13';
		const middle = grips(text).at(-1)!;
		const after = applyEdits(text, middle.move({ x: 5, y: -5 }));
		expect(after).toBe('arc a = (0, 0) to (10, 0) radius 5');
	});

	it('leave formulas and names as they are', () => {
		expect(grips('let D = 3\ncircle c = around (D, 2) radius D', 1)).toHaveLength(1);
		expect(dragged('let D = 3\ncircle c = around (D, 2) radius D', [3, 2], [9, 5], 1)).toContain('around (D, 5) radius D');
		expect(grips('point p = (0, 0)\nline a = p to (3, 4)', 1)).toEqual([expect.objectContaining({ x: 3, y: 4 })]);
		expect(grips('circle c = around nowhere radius 2')).toEqual([]);
	});
});

describe('dimensions', () => {
	const set = (text: string, label: string, source: string, line = 0) =>
		applyEdits(
			text,
			dimensionsOf(modelOf(text), line)
				.find((d) => d.label === label)!
				.set(source)
		);

	it('of a rectangle go from its first corner', () => {
		expect(set('rectangle r = (40, 30) to (0, 10)', 'width', '50')).toBe('rectangle r = (40, 30) to (-10, 10)');
		expect(set('rectangle r = (1, 1) to (4, 3)', 'height', '2*5 mm')).toBe('rectangle r = (1, 1) to (4, 1 + (2*5 mm))');
	});

	it('are the numbers as they are written', () => {
		const text = 'let R = 3\ncircle c = around (1, 2) radius 2*R';
		expect(dimensionsOf(modelOf(text), 1)).toMatchObject([{ label: 'radius', value: 6, source: '2*R' }]);
		expect(set(text, 'radius', 'R', 1)).toContain('radius R');
	});
});
