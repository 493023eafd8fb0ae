import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { jumpAt } from './jumps.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text, files: {} }));

describe('a jump', () => {
	it('is the ratio of the two cells that touch where a line goes on', () => {
		const { arrangement, divisions } = run(
			'line a = (0, 0) to (10, 0)\nline b = (14, 0) to (10, 0)\nline c = (10, 0) to (10, 5)\ndivide a into 10\ndivide b into 2\ndivide c into 5'
		);
		expect(jumpAt(arrangement, divisions.pieces, 0, 'end')).toEqual({
			piece: 1,
			own: expect.closeTo(1, 12),
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
