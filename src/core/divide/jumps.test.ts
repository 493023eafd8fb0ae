import { describe, expect, it } from 'vitest';
import { finish } from '../fill/fill.ts';
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
});
