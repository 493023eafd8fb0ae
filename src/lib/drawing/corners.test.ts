import { describe, expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline, type Result } from '../../core/pipeline.ts';
import { cornerMarks, cornerScene, junctionUnder, movedCorner, toggledCorner, writeCorners } from './corners.ts';
import { fitted, screenX, screenY } from './view.ts';

const run = (text: string): Result => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const house = run(
	'point top = (2, 4)\nrectangle box = (0, 0) to (4, 3)\nline w = (0, 3) to top\nline e = (4, 3) to top\nregion r at (1, 1)\nregion attic at (2, 3.2)\nfill r structured smooth 7\nfill attic structured\nsize 0.5'
);
const view = fitted({ x: 0, y: 0, scale: 1, width: 800, height: 600 }, [0, 0, 4, 4], 0);
const scene = cornerScene(house, 'r')!;

describe('corners in the drawing', () => {
	it('are lettered, and facing sides of a block have as many bars', () => {
		const marks = cornerMarks(house, scene, view);
		expect(marks.corners.map((c) => c.letter)).toEqual(['A', 'B', 'C', 'D']);
		expect(marks.bars.map((b) => b.count)).toEqual([1, 2, 1, 2]);
		expect(marks.rings).toEqual([]);
		// The bars stand in the middle of the sides.
		const middles = marks.bars.map(
			(b) => `${((b.px - screenX(view, 0)) / view.scale).toFixed(6)} ${((screenY(view, 0) - b.py) / view.scale).toFixed(6)}`
		);
		expect(middles.sort()).toEqual(['0.000000 1.500000', '2.000000 0.000000', '2.000000 3.000000', '4.000000 1.500000']);
		expect(cornerMarks(house, cornerScene(house, 'attic')!, view).bars).toEqual([]);
	});

	it('are found under a pixel, and none where there is none', () => {
		const under = junctionUnder(house, scene, view, screenX(view, 4) + 4, screenY(view, 3) - 3);
		const j = scene.junctions[under]!;
		expect([house.arrangement.x[j], house.arrangement.y[j]]).toEqual([4, 3]);
		expect(junctionUnder(house, scene, view, screenX(view, 2), screenY(view, 1))).toBe(-1);
	});

	it('move to free junctions only, and three are the fewest', () => {
		const five = { ...scene, junctions: [10, 11, 12, 13, 14], corners: [0, 1, 2, 3] };
		expect(movedCorner(five, 3, 4)).toEqual([0, 1, 2, 4]);
		expect(movedCorner(five, 3, 2)).toBeUndefined();
		expect(toggledCorner(five, 4)).toEqual([0, 1, 2, 3, 4]);
		expect(toggledCorner(five, 1)).toEqual([0, 2, 3]);
		expect(toggledCorner({ ...five, corners: [0, 1, 2] }, 1)).toBeUndefined();
	});

	it('are written in turn, by points and ends of curves where they have names; the rest of the fill stays', () => {
		const { text, label } = writeCorners(house, house.recipe, scene, scene.corners);
		expect(text).toContain('fill r structured corners ');
		expect(text).toMatch(/fill r structured corners .* smooth 7\n/);
		expect(label).toMatch(/^Corners of r: /);
		const again = run(text.replace('recipe 1\n', ''));
		expect(again.mesh.quads).toEqual(house.mesh.quads);
		const attic = cornerScene(house, 'attic')!;
		expect(writeCorners(house, house.recipe, attic, attic.corners).text).toMatch(/fill attic structured corners .*\btop\b/);
	});

	it('are none around a hole and in triangles', () => {
		const ring = run(
			'circle a = around (0, 0) radius 3\ncircle b = around (0, 0) radius 1\nregion r at (2, 0)\nfill r structured'
		);
		expect(cornerScene(ring, 'r')).toBeUndefined();
		const other = run('circle a = around (0, 0) radius 3\nregion r at (2, 0)\nfill r triangles');
		expect(cornerScene(other, 'r')).toBeUndefined();
	});
});
