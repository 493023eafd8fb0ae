import type { Finding } from '../text/finding.ts';
import type { Model } from '../recipe/model.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { isStraight, partPoint } from '../geometry/parts.ts';
import type { Region } from '../domain/regions.ts';
import { elementLimit } from '../sizing/size-rule.ts';
import { layoutEquations, layoutWalks, type Block } from '../blocks/layout.ts';
import { sizesAlongPieces } from '../sizing/along-pieces.ts';
import { countAlong, evenlyPlaced, sizesOfPositions, type SizesAlong } from '../sizing/size-along.ts';
import type { SizeField } from '../sizing/size-field.ts';
import { collect, totalTurn, type Asked, type Chain } from './asked.ts';
import { describeConflict } from './conflicts.ts';
import { settleCounts } from '../blocks/counts.ts';
import { shareOfChain } from './laws/chain.ts';
import { spread, tryPositions } from './spread.ts';
import { positions, reversePositions, SpacingError, spacingFigures } from './spacing.ts';
import type { RegionLayout, Divisions, BlockOf, Division } from './division.ts';

/** Derived counts give a full turn of a curve at least this many divisions. */
const divisionsPerTurn = 12;

/** Works out counts (carried through blocks), spacing and node places of every piece. */
export function divide(
	model: Model,
	arrangement: Arrangement,
	regions: readonly Region[],
	layouts: readonly RegionLayout[],
	fallbackSize: number,
	field: SizeField,
	findings: Finding[],
	placed: PlacementCache
): Divisions {
	const asked = collect(model, arrangement, findings);
	const inLayout = new Set(layouts.flatMap(({ layout }) => layoutWalks(layout).flatMap((walk) => walk.map((h) => h >> 1))));
	const least = leastCounts(arrangement);
	const sizes = sizesOf(model, arrangement, regions, fallbackSize, field, asked, inLayout, least);
	const chains = [...new Set(asked.flatMap((a) => a?.chain ?? []))];
	const wanted = wantedCounts(arrangement, asked, sizes, least);
	for (const chain of chains) wantedOfChain(arrangement, chain, wanted, findings, model);
	const blocks = layouts.flatMap(({ region, layout }): BlockOf[] => (layout.kind === 'block' ? [{ region, block: layout }] : []));
	for (const { block } of blocks) wantedAcross(arrangement, block, asked, wanted);
	// The counts that layouts have inside follow those of the pieces.
	const equations: { terms: (readonly [number, number])[]; total: number }[] = [];
	const ownFrom: number[] = [];
	const places = wanted.length;
	for (const { layout } of layouts) {
		const inside = layoutEquations(layout, wanted);
		ownFrom.push(wanted.length);
		for (const { pieces, own } of inside.equations)
			equations.push({ terms: [...pieces, ...[...own].map(([k, c]) => [wanted.length + k, c] as const)], total: 0 });
		wanted.push(...inside.own);
	}
	ownFrom.push(wanted.length);
	const pinned = new Map<number, number>();
	asked.forEach((a, p) => {
		if (a?.count !== undefined) pinned.set(p, a.count);
	});
	const { counts, conflicts } = settleCounts(
		blocks.map((b) => b.block),
		pinned,
		wanted,
		{
			equal: asked.flatMap((a, p) => (a?.like === undefined || a.count !== undefined ? [] : [[p, a.like] as const])),
			equations: [
				...equations,
				...chains.flatMap(({ walk, count }) => {
					const pieces = walk.map((h) => h >> 1);
					if (count === undefined || pieces.some((p) => pinned.has(p))) return [];
					return [{ terms: pieces.map((p) => [p, 1] as const), total: count }];
				})
			]
		}
	);
	for (const conflict of conflicts) conflict.pieces = conflict.pieces.filter((p) => p < places);
	for (const conflict of conflicts) findings.push(describeConflict(model, arrangement, regions, blocks, counts, asked, conflict));
	const { at, spacings } = spread(model, arrangement, blocks, counts.slice(0, places), asked, chains, findings, (p) =>
		inLayout.has(p) ? undefined : sizes[p]
	);
	const pieces = arrangement.pieces.map((piece, p): Division => {
		const { count, source } = counts[p]!;
		const { x, y } = placed.place(arrangement, p, at[p]!);
		return {
			count,
			source,
			spacing: spacings[p]!,
			countLine: asked[p]?.countLine ?? -1,
			spacingLine: asked[p]?.spacingLine ?? -1,
			at: at[p]!,
			figures: spacingFigures(at[p]!, piece.length),
			x,
			y
		};
	});
	const clashing = new Set(
		conflicts.flatMap((c) =>
			c.mismatches.length > 0 ? c.mismatches.flatMap((m) => m.sides.flat().map((h) => h >> 1)) : c.pieces
		)
	);
	const own = layouts.map((_, k) => counts.slice(ownFrom[k], ownFrom[k + 1]).map((c) => c.count));
	return { pieces, clashing, own };
}

