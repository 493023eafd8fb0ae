import Flatbush from 'flatbush';
import { arrange } from '../geometry/arrangement.ts';
import { lineCurve } from '../geometry/build.ts';
import { ARC } from '../geometry/curve.ts';
import { faceAt } from '../geometry/faces.ts';
import type { Arrangement, Piece } from '../geometry/pieces.ts';
import { isStraight, partBox, placeOnPart } from '../geometry/parts.ts';
import { hypot } from '../numeric/elementary.ts';
import { keepHiddenClass } from '../numeric/hidden-class.ts';
import { cachedFor } from '../numeric/cached-for.ts';
import { numbersIn } from '../numeric/numbers-in.ts';
import { pooled } from '../numeric/pooled.ts';
import type { Work } from '../numeric/work.ts';
import { bowSlope, Runs } from './gap-runs.ts';

/** What widens faster than this over the way from a junction, as from one of 30° or more, is a corner and no gap. */
const cornerSlope = 0.5;
/** How far beside the tangent, as a sine, a way still counts as going along the piece. */
const alongside = 0.02;

/** A piece with no more runs than this is looked around as a whole. */
const fewRuns = 16;
/** It is looked for gaps so many times as far as it was asked for, as the next place may ask for a little more. */
const aLittle = 1.5;

/** How far the straight segments may lie from the pieces, as a share of the drawing's diagonal. */
const flatness = 5e-5;

/** What gaps are looked for in, of a piece of a drawing with a diagonal. */
const runsOf = cachedFor((piece: Piece, diagonal) => new Runs(piece, piece.start === piece.end, flatness * diagonal));

const boxOfPiece = cachedFor((piece: Piece) => partBox(piece));

/** Whether a piece is a line, or a whole circle: neither has a gap to itself. */
function hasNoBow(piece: Piece): boolean {
	if (isStraight(piece)) return true;
	return piece.start === piece.end && piece.curve.kinds.length === 1 && piece.curve.kinds[0] === ARC;
}

/** The width of a gap, and the piece on its other side; Infinity and −1 where there is none. */
export interface Gap {
	width: number;
	beyond: number;
}

const none: Gap = { width: Infinity, beyond: -1 };

/**
 * Makes ready for looking for gaps; they are found by {@link GapFinder.beside}.
 *
 * @param filled 1 for each side of a piece that is meshed: 2 p to the left, 2 p + 1 to the right
 */
export function* gapsBeside(arrangement: Arrangement, filled: Uint8Array, cache: GapCache): Work<GapFinder> {
	const { pieces } = arrangement;
	const boxes = new Float64Array(4 * pieces.length);
	for (const [p, piece] of pieces.entries()) {
		if ((p & 0x1ff) === 0x1ff) yield p / pieces.length;
		const [x0, y0, x1, y1] = boxOfPiece(piece, 0);
		boxes[4 * p] = x0;
		boxes[4 * p + 1] = y0;
		boxes[4 * p + 2] = x1;
		boxes[4 * p + 3] = y1;
	}
	yield 1;
	cache.renew(arrangement, filled);
	return new GapFinder(arrangement, filled, cache, boxes);
}

/** Looks for gaps beside the pieces of a drawing. Pieces are made straight when one is asked for, or one near it. */
export class GapFinder {
	private readonly pieces: readonly Piece[];
	private readonly diagonal: number;
	private readonly filledFaces: ReadonlySet<number>;
	private readonly tree: Flatbush;
	/** The runs of the pieces that were asked for. */
	private readonly ofPiece: (Runs | undefined)[];
	/** How far from each run of a piece there is nothing that could be on the other side of a gap; and how far it was looked. */
	private readonly around: ({ emptyTo: Float64Array; lookedTo: Float64Array } | undefined)[];
	/** The least of the first for all runs of a piece; NaN for one that has not been looked around as a whole. */
	private readonly clearTo: Float64Array;
	/** A place lies beside its own polyline by no more than this. */
	private readonly aside: number;
	/** The pieces and the runs that the last search has found. */
	private readonly owners: number[] = [];
	private readonly runs: number[] = [];

