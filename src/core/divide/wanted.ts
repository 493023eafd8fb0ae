import { PairBuckets } from '../numeric/pair-buckets.ts';
import type { RegionDemands } from '../blocks/demands.ts';
import type { Block } from '../blocks/layout.ts';
import type { Work } from '../numeric/work.ts';
import { isStraight } from '../geometry/parts.ts';
import { type Arrangement, type Piece, type Walk, walkLength } from '../geometry/pieces.ts';
import { largestTurn, mostOfKink, type Turns, turnsOfPiece } from '../geometry/turns.ts';
import { globalSizes } from '../recipe/statements/size.ts';
import { type Flats, flatsOf } from '../sizing/flats.ts';
import { sizesAlongPieces } from '../sizing/along-pieces.ts';
import { derivedTurn } from '../sizing/demands.ts';
import { countAlong, positionsAlong, type SizesAlong, sizesOfPositions } from '../sizing/size-along.ts';
import { elementLimit } from '../sizing/size-rule.ts';
import type { DivisionRequest, Chain } from './requests.ts';
import { facingPieces, sizesInBlocks } from './block-sizes.ts';
import { pieceNames } from '../domain/references.ts';
import { CrowdedPieces } from './crowded.ts';
import { NarrowGaps } from './narrow-gaps.ts';
import type { BlockOf, DivideContext } from './division.ts';
import { shareOfChain } from './laws/chain.ts';
import { SpacingError } from './laws/spacing-error.ts';
import { positions, reversePositions } from './spacing.ts';
import { tryPositions } from './spread.ts';

/** The pieces that layouts divide. */
export const laidOut = (demands: readonly RegionDemands[]): Set<number> =>
	new Set(demands.flatMap(({ demands: { walks } }) => walks.flat().map((h) => h >> 1)));

/** What a derived division may turn, but for rounding. */
const mostTurn = derivedTurn * (1 + 1e-9);

/** The wanted sizes along every piece, and how it turns; pieces with a count or a spacing of their own pass theirs on. */
export function* sizesOf(
	context: DivideContext,
	blocks: readonly BlockOf[],
	requests: readonly (DivisionRequest | undefined)[],
	least: readonly number[]
): Work<{ sizes: SizesAlong[]; turns: Turns[] }> {
	const { model, arrangement, regions, fallbackSize, field, demands } = context;
	const inLayout = laidOut(demands);
	/** Whether each face is filled, and the size of its region, Infinity where it is not; the last is that of no face. */
	const isMeshed = new Uint8Array(arrangement.faces.length + 1);
	const sizeIn = new Float64Array(isMeshed.length).fill(Infinity);
	const faceOrNone = (face: number) => (face < 0 ? arrangement.faces.length : face);
	for (const { face, fill, size } of new Map(regions.map((r) => [r.face, r])).values()) {
		if (fill === 'none') continue;
		isMeshed[face] = 1;
		sizeIn[face] = Math.max(size ?? fallbackSize, finestSize(arrangement.faces[face]!.area));
	}
	const fallback = globalSizes(model).at(-1)?.size ?? fallbackSize;
	const { pieces, sides } = arrangement;
	const filled = new Uint8Array(sides.length);
	const base: number[] = [];
	let coarsest = -Infinity;
	for (let p = 0; p < pieces.length; p++) {
		const [left, right] = [faceOrNone(sides[2 * p]!), faceOrNone(sides[2 * p + 1]!)];
		filled[2 * p] = isMeshed[left]!;
		filled[2 * p + 1] = isMeshed[right]!;
		const smaller = Math.min(sizeIn[left]!, sizeIn[right]!);
		base.push(smaller < Infinity ? smaller : fallback);
		if (base[p]! > coarsest) coarsest = base[p]!;
	}
	const turns: Turns[] = [];
	for (const piece of pieces) turns.push(turnsOfPiece(piece, mostTurn / 2 / coarsest));
	const given = pieces.map((piece, p): SizesAlong | undefined => {
		const request = requests[p];
		if (request?.follows) return request.follows;
		const count = request?.count ?? (request?.wanted === undefined ? undefined : Math.max(1, Math.round(request.wanted)));
		if (count === undefined) return undefined;
		// In a block a count alone says how many, not how they are spaced: they grow with what is finer beside them.
		if (inLayout.has(p) && !request!.spacing && !request!.like && !request!.chain) {
			base[p] = Math.min(base[p]!, arrangement.pieces[p]!.length / count);
			return undefined;
		}
		let at = positions(count, { law: 'even' });
		try {
			if (request!.spacing) at = positions(count, request!.spacing, piece.length);
		} catch (error) {
			// The piece itself tells what is wrong.
			if (!(error instanceof SpacingError)) throw error;
		}
		return sizesOfPositions(at, piece.length);
	});
	yield 0;
	const longest: number[] = [];
	for (const [p, { length }] of pieces.entries()) longest.push(length / least[p]!);
	// Blocks have their own spacing; a size along their sides follows the size of their region, and grows from block to block.
	const inBlocks = sizesInBlocks({ arrangement, blocks, demands, filled, requests, given, inLayout, base, turns, field });
	const gaps = new NarrowGaps(arrangement);
	const crowded = new CrowdedPieces(arrangement);
	const sizes = yield* sizesAlongPieces({
		arrangement,
		field,
		base,
		longest,
		turns,
		cache: context.knownSizes,
		given: inBlocks,
		filled,
		tooNarrow: (piece, at, gap, finest) => gaps.take(piece, at, gap, finest),
		tooCrowded: (piece, at, crowd) => crowded.take(piece, at, crowd)
	});
	gaps.report(context.report, model.recipe);
	crowded.report(context.report, model.recipe);
	return { sizes, turns };
}

