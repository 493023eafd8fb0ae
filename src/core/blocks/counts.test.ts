import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Block as Layout } from './layout.ts';
import { settleCounts } from './counts.ts';
import { cutRectangle, feasiblePins } from './networks.test-support.ts';

type Block = Pick<Layout, 'sides'>;

/** A block from the pieces of its four sides, each walked forward. */
const block = (...sides: [number[], number[], number[], number[]]): Block => ({
	sides: sides.map((list) => list.map((p) => 2 * p)) as Block['sides']
});

describe('counts', () => {
	it('are carried from a pinned side to the one across', () => {
		const { counts, conflicts } = settleCounts([block([0], [1], [2], [3])], new Map([[0, 7]]), [2, 3, 2, 5]);
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
		const { counts } = settleCounts(row, new Map([[3, 9]]), new Array<number>(10).fill(2));
		expect([0, 1, 2, 3].map((p) => counts[p]!.count)).toEqual([9, 9, 9, 9]);
		expect(counts[0]!.source).toBe('carried');
	});

	it('of a side of several pieces add up, shared as the sizes have it', () => {
		const { counts, conflicts } = settleCounts([block([0], [1], [2, 3], [4])], new Map([[0, 9]]), [1, 1, 2, 1, 1]);
		expect(counts[2]!.count + counts[3]!.count).toBe(9);
		expect(counts[2]!.count).toBe(6);
		expect(conflicts).toEqual([]);
	});

	it('that are pinned stand, even where they conflict', () => {
		const { counts, conflicts } = settleCounts(
			[block([0], [1], [2], [3])],
			new Map([
				[0, 4],
				[2, 6]
			]),
			[1, 1, 1, 1]
		);
		expect([counts[0]!.count, counts[2]!.count]).toEqual([4, 6]);
		expect(conflicts[0]!.mismatches).toEqual([{ block: 0, sides: [[0], [4]], counts: [4, 6] }]);
		expect(conflicts[0]!.settlements.map((m) => [...m])).toEqual([[[0, 6]], [[2, 4]]]);
	});

	it('conflict where a side would have to have fewer divisions than pieces', () => {
		const { conflicts } = settleCounts([block([0], [1], [2, 3], [4])], new Map([[0, 1]]), [1, 1, 1, 1, 1]);
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
					const { counts, conflicts } = settleCounts(blocks, new Map(), wanted.slice(0, total));
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

	it('keep the sum of a chain, and counts that are to be equal', () => {
		const { counts, conflicts } = settleCounts([], new Map([[3, 8]]), [2, 4, 6, 1, 5], {
			equations: [
				{
					terms: [
						[0, 1],
						[1, 1],
						[2, 1]
					],
					total: 24
				}
			],
			equal: [[4, 3]]
		});
		expect(conflicts).toEqual([]);
		expect(counts.map((c) => c.count)).toEqual([4, 8, 12, 8, 8]);
	});

	it('that clash name the smallest changes that settle it', () => {
		// Two blocks side by side on a long one: 4 + 5 below, 10 above.
		const blocks = [block([0, 1], [2], [3], [4])];
		const { conflicts } = settleCounts(
			blocks,
			new Map([
				[0, 4],
				[1, 5],
				[3, 12]
			]),
			[1, 1, 1, 1, 1]
		);
		expect(conflicts).toHaveLength(1);
		const [first, second] = conflicts[0]!.settlements;
		const change = (m: Map<number, number>) => [...m].reduce((s, [p, n]) => s + Math.abs(n - [4, 5, 0, 12, 0][p]!), 0);
		expect(change(first!)).toBe(3);
		expect(change(second!)).toBe(3);
		expect([...first!.keys()]).not.toEqual([...second!.keys()]);
	});

	it('know that no whole numbers halve an odd count', () => {
		// Both pieces of one side are opposite to each other elsewhere, so they are equal; their sum is odd.
		const blocks = [block([0, 1], [2], [3], [4]), block([0], [5], [1], [6])];
		expect(settleCounts(blocks, new Map([[3, 7]]), [1, 1, 1, 1, 1, 1, 1]).conflicts).toHaveLength(1);
		expect(settleCounts(blocks, new Map([[3, 8]]), [1, 1, 1, 1, 1, 1, 1]).conflicts).toEqual([]);
	});

	it('on random layouts are solved exactly when brute force finds a solution', () => {
		const side = fc.array(fc.integer({ min: 0, max: 7 }), { minLength: 1, maxLength: 3 });
		fc.assert(
			fc.property(
				fc.array(fc.tuple(side, side, side, side), { minLength: 1, maxLength: 3 }),
				fc.dictionary(fc.integer({ min: 0, max: 7 }).map(String), fc.integer({ min: 1, max: 5 }), { maxKeys: 4 }),
				(layout, pins) => {
					// A piece lies at most once on a block.
					for (const sides of layout) if (new Set(sides.flat()).size < sides.flat().length) return;
					const blocks = layout.map((sides) => block(...sides));
					const pinned = new Map(Object.entries(pins).map(([p, n]) => [Number(p), n]));
					const { counts, conflicts } = settleCounts(blocks, pinned, new Array<number>(8).fill(1.4));
					const holds = (n: readonly number[]) =>
						layout.every((sides) => [0, 1].every((k) => sum(sides[k]!, n) === sum(sides[k + 2]!, n)));
					if (conflicts.length === 0) {
						const found = counts.map((c) => c.count);
						expect(holds(found)).toBe(true);
						expect(Math.min(...found)).toBeGreaterThanOrEqual(1);
						for (const [p, n] of pinned) expect(found[p]).toBe(n);
					} else expect(someSolution(holds, pinned)).toBe(false);
				}
			),
			{ numRuns: 150 }
		);
	});

	it('on hundreds of blocks cut at random agree everywhere, with pins that can stand', () => {
		for (const [blocks, pins] of [
			[60, 9],
			[60, 30],
			[300, 40]
		] as const) {
			let state = 4711 + blocks;
			const random = () => (state = (state * 16807) % 2147483647) / 2147483647;
			const network = cutRectangle(blocks, random);
			const pinned = feasiblePins(network, pins, random);
			const wanted = Array.from({ length: network.pieces }, () => 2 + 30 * random());
			const { counts, conflicts } = settleCounts(network.blocks, pinned, wanted);
			expect(conflicts).toEqual([]);
			const total = (side: readonly number[]) => side.reduce((sum, h) => sum + counts[h >> 1]!.count, 0);
			for (const { sides } of network.blocks) {
				expect(total(sides[0])).toBe(total(sides[2]));
				expect(total(sides[1])).toBe(total(sides[3]));
			}
			for (const [p, count] of pinned) expect(counts[p]!.count).toBe(count);
		}
	});

	it('on a layout of 500 blocks with split sides agree everywhere', () => {
		// Rows of blocks, each row split differently from the one below: every horizontal side but the outer ones is shared in parts.
		const blocks: Block[] = [];
		let next = 0;
		const piece = () => next++;
		let below = Array.from({ length: 50 }, piece);
		for (let row = 0; row < 10; row++) {
			const above = Array.from({ length: 100 }, piece);
			const upright = Array.from({ length: 51 }, piece);
			const merged = Array.from({ length: 50 }, piece);
			for (let i = 0; i < 50; i++) {
				blocks.push(block([below[i]!], [upright[i + 1]!], [above[2 * i + 1]!, above[2 * i]!], [upright[i]!]));
				if (i % 2 === 0 && row % 2 === 0) continue;
			}
			below = row % 2 === 0 ? Array.from({ length: 50 }, (_, i) => above[2 * i]!) : merged;
		}
		const wanted = Array.from({ length: next }, (_, k) => 1 + ((k * 7919) % 13));
		const { counts, conflicts } = settleCounts(
			blocks,
			new Map([
				[0, 12],
				[3, 20]
			]),
			wanted
		);
		expect(blocks).toHaveLength(500);
		expect(conflicts).toEqual([]);
		for (const { sides } of blocks)
			for (const k of [0, 1])
				expect(
					sum(
						sides[k]!.map((h) => h >> 1),
						counts.map((c) => c.count)
					)
				).toBe(
					sum(
						sides[k + 2]!.map((h) => h >> 1),
						counts.map((c) => c.count)
					)
				);
	});
});

const sum = (list: readonly number[], n: readonly number[]) => list.reduce((s, p) => s + n[p]!, 0);

/** Whether any counts from 1 to 12 hold, by trying them all for the pieces that are not pinned and matter. */
function someSolution(holds: (n: readonly number[]) => boolean, pinned: ReadonlyMap<number, number>): boolean {
	const n = Array.from({ length: 8 }, (_, p) => pinned.get(p) ?? 1);
	const free = n.flatMap((_, p) => (pinned.has(p) ? [] : [p]));
	const most = free.length > 5 ? 5 : 9;
	const next = (k: number): boolean => {
		if (k === free.length) return holds(n);
		for (let v = 1; v <= most; v++) {
			n[free[k]!] = v;
			if (next(k + 1)) return true;
		}
		return false;
	};
	return next(0);
}
