import type { Block } from '../fill/structured/block.ts';
import type { Piece, Walk } from '../shape/arrangement.ts';

/** Where a count comes from: typed by the user, implied by a structured neighbour, or implied by a size. */
export type CountSource = 'pinned' | 'carried' | 'derived';

export interface Count {
	count: number;
	source: CountSource;
	/** For a carried count of a side of one piece: the half-piece across the block, walked the same way, whose spacing it takes. */
	across?: number;
}

/** A block whose opposite sides cannot have the same count. */
export interface CountConflict {
	block: number;
	sides: [Walk, Walk];
	counts: [number, number];
}

/**
 * Gives every piece a count. Pinned counts stand; opposite sides of a block carry the same sum;
 * where several counts would do, the piece with the most divisions by its own size decides.
 *
 * @param pinned counts typed by the user, by piece
 * @param wanted counts that the sizes imply, one per piece
 */
export function settleCounts(
	pieces: readonly Piece[],
	blocks: readonly Block[],
	pinned: ReadonlyMap<number, number>,
	wanted: readonly number[]
): { counts: Count[]; conflicts: CountConflict[] } {
	const counts = new Array<Count | undefined>(pieces.length);
	for (const [piece, count] of pinned) counts[piece] = { count, source: 'pinned' };
	const pairs = blocks.flatMap((block, b) => [0, 1].map((k) => ({ block: b, one: block.sides[k]!, other: block.sides[k + 2]! })));
	const touching = new Map<number, number[]>();
	pairs.forEach(({ one, other }, k) => {
		for (const h of [...one, ...other]) touching.set(h >> 1, [...(touching.get(h >> 1) ?? []), k]);
	});

	// Carry pinned counts as far as they go, then let derived counts decide what is left, largest first.
	const queue = pairs.map((_, k) => k);
	const settle = (piece: number, count: Count) => {
		counts[piece] = count;
		queue.push(...(touching.get(piece) ?? []));
	};
	const spread = () => {
		for (let k = queue.shift(); k !== undefined; k = queue.shift()) carry(pairs[k]!.one, pairs[k]!.other);
	};
	const carry = (one: Walk, other: Walk) => {
		const openOne = one.filter((h) => !counts[h >> 1]);
		const openOther = other.filter((h) => !counts[h >> 1]);
		if ((openOne.length === 0) === (openOther.length === 0)) return;
		const [full, side, open] = openOne.length === 0 ? [one, other, openOne.length ? openOne : openOther] : [other, one, openOne];
		const given = side.filter((h) => counts[h >> 1]).reduce((sum, h) => sum + counts[h >> 1]!.count, 0);
		const left = full.reduce((sum, h) => sum + counts[h >> 1]!.count, 0) - given;
		if (left < open.length) return;
		const shares = share(
			left,
			open.map((h) => pieces[h >> 1]!.length)
		);
		open.forEach((h, i) => {
			const single = full.length === 1 && side.length === 1;
			settle(h >> 1, { count: shares[i]!, source: 'carried', ...(single ? { across: h & 1 ? full[0]! : full[0]! ^ 1 } : {}) });
		});
	};
	spread();
	const order = pieces.map((_, p) => p).sort((a, b) => wanted[b]! - wanted[a]! || a - b);
	for (const piece of order) {
		if (counts[piece]) continue;
		settle(piece, { count: wanted[piece]!, source: 'derived' });
		spread();
	}

	const conflicts: CountConflict[] = [];
	for (const { block, one, other } of pairs) {
		const sum = (walk: Walk) => walk.reduce((s, h) => s + counts[h >> 1]!.count, 0);
		if (sum(one) !== sum(other)) conflicts.push({ block, sides: [one, other], counts: [sum(one), sum(other)] });
	}
	return { counts: counts as Count[], conflicts };
}

/** Shares `total` in whole numbers of at least 1, in proportion to the weights (largest remainder). */
function share(total: number, weights: number[]): number[] {
	const sum = weights.reduce((a, b) => a + b, 0);
	const spare = total - weights.length;
	const exact = weights.map((w) => (w / sum) * spare);
	const parts = exact.map(Math.floor);
	const rest = spare - parts.reduce((a, b) => a + b, 0);
	const byRemainder = exact.map((_, i) => i).sort((a, b) => exact[b]! - parts[b]! - (exact[a]! - parts[a]!) || a - b);
	for (let i = 0; i < rest; i++) parts[byRemainder[i]!]!++;
	return parts.map((p) => p + 1);
}
