import type { RegionDemands } from '../blocks/demands.ts';
import type { Block } from '../blocks/layout.ts';
import { isStraight } from '../geometry/parts.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { globalSizes } from '../recipe/statements/size.ts';
import { sizesAlongPieces } from '../sizing/along-pieces.ts';
import { countAlong, evenlyPlaced, type SizesAlong, sizesOfPositions } from '../sizing/size-along.ts';
import { elementLimit } from '../sizing/size-rule.ts';
import { type Asked, type Chain, totalTurn } from './asked.ts';
import type { DivideContext } from './division.ts';
import { shareOfChain } from './laws/chain.ts';
import { SpacingError } from './laws/spacing-error.ts';
import { positions, reversePositions } from './spacing.ts';
import { tryPositions } from './spread.ts';

/** The pieces that layouts divide. */
export const laidOut = (demands: readonly RegionDemands[]): Set<number> =>
	new Set(demands.flatMap(({ demands: { walks } }) => walks.flat().map((h) => h >> 1)));

/** Derived counts give a full turn of a curve at least this many divisions. */
const divisionsPerTurn = 12;

/** The wanted sizes along every piece; pieces with a count or a spacing of their own pass theirs on. */
export function sizesOf(context: DivideContext, asked: readonly (Asked | undefined)[], least: readonly number[]): SizesAlong[] {
	const { model, arrangement, regions, fallbackSize, field, demands } = context;
	const inLayout = laidOut(demands);
	const regionOf = new Map(regions.map((r) => [r.face, r]));
	const beside = (side: number) => {
		const region = regionOf.get(arrangement.sides[side]!);
		return region && region.fill !== 'none' ? region : undefined;
	};
	const base = arrangement.pieces.map((_, p) => {
		const sizes = [2 * p, 2 * p + 1]
			.flatMap((h) => beside(h) ?? [])
			.map((r) => Math.max(r.size ?? fallbackSize, finestSize(arrangement.faces[r.face]!.area)));
		return sizes.length > 0 ? Math.min(...sizes) : (globalSizes(model).at(-1)?.size ?? fallbackSize);
	});
	const given = arrangement.pieces.map((piece, p): SizesAlong | undefined => {
		const own = asked[p];
		const count = own?.count ?? (own?.wanted === undefined ? undefined : Math.max(1, Math.round(own.wanted)));
		if (count === undefined) return undefined;
		let at = positions(count, { law: 'even' });
		try {
			if (own!.spacing) at = positions(count, own!.spacing, piece.length);
		} catch (error) {
			// The piece itself tells what is wrong.
			if (!(error instanceof SpacingError)) throw error;
		}
		return sizesOfPositions(at, piece.length);
	});
	// Blocks have their own spacing; a size along their sides follows only the size of their region.
	const even = arrangement.pieces.map(
		(_, p) => given[p] ?? (inLayout.has(p) ? evenlyPlaced(Float64Array.of(base[p]!, base[p]!)) : undefined)
	);
	const longest = arrangement.pieces.map(({ length }, p) => length / least[p]!);
	return sizesAlongPieces({ arrangement, field, base, longest, given: even, isFilled: (side) => beside(side) !== undefined });
}

/** Divisions that the sizes imply, not rounded. */
export function wantedCounts(
	arrangement: Arrangement,
	asked: readonly (Asked | undefined)[],
	sizes: readonly SizesAlong[],
	least: readonly number[]
): number[] {
	const counts = arrangement.pieces.map(({ length }, p) =>
		Math.max(least[p]!, Math.min(1e6, asked[p]?.wanted ?? countAlong(sizes[p]!, length)))
	);
	// A zone that is far too fine for a fill is told by its prediction; until then there is no need for all its nodes.
	const total = counts.reduce((a, b) => a + b, 0);
	return total > mostNodes ? counts.map((count) => Math.max(1, (count * mostNodes) / total)) : counts;
}

/** The most divisions that sizes give a drawing. */
const mostNodes = 2_000_000;

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
	asked: readonly (Asked | undefined)[],
	wanted: number[]
): void {
	sides.forEach((from, k) => {
		const to = sides[(k + 2) % 4]!;
		const p = from[0]! >> 1;
		const spacing = asked[p]?.spacing;
		if (from.length > 1 || to.length < 2 || !spacing || to.some((h) => asked[h >> 1])) return;
		const count = asked[p]!.count ?? Math.round(wanted[p]!);
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

/** Pieces between the same two junctions: cut once, they would fall on one chord. */
function twinPieces({ pieces, x }: Arrangement): Set<number> {
	const between = new Map<number, number[]>();
	pieces.forEach(({ start, end }, p) => {
		const key = Math.min(start, end) * x.length + Math.max(start, end);
		const list = between.get(key);
		if (list) list.push(p);
		else between.set(key, [p]);
	});
	return new Set([...between.values()].filter((list) => list.length > 1).flat());
}

/** The fewest divisions of every piece that keep curved ones from being cut flat, and twins from falling on one chord. */
export function leastCounts(arrangement: Arrangement): number[] {
	const twins = twinPieces(arrangement);
	return arrangement.pieces.map((piece, p) =>
		Math.max(
			piece.start === piece.end ? 3 : 1,
			twins.has(p) && !isStraight(piece) ? 2 : 1,
			Math.ceil((divisionsPerTurn * totalTurn(piece)) / (2 * Math.PI) - 1e-9)
		)
	);
}
