import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Block } from '../fill/structured/block.ts';
import type { Piece } from '../shape/arrangement.ts';
import { settleCounts } from './counts.ts';

/** Pieces that only have a length; counts depend on nothing else. */
const pieces = (...lengths: number[]) => lengths.map((length) => ({ length }) as Piece);
/** A block from the pieces of its four sides, each walked forward. */
const block = (...sides: [number[], number[], number[], number[]]): Block => ({
	sides: sides.map((list) => list.map((p) => 2 * p)) as Block['sides']
});

describe('counts', () => {
	it('are carried from a pinned side to the one across', () => {
		const { counts, conflicts } = settleCounts(pieces(1, 1, 1, 1), [block([0], [1], [2], [3])], new Map([[0, 7]]), [2, 3, 2, 5]);
		expect(counts.map((c) => [c.count, c.source])).toEqual([
			[7, 'pinned'],
			[5, 'carried'],
			[7, 'carried'],
			[5, 'derived']
		]);
		expect(conflicts).toEqual([]);
	});

	it('travel through a row of blocks', () => {
		// Three blocks in a row share their gates 1, 2; 0 and 3 are the ends.
		const row = [block([4], [1], [5], [0]), block([6], [2], [7], [1]), block([8], [3], [9], [2])];
		const { counts } = settleCounts(
			pieces(...new Array<number>(10).fill(1)),
			row,
			new Map([[3, 9]]),
			new Array<number>(10).fill(2)
		);
		expect([0, 1, 2, 3].map((p) => counts[p]!.count)).toEqual([9, 9, 9, 9]);
		expect(counts[0]!.source).toBe('carried');
	});

	it('of a side of several pieces add up, shared by length', () => {
		const { counts, conflicts } = settleCounts(
			pieces(3, 1, 2, 1, 1),
			[block([0], [1], [2, 3], [4])],
			new Map([[0, 9]]),
			[1, 1, 1, 1, 1]
		);
		expect(counts[2]!.count + counts[3]!.count).toBe(9);
		expect(counts[2]!.count).toBe(6);
		expect(conflicts).toEqual([]);
	});

	it('that are pinned stand, even where they conflict', () => {
		const { counts, conflicts } = settleCounts(
			pieces(1, 1, 1, 1),
			[block([0], [1], [2], [3])],
			new Map([
				[0, 4],
				[2, 6]
			]),
			[1, 1, 1, 1]
		);
		expect([counts[0]!.count, counts[2]!.count]).toEqual([4, 6]);
		expect(conflicts).toEqual([{ block: 0, sides: [[0], [4]], counts: [4, 6] }]);
	});

	it('conflict where a side would have to have fewer divisions than pieces', () => {
		const { conflicts } = settleCounts(pieces(1, 1, 1, 1, 1), [block([0], [1], [2, 3], [4])], new Map([[0, 1]]), [1, 1, 1, 1, 1]);
		expect(conflicts).toHaveLength(1);
	});

	it('agree on every grid of blocks without pins, and every count is at least 1', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 6 }),
				fc.integer({ min: 1, max: 6 }),
				fc.array(fc.integer({ min: 1, max: 50 }), { minLength: 84, maxLength: 84 }),
				(columns, rows, wanted) => {
					// Horizontal pieces first: (rows + 1) × columns; then vertical: rows × (columns + 1).
					const horizontal = (i: number, j: number) => j * columns + i;
					const vertical = (i: number, j: number) => (rows + 1) * columns + j * (columns + 1) + i;
					const total = (rows + 1) * columns + rows * (columns + 1);
					const blocks: Block[] = [];
					for (let j = 0; j < rows; j++)
						for (let i = 0; i < columns; i++)
							blocks.push(block([horizontal(i, j)], [vertical(i + 1, j)], [horizontal(i, j + 1)], [vertical(i, j)]));
					const { counts, conflicts } = settleCounts(
						pieces(...new Array<number>(total).fill(1)),
						blocks,
						new Map(),
						wanted.slice(0, total)
					);
					expect(conflicts).toEqual([]);
					for (let i = 0; i < columns; i++) {
						const column = Array.from({ length: rows + 1 }, (_, j) => counts[horizontal(i, j)]!.count);
						expect(new Set(column).size).toBe(1);
						// The piece that wants most decides.
						expect(column[0]).toBe(Math.max(...Array.from({ length: rows + 1 }, (_, j) => wanted[horizontal(i, j)]!)));
					}
				}
			)
		);
	});

	it('tell a carried piece which way to take the spacing across', () => {
		// Side 0 walked forward, side 2 walked backward: both pieces run the same way.
		const b: Block = { sides: [[0], [2], [5], [6]] };
		const { counts } = settleCounts(pieces(1, 1, 1, 1), [b], new Map([[0, 3]]), [1, 1, 1, 1]);
		expect(counts[2]!.across).toBe(0);
		const turned: Block = { sides: [[0], [2], [4], [6]] };
		expect(settleCounts(pieces(1, 1, 1, 1), [turned], new Map([[0, 3]]), [1, 1, 1, 1]).counts[2]!.across).toBe(1);
	});
});
