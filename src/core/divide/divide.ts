import { type Count, type CountConflict, settleCounts } from '../blocks/counts.ts';
import { type DivisionRequest, type Chain, collect } from './requests.ts';
import { describeConflict } from './conflicts.ts';
import type { BlockOf, DivideContext, Division, Divisions } from './division.ts';
import { reportCoarseCurves } from './doubts.ts';
import { countBetween, heightsOf } from './heights.ts';
import { spacingFigures } from './spacing.ts';
import { part, type Work } from '../numeric/work.ts';
import { resolvePieces } from '../domain/references.ts';
import { stated } from '../recipe/language/statement.ts';
import { baffle } from '../recipe/statements/baffle.ts';
import { Report } from '../findings/report.ts';
import { spread } from './spread.ts';
import {
	laidOut,
	leastCounts,
	sizesOf,
	takeSizesAround,
	takeTypedSizes,
	wantedAcross,
	wantedCounts,
	wantedOfChain
} from './wanted.ts';

/** Pieces that get their nodes between two yields. */
const chunkSize = 256;

/** Works out counts (carried through blocks), spacing and node places of every piece. */
export function* divide(context: DivideContext): Work<Divisions> {
	const { arrangement, demands, placed } = context;
	const requests = collect(context);
	const chains = [...new Set(requests.flatMap((a) => a?.chain ?? []))];
	const least = leastCounts(arrangement);
	for (const p of loneWalls(context)) least[p] = Math.max(2, least[p]!);
	const blocks = demands.flatMap(({ region, demands: { blocks: regionBlocks } }) =>
		regionBlocks.map((block): BlockOf => ({ region, block }))
	);
	const { sizes, turns } = yield* part(sizesOf(context, blocks, requests, least), 0, 0.8);
	const heights = heightsOf(context, requests, laidOut(demands));

	// Phase 1: the counts that sizes and spacings want.
	const turnOf = (p: number) => (context.field.perTurn === undefined ? turns[p] : undefined);
	const wanted = yield* part(wantedCounts(context, requests, sizes, least, turnOf), 0.8, 0.9);
	for (const [p, ends] of heights)
		if ((requests[p]?.countLine ?? -1) < 0) wanted[p] = countBetween(ends, sizes[p]!, arrangement.pieces[p]!.length);
	for (const chain of chains) wantedOfChain(context, chain, wanted);
	for (const { block } of blocks) wantedAcross(arrangement, block, requests, wanted);
	takeTypedSizes(blocks, requests, wanted);
	takeSizesAround(arrangement, demands, requests, wanted);

	// Phase 2: the counts that agree.
	const { counts, inner, conflicts } = settle(context, blocks, requests, chains, wanted);
	for (const conflict of conflicts) describeConflict(context, blocks, counts, requests, conflict);

	// Phase 3: places of nodes.
	yield 0.9;
	const { at, spacings } = spread(context, blocks, counts, requests, chains, sizes, heights);
	const pieces: Division[] = [];
	for (const [p, piece] of arrangement.pieces.entries()) {
		if (p % chunkSize === 0) yield 0.95 + (0.05 * p) / arrangement.pieces.length;
		const { count, source } = counts[p]!;
		const places = placed.place(arrangement, p, at[p]!);
		pieces.push({
			count,
			source,
			spacing: spacings[p]!,
			countLine: requests[p]?.countLine ?? -1,
			spacingLine: requests[p]?.spacingLine ?? -1,
			figures: spacingFigures(places.at, piece.length),
			...places
		});
	}
	reportCoarseCurves(context, requests, turns, pieces);
	const clashing = new Set(
		conflicts.flatMap((c) =>
			c.mismatches.length > 0 ? c.mismatches.flatMap((m) => m.sides.flat().map((h) => h >> 1)) : c.pieces
		)
	);
	return { pieces, clashing, inner };
}

/** Pieces of two-sided walls that no other such piece meets: a single edge between two free tips could not open. */
function loneWalls({ model, arrangement, regions }: DivideContext): number[] {
	const walls = new Set(
		stated(model, baffle).flatMap(({ pieces }) =>
			resolvePieces(model, arrangement, pieces, new Report(), regions).map(({ piece }) => piece)
		)
	);
	const meeting = new Map<number, number>();
	for (const p of walls)
		for (const j of [arrangement.pieces[p]!.start, arrangement.pieces[p]!.end]) meeting.set(j, (meeting.get(j) ?? 0) + 1);
	return [...walls].filter((p) => [arrangement.pieces[p]!.start, arrangement.pieces[p]!.end].every((j) => meeting.get(j) === 1));
}

/** Counts of all pieces, and of what layouts have inside, that fulfil every equation; layouts that can do with less do so where that is needed. */
function settle(
	context: DivideContext,
	blocks: readonly BlockOf[],
	requests: readonly (DivisionRequest | undefined)[],
	chains: readonly Chain[],
	wanted: readonly number[]
): SettledCounts {
	const first = settleAll(context, blocks, requests, chains, wanted, false);
	if (first.conflicts.length === 0 || !context.demands.some(({ demands: { enough } }) => enough)) return first;
	const second = settleAll(context, blocks, requests, chains, wanted, true);
	return second.conflicts.length < first.conflicts.length ? second : first;
}

interface SettledCounts {
	counts: Count[];
	inner: number[][];
	conflicts: CountConflict[];
}

function settleAll(
	{ demands }: DivideContext,
	blocks: readonly BlockOf[],
	requests: readonly (DivisionRequest | undefined)[],
	chains: readonly Chain[],
	wanted: readonly number[],
	isEnough: boolean
): SettledCounts {
	const places = wanted.length;
	const all = [...wanted];
	const equations: { terms: (readonly [number, number])[]; total: number }[] = [];
	const pinned = new Map<number, number>();
	requests.forEach((a, p) => {
		if (a?.count !== undefined) pinned.set(p, a.count);
	});
	// The counts that layouts have inside follow those of the pieces.
	const first = demands.map(({ demands: needs }) => {
		const from = all.length;
		const inside = (isEnough ? needs.enough?.(wanted) : undefined) ?? needs.equations(wanted, pinned);
		for (const { pieces, inner: numbers, total = 0 } of inside.equations)
			equations.push({ terms: [...pieces, ...[...numbers].map(([k, c]) => [from + k, c] as const)], total });
		all.push(...inside.inner);
		return from;
	});
	for (const { walk, count } of chains) {
		const pieces = walk.map((h) => h >> 1);
		if (count === undefined || pieces.some((p) => pinned.has(p))) continue;
		equations.push({ terms: pieces.map((p) => [p, 1] as const), total: count });
	}
	const equal = requests.flatMap((a, p) => (a?.like === undefined || a.count !== undefined ? [] : [[p, a.like] as const]));
	const { counts, conflicts } = settleCounts(
		blocks.map(({ block }) => block),
		pinned,
		all,
		{ equal, equations }
	);
	for (const conflict of conflicts) conflict.pieces = conflict.pieces.filter((p) => p < places);
	const inner = first.map((from, k) => counts.slice(from, first[k + 1] ?? all.length).map((c) => c.count));
	return { counts: counts.slice(0, places), inner, conflicts };
}
