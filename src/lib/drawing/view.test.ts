import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { pieceAt, pieceInBox, PieceLines, regionAt } from './outlines.ts';
import { snapAt } from './snap.ts';
import { fitted, formatAt, niceStep, ruler, screenX, screenY, worldX, worldY, zoomed, type View } from './view.ts';

const view: View = { x: 0, y: 0, scale: 10, width: 800, height: 600 };

describe('the view', () => {
	it('turns pixels into coordinates and back, y upward', () => {
		expect(screenY(view, 1)).toBeLessThan(screenY(view, 0));
		fc.assert(
			fc.property(fc.double({ min: 0, max: 800, noNaN: true }), fc.double({ min: 0, max: 600, noNaN: true }), (px, py) => {
				expect(screenX(view, worldX(view, px))).toBeCloseTo(px, 9);
				expect(screenY(view, worldY(view, py))).toBeCloseTo(py, 9);
			})
		);
	});

	it('keeps the point under the pointer in place while it zooms', () => {
		fc.assert(
			fc.property(fc.double({ min: 0.1, max: 10, noNaN: true }), fc.double({ min: 0, max: 800, noNaN: true }), (factor, px) => {
				const after = zoomed(view, factor, px, 200);
				expect(worldX(after, px)).toBeCloseTo(worldX(view, px), 9);
				expect(worldY(after, 200)).toBeCloseTo(worldY(view, 200), 9);
			})
		);
	});

	it('fits a box between the rulers', () => {
		const after = fitted(view, [100, -5, 700, 45]);
		expect(screenX(after, 100)).toBeGreaterThan(ruler.left);
		expect(screenX(after, 700)).toBeLessThan(800);
		expect(screenY(after, 45)).toBeGreaterThan(ruler.top);
		expect(screenY(after, -5)).toBeLessThan(600);
		expect(fitted(view, undefined).scale).toBeGreaterThan(0);
		expect(fitted(view, [3, 3, 3, 3]).scale).toBeGreaterThan(0);
	});

	it('divides rulers by 1, 2 or 5 times a power of ten, with the digits that takes', () => {
		expect(niceStep(10, 14)).toBe(2);
		expect(niceStep(10, 70)).toBe(10);
		expect(niceStep(1000, 14)).toBeCloseTo(0.02, 12);
		expect(formatAt(1.2345, 0.02)).toBe('1.23');
		expect(formatAt(-0, 5)).toBe('0');
	});
});

describe('picking and snapping', () => {
	const text =
		'point p = (1, 1)\nrectangle box = (0, 0) to (10, 6)\ncircle eye = around (5, 3) radius 1\nregion r at (1, 1)\nregion hole at (5, 3)\nfill r, hole none';
	const result = finish(new Pipeline(() => 0).run({ text, files: {} }));
	const lines = new PieceLines();
	lines.use(result.arrangement, 10);

	it('finds the nearest piece within reach, and the region under a place', () => {
		const names = result.arrangement.pieces.map((p) => result.arrangement.curves[p.owner]!.name);
		expect(names[pieceAt(result, lines, 5, 0.3, 0.5)]).toBe('box.bottom');
		expect(names[pieceAt(result, lines, 6.2, 3, 0.5)]).toBe('eye');
		expect(pieceAt(result, lines, 3, 3, 0.5)).toBe(-1);
		expect(result.regions[regionAt(result, 5, 3)]!.name).toBe('hole');
		expect(result.regions[regionAt(result, 1, 1)]!.name).toBe('r');
		expect(regionAt(result, 11, 1)).toBe(-1);
	});

	it('takes a piece into a box only as a whole', () => {
		const eye = result.arrangement.pieces.findIndex((p) => result.arrangement.curves[p.owner]!.name === 'eye');
		expect(pieceInBox(lines.of(eye), 3.9, 1.9, 6.1, 4.1)).toBe(true);
		expect(pieceInBox(lines.of(eye), 4.5, 1.9, 6.1, 4.1)).toBe(false);
	});

	it('draws the cursor to points first, then to ends of pieces, then to the grid', () => {
		const at = (x: number, y: number, snapping = true) => snapAt(view, screenX(view, x), screenY(view, y), result, { snapping });
		expect(at(1.2, 1.1)).toMatchObject({ snap: 'point', source: 'p', x: 1, y: 1 });
		expect(at(9.9, 6.1)).toMatchObject({ snap: 'end', source: 'end(box.right)' });
		expect(at(3.4, 2.7)).toMatchObject({ snap: 'grid', x: 4, y: 2 });
		expect(at(3.4, 2.7, false)).toMatchObject({ snap: 'free', x: 3.4, y: 2.7, source: '(3.4, 2.7)' });
	});
});
