import type { Piece } from '../geometry/pieces.ts';
import type { Turns } from '../geometry/turns.ts';
import { sameNumbers } from '../numeric/same.ts';
import { GapCache } from './gaps.ts';
import { GrowthCache } from './grown-sizes.ts';
import type { SizesAlong } from './size-along.ts';
import type { SizeField } from './size-field.ts';

/** What the sizes that a piece asks for by itself follow from, beside the field and its gaps. */
export interface PieceRule {
	base: number;
	longest: number;
	turns: Turns;
}

/** Sizes at places along a piece, with where these lie in the plane. */
export interface PlacedSizes extends SizesAlong {
	x: Float64Array;
	y: Float64Array;
}

/** Remembers sizes along pieces, and gaps beside them, from one time to the next. */
export class SizeCache {
	readonly gaps = new GapCache();
	private wanted = new WeakMap<Piece, { rule: PieceRule; sizes: PlacedSizes }>();
	private readonly more = new WeakMap<PlacedSizes, PlacedSizes>();
	private readonly grown = new WeakMap<Piece, PlacedSizes>();
	private field: SizeField | undefined;
	/** How faces grew, by the first of their pieces: the first time, the second, and so on. */
	private readonly growths = new WeakMap<Piece, GrowthCache<Piece>[]>();
	private grownNow = new Map<Piece, number>();

	/** Starts anew: sizes of before hold where the field is the same. */
	renew(field: SizeField): void {
		const { field: last } = this;
		const isSame =
			last?.perTurn === field.perTurn && last?.acrossGap === field.acrossGap && sameNumbers(last?.numbers ?? [], field.numbers);
		if (!isSame) this.wanted = new WeakMap();
		this.field = field;
		this.grownNow = new Map();
	}

	/** What a piece asked for, where it would ask for the same again. */
	cachedSizes(piece: Piece, { base, longest, turns }: PieceRule): PlacedSizes | undefined {
		const cached = this.wanted.get(piece);
		const isSame = cached?.rule.base === base && cached.rule.longest === longest && cached.rule.turns === turns;
		return isSame && this.gaps.isUntouched(piece) ? cached.sizes : undefined;
	}

	cacheSizes(piece: Piece, rule: PieceRule, sizes: PlacedSizes): void {
		this.wanted.set(piece, { rule, sizes });
	}

	/** What a piece that asked for sizes before asked for at these places, more than those, where it would ask for the same again. */
	cachedMore(piece: Piece, before: PlacedSizes, at: Float64Array): PlacedSizes | undefined {
		const cached = this.more.get(before);
		return cached?.at === at && this.gaps.isUntouched(piece) ? cached : undefined;
	}

	cacheMore(before: PlacedSizes, sizes: PlacedSizes): void {
		this.more.set(before, sizes);
	}

	/** Sizes that have grown, or those of the time before where they are the same: what was made of them holds. */
	settled(piece: Piece, sizes: PlacedSizes): PlacedSizes {
		const before = this.grown.get(piece);
		if (before && sameNumbers(before.size, sizes.size) && sameNumbers(before.at, sizes.at)) return before;
		this.grown.set(piece, sizes);
		return sizes;
	}

	/** What is known of the growth of a face whose pieces start with this one, of as many times as it has grown since {@link renew}. */
	growthOf(first: Piece): GrowthCache<Piece> {
		const time = this.grownNow.get(first) ?? 0;
		this.grownNow.set(first, time + 1);
		let cached = this.growths.get(first);
		if (!cached) this.growths.set(first, (cached = []));
		return (cached[time] ??= new GrowthCache());
	}
}