/** Pieces visited between two yields. */
const chunkSize = 256;

/** Divisions that the sizes imply, not rounded. */
export function* wantedCounts(
	{ arrangement, report }: DivideContext,
	requests: readonly (DivisionRequest | undefined)[],
	sizes: readonly SizesAlong[],
	least: readonly number[],
	turnOf: (piece: number) => Turns | undefined
): Work<number[]> {
	const counts: number[] = [];
	for (const [p, { length }] of arrangement.pieces.entries()) {
		if (p % chunkSize === 0) yield p / arrangement.pieces.length;
		const request = requests[p];
		const along = request?.wanted ?? countAlong(sizes[p]!, length);
		// Nothing follows of what is no number; what has no bound is too fine, and said.
		const count = Number.isNaN(along) ? least[p]! : Math.min(along, Number.MAX_SAFE_INTEGER);
		const turns = request ? undefined : turnOf(p);
		counts.push(Math.max(least[p]!, turns ? notCutFlat(count, sizes[p]!, turns, arrangement.pieces[p]!) : count));
	}
	let total = 0;
	for (const count of counts) total += count;
	if (total <= mostNodes) return counts;
	const most = counts.reduce((best, count, p) => (count > counts[best]! ? p : best), 0);
	report.add('too-fine', { piece: pieceNames(arrangement)[most]!, count: counts[most]!, most: mostNodes }, { pieces: [most] });
	return counts.map((count) => Math.max(1, (count * fewNodes) / total));
}

/** Counts that were found not to turn too far, by the sizes that they follow from. */
const knownCounts = new WeakMap<SizesAlong, { count: number; turns: Turns; raised: number }>();

/** The count, raised until no division by the sizes turns too far. */
function notCutFlat(count: number, sizes: SizesAlong, turns: Turns, piece: Piece): number {
	// As many as can be too flat are few.
	const total = turns.turn.at(-1)! + turns.kinks.turn.reduce((sum, kink) => sum + kink, 0);
	if (total <= mostTurn || count > mostNodes) return count;
	const cached = knownCounts.get(sizes);
	if (cached?.count === count && cached.turns === turns) return cached.raised;
	const raised = raisedFor(count, sizes, turns, flatsOf(piece, turns, derivedTurn));
	knownCounts.set(sizes, { count, turns, raised });
	return raised;
}

/** A count is raised to at most this multiple of what it was. */
const fewTimes = 4;
/** A count that is raised by less than this share of it is not looked at again. */
const fewMore = 0.01;

function raisedFor(count: number, sizes: SizesAlong, turns: Turns, flats: Flats | undefined): number {
	let whole = Math.max(1, Math.round(count));
	// At a cusp no count is enough.
	const most = fewTimes * (whole + 4);
	for (let tries = 0; tries < 8; tries++) {
		const { turn } = largestTurn(
			turns,
			positionsAlong(sizes, whole),
			flats && ((from, to, turned) => turned > mostTurn && flats.isNoise(from, to)),
			mostOfKink
		);
		if (turn <= mostTurn) return whole === Math.round(count) ? count : whole;
		const before = whole;
		whole = Math.max(whole + 1, Math.min(2 * whole, Math.ceil((whole * turn) / mostTurn / 1.2)));
		if (whole > most) return most;
		// A few more to many do no more than to shift them along the kinks.
		if (whole - before < fewMore * before) break;
	}
	return whole;
}

/** The most divisions that sizes give a drawing. */
const mostNodes = 2_000_000;
/** As many are made of them where there would be more. */
const fewNodes = 20_000;

/** The size at which a region of a given area reaches the limit of its elements: finer ones are refused by the fill. */
const finestSize = (area: number) => Math.sqrt((4 * area) / Math.sqrt(3) / elementLimit);