	/**
	 * @param filled 1 for each side of a piece that is meshed: 2 p to the left, 2 p + 1 to the right
	 * @param cache gaps of the time before, which hold where nothing near has changed
	 * @param boxes minX, minY, maxX, maxY of each piece
	 */
	constructor(
		private readonly arrangement: Arrangement,
		private readonly filled: Uint8Array,
		private readonly cache: GapCache,
		private readonly boxes: Float64Array
	) {
		const { pieces, diagonal } = arrangement;
		[this.pieces, this.diagonal, this.aside] = [pieces, diagonal, 2 * flatness * diagonal];
		const tree = new Flatbush(Math.max(1, pieces.length));
		for (let k = 0; k < boxes.length; k += 4) tree.add(boxes[k]!, boxes[k + 1]!, boxes[k + 2]!, boxes[k + 3]!);
		if (pieces.length === 0) tree.add(0, 0, 0, 0);
		tree.finish();
		this.tree = tree;
		this.ofPiece = new Array<undefined>(pieces.length).fill(undefined);
		this.around = new Array<undefined>(pieces.length).fill(undefined);
		this.clearTo = new Float64Array(pieces.length).fill(NaN);
		const filledFaces = new Set<number>();
		for (let side = 0; side < filled.length; side++) if (filled[side]) filledFaces.add(arrangement.sides[side]!);
		this.filledFaces = filledFaces;
	}

	/**
	 * The gap beside a place of a piece: the shortest way, in any direction, to another piece or to another stretch of the same,
	 * through what is meshed. Toward what hangs together with the place (a piece that meets this one in a junction, the same
	 * piece further on) it counts where it is narrow for the way along the pieces; what widens faster is a corner, whose angle
	 * decides.
	 *
	 * @param fraction of the length of the piece
	 * @param reach how far to look
	 */
	beside(p: number, fraction: number, reach: number): Gap {
		if (this.isClear(p, reach)) return none;
		const entry = this.cache.of(p, reach);
		if (this.isEmpty(p, this.runsOf(p).runAt(fraction * this.pieces[p]!.length), reach)) return none;
		const before = this.cache.gap(entry, fraction, reach);
		if (before) return before;
		const found = this.find(p, fraction, reach);
		this.cache.keep(entry, fraction, reach, found);
		return found;
	}

	/** Whether there is no gap of this width anywhere beside a piece; it may say no where there is none. */
	isClear(p: number, reach: number): boolean {
		if (!this.filled[2 * p] && !this.filled[2 * p + 1]) return true;
		this.cache.of(p, reach);
		if (Number.isNaN(this.clearTo[p]!)) this.lookAround(p, reach);
		return reach + this.aside < this.clearTo[p]!;
	}

	/** The least width that is a corner, and no gap, between a place and a place of another piece, or of another stretch of its own. */
	private cornerWidth(p: number, along: number, q: number, alongOther: number): number {
		const piece = this.pieces[p]!;
		const other = this.pieces[q]!;
		if (p === q) {
			const apart = Math.abs(along - alongOther);
			const way = piece.start === piece.end ? Math.min(apart, piece.length - apart) : apart;
			// A curve is its own polyline only so far.
			return way < 40 * flatness * this.diagonal ? 0 : bowSlope * way;
		}
		let least = Infinity;
		if (piece.start === other.start || piece.start === other.end) least = along;
		if (piece.end === other.start || piece.end === other.end) least = Math.min(least, piece.length - along);
		return cornerSlope * least;
	}

