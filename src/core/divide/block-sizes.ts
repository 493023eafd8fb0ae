import type { RegionDemands } from '../blocks/demands.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { bendPlaces, type Turns } from '../geometry/turns.ts';
import { sizeAt, type SizesAlong } from '../sizing/size-along.ts';
import type { SizeField } from '../sizing/size-field.ts';
import { bendSizes, derivedTurn } from '../sizing/demands.ts';
import type { DivisionRequest } from './requests.ts';
import type { BlockOf } from './division.ts';
import { zonesInLayout } from './zones-in-layouts.ts';
import { goesOnInto } from './jumps.ts';
import { grownFrom, lowerOf, scaled } from './profiles.ts';
import { spacingLaws } from './laws/table.ts';

/** What the sizes along the sides of blocks follow from. */
interface BlockSizes {
	arrangement: Arrangement;
	blocks: readonly BlockOf[];
	demands: readonly RegionDemands[];
	requests: readonly (DivisionRequest | undefined)[];
	/** Sizes of the cells of pieces whose division is given. */
	given: readonly (SizesAlong | undefined)[];
	/** For each half-piece whether what lies to its left is meshed. */
	filled: Uint8Array;
	inLayout: ReadonlySet<number>;
	base: readonly number[];
	turns: readonly Turns[];
	field: SizeField;
}

/** Sizes that fall by less than this share change nothing. */
const enough = 0.01;

/**
 * Sizes along the pieces of layouts that are divided by nobody: those of their regions, finer where they bend, and growing
 * away from what is finer: along a line of pieces that go on from one another, and from side to side of a block. So rows
 * of cells pass from block to block without a jump. Others stay as they are given.
 */
export function sizesInBlocks(parts: BlockSizes): (SizesAlong | undefined)[] {
	const { arrangement, blocks, demands, filled, requests, given, inLayout, base, turns, field } = parts;
	if (inLayout.size === 0) return [...given];
	const { pieces } = arrangement;
	const turnPerDivision = field.perTurn === undefined ? derivedTurn : (2 * Math.PI) / field.perTurn;
	const isFree = (p: number) => inLayout.has(p) && !given[p];
	const sizes = pieces.map((_, p): SizesAlong | undefined => {
		if (!isFree(p)) return given[p];
		const places = [0, ...bendPlaces(turns[p]!, turnPerDivision / base[p]!), 1];
		const at = Float64Array.from(new Set(places)).sort();
		return { at, size: bendSizes(pieces[p]!, turns[p]!, at, turnPerDivision, base[p]!).map((size) => Math.min(base[p]!, size)) };
	});
	const across = facingPieces(blocks);
	const keepsSizes = chordsThatKeepSizes(pieces.length, across, requests);
	/** Lowers the sizes of a piece; whether that changed anything. */
	const lower = (p: number, by: SizesAlong): boolean => {
		const before = sizes[p]!;
		const after = lowerOf(before, by);
		sizes[p] = after;
		return after.at.some((fraction, k) => after.size[k]! < sizeAt(before, fraction) * (1 - enough));
	};
	for (const { demands: needs } of demands)
		for (const { piece, sizes: zoned } of needs.layout ? zonesInLayout(arrangement, needs.layout, field, filled) : [])
			if (isFree(piece)) lower(piece, zoned);
	// The smallest first: what it reaches is final.
	const waiting = new Map<number, number>();
	const wait = (p: number) => waiting.set(p, least(sizes[p]!));
	pieces.forEach((_, p) => {
		if (given[p] || (isFree(p) && least(sizes[p]!) < base[p]! * (1 - enough))) wait(p);
	});
	while (waiting.size > 0) {
		let next = -1;
		for (const [p, size] of waiting) if (next < 0 || size < waiting.get(next)!) next = p;
		waiting.delete(next);
		const sizesHere = sizes[next]!;
		const { length } = pieces[next]!;
		for (const { piece, turned } of across[next] ?? []) {
			if (!isFree(piece)) continue;
			// A spacing that is given passes on as shares of the length. What has grown passes as it is: scaled from side to side
			// and grown from block to block it would shrink on and on where facing sides differ in length.
			const scale = given[next] && !keepsSizes(next) ? pieces[piece]!.length / length : 1;
			if (lower(piece, scaled(sizesHere, scale, turned))) wait(piece);
		}
		for (const end of ['start', 'end'] as const) {
			const beyond = goesOnInto(arrangement, next, end);
			if (!beyond || !isFree(beyond.piece)) continue;
			const first = end === 'start' ? sizesHere.size[0]! : sizesHere.size.at(-1)!;
			if (lower(beyond.piece, grownFrom(first, field.slope, base[beyond.piece]!, pieces[beyond.piece]!.length, beyond.end)))
				wait(beyond.piece);
		}
	}
	return sizes;
}

const least = ({ size }: SizesAlong): number => size.reduce((a, b) => Math.min(a, b), Infinity);

/** For every piece those that face it across a block, each alone on its side, and whether they run against it. */
export function facingPieces(blocks: readonly BlockOf[]): { piece: number; turned: boolean }[][] {
	const list: { piece: number; turned: boolean }[][] = [];
	for (const { block } of blocks)
		for (const k of [0, 1]) {
			const [one, other] = [block.sides[k]!, block.sides[k + 2]!];
			if (one.length !== 1 || other.length !== 1) continue;
			// Both sides are walked the same way round, so that they face one another reversed.
			const turned = ((one[0]! ^ other[0]!) & 1) === 0;
			const [p, q] = [one[0]! >> 1, other[0]! >> 1];
			(list[p] ??= []).push({ piece: q, turned });
			(list[q] ??= []).push({ piece: p, turned });
		}
	return list;
}

/** Whether a piece hangs across blocks together with one whose spacing keeps sizes, rather than shares, on another length. */
function chordsThatKeepSizes(
	count: number,
	across: readonly { piece: number }[][],
	requests: readonly (DivisionRequest | undefined)[]
): (p: number) => boolean {
	const keeps = new Uint8Array(count);
	const queue = requests.flatMap((a, p) => {
		const { spacing } = a ?? {};
		return spacing && spacingLaws.some((law) => law.law === spacing.law && law.keepsSizes?.(spacing)) ? [p] : [];
	});
	for (const p of queue) keeps[p] = 1;
	for (let k = 0; k < queue.length; k++)
		for (const { piece } of across[queue[k]!] ?? [])
			if (!keeps[piece]) {
				keeps[piece] = 1;
				queue.push(piece);
			}
	return (p) => keeps[p] === 1;
}
