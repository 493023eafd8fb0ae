import type { Arrangement, Piece } from '../geometry/pieces.ts';
import { cachedFor } from '../numeric/cached-for.ts';
import { addTo } from '../numeric/lists.ts';
import { pooledOf } from '../numeric/pooled.ts';
import { part, type Work } from '../numeric/work.ts';
import type { SizeRequests } from './demands.ts';
import type { SizeCache, PlacedSizes } from './size-cache.ts';
import type { SizesAlong } from './size-along.ts';

/** What sizes grow from, and where. */
export interface GrowingSizes {
	arrangement: Arrangement;
	/** For pieces whose nodes are given, something; their sizes stay. */
	given: readonly (SizesAlong | undefined)[];
	/** 1 where the region to the left (2 p) or right (2 p + 1) of a piece is meshed. */
	filled: Uint8Array;
	cache: SizeCache;
	demands: SizeRequests;
	/** What every piece asks for by itself; places are added to it. */
	wanted: PlacedSizes[];
	slope: number;
}

/** Between two places of a piece the size may fall, unseen, to this part of the smaller one; no further. */
const leastDip = 0.85;
/** Places of a piece beyond which no more are looked at. */
const mostPlaces = 4096;
/** Times that places are added where a smaller size may hide. */
const rounds = 3;

/** Sizes that grow through the regions, from piece to piece. */
export class Growing {
	private readonly pieces: readonly Piece[];
	/** The faces beside each piece in which sizes grow, and the pieces around each of these. */
	private readonly facesOf: readonly (readonly number[])[];
	private readonly piecesOf = new Map<number, number[]>();
	/** What has grown; the same as what was asked where nothing smaller has come. */
	private readonly grown: PlacedSizes[];

	constructor(private readonly sizes: GrowingSizes) {
		const { arrangement, given, filled, wanted } = sizes;
		this.pieces = arrangement.pieces;
		this.facesOf = growingFaces(arrangement, given, filled);
		for (let p = 0; p < this.pieces.length; p++) for (const face of this.facesOf[p]!) addTo(this.piecesOf, face, p);
		this.grown = [...wanted];
	}

	/** The sizes along every piece. */
	*run(): Work<PlacedSizes[]> {
		const { pieces, piecesOf, grown } = this;
		if (piecesOf.size === 0) return grown;
		yield* part(this.settle(piecesOf.keys()), 0, 0.25);
		for (let round = 0; round < rounds; round++) {
			const changed = this.lookCloser();
			if (changed.size === 0) break;
			const from = 0.25 + (0.75 * round) / rounds;
			yield from;
			yield* part(this.settle(changed), from, from + 0.75 / rounds);
		}
		for (let p = 0; p < pieces.length; p++) grown[p] = this.sizes.cache.settled(pieces[p]!, grown[p]!);
		return grown;
	}

	/** Adds places where a smaller size may hide between two; returns the faces that this is about. */
	private lookCloser(): Set<number> {
		const { pieces, facesOf, grown } = this;
		const { given, wanted, slope } = this.sizes;
		const changed = new Set<number>();
		for (let p = 0; p < pieces.length; p++) {
			if (given[p] || facesOf[p]!.length === 0) continue;
			const places = withMore(grown[p]!, pieces[p]!.length * slope);
			if (places.length === grown[p]!.at.length) continue;
			grown[p] = wanted[p] = this.withRequested(p, places);
			for (const face of facesOf[p]!) changed.add(face);
		}
		return changed;
	}

	/** What a piece asks for at more places than before, or the list of the time before where it is the same. */
	private withRequested(p: number, at: Float64Array): PlacedSizes {
		const { wanted, demands, cache } = this.sizes;
		const piece = this.pieces[p]!;
		const last = wanted[p]!;
		const more = cache.cachedMore(piece, last, at);
		if (more) return more;
		const sizes = demands.ofMore(piece, p, last, at);
		if (!demands.hasReported) cache.cacheMore(last, sizes);
		return sizes;
	}