	/** Whether anything but the ends of a way lies across it. */
	private isBlocked(x: number, y: number, ex: number, ey: number): boolean {
		const dx = ex - x;
		const dy = ey - y;
		const rounded = Math.min(0.4, 1e-6 + this.aside / hypot(dx, dy));
		const across: number[] = [];
		for (const q of this.tree.search(Math.min(x, ex), Math.min(y, ey), Math.max(x, ex), Math.max(y, ey))) {
			const runs = this.runsOf(q);
			const { line } = runs;
			across.length = 0;
			runs.search(Math.min(x, ex), Math.min(y, ey), Math.max(x, ex), Math.max(y, ey), across);
			for (const run of across)
				for (let k = runs.firstOf(run); k < runs.lastOf(run); k++) {
					const ax = line[2 * k]!;
					const ay = line[2 * k + 1]!;
					const ux = line[2 * k + 2]! - ax;
					const uy = line[2 * k + 3]! - ay;
					const cross = dx * uy - dy * ux;
					if (cross === 0) continue;
					const t = ((ax - x) * uy - (ay - y) * ux) / cross;
					const v = ((ax - x) * dy - (ay - y) * dx) / cross;
					if (t > rounded && t < 1 - rounded && v > 0 && v < 1) return true;
				}
		}
		return false;
	}

	private runsOf(p: number): Runs {
		return (this.ofPiece[p] ??= runsOf(this.pieces[p]!, this.diagonal));
	}

	/** Finds the runs, of some pieces, whose boxes meet a box: {@link runs}, and the piece of each, {@link owners}. */
	private search(x0: number, y0: number, x1: number, y1: number, pieces = this.tree.search(x0, y0, x1, y1)): void {
		const { owners, runs } = this;
		owners.length = runs.length = 0;
		for (const q of pieces) {
			this.runsOf(q).search(x0, y0, x1, y1, runs);
			while (owners.length < runs.length) owners.push(q);
		}
	}

	/** How far it was looked around each run of a piece. */
	private aroundOf(p: number): { emptyTo: Float64Array; lookedTo: Float64Array } {
		const { count } = this.runsOf(p);
		return (this.around[p] ??= { emptyTo: pooled(count), lookedTo: pooled(count) });
	}

	/** Looks around a short piece as a whole: mostly there is nothing near any of it. */
	private lookAround(p: number, reach: number): void {
		const { boxes } = this;
		this.clearTo[p] = 0;
		const farther = aLittle * (reach + this.aside);
		const [x0, y0] = [boxes[4 * p]! - farther, boxes[4 * p + 1]! - farther];
		const [x1, y1] = [boxes[4 * p + 2]! + farther, boxes[4 * p + 3]! + farther];
		const near = this.tree.search(x0, y0, x1, y1);
		if (near.length === 1 && hasNoBow(this.pieces[p]!)) {
			this.clearTo[p] = farther;
			return;
		}
		const { count } = this.runsOf(p);
		if (near.length > fewRuns || count > fewRuns) return;
		this.search(x0, y0, x1, y1, near);
		if (this.runs.length > 4 * fewRuns) return;
		const { emptyTo } = this.aroundOf(p);
		let clear = Infinity;
		for (let run = 0; run < count; run++) {
			this.lookAroundRun(p, run, farther);
			clear = Math.min(clear, emptyTo[run]!);
		}
		this.clearTo[p] = clear;
	}

	/** Whether nothing that could be on the other side of a gap comes as near as this to a run. */
	private isEmpty(p: number, run: number, reach: number): boolean {
		const { emptyTo, lookedTo } = this.aroundOf(p);
		const far = reach + this.aside;
		if (far < emptyTo[run]!) return true;
		if (far <= lookedTo[run]!) return false;
		const { boxes } = this.runsOf(p);
		const farther = aLittle * far;
		this.search(
			boxes[4 * run]! - farther,
			boxes[4 * run + 1]! - farther,
			boxes[4 * run + 2]! + farther,
			boxes[4 * run + 3]! + farther
		);
		this.lookAroundRun(p, run, farther);
		return far < emptyTo[run]!;
	}