/** Shares the count of a chain among its pieces as its spacing has it. */
export function wantedOfChain(context: DivideContext, chain: Chain, wanted: number[]): void {
	const { arrangement } = context;
	const pieces = chain.walk.map((h) => h >> 1);
	const lengths = pieces.map((p) => arrangement.pieces[p]!.length);
	const total = chain.count ?? Math.max(1, Math.round(pieces.reduce((sum, p) => sum + wanted[p]!, 0)));
	if (total < 2) return;
	const length = lengths.reduce((a, b) => a + b, 0);
	const at = tryPositions(context, total, chain.spacing, length, chain.line, pieces);
	shareOfChain(at, lengths).forEach((share, k) => (wanted[pieces[k]!] = Math.max(1e-3, share)));
}

/** Shares the count of a side of several pieces as the spacing on the one piece across the block has it. */
export function wantedAcross(
	arrangement: Arrangement,
	{ sides }: Block,
	requests: readonly (DivisionRequest | undefined)[],
	wanted: number[]
): void {
	sides.forEach((from, k) => {
		const to = sides[(k + 2) % 4]!;
		const p = from[0]! >> 1;
		const spacing = requests[p]?.spacing;
		if (from.length > 1 || to.length < 2 || !spacing || to.some((h) => requests[h >> 1])) return;
		const count = requests[p]!.count ?? Math.round(wanted[p]!);
		if (count < to.length) return;
		let at: Float64Array;
		try {
			at = positions(count, spacing, arrangement.pieces[p]!.length);
		} catch (error) {
			// The piece itself tells what is wrong.
			if (error instanceof SpacingError) return;
			throw error;
		}
		if (from[0]! & 1) at = reversePositions(at);
		const walk = [...to].reverse();
		const lengths = walk.map((h) => arrangement.pieces[h >> 1]!.length);
		shareOfChain(at, lengths).forEach((share, i) => (wanted[walk[i]! >> 1] = Math.max(1e-3, share)));
	});
}

/**
 * A size that a statement names for a side counts for those that face it through blocks, where nothing is said of them: what is merely
 * derived does not stand against it. Of several that are named the finest counts.
 */
export function takeTypedSizes(
	blocks: readonly BlockOf[],
	requests: readonly (DivisionRequest | undefined)[],
	wanted: number[]
): void {
	const facing = facingPieces(blocks);
	const isNamed = (p: number) => requests[p]?.wanted !== undefined && requests[p].count === undefined;
	const named = wanted.flatMap((_, p) => (isNamed(p) ? [p] : [])).sort((p, q) => wanted[q]! - wanted[p]!);
	const seen = new Set<number>();
	for (const first of named) {
		const queue = [first];
		seen.add(first);
		for (const p of queue)
			for (const { piece } of facing[p] ?? []) {
				const request = requests[piece];
				if (seen.has(piece) || request?.count !== undefined || isNamed(piece)) continue;
				seen.add(piece);
				wanted[piece] = wanted[first]!;
				queue.push(piece);
			}
	}
}

/** The same around a ring: what is named for all of one outline counts for the other, where nothing is said of that. */
export function takeSizesAround(
	{ pieces }: Arrangement,
	demands: readonly RegionDemands[],
	requests: readonly (DivisionRequest | undefined)[],
	wanted: number[]
): void {
	for (const { layout } of demands.map(({ demands: needs }) => needs)) {
		if (layout?.kind !== 'ring') continue;
		const named = (walk: Walk) =>
			walk.every((h) => requests[h >> 1]?.wanted !== undefined && requests[h >> 1]!.count === undefined);
		const free = (walk: Walk) => walk.every((h) => (requests[h >> 1]?.countLine ?? -1) < 0);
		for (const [one, other] of [
			[layout.outer, layout.inner],
			[layout.inner, layout.outer]
		] as const) {
			if (!named(one) || !free(other)) continue;
			const total = one.reduce((sum, h) => sum + wanted[h >> 1]!, 0);
			const length = walkLength(pieces, other);
			for (const h of other) wanted[h >> 1] = Math.max(1, (total * pieces[h >> 1]!.length) / length);
		}
	}
}

/** 1 for pieces between the same two junctions: cut once, they would fall on one chord. */
function twinPieces({ pieces }: Arrangement): Uint8Array {
	const isTwin = new Uint8Array(pieces.length);
	const between = new PairBuckets(pieces.length);
	for (const [p, { start, end }] of pieces.entries()) {
		const twin = between.newest(Math.min(start, end), Math.max(start, end));
		if (twin >= 0) isTwin[p] = isTwin[twin] = 1;
		between.add(Math.min(start, end), Math.max(start, end));
	}
	return isTwin;
}

/** The fewest divisions of every piece that enclose something where it is closed, and keep twins from falling on one chord. */
export function leastCounts(arrangement: Arrangement): number[] {
	const isTwin = twinPieces(arrangement);
	const least: number[] = [];
	for (const [p, piece] of arrangement.pieces.entries())
		least.push(piece.start === piece.end ? 3 : isTwin[p] && !isStraight(piece) ? 2 : 1);
	return least;
}
