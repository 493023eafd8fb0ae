import { describe, expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { readCoordinates } from '../../formats/coordinates.ts';
import { filePoints, moveFilePoint, rowKey, rowOf, whyHeld, withoutFilePoints } from './file-points.ts';
import { fitted } from './view.ts';

const rows = '0,0\n10,4\n20,6\n30,0\n';
const runText = (text: string, file = rows) =>
	finish(new Pipeline(() => 0).run({ text, files: { 'wall.csv': readCoordinates(new TextEncoder().encode(file)) } }));
const run = (statement: string) => runText(`recipe 1\npoint a = (100, 50)\n${statement}\n`);
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

	it('are put elsewhere by a correction in the recipe, however the outline was placed; the file stays', () => {
		for (const statement of [
			'polyline w = from "wall.csv"',
			'spline w = from "wall.csv" start a',
			'polyline w = from "wall.csv" scaled 2 turned 90 deg moved (5, 6)'
		]) {
			const result = run(statement);
			const point = filePoints(result, 'w', view)[1]!;
			const to = { x: point.x + 3, y: point.y - 2 };
			const { text } = moveFilePoint(result, point, to)!;
			expect(text).toContain('from "wall.csv"');
			expect(text).toMatch(/moving 2 to \(/);
			const again = runText(text);
			const moved = filePoints(again, 'w', view);
			expect(moved[1]!.x).toBeCloseTo(to.x, 8);
			expect(moved[1]!.y).toBeCloseTo(to.y, 8);
			expect(moved[2]!.x).toBeCloseTo(filePoints(result, 'w', view)[2]!.x, 12);
			// A second correction of the row takes the place of the first, one of another row stands beside it.
			const twice = moveFilePoint(again, moved[1]!, point)!.text;
			expect(filePoints(runText(twice), 'w', view)[1]!.x).toBeCloseTo(point.x, 8);
			expect(moveFilePoint(again, moved[2]!, to)!.text).toMatch(/moving 2 to \(.*\), 3 to \(/);
		}
	});

	it('are left out of the curve, stretches of them as stretches', () => {
		const many = Array.from({ length: 60 }, (_, k) => `${k},${(k * k) % 7}`).join('\n');
		const result = runText('polyline w = from "wall.csv" without 31\n', many);
		const rows = (...lines: number[]) => lines.map((line) => ({ curve: 'w', line }));
		const { text, label } = withoutFilePoints(result, rows(3, 12, 13, 14, 15, 30, 32))!;
		expect(text).toContain('without 3, 12 to 15, 30 to 32');
		expect(label).toBe('Leave out 7 lines of the file');
		const left = [...runText(text, many).model.fileLines.get('w')!];
		expect(left).toHaveLength(52);
		expect(left).not.toContain(13);
		expect(withoutFilePoints(result, rows(99))).toBeUndefined();
	});

	it('are known by a key, as other things that can be selected', () => {
		expect(rowKey({ curve: 'w', line: 12 })).toBe('row w 12');
		expect(rowOf('drawn.wall 7')).toEqual({ curve: 'drawn.wall', line: 7 });
	});

	it('that a statement holds in place say so', () => {
		const result = run('polyline w = from "wall.csv" start a');
		const [first, second] = filePoints(result, 'w', view);
		expect(whyHeld(result, first!)).toMatch(/first point of w is held by “from”/);
		expect(whyHeld(result, second!)).toBeUndefined();
	});
});
