import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { pieceNames } from '../domain/references.ts';
import { applyEdits } from '../text/edit.ts';
import { jumpAt } from './jumps.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text, files: {} }));

describe('a jump', () => {
	it('is the ratio of the two cells that touch where a line goes on', () => {
		const { arrangement, divisions } = run(
			'line a = (0, 0) to (10, 0)\nline b = (14, 0) to (10, 0)\nline c = (10, 0) to (10, 5)\ndivide a into 10\ndivide b into 2\ndivide c into 5'
		);
		expect(jumpAt(arrangement, divisions.pieces, 0, 'end')).toEqual({
			piece: 1,
			cell: expect.closeTo(1, 12),
			other: 2,
			ratio: expect.closeTo(2, 12)
		});
		expect(jumpAt(arrangement, divisions.pieces, 1, 'end')).toMatchObject({ piece: 0, other: expect.closeTo(1, 12) });
		// Around the corner nothing goes on, and neither does anything at a free end.
		expect(jumpAt(arrangement, divisions.pieces, 2, 'start')).toBeUndefined();
		expect(jumpAt(arrangement, divisions.pieces, 0, 'start')).toBeUndefined();
	});

	it('is told for the whole drawing where it is largest, of pieces that are meshed', () => {
		const text = (extra: string) =>
			`rectangle a = (0, 0) to (10, 5)\nrectangle b = (10, 0) to (14, 5)\nregion r at (1, 1)\nregion s at (12, 1)\nfill r structured\nfill s ${extra}\ndivide a.bottom into 10\ndivide b.bottom into 2\ndivide a.left into 5`;
		// Along the bottom cells of 1 meet cells of 2; with only the left part filled, nothing goes on.
		const { largestJump, arrangement } = run(text('structured'));
		expect(largestJump!.ratio).toBeCloseTo(2, 12);
		expect(arrangement.pieces[largestJump!.piece]).toBeDefined();
		expect(run(text('none')).largestJump).toBeUndefined();
	});
});

describe('jumps that are told', () => {
	const found = (size: string) =>
		run(
			`rectangle a = (0, 0) to (10, 5)\nrectangle b = (10, 0) to (14, 5)\nregion r at (1, 1)\nregion s at (12, 1)\n${size}\nfill r, s structured\ndivide a.bottom into 10 first 1 at both\ndivide b.bottom into 4 first 0.4 at b.left\ndivide a.left into 5`
		).findings.filter(({ code }) => code === 'jump');

	it('are those above 2, or above what the recipe says', () => {
		// Cells of 1 beside cells of 0.4.
		expect(found('size 1').length).toBeGreaterThan(0);
		expect(found('size 1 jump 2.4').length).toBeGreaterThan(0);
		expect(found('size 1 jump 2.6 growth 1.2')).toEqual([]);
		expect(found('size 1 growth 1.2 jump 2.6')).toEqual([]);
	});

	it('want a ratio above 1', () => {
		expect(run('size 1 jump 1').findings[0]!.message).toContain('a jump of 1 is none');
	});
});

describe('sizes in blocks', () => {
	const blocks = (extra: string) =>
		finish(
			new Pipeline(() => 0).run({
				text: `recipe 1
rectangle a = (0, 0) to (20, 10)
rectangle b = (20, 0) to (40, 10)
region ra at (10, 5)
region rb at (30, 5)
size 2 growth 1.2
${extra}
fill ra, rb structured`,
				files: {}
			})
		);

	it('grow from what is finer along a piece of which only the count is typed', () => {
		const result = blocks('divide b.bottom into 20 first 0.05 at both\ndivide a.bottom into 20');
		const bottom = result.divisions.pieces[pieceNames(result.arrangement).indexOf('a.bottom')]!;
		expect(bottom.at.length).toBe(21);
		expect(bottom.figures.last).toBeLessThan(0.25);
		expect(bottom.figures.ratio).toBeLessThan(1.5);
	});

	it('grow away from what is finer, along the line and across the block', () => {
		const result = blocks('divide b.bottom into 20 first 0.05 at both');
		const of = (name: string) => result.divisions.pieces[pieceNames(result.arrangement).indexOf(name)]!;
		expect(result.largestJump!.ratio).toBeLessThan(1.25);
		expect(of('a.bottom').figures.last).toBeCloseTo(0.05, 1);
		expect(of('a.bottom').figures.ratio).toBeLessThan(1.25);
		const mirrored = of('a.top')
			.at.map((t) => 1 - t)
			.reverse();
		mirrored.forEach((t, k) => expect(t).toBeCloseTo(of('a.bottom').at[k]!, 12));
		expect(result.findings.some((f) => f.code === 'jump')).toBe(false);
		// What runs the other way is as coarse as it was.
		expect(of('a.left').count).toBe(5);
	});

	it('that are pinned and jump are told, with a mend that takes the jump away', () => {
		const text = 'divide b.bottom into 20 first 0.05 at both\ndivide a.bottom into 10';
		const [found] = blocks(text).findings.filter((f) => f.code === 'jump');
		expect(found?.message).toContain('“a.bottom” meets “b.bottom”');
		const mended = finish(
			new Pipeline(() => 0).run({ text: applyEdits(blocks(text).recipe.text, found!.mend!.edits), files: {} })
		);
		expect(mended.findings.filter((f) => f.code === 'jump')).toEqual([]);
		expect(mended.findings.filter((f) => f.severity === 'error')).toEqual([]);
	});

	it('settle where facing sides of neighbouring blocks differ in length by different shares', () => {
		const result = finish(
			new Pipeline(() => 0).run({
				text: `recipe 1
line f0 = (-10, 0) to (0, 0)
line f1 = (0, 0) to (10, 0)
line f2 = (10, 0) to (20, 0)
line r0 = (-10, 5) to (1, 5)
line r1 = (1, 5) to (9, 5)
line r2 = (9, 5) to (21, 5)
line c0 = (-10, 0) to (-10, 5)
line c1 = (0, 0) to (1, 5)
line c2 = (10, 0) to (9, 5)
line c3 = (20, 0) to (21, 5)
region a at (-5, 2)
region b at (5, 2)
region c at (15, 2)
size 2 growth 1.2
divide f0 into 30 first 0.05 at c1
fill a, b, c structured`,
				files: {}
			})
		);
		expect(result.mesh.quads.length).toBeGreaterThan(0);
		const smallest = Math.min(...result.divisions.pieces.map((d) => d.figures.smallest));
		expect(smallest).toBeGreaterThan(0.03);
	});
});
