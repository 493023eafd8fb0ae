import { addTo, Float64List } from '../numeric/lists.ts';
import { kept } from '../numeric/kept.ts';
import { pooledOf } from '../numeric/pooled.ts';
import { part, type Work } from '../numeric/work.ts';
import { sameNumbers } from '../numeric/same.ts';
import type { Arrangement, Piece } from '../geometry/pieces.ts';
import type { Point } from '../geometry/curve.ts';
import { isStraight, partPoints } from '../geometry/parts.ts';
import { bendPlaces, bendsAt, largestBend, type Turns } from '../geometry/turns.ts';
import { type Gap, type GapFinder, gapsBeside } from './gaps.ts';
import type { KnownSizes, PlacedSizes } from './known-sizes.ts';
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
	/** Told of every place whose gap is narrower than elements become by themselves. */
	tooNarrow?: (piece: number, at: Point, gap: Gap, finest: number) => void;
	/** What is known from the time before. */
	known: KnownSizes;
	/** 1 where the region to the left (2 p) or right (2 p + 1) of a piece is meshed. */
	filled: Uint8Array;
}

/**
 * Where nothing is said of gaps, a division is at most so many times as long as the gap beside it is wide: a
 * triangle across with its foot at an end still has more than 40°, which leaves room for how the curves go on. It makes no division finer than this
 * part of what the region asks for, however narrow the gap.
 */
const widest = 1.1;
const finestByItself = 1 / 50;
/** How far a derived division turns at most, in radians, where nothing else is asked: 30°. */
export const derivedTurn = Math.PI / 6;
/** Between two places of a piece the size may fall, unseen, to this part of the smaller one; no further. */
const leastDip = 0.85;
/**
 * Where nothing but its bends asks for anything along a piece, sizes that grow from elsewhere rise by no more than this share of
 * a size from one place to the next.
 */