/** The wanted sizes along every piece; pieces with a count or a spacing of their own pass theirs on. */
function sizesOf(
	model: Model,
	arrangement: Arrangement,
	regions: readonly Region[],
	fallbackSize: number,
	field: SizeField,
	asked: readonly (Asked | undefined)[],
	inLayout: ReadonlySet<number>,
	least: readonly number[]
): SizesAlong[] {
	const regionOf = new Map(regions.map((r) => [r.face, r]));
	const beside = (side: number) => {
		const region = regionOf.get(arrangement.sides[side]!);
		return region && region.fill !== 'none' ? region : undefined;
	};
	const base = arrangement.pieces.map((_, p) => {
		const sizes = [2 * p, 2 * p + 1]
			.flatMap((h) => beside(h) ?? [])
			.map((r) => Math.max(r.size ?? fallbackSize, finestSize(arrangement.faces[r.face]!.area)));
		return sizes.length > 0 ? Math.min(...sizes) : (model.sizes.at(-1)?.size ?? fallbackSize);
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
function wantedCounts(
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
function wantedOfChain(arrangement: Arrangement, chain: Chain, wanted: number[], findings: Finding[], model: Model): void {
	const pieces = chain.walk.map((h) => h >> 1);
	const lengths = pieces.map((p) => arrangement.pieces[p]!.length);
	const total = chain.count ?? Math.max(1, Math.round(pieces.reduce((sum, p) => sum + wanted[p]!, 0)));
	if (total < 2) return;
	const at = tryPositions(
		total,
		chain.spacing,
		lengths.reduce((a, b) => a + b, 0),
		chain.line,
		pieces,
		findings,
		model,
		arrangement
	);
	shareOfChain(at, lengths).forEach((share, k) => (wanted[pieces[k]!] = Math.max(1e-3, share)));
}

/** Shares the count of a side of several pieces as the spacing on the one piece across the block has it. */
function wantedAcross(arrangement: Arrangement, { sides }: Block, asked: readonly (Asked | undefined)[], wanted: number[]): void {
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
function leastCounts(arrangement: Arrangement): number[] {
	const twins = twinPieces(arrangement);
	return arrangement.pieces.map((piece, p) =>
		Math.max(
			piece.start === piece.end ? 3 : 1,
			twins.has(p) && !isStraight(piece) ? 2 : 1,
			Math.ceil((divisionsPerTurn * totalTurn(piece)) / (2 * Math.PI) - 1e-9)
		)
	);
}

/** Remembers node places: a piece that has not changed is not placed again. */
export class PlacementCache {
	private of: Arrangement | undefined;
	private readonly places = new Map<number, { at: Float64Array; x: Float64Array; y: Float64Array }>();

	place(arrangement: Arrangement, p: number, at: Float64Array): { x: Float64Array; y: Float64Array } {
		if (this.of !== arrangement) {
			this.places.clear();
			this.of = arrangement;
		}
		const known = this.places.get(p);
		if (known && equal(known.at, at)) return known;
		const piece = arrangement.pieces[p]!;
		const n = at.length - 1;
		const x = new Float64Array(n + 1);
		const y = new Float64Array(n + 1);
		for (let k = 1; k < n; k++) {
			const q = partPoint(piece, at[k]!, piece.length);
			x[k] = q.x;
			y[k] = q.y;
		}
		x[0] = arrangement.x[piece.start]!;
		y[0] = arrangement.y[piece.start]!;
		x[n] = arrangement.x[piece.end]!;
		y[n] = arrangement.y[piece.end]!;
		const place = { at, x, y };
		this.places.set(p, place);
		return place;
	}
}

function equal(a: Float64Array, b: Float64Array): boolean {
	if (a.length !== b.length) return false;
	for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
	return true;
}
