import type { Arrangement } from '../geometry/pieces.ts';
import type { Turns } from '../geometry/turns.ts';
import { part, type Work } from '../numeric/work.ts';
import { SizeRequests, placesAlong, type TooCrowded, type TooNarrow } from './demands.ts';
import { gapsBeside } from './gaps.ts';
import { Growing } from './growing.ts';
import type { SizeCache, PlacedSizes } from './size-cache.ts';
import type { SizesAlong } from './size-along.ts';
import type { SizeField } from './size-field.ts';

/** What the sizes along pieces follow from. */
export interface PieceSizes {
	arrangement: Arrangement;
	field: SizeField;
	/** Size by region at each piece, the smaller side; Infinity where no filled region lies beside it. */
	base: readonly number[];
	/** The largest division that each piece can have by its length. */
	longest: readonly number[];
	/** How every piece turns along its length. */
	turns: readonly Turns[];
	/** For pieces whose nodes are given, the size of their cells at places along them; undefined for the others. */
	given: readonly (SizesAlong | undefined)[];
	tooNarrow?: TooNarrow;
	tooCrowded?: TooCrowded;
	/** What is known from the time before. */
	cache: SizeCache;
	/** 1 where the region to the left (2 p) or right (2 p + 1) of a piece is meshed. */
	filled: Uint8Array;
}

/** Places visited between two yields. */
const chunkSize = 2000;

/**
 * The wanted sizes along every piece: the smallest of the region's size, the zones, the curvature,
 * the gaps and the piece's own length, and of the sizes of all that bounds the same regions, grown
 * over the straight way from there. Nothing changes the sizes of pieces whose nodes are given.
 */
export function* sizesAlongPieces({
	arrangement,
	field,
	base,
	longest,
	turns,
	given,
	filled,
	cache,
	tooNarrow,
	tooCrowded
}: PieceSizes): Work<SizesAlong[]> {
	const { pieces } = arrangement;
	cache.renew(field);
	const gaps = yield* part(gapsBeside(arrangement, filled, cache.gaps), 0, 0);
	yield 0;
	const demands = new SizeRequests(field, base, longest, turns, gaps, tooNarrow, tooCrowded);
	// Phase 1: places, and what they ask for.
	let visited = 0;
	const wanted: PlacedSizes[] = [];
	for (const [p, piece] of pieces.entries()) {
		const fixed = given[p];
		if (fixed) {
			wanted.push({ ...fixed, ...placesAlong(piece, fixed.at) });
			continue;
		}
		const rule = { base: base[p]!, longest: longest[p]!, turns: turns[p]! };
		let sizes = cache.cachedSizes(piece, rule);
		if (!sizes) {
			sizes = demands.of(piece, p);
			visited += sizes.at.length;
			if (!demands.hasReported) cache.cacheSizes(piece, rule, sizes);
		}
		wanted.push(sizes);
		if (visited < chunkSize) continue;
		visited = 0;
		yield (0.6 * p) / pieces.length;
	}
	// Phase 2: sizes grow through the regions, from piece to piece.
	yield 0.6;
	return yield* part(new Growing({ arrangement, given, filled, cache, demands, wanted, slope: field.slope }).run(), 0.6, 1);
}