	/** Finds how far from a run there is nothing, up to a distance; {@link search} has found all runs that come that near, and perhaps others. */
	private lookAroundRun(p: number, run: number, distance: number): void {
		const { owners, runs } = this;
		const line = this.runsOf(p);
		const { boxes, count } = line;
		const x0 = boxes[4 * run]!;
		const y0 = boxes[4 * run + 1]!;
		const x1 = boxes[4 * run + 2]!;
		const y1 = boxes[4 * run + 3]!;
		let nearest = distance;
		const after = line.goesOnAfter(run, distance);
		const before = line.goesOnBefore(run, distance);
		for (let n = 0; n < runs.length; n++) {
			const other = runs[n]!;
			if (owners[n] === p) {
				const ahead = other >= run ? other - run : other - run + count;
				if (ahead <= after || (ahead > 0 ? count - ahead : 0) <= before) continue;
			}
			nearest = Math.min(nearest, this.runsOf(owners[n]!).distanceTo(other, x0, y0, x1, y1));
		}
		const around = this.aroundOf(p);
		around.emptyTo[run] = nearest;
		around.lookedTo[run] = distance;
	}

	private find(p: number, fraction: number, reach: number): Gap {
		const { filled, owners, runs } = this;
		const piece = this.pieces[p]!;
		const {
			point: { x, y },
			direction: { x: tx, y: ty }
		} = placeOnPart(piece, fraction, piece.length);
		const isEnd = fraction === 0 || fraction === 1;
		let best = none;
		const along = fraction * piece.length;
		this.search(x - reach, y - reach, x + reach, y + reach);
		for (let n = 0; n < runs.length; n++) {
			const run = runs[n]!;
			const q = owners[n]!;
			const other = this.runsOf(q);
			const { line, wayTo } = other;
			const nearest = other.distanceTo(run, x, y, x, y);
			if (nearest > reach || nearest >= best.width) continue;
			// What is farther away than it can bow back over the way to it is the piece going on.
			if (p === q) {
				const way = Math.max(Math.abs(wayTo[other.firstOf(run)]! - along), Math.abs(other.wayAfter[run]! - along));
				if (nearest > bowSlope * way) continue;
			}
			for (let k = other.firstOf(run); k < other.lastOf(run); k++) {
				const ax = line[2 * k]!;
				const ay = line[2 * k + 1]!;
				const ux = line[2 * k + 2]! - ax;
				const uy = line[2 * k + 3]! - ay;
				const length = hypot(ux, uy);
				const share = Math.min(1, Math.max(0, ((x - ax) * ux + (y - ay) * uy) / (length * length || 1)));
				const qx = ax + share * ux;
				const qy = ay + share * uy;
				const width = hypot(qx - x, qy - y);
				if (!(width < best.width && width <= reach && width > 1e-9 * this.diagonal)) continue;
				const corner = this.cornerWidth(p, along, q, wayTo[k]! + share * length);
				if (width > corner) continue;
				// The way must set out into what is meshed, and not along the piece; from a corner its middle says so.
				const side = (tx * (qy - y) - ty * (qx - x)) / width;
				const isThere = isEnd
					? this.filledFaces.has(faceAt(this.arrangement, { x: (x + qx) / 2, y: (y + qy) / 2 }))
					: Math.abs(side) > alongside && filled[side > 0 ? 2 * p : 2 * p + 1] === 1;
				if (!isThere || this.isBlocked(x, y, qx, qy)) continue;
				best = { width, beyond: q };
			}
		}
		return best;
	}
}

/** More gaps than these are not kept of a piece. */
const mostKept = 16_384;

/** The gaps that were found beside a piece, by the fraction of its length, and how far they were looked for at most. */
interface PieceGaps {
	gaps: Map<number, { reach: number; width: number; beyond: Piece | undefined }>;
	farthest: number;
}

