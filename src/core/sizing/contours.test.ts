import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { contourLevels, nodeSizes, sizeContours } from './contours.ts';

const meshOf = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} })).mesh;

describe('sizes at nodes', () => {
	it('are the side of a square grid, and between those of its sides where cells are oblong', () => {
		const square = nodeSizes(meshOf('rectangle b = (0, 0) to (4, 4)\nregion r at (1, 1)\nfill r structured\nsize 0.5'));
		for (const size of square) expect(size).toBeCloseTo(0.5, 12);
		const oblong = nodeSizes(
			meshOf(
				'rectangle b = (0, 0) to (4, 4)\nregion r at (1, 1)\nfill r structured\ndivide b.left into 2\ndivide b.bottom into 8'
			)
		);
		// As many sides of 0.5 as of 2 meet at every node.
		for (const size of oblong) expect(size).toBeCloseTo(1.25, 12);
	});
});

describe('levels', () => {
	it('are round numbers within the range, fewer where it is large, and none that whole areas have', () => {
		expect(contourLevels(0.15, 2.5)).toEqual([0.2, 0.3, 0.5, 0.7, 1, 1.5, 2]);
		expect(contourLevels(0.15, 2.5, [0.5, 2])).toEqual([0.2, 0.3, 0.7, 1, 1.5]);
		expect(contourLevels(0.015, 8)).toEqual([0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5]);
		expect(contourLevels(1, 1)).toEqual([]);
		expect(contourLevels(0, 3)).toEqual([]);
		expect(contourLevels(1e-6, 1.5)).toEqual([3e-6, 1e-5, 3e-5, 1e-4, 3e-4, 1e-3, 3e-3, 0.01, 0.03, 0.1, 0.3, 1]);
		expect(contourLevels(1e-9, 1).every((level) => /^1e|^1$|^0\.0*1$/.test(String(level)))).toBe(true);
	});
});

describe('contours', () => {
	it('lie where the sizes are, straight within a triangle', () => {
		const mesh = meshOf('rectangle b = (0, 0) to (10, 10)\nregion r at (1, 1)\nfill r triangles\nsize 1');
		// Sizes that rise with x alone: the contour of 3 is the line x = 3, from the bottom to the top.
		const [contour] = sizeContours(mesh, mesh.x, [3]);
		let length = 0;
		for (let k = 0; k < contour!.segments.length; k += 4) {
			expect(contour!.segments[k]).toBeCloseTo(3, 12);
			expect(contour!.segments[k + 2]).toBeCloseTo(3, 12);
			length += Math.abs(contour!.segments[k + 1]! - contour!.segments[k + 3]!);
		}
		expect(length).toBeCloseTo(10, 9);
		expect(contour!.segments.length % 4).toBe(0);
	});

	it('close around a fine place, in quadrilaterals too', () => {
		const mesh = meshOf('rectangle b = (0, 0) to (10, 10)\nregion r at (1, 1)\nfill r structured\nsize 0.5');
		const away = Float64Array.from(mesh.x, (x, p) => Math.hypot(x - 5, mesh.y[p]! - 5));
		const [contour] = sizeContours(mesh, away, [3]);
		let length = 0;
		for (let k = 0; k < contour!.segments.length; k += 4) {
			const [x, y, u, v] = contour!.segments.slice(k, k + 4) as unknown as [number, number, number, number];
			expect(Math.hypot(x - 5, y - 5)).toBeCloseTo(3, 1);
			length += Math.hypot(u - x, v - y);
		}
		expect(length / (2 * Math.PI * 3)).toBeCloseTo(1, 1);
	});
});