	/** Grows sizes within faces, and into those beside them, until nothing changes. */
	private *settle(faces: Iterable<number>): Work<void> {
		const { facesOf } = this;
		const waiting = new Set(faces);
		for (const face of waiting) {
			waiting.delete(face);
			for (const p of this.growWithin(face)) for (const other of facesOf[p]!) if (other !== face) waiting.add(other);
			yield 0;
		}
	}

	/** Grows sizes within a face; returns the pieces whose sizes became smaller. */
	private growWithin(face: number): number[] {
		const { pieces, grown } = this;
		const { cache, given, slope } = this.sizes;
		const facePieces = this.piecesOf.get(face)!;
		const groups: Piece[] = [];
		const points: PlacedSizes[] = [];
		for (const p of facePieces) {
			groups.push(pieces[p]!);
			points.push(grown[p]!);
		}
		const settled = cache.growthOf(groups[0]!).grown(groups, points, slope);
		const smaller: number[] = [];
		for (let k = 0; k < facePieces.length; k++) {
			const p = facePieces[k]!;
			if (given[p]) continue;
			grown[p] = lowered(points[k]!, settled[k]!);
			if (grown[p] !== points[k]) smaller.push(p);
		}
		return smaller;
	}
}

const noFaces: readonly number[] = [];

/** The meshed faces beside each piece in which sizes grow: in one all of whose pieces are given there is nothing to. */
function growingFaces(
	{ pieces, sides }: Arrangement,
	given: readonly (SizesAlong | undefined)[],
	filled: Uint8Array
): (readonly number[])[] {
	const open = new Set<number>();
	for (let h = 0; h < filled.length; h++) if (filled[h] && !given[h >> 1]) open.add(sides[h]!);
	const facesOf: (readonly number[])[] = [];
	for (let p = 0; p < pieces.length; p++) {
		const [left, right] = [sides[2 * p]!, sides[2 * p + 1]!];
		const isLeft = filled[2 * p] === 1 && open.has(left);
		const isRight = filled[2 * p + 1] === 1 && right !== left && open.has(right);
		if (isLeft) facesOf.push(isRight ? [left, right] : [left]);
		else facesOf.push(isRight ? [right] : noFaces);
	}
	return facesOf;
}

const loweredBefore = new WeakMap<PlacedSizes, { to: Float64Array; lowered: PlacedSizes }>();

/** Sizes with those in place that have grown to less than themselves, by more than rounding; of the same two lists the same. */
function lowered(sizes: PlacedSizes, to: Float64Array): PlacedSizes {
	if (sizes.size === to) return sizes;
	const cached = loweredBefore.get(sizes);
	if (cached?.to === to) return cached.lowered;
	const size = pooledOf(sizes.size);
	let isLower = false;
	for (let i = 0; i < size.length; i++) {
		if (!(to[i]! < size[i]! * (1 - 1e-9))) continue;
		size[i] = to[i]!;
		isLower = true;
	}
	const made = isLower ? { ...sizes, size } : sizes;
	loweredBefore.set(sizes, { to, lowered: made });
	return made;
}

/**
 * Places with more between those where, by the slope, the size may fall far below both.
 *
 * @param rise by how much sizes grow over the whole piece at the most
 */
const withMore = cachedFor(({ at, size }: SizesAlong, rise): Float64Array => {
	const places: number[] = [0];
	let left = mostPlaces - at.length;
	for (let k = 0; k + 1 < at.length; k++) {
		const step = (at[k + 1]! - at[k]!) * rise;
		const least = Math.min(size[k]!, size[k + 1]!);
		if ((size[k]! + size[k + 1]! - step) / 2 < leastDip * least) {
			const parts = Math.min(16, 1 + Math.ceil(step / (2 * (1 - leastDip) * least)));
			for (let i = 1; i < parts && left > 0; i++, left--) places.push(at[k]! + (i / parts) * (at[k + 1]! - at[k]!));
		}
		places.push(at[k + 1]!);
	}
	return places.length === at.length ? at : pooledOf(places);
});