/** Remembers gaps from one time to the next: a gap stays as long as no piece within the reach that it was looked for in changes. */
export class GapCache {
	private found = new WeakMap<Piece, PieceGaps>();
	/** Which sides of each piece are filled, two of each. */
	private filled: Uint8Array = new Uint8Array(0);
	private diagonal = NaN;
	private pieces: readonly Piece[] = [];
	/** The numbers of the pieces, once one of them is asked for. */
	private index: Map<Piece, number> | undefined;
	/** The piece that was asked for last. */
	private last: { p: number; entry: PieceGaps } | undefined;

	/**
	 * Forgets what may be otherwise in an arrangement.
	 *
	 * @param filled 1 for each side of a piece that is meshed
	 */
	renew({ pieces, diagonal }: Arrangement, filled: Uint8Array): void {
		const { pieces: before, filled: filledBefore } = this;
		const numbers = numbersIn(pieces, before);
		const isStill = new Uint8Array(before.length);
		const changed: Piece[] = [];
		for (let p = 0; p < pieces.length; p++) {
			const q = numbers[p]!;
			if (q >= 0) isStill[q] = 1;
			if (q < 0 || filled[2 * p] !== filledBefore[2 * q] || filled[2 * p + 1] !== filledBefore[2 * q + 1])
				changed.push(pieces[p]!);
		}
		for (let q = 0; q < before.length; q++) if (!isStill[q]) changed.push(before[q]!);
		this.pieces = pieces;
		this.filled = filled;
		this.last = this.index = undefined;
		if (diagonal !== this.diagonal || 4 * changed.length > pieces.length) this.found = new WeakMap();
		else if (changed.length > 0) {
			const tree = new Flatbush(changed.length);
			for (const piece of changed) tree.add(...boxOfPiece(piece, 0));
			tree.finish();
			for (const piece of pieces) {
				const entry = this.found.get(piece);
				if (!entry) continue;
				// A piece lies beside its line by as much as that is straightened.
				const reach = entry.farthest + 2 * flatness * diagonal;
				const [x0, y0, x1, y1] = boxOfPiece(piece, 0);
				const near = tree.search(x0 - reach, y0 - reach, x1 + reach, y1 + reach);
				if (near.length > 0) this.found.delete(piece);
			}
		}
		this.diagonal = diagonal;
	}

	/** Whether gaps beside a piece have been asked for, and nothing has changed so near to it since that one of them could be another. */
	isUntouched(piece: Piece): boolean {
		return this.found.has(piece);
	}

	/** What is known of the gaps beside a piece, at one of which is looked now, within a reach. */
	of(p: number, reach: number): PieceGaps {
		if (this.last?.p !== p) {
			const piece = this.pieces[p]!;
			let entry = this.found.get(piece);
			if (!entry) this.found.set(piece, (entry = { gaps: new Map(), farthest: 0 }));
			this.last = { p, entry };
		}
		const { entry } = this.last;
		entry.farthest = Math.max(entry.farthest, reach);
		return entry;
	}

	/** The gap beside a place of a piece as it was found before; what is no gap at a glance need not be asked for. */
	gap({ gaps }: PieceGaps, fraction: number, reach: number): Gap | undefined {
		const cached = gaps.get(fraction);
		if (cached?.reach !== reach) return undefined;
		return { width: cached.width, beyond: cached.beyond === undefined ? -1 : this.numberOf(cached.beyond) };
	}

	private numberOf(piece: Piece): number {
		this.index ??= new Map(this.pieces.map((piece, p) => [piece, p]));
		return this.index.get(piece)!;
	}

	keep({ gaps }: PieceGaps, fraction: number, reach: number, { width, beyond }: Gap): void {
		// Other sizes ask at other places: what is not asked for any more is not kept for ever.
		if (gaps.size > mostKept) gaps.clear();
		gaps.set(fraction, { reach, width, beyond: this.pieces[beyond] });
	}
}

const one = arrange([lineCurve('', { x: 0.5, y: 0.5 }, { x: 0.7, y: 0.9 })]);
keepHiddenClass(new GapFinder(one, new Uint8Array(2), new GapCache(), Float64Array.of(0.5, 0.5, 0.7, 0.9)));
