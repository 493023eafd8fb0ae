import { isStraight, partPoints } from '../geometry/parts.ts';
import type { Point } from '../geometry/curve.ts';
import type { Piece } from '../geometry/pieces.ts';
import { bendPlaces, bendsAt, largestBend, type Turns } from '../geometry/turns.ts';
import { Float64List } from '../numeric/lists.ts';
import { sameNumbers } from '../numeric/same.ts';
import type { Gap, GapFinder } from './gaps.ts';
import { countAlong } from './size-along.ts';
import type { PlacedSizes } from './size-cache.ts';
import { flatsOf } from './flats.ts';
import type { SizeField } from './size-field.ts';

/** Told of a place whose gap is narrower than elements become by themselves. */
export type TooNarrow = (piece: number, at: Point, gap: Gap, finest: number) => void;

/** What a piece takes that is divided far more finely than its size asks. */
export interface Crowded {
	/** The divisions that it takes, and those that its length over the size asks for. */
	count: number;
	plain: number;
	/** The size at its finest place, the size that was asked there, and why it is finer. */
	size: number;
	wanted: number;
	reason: 'bend' | 'gap';
}

/** Told of a piece that takes more than {@link mostOver} times the divisions that its size asks for, and where it is finest. */
export type TooCrowded = (piece: number, at: Point, crowded: Crowded) => void;

/** So many times the divisions that the size asks for are said. */
const mostOver = 4;

/**
 * Where nothing is said of gaps, a division is at most so many times as long as the gap beside it is wide: a
 * triangle across with its foot at an end still has more than 40°, which leaves room for how the curves go on. It makes no division finer than this
 * part of what the region asks for, however narrow the gap.
 */
const widest = 1.1;
const finestByItself = 1 / 50;
/** The same for a bend that is no arc: at a cusp the curvature has no bound. */
const finestByBend = 1e-5;
/** How far a derived division turns at most, in radians, where nothing else is asked: 30°. */
export const derivedTurn = Math.PI / 6;
/**
 * Where nothing but its bends asks for anything along a piece, sizes that grow from elsewhere rise by no more than this share of
 * a size from one place to the next.
 */
const plainRise = 0.2;
/** What places of pieces ask for by themselves. */
export class SizeRequests {
	/** Whether a gap of the last piece was reported; then it is reported again the next time. */
	hasReported = false;
	private readonly turnPerDivision: number;

	constructor(
		private readonly field: SizeField,
		private readonly base: readonly number[],
		private readonly longest: readonly number[],
		private readonly turns: readonly Turns[],
		private readonly gaps: GapFinder,
		private readonly tooNarrow: TooNarrow | undefined,
		private readonly tooCrowded: TooCrowded | undefined
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
		this.hasReported = false;
		const size = this.bendSizes(piece, p, at);
		if (isPlain) for (let k = 0; k < at.length; k++) size[k] = Math.min(most, size[k]!);
		else for (let k = 0; k < at.length; k++) size[k] = this.at(p, at[k]!, x[k]!, y[k]!, size[k]!);
		this.lookForCrowd(piece, p, { at, size, x, y });
		return { at, size, x, y };
	}

	/** Reports a piece that is far finer than its size asks, where it does not bend as an arc does. */
	private lookForCrowd(piece: Piece, p: number, { at, size, x, y }: PlacedSizes): void {
		const { field, turnPerDivision } = this;
		const { length } = piece;
		const most = Math.min(this.base[p]!, this.longest[p]!);
		if (!this.tooCrowded || !flatsOf(piece, this.turns[p]!, turnPerDivision)) return;
		const count = countAlong({ at, size }, length);
		if (!(count > mostOver * Math.max(1, length / most))) return;
		const asked = size.map((_, k) => Math.min(most, field.at(x[k]!, y[k]!)));
		const plain = Math.max(1, countAlong({ at, size: asked }, length));
		if (!(count > mostOver * plain)) return;
		const finest = size.reduce((least, s, k) => (s / asked[k]! < size[least]! / asked[least]! ? k : least), 0);
		const bend = this.bendSizes(piece, p, at)[finest]!;
		const reason = bend <= size[finest]! * (1 + 1e-9) ? 'bend' : 'gap';
		// What was asked of bends and gaps is no surprise.
		if ((reason === 'bend' ? field.perTurn : field.acrossGap) !== undefined) return;
		this.hasReported = true;
		this.tooCrowded(p, { x: x[finest]!, y: y[finest]! }, { count, plain, size: size[finest]!, wanted: asked[finest]!, reason });
	}

	/** The same at more places, those of before among them. */
	ofMore(piece: Piece, p: number, last: PlacedSizes, at: Float64Array): PlacedSizes {
		const { x, y } = placesAlong(piece, at);
		this.hasReported = false;
		const size = this.bendSizes(piece, p, at);
		for (let k = 0, before = 0; k < at.length; k++) {
			while (before < last.at.length && last.at[before]! < at[k]!) before++;
			size[k] = last.at[before] === at[k] ? last.size[before]! : this.at(p, at[k]!, x[k]!, y[k]!, size[k]!);
		}
		return { at, size, x, y };
	}

	/** What a piece asks for at places because it bends. */
	private bendSizes(piece: Piece, p: number, at: Float64Array): Float64Array {
		return bendSizes(piece, this.turns[p]!, at, this.turnPerDivision, Math.min(this.base[p]!, this.longest[p]!));
	}

	/** How wide a gap is beside which a size is not made smaller. */
	private acrossGap(size: number): number {
		const { acrossGap } = this.field;
		return acrossGap === undefined ? size / widest : acrossGap * size;
	}

	/** What a place asks for by itself, where the bend of the piece asks for a size. */
	private at(p: number, fraction: number, x: number, y: number, bendSize: number): number {
		const { field, gaps } = this;
		const base = this.base[p]!;
		const size = Math.min(base, this.longest[p]!, field.at(x, y), bendSize);
		const gap = gaps.beside(p, fraction, this.acrossGap(size));
		if (field.acrossGap !== undefined) return Math.min(size, gap.width / field.acrossGap);
		const floor = finestByItself * base;
		if (widest * gap.width < floor) {
			this.hasReported = true;
			this.tooNarrow?.(p, { x, y }, gap, floor);
		}
		return Math.min(size, Math.max(widest * gap.width, floor));
	}
}

/**
 * What a piece asks for at places because it bends: the length over which it turns by as much as a division may, or the longest
 * over which it is flat whatever it turns; no less than {@link finestByBend} of what is asked without it.
 *
 * @param most what is asked without it
 */
export function bendSizes(piece: Piece, turns: Turns, at: Float64Array, turnPerDivision: number, most: number): Float64Array {
	const flats = flatsOf(piece, turns, turnPerDivision);
	const sizes = bendsAt(turns, at);
	for (let k = 0; k < sizes.length; k++) {
		const size = turnPerDivision / sizes[k]!;
		sizes[k] = size < most && flats ? Math.max(finestByBend * most, flats.size(at[k]!, size, most)) : size;
	}
	return sizes;
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
export function placesAlong(piece: Piece, at: Float64Array): { x: Float64Array; y: Float64Array } {
	let places = placesBefore.get(piece);
	if (!places || !sameNumbers(places.at, at)) {
		placesBefore.set(piece, (places = { at, ...partPoints(piece, at, piece.length) }));
	}
	return places;
}