const plainRise = 0.2;
/** Places of a piece beyond which no more are looked at. */
const mostPlaces = 4096;
/** So many places are looked at between one look outside and the next. */
const breath = 2000;
/** Times that places are added where a smaller size may hide. */
const rounds = 3;

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
	known,
	tooNarrow
}: PieceSizes): Work<SizesAlong[]> {
	const { pieces } = arrangement;
	known.renew(field);
	const gaps = yield* part(gapsBeside(arrangement, filled, known.gaps), 0, 0);
	yield 0;
	const asking = new Asking(field, base, longest, turns, gaps, tooNarrow);
	// Phase 1: places, and what they ask for.
	let looked = 0;
	const asked: PlacedSizes[] = [];
	for (const [p, piece] of pieces.entries()) {
		const own = given[p];
		if (own) {
			asked.push({ ...own, ...placesAlong(piece, own.at) });
			continue;
		}
		const rule = { base: base[p]!, longest: longest[p]!, turns: turns[p]! };
		let sizes = known.askedOf(piece, rule);
		if (!sizes) {
			sizes = asking.of(piece, p);
			looked += sizes.at.length;
			if (!asking.hasTold) known.keepAsked(piece, rule, sizes);
		}
		asked.push(sizes);
		if (looked < breath) continue;
		looked = 0;
		yield (0.6 * p) / pieces.length;
	}
	// Phase 2: sizes grow through the regions, from piece to piece.
	const facesOf = growingFaces(arrangement, given, filled);
	const piecesOf = new Map<number, number[]>();
	for (let p = 0; p < pieces.length; p++) for (const face of facesOf[p]!) addTo(piecesOf, face, p);
	if (piecesOf.size === 0) return asked;
	/** What has grown; the same as what was asked where nothing smaller has come. */
	const grown = [...asked];
	yield 0.6;
	yield* part(settle(piecesOf.keys()), 0.6, 0.7);
	for (let round = 0; round < rounds; round++) {
		const changed = lookCloser();
		if (changed.size === 0) break;
		yield 0.7 + (0.3 * round) / rounds;
		yield* part(settle(changed), 0.7 + (0.3 * round) / rounds, 0.7 + (0.3 * (round + 1)) / rounds);
	}
	for (let p = 0; p < pieces.length; p++) grown[p] = known.settled(pieces[p]!, grown[p]!);
	return grown;

	/** Adds places where a smaller size may hide between two; returns the faces that this is about. */
	function lookCloser(): Set<number> {
		const changed = new Set<number>();
		for (const [p, piece] of pieces.entries()) {
			if (given[p] || facesOf[p]!.length === 0) continue;
			const places = withMore(grown[p]!, piece.length * field.slope);
			if (places.length === grown[p]!.at.length) continue;
			grown[p] = asked[p] = withOwn(piece, p, places);
			for (const face of facesOf[p]!) changed.add(face);
		}
		return changed;
	}

	/** What a piece asks for at more places than before, or the list of the time before where it is the same. */
	function withOwn(piece: Piece, p: number, at: Float64Array): PlacedSizes {
		const last = asked[p]!;
		const more = known.askedMore(piece, last, at);
		if (more) return more;
		const sizes = asking.ofMore(piece, p, last, at);
		if (!asking.hasTold) known.keepMore(last, sizes);
		return sizes;
	}

	/** Grows sizes within faces, and into those beside them, until nothing changes. */
	function* settle(faces: Iterable<number>): Work<void> {
		const waiting = new Set(faces);
		for (const face of waiting) {
			waiting.delete(face);
			for (const p of growWithin(face)) for (const other of facesOf[p]!) if (other !== face) waiting.add(other);
			yield 0;
		}
	}

	/** Grows sizes within a face; returns the pieces whose sizes became smaller. */
	function growWithin(face: number): number[] {
		const own = piecesOf.get(face)!;
		const groups: Piece[] = [];
		const points: PlacedSizes[] = [];
		for (const p of own) {
			groups.push(pieces[p]!);
			points.push(grown[p]!);
		}
		const settled = known.growthOf(groups[0]!).grown(groups, points, field.slope);
		const smaller: number[] = [];
		for (const [k, p] of own.entries()) {
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

/** What places of pieces ask for by themselves. */
class Asking {
	/** Whether a gap of the last piece was told of; then it is told of again the next time. */
	hasTold = false;
	private readonly turnPerDivision: number;

	constructor(
		private readonly field: SizeField,
		private readonly base: readonly number[],
		private readonly longest: readonly number[],
		private readonly turns: readonly Turns[],
		private readonly gaps: GapFinder,
		private readonly tooNarrow: PieceSizes['tooNarrow']
	) {
		this.turnPerDivision = field.perTurn === undefined ? derivedTurn : (2 * Math.PI) / field.perTurn;
	}

	/** What a piece asks for, at even places and where it bends. */
	of(piece: Piece, p: number): PlacedSizes {
		const { turnPerDivision, field } = this;
		const { length } = piece;
		const base = this.base[p]!;
		const turns = this.turns[p]!;
		const most = Math.min(base, this.longest[p]!);
		const isPlain = !field.hasZones && this.gaps.isClear(p, this.acrossGap(most));
		let n = Math.min(512, Math.ceil((4 * length) / Math.min(base, length)));
		if (isStraight(piece) && length < base) n = 2;
		else if (isPlain) {
			// Sizes that grow across from elsewhere are seen well enough at the ends of divisions.
			const apart = Math.min(1, plainRise / field.slope) * Math.min(most, turnPerDivision / largestBend(turns));
			n = Math.min(n, Math.ceil(length / apart));
		}
		const at = withEven(bendPlaces(turns, turnPerDivision / most), n);
		const { x, y } = placesAlong(piece, at);
		this.hasTold = false;
		const size = bendsAt(turns, at);
		for (let k = 0; k < at.length; k++)
			size[k] = isPlain ? Math.min(most, turnPerDivision / size[k]!) : this.at(p, at[k]!, x[k]!, y[k]!, size[k]!);
		return { at, size, x, y };
	}

	/** The same at more places, those of before among them. */
	ofMore(piece: Piece, p: number, last: PlacedSizes, at: Float64Array): PlacedSizes {
		const { x, y } = placesAlong(piece, at);
		this.hasTold = false;
		const size = bendsAt(this.turns[p]!, at);
		for (let k = 0, before = 0; k < at.length; k++) {
			while (before < last.at.length && last.at[before]! < at[k]!) before++;
			size[k] = last.at[before] === at[k] ? last.size[before]! : this.at(p, at[k]!, x[k]!, y[k]!, size[k]!);
		}
		return { at, size, x, y };
	}

	/** How wide a gap is beside which a size is not made smaller. */
	private acrossGap(size: number): number {
		const { acrossGap } = this.field;
		return acrossGap === undefined ? size / widest : acrossGap * size;
	}

	/** What a place asks for by itself, where the piece has a curvature. */
	private at(p: number, fraction: number, x: number, y: number, bend: number): number {
		const { field, gaps } = this;
		const base = this.base[p]!;
		let size = Math.min(base, this.longest[p]!, field.at(x, y));
		size = Math.min(size, this.turnPerDivision / bend);
		const gap = gaps.beside(p, fraction, this.acrossGap(size));
		if (field.acrossGap !== undefined) return Math.min(size, gap.width / field.acrossGap);
		const floor = finestByItself * base;
		if (widest * gap.width < floor) {
			this.hasTold = true;
			this.tooNarrow?.(p, { x, y }, gap, floor);
		}
		return Math.min(size, Math.max(widest * gap.width, floor));
	}
}

const loweredBefore = new WeakMap<PlacedSizes, { to: Float64Array; lowered: PlacedSizes }>();

/** Sizes with those in place that have grown to less than themselves, by more than rounding; of the same two lists the same. */
function lowered(sizes: PlacedSizes, to: Float64Array): PlacedSizes {
	if (sizes.size === to) return sizes;
	const known = loweredBefore.get(sizes);
	if (known?.to === to) return known.lowered;
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

const merged = new Float64List();

/** Places that rise, without repeats, and n + 1 even ones among them; sorted. */
function withEven(places: readonly number[], n: number): Float64Array {
	merged.length = 0;
	let [next, last] = [0, NaN];
	for (let k = 0; k <= n; k++) {
		const even = k / n;
		for (; next < places.length && places[next]! < even; next++) if (places[next] !== last) merged.push((last = places[next]!));
		if (even !== last) merged.push((last = even));
	}
	for (; next < places.length; next++) if (places[next] !== last) merged.push((last = places[next]!));
	return merged.copied();
}

/** Places of pieces, of the last fractions that they were asked at. */
const placesBefore = new WeakMap<Piece, { at: Float64Array; x: Float64Array; y: Float64Array }>();

/** Where the fractions of a piece lie in the plane. */
function placesAlong(piece: Piece, at: Float64Array): { x: Float64Array; y: Float64Array } {
	let places = placesBefore.get(piece);
	if (!places || !sameNumbers(places.at, at)) {
		placesBefore.set(piece, (places = { at, ...partPoints(piece, at, piece.length) }));
	}
	return places;
}

/**
 * Places with more between those where, by the slope, the size may fall far below both.
 *
 * @param rise by how much sizes grow over the whole piece at the most
 */
const withMore = kept(({ at, size }: SizesAlong, rise): Float64Array => {
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
