import { describe, expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { readCoordinates } from '../../formats/coordinates.ts';
import { changedName, filePoints, moveFilePoint, whyHeld } from './file-points.ts';
import { fitted } from './view.ts';

const rows = '0,0\n10,4\n20,6\n30,0\n';
const bytes = new TextEncoder().encode(rows);
const run = (statement: string) =>
	finish(
		new Pipeline(() => 0).run({
			text: `recipe 1\npoint a = (100, 50)\n${statement}\n`,
			files: { 'wall.csv': readCoordinates(bytes) }
		})
	);
const view = fitted({ x: 0, y: 0, scale: 1, width: 800, height: 600 }, [0, -100, 300, 200], 0);

describe('points of an imported outline', () => {
	it('are where the file and the statement put them', () => {
		expect(filePoints(run('polyline w = from "wall.csv"'), 'w', view)).toMatchObject([
			{ line: 1, x: 0, y: 0 },
			{ line: 2, x: 10, y: 4 },
			{ line: 3, x: 20, y: 6 },
			{ line: 4, x: 30, y: 0 }
		]);
	});

	it('move in a changed copy of the file, however the outline was placed', () => {
		for (const statement of [
			'polyline w = from "wall.csv"',
			'spline w = from "wall.csv" start a',
			'polyline w = from "wall.csv" scaled 2 turned 90 deg moved (5, 6)'
		]) {
			const result = run(statement);
			const point = filePoints(result, 'w', view)[1]!;
			const to = { x: point.x + 3, y: point.y - 2 };
			const changed = moveFilePoint(result, point, to, bytes);
			expect(changed.name).toBe('wall-changed.csv');
			expect(changed.text).toContain('from "wall-changed.csv"');
			const again = finish(
				new Pipeline(() => 0).run({ text: changed.text, files: { 'wall-changed.csv': readCoordinates(changed.bytes) } })
			);
			const moved = filePoints(again, 'w', view);
			expect(moved[1]!.x).toBeCloseTo(to.x, 8);
			expect(moved[1]!.y).toBeCloseTo(to.y, 8);
			expect(moved[2]!.x).toBeCloseTo(filePoints(result, 'w', view)[2]!.x, 12);
		}
	});

	it('that a statement holds in place say so', () => {
		const result = run('polyline w = from "wall.csv" start a');
		const [first, second] = filePoints(result, 'w', view);
		expect(whyHeld(result, first!)).toMatch(/first point of w is held by “from”/);
		expect(whyHeld(result, second!)).toBeUndefined();
	});

	it('keep one changed copy', () => {
		expect(changedName('wall.csv')).toBe('wall-changed.csv');
		expect(changedName('wall-changed.csv')).toBe('wall-changed.csv');
		expect(changedName('wall')).toBe('wall-changed');
	});
});
