import { describe, expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { namedPlace, snapAt, type SnapOptions } from './snap.ts';
import { fitted, screenX, screenY } from './view.ts';

const text = `recipe 1
point p = (0, 0)
line floor = p to (100, 0)
line wall = (50, -20) to (50, 30)
circle eye = around (80, 40) radius 10
spline roof = (0, 60) to (50, 70) to (100, 60)
`;
const result = finish(new Pipeline(() => 0).run({ text, files: {} }));
const view = fitted({ x: 0, y: 0, scale: 1, width: 900, height: 700 }, [0, -20, 100, 70], 0);
const curve = (name: string) => result.model.curves.findIndex((c) => c.name === name);
/** The place a few pixels beside a point of the plane. */
const beside = (x: number, y: number, wish: Partial<SnapOptions> = {}) =>
	snapAt(view, screenX(view, x) + 4, screenY(view, y) - 3, result, { snapping: true, ...wish });

describe('the cursor snaps', () => {
	it('to named points before anything else, by name, even while snapping is held off', () => {
		expect(beside(0, 0)).toMatchObject({ x: 0, y: 0, snap: 'point', source: 'p' });
		expect(beside(0, 0, { snapping: false })).toMatchObject({ snap: 'point', source: 'p' });
		expect(beside(100, 0, { snapping: false }).snap).toBe('free');
	});

	it('to ends by the name of their curve, and to crossings by their place', () => {
		expect(beside(100, 0)).toMatchObject({ snap: 'end', source: 'end(floor)' });
		expect(beside(50, 0)).toMatchObject({ snap: 'crossing', source: '(50, 0)' });
	});

	it('to middles and centres', () => {
		expect(beside(50, 5)).toMatchObject({ snap: 'middle', source: 'middle(wall)' });
		expect(beside(80, 40)).toMatchObject({ snap: 'centre', source: 'centre(eye)' });
		const roof = beside(50, 70);
		expect(roof.snap).toBe('middle');
		expect(roof.y).toBeCloseTo(70, 9);
	});

	it('to the foot of a perpendicular and to tangents from the place before', () => {
		const from = { x: 30, y: 40, snap: 'grid' as const, source: '(30, 40)' };
		expect(beside(30, 0, { from, curve: curve('floor') })).toMatchObject({ x: 30, y: 0, snap: 'perpendicular' });
		// Tangents from (80, 20) to the circle touch where the angle at the centre is 60°.
		const below = { x: 80, y: 20, snap: 'grid' as const, source: '(80, 20)' };
		const touch = { x: 80 + 10 * Math.sin(Math.PI / 3), y: 40 - 10 * Math.cos(Math.PI / 3) };
		const tangent = beside(touch.x, touch.y, { from: below, curve: curve('eye') });
		expect(tangent.snap).toBe('tangent');
		expect(tangent.x).toBeCloseTo(touch.x, 9);
		expect(tangent.y).toBeCloseTo(touch.y, 9);
	});

	it('to the nearest of several within reach, whatever their kinds; by kind where they are equally near', () => {
		const crowded = finish(
			new Pipeline(() => 0).run({
				text: 'recipe 1\npoint a = (0, 0)\npoint b = (2, 0)\nline l = (0.4, 10) to (100, 10)\nline m = (-0.9, 8) to (0.9, 12)\nline n = b to (2, -9)\n',
				files: {}
			})
		);
		const close = fitted({ x: 0, y: 0, scale: 1, width: 900, height: 700 }, [0, -10, 100, 20], 0);
		const near = (x: number, y: number) => snapAt(close, screenX(close, x), screenY(close, y), crowded, { snapping: true });
		// Both points are within reach of a place between them, on a drawing of a hundred units.
		expect(near(0.9, 0)).toMatchObject({ source: 'a' });
		expect(near(1.1, 0)).toMatchObject({ source: 'b' });
		// The end of a line and the middle of another, half a unit apart: the point is an end of `n` as well, and its name wins.
		expect(near(0.45, 10)).toMatchObject({ snap: 'end', source: 'start(l)' });
		expect(near(0.05, 10)).toMatchObject({ snap: 'middle', source: 'middle(m)' });
		expect(near(2, 0)).toMatchObject({ snap: 'point', source: 'b' });
	});

	it('to the curve under it, and says how far along', () => {
		const on = snapAt(view, screenX(view, 25), screenY(view, 0) - 3, result, { snapping: true, curve: curve('floor') });
		expect(on).toMatchObject({ snap: 'on curve', source: 'along(floor, 0.25)', on: { curve: 'floor', share: 0.25 } });
	});

	it('in line with the place before, else to the grid', () => {
		const from = { x: 23.4, y: -17, snap: 'grid' as const, source: '(23.4, -17)' };
		expect(snapAt(view, screenX(view, 23.4) + 3, screenY(view, 40), result, { snapping: true, from })).toMatchObject({
			x: 23.4,
			snap: 'aligned'
		});
		const grid = snapAt(view, screenX(view, 20) + 1, screenY(view, 40) + 1, result, { snapping: true });
		expect(grid).toMatchObject({ x: 20, y: 40, snap: 'grid' });
	});
});

describe('a place that is typed', () => {
	const points = [
		{ name: 'p', x: 3, y: 4 },
		{ name: 'q', x: 5, y: 4 }
	];

	it('is the point that stands there, and otherwise what was typed', () => {
		expect(namedPlace({ x: 3, y: 4, snap: 'typed', source: '(3, 4)' }, points)).toMatchObject({ source: 'p', point: 'p' });
		expect(namedPlace({ x: 3, y: 4.5, snap: 'typed', source: '(3, 4.5)' }, points)).toMatchObject({ source: '(3, 4.5)' });
	});

	it('stays a formula where it is one', () => {
		expect(namedPlace({ x: 3, y: 4, snap: 'typed', source: '(w, 4)' }, points)).toMatchObject({
			source: '(w, 4)',
			snap: 'typed'
		});
	});
});
