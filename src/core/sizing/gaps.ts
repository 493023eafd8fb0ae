import Flatbush from 'flatbush';
import { arrange } from '../geometry/arrangement.ts';
import { lineCurve } from '../geometry/build.ts';
import { faceAt } from '../geometry/faces.ts';
import type { Arrangement, Piece } from '../geometry/pieces.ts';
import { boxOf, flatten, partPoint } from '../geometry/parts.ts';
import { atan2, hypot } from '../numeric/elementary.ts';
import { keepShape } from '../numeric/keep-shape.ts';
import { kept } from '../numeric/kept.ts';
import { pooled, pooledOf } from '../numeric/pooled.ts';
import type { Work } from '../numeric/work.ts';

/** What widens faster than this over the way from a junction, as from one of 30° or more, is a corner and no gap. */
const cornerSlope = 0.5;
/** A piece that comes nearer to itself than this share of the way along it has a gap there; a circle does not. */
const bowSlope = 0.6;
/** How far beside the tangent, as a sine, a way still counts as going along the piece. */
const alongside = 0.02;

/** So many segments in a row are looked at together. */
const inRun = 16;
/** … or fewer, but at least so many, where their directions lie within more than this, in radians. */
const fewestInRun = 3;
const swingInRun = 0.85;

/**
 * A stretch whose directions lie within this angle, in radians, comes no nearer to itself than {@link bowSlope} of the way,
 * however often it turns to and fro: it goes ahead along the middle of them by the cosine of half of it, which is more.
 */
const straightEnough = 1.8;

/** A piece with no more runs than this is looked around as a whole. */
const fewRuns = 16;
/** It is looked for gaps so many times as far as it was asked for, as the next place may ask for a little more. */
const aLittle = 1.5;

/** How far the straight segments may lie from the pieces, as a share of the drawing's diagonal. */
const flatness = 5e-5;

/** A piece made straight, flat x, y pairs, and its runs: segments in a row that are looked at together. */
interface Runs {
	line: Float64Array;
	/** Way along the piece to the start of each segment. */
	wayTo: Float64Array;
	/** The number of the first segment after each run, its box, and the way to its end. */
	last: number[];
	boxes: Float64Array;
	wayAfter: Float64Array;
	/** The four angles of each run's swing. */
	swing: Float64Array;
}

/** Numbers of a swing: the turn into the run, and the least, the largest and the last of its directions, all against its first one. */
const perSwing = 4;

/** What gaps are looked for in, of a piece of a drawing with a diagonal. */
const runsOf = kept((piece: Piece, diagonal): Runs => {
	const line = flatten(piece, flatness * diagonal);
	const { at, swing } = endsOfRuns(line, piece.start === piece.end);
	const runs: Runs = {
		line,
		wayTo: pooled(line.length / 2 - 1),
		last: at.map((end) => end / 2),
		boxes: pooled(4 * at.length),
		wayAfter: pooled(at.length),
		swing: pooledOf(swing)
	};
	const whole = lengthOfLine(line);
	const stretch = whole > 0 ? piece.length / whole : 1;
	let way = 0;
	for (let r = 0, s = 0; r < at.length; r++) {
		const [x0, y0, x1, y1] = boxOf(line, 2 * s, at[r]! + 2);
		runs.boxes[4 * r] = x0;
		runs.boxes[4 * r + 1] = y0;
		runs.boxes[4 * r + 2] = x1;
		runs.boxes[4 * r + 3] = y1;
		for (; s < runs.last[r]!; s++) {
			runs.wayTo[s] = way;
			way += stretch * hypot(line[2 * s + 2]! - line[2 * s]!, line[2 * s + 3]! - line[2 * s + 1]!);
		}
		runs.wayAfter[r] = way;
	}
	return runs;
});

/** The width of a gap, and the piece on its other side; Infinity and −1 where there is none. */
export interface Gap {
	width: number;
	beyond: number;
}

const none: Gap = { width: Infinity, beyond: -1 };

/** Makes ready for looking for gaps; they are found by {@link GapFinder.beside}. */
export function* gapsBeside(arrangement: Arrangement, isFilled: (side: number) => boolean, known: KnownGaps): Work<GapFinder> {
	const { pieces, diagonal } = arrangement;
	const ownRuns: Runs[] = [];
	for (const [p, piece] of pieces.entries()) {
		if ((p & 0x1ff) === 0x1ff) yield p / pieces.length;
		ownRuns.push(runsOf(piece, diagonal));
	}
	yield 1;
	known.renew(
		arrangement,
		isFilled,
		ownRuns.map(({ line }) => line)
	);
	return new GapFinder(arrangement, isFilled, known, ownRuns);
}

/** Looks for gaps beside the pieces of a drawing. */
export class GapFinder {
	private readonly pieces: readonly Piece[];
	private readonly diagonal: number;
	/** 1 for each side of a piece that is meshed: 2 p to the left, 2 p + 1 to the right. */
	private readonly filled: Uint8Array;
	private readonly filledFaces: ReadonlySet<number>;
	/** The ends of all segments; those of one piece after those of the one before. */
	private readonly segments: Float64Array;
	private readonly wayTo: Float64Array;
	/** The first segment of each run and the one after its last, and its piece. */
	private readonly firstOf: Uint32Array;
	private readonly lastOf: Uint32Array;
	private readonly owner: Uint32Array;
	private readonly boxes: Float64Array;
	private readonly wayAfter: Float64Array;
	private readonly swings: Float64Array;
	/** The first run of each piece. */
	private readonly firstRun: Uint32Array;
	private readonly tree: Flatbush;
	/** How far from each run there is nothing that could be on the other side of a gap; and how far it was looked. */
	private readonly emptyTo: Float64Array;
	private readonly lookedTo: Float64Array;
	/** The least of the first for all runs of a piece; NaN for one that has not been looked around as a whole. */
	private readonly clearTo: Float64Array;
	/** A place lies beside its own polyline by no more than this. */
	private readonly aside: number;
	/** The run in which a place lies; mostly that of the last one, or the next. */
	private lastRun = 0;
	/** The least and the largest direction of the runs that {@link goesOn} has taken together. */
	private low = NaN;
	private high = NaN;

	/** @param known gaps of the time before, which hold where nothing near has changed */
	constructor(
		private readonly arrangement: Arrangement,
		isFilled: (side: number) => boolean,
		private readonly known: KnownGaps,
		ownRuns: readonly Runs[]
	) {
		const { pieces, diagonal } = arrangement;
		[this.pieces, this.diagonal, this.aside] = [pieces, diagonal, 2 * flatness * diagonal];
		const count = ownRuns.reduce((sum, { wayTo }) => sum + wayTo.length, 0);
		const runs = ownRuns.reduce((sum, { last }) => sum + last.length, 0);
		const segments = new Float64Array(4 * count);
		const wayTo = new Float64Array(count);
		const [firstOf, lastOf, owner] = [new Uint32Array(runs), new Uint32Array(runs), new Uint32Array(runs)];
		const [boxes, wayAfter, swings] = [new Float64Array(4 * runs), new Float64Array(runs), new Float64Array(perSwing * runs)];
		const firstRun = new Uint32Array(pieces.length + 1);
		const tree = new Flatbush(Math.max(1, runs));
		let [s, r] = [0, 0];
		for (const [p, own] of ownRuns.entries()) {
			const { line, last } = own;
			wayTo.set(own.wayTo, s);
			boxes.set(own.boxes, 4 * r);
			wayAfter.set(own.wayAfter, r);
			swings.set(own.swing, perSwing * r);
			const first = s;
			for (let i = 0; i < last.length; i++, r++) {
				firstOf[r] = i === 0 ? first : lastOf[r - 1]!;
				lastOf[r] = first + last[i]!;
				owner[r] = p;
				tree.add(boxes[4 * r]!, boxes[4 * r + 1]!, boxes[4 * r + 2]!, boxes[4 * r + 3]!);
			}
			for (let k = 0; k + 3 < line.length; k += 2, s++) {
				segments[4 * s] = line[k]!;
				segments[4 * s + 1] = line[k + 1]!;
				segments[4 * s + 2] = line[k + 2]!;
				segments[4 * s + 3] = line[k + 3]!;
			}
			firstRun[p + 1] = r;
		}
		if (runs === 0) tree.add(0, 0, 0, 0);
		tree.finish();
		[this.segments, this.wayTo, this.firstOf, this.lastOf, this.owner] = [segments, wayTo, firstOf, lastOf, owner];
		[this.boxes, this.wayAfter, this.swings, this.firstRun, this.tree] = [boxes, wayAfter, swings, firstRun, tree];
		[this.emptyTo, this.lookedTo] = [new Float64Array(runs), new Float64Array(runs)];
		this.clearTo = new Float64Array(pieces.length).fill(NaN);
		const filled = new Uint8Array(2 * pieces.length);
		for (let side = 0; side < filled.length; side++) if (isFilled(side)) filled[side] = 1;
		this.filled = filled;
		this.filledFaces = new Set(arrangement.sides.filter((_, side) => filled[side] === 1));
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
		const own = this.known.of(p, reach);
		if (this.isEmpty(this.runAt(p, fraction * this.pieces[p]!.length), reach)) return none;
		const before = this.known.gap(own, fraction, reach);
		if (before) return before;
		const found = this.find(p, fraction, reach);
		this.known.keep(own, fraction, reach, found);
		return found;
	}

	/** Whether there is no gap of this width anywhere beside a piece; it may say no where there is none. */
	isClear(p: number, reach: number): boolean {
		if (!this.filled[2 * p] && !this.filled[2 * p + 1]) return true;
		this.known.of(p, reach);
		if (Number.isNaN(this.clearTo[p]!)) this.lookAround(p, reach);
		return reach + this.aside < this.clearTo[p]!;
	}

	/** The least width that is a corner, and no gap, between a place and a place of another piece, or of another stretch of its own. */
	private cornerWidth(p: number, along: number, q: number, alongOther: number): number {
		const own = this.pieces[p]!;
		const other = this.pieces[q]!;
		if (p === q) {
			const apart = Math.abs(along - alongOther);
			const way = own.start === own.end ? Math.min(apart, own.length - apart) : apart;
			// A curve is its own polyline only so far.
			return way < 40 * flatness * this.diagonal ? 0 : bowSlope * way;
		}
		let least = Infinity;
		if (own.start === other.start || own.start === other.end) least = along;
		if (own.end === other.start || own.end === other.end) least = Math.min(least, own.length - along);
		return cornerSlope * least;
	}

	/** Whether anything but the ends of a way lies across it. */
	private isBlocked(x: number, y: number, ex: number, ey: number): boolean {
		const { segments, firstOf, lastOf } = this;
		const dx = ex - x;
		const dy = ey - y;
		const rounded = Math.min(0.4, 1e-6 + this.aside / hypot(dx, dy));
		for (const run of this.tree.search(Math.min(x, ex), Math.min(y, ey), Math.max(x, ex), Math.max(y, ey)))
			for (let k = firstOf[run]!; k < lastOf[run]!; k++) {
				const ax = segments[4 * k]!;
				const ay = segments[4 * k + 1]!;
				const ux = segments[4 * k + 2]! - ax;
				const uy = segments[4 * k + 3]! - ay;
				const cross = dx * uy - dy * ux;
				if (cross === 0) continue;
				const t = ((ax - x) * uy - (ay - y) * ux) / cross;
				const v = ((ax - x) * dy - (ay - y) * dx) / cross;
				if (t > rounded && t < 1 - rounded && v > 0 && v < 1) return true;
			}
		return false;
	}

	private runAt(p: number, along: number): number {
		this.lastRun = this.findRun(p, along);
		return this.lastRun;
	}

	private findRun(p: number, along: number): number {
		const { wayAfter, lastRun } = this;
		let low = this.firstRun[p]!;
		let high = this.firstRun[p + 1]! - 1;
		for (let run = lastRun; run < lastRun + 2; run++)
			if (run > low && run < high && along > wayAfter[run - 1]! && along <= wayAfter[run]!) return run;
		while (low < high) {
			const middle = (low + high) >> 1;
			if (along > wayAfter[middle]!) low = middle + 1;
			else high = middle;
		}
		return low;
	}

	/** The way from end to end of a run. */
	private wayIn(run: number): number {
		return this.wayAfter[run]! - this.wayTo[this.firstOf[run]!]!;
	}

	/** Takes a run in whose first direction is turned by so much, where it is straight enough with what was taken before. */
	private takesIn(run: number, turned: number): boolean {
		const low = Math.min(this.low, turned + this.swings[perSwing * run + 1]!);
		const high = Math.max(this.high, turned + this.swings[perSwing * run + 2]!);
		if (high - low > straightEnough) return false;
		this.low = low;
		this.high = high;
		return true;
	}

	/** Starts to take runs together, with one. */
	private startAt(run: number): void {
		this.low = this.swings[perSwing * run + 1]!;
		this.high = this.swings[perSwing * run + 2]!;
	}

	/** How many runs after one go on from it straight enough to have no gap to it, within a distance. */
	private goesOnAfter(run: number, distance: number): number {
		const { swings } = this;
		const p = this.owner[run]!;
		const first = this.firstRun[p]!;
		const end = this.firstRun[p + 1]!;
		const isAround = this.pieces[p]!.start === this.pieces[p]!.end;
		const far = distance / bowSlope;
		this.startAt(run);
		let count = 0;
		let turned = swings[perSwing * run + 3]!;
		for (let r = run, way = 0; way <= far && count + 1 < end - first; count++) {
			r = r + 1 < end ? r + 1 : first;
			if (r === first && !isAround) break;
			turned += swings[perSwing * r]!;
			if (!this.takesIn(r, turned)) break;
			turned += swings[perSwing * r + 3]!;
			way += this.wayIn(r);
		}
		return count;
	}

	/** The same of runs before it. */
	private goesOnBefore(run: number, distance: number): number {
		const { swings } = this;
		const p = this.owner[run]!;
		const first = this.firstRun[p]!;
		const end = this.firstRun[p + 1]!;
		const isAround = this.pieces[p]!.start === this.pieces[p]!.end;
		const far = distance / bowSlope;
		this.startAt(run);
		let count = 0;
		let turned = 0;
		for (let r = run, way = 0; way <= far && count + 1 < end - first; count++) {
			if (r === first && !isAround) break;
			turned -= swings[perSwing * r]!;
			r = r > first ? r - 1 : end - 1;
			turned -= swings[perSwing * r + 3]!;
			if (!this.takesIn(r, turned)) break;
			way += this.wayIn(r);
		}
		return count;
	}

	/** Looks around a short piece as a whole: mostly there is nothing near any of it. */
	private lookAround(p: number, reach: number): void {
		const { boxes, emptyTo } = this;
		const [first, end] = [this.firstRun[p]!, this.firstRun[p + 1]!];
		this.clearTo[p] = 0;
		if (end - first > fewRuns) return;
		let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
		for (let run = first; run < end; run++) {
			x0 = Math.min(x0, boxes[4 * run]!);
			y0 = Math.min(y0, boxes[4 * run + 1]!);
			x1 = Math.max(x1, boxes[4 * run + 2]!);
			y1 = Math.max(y1, boxes[4 * run + 3]!);
		}
		const farther = aLittle * (reach + this.aside);
		const near = this.tree.search(x0 - farther, y0 - farther, x1 + farther, y1 + farther);
		if (near.length > 4 * fewRuns) return;
		let clear = Infinity;
		for (let run = first; run < end; run++) {
			this.lookAroundRun(run, farther, near);
			clear = Math.min(clear, emptyTo[run]!);
		}
		this.clearTo[p] = clear;
	}

	/** Whether nothing that could be on the other side of a gap comes as near as this to a run. */
	private isEmpty(run: number, reach: number): boolean {
		const far = reach + this.aside;
		if (far < this.emptyTo[run]!) return true;
		if (far <= this.lookedTo[run]!) return false;
		const { boxes } = this;
		const farther = aLittle * far;
		const near = this.tree.search(
			boxes[4 * run]! - farther,
			boxes[4 * run + 1]! - farther,
			boxes[4 * run + 2]! + farther,
			boxes[4 * run + 3]! + farther
		);
		this.lookAroundRun(run, farther, near);
		return far < this.emptyTo[run]!;
	}

	/** Tells how far from a run there is nothing, up to a distance; `near` are all runs whose boxes come that near, and perhaps others. */
	private lookAroundRun(run: number, distance: number, near: readonly number[]): void {
		const { boxes, owner, swings } = this;
		const x0 = boxes[4 * run]!;
		const y0 = boxes[4 * run + 1]!;
		const x1 = boxes[4 * run + 2]!;
		const y1 = boxes[4 * run + 3]!;
		const p = owner[run]!;
		let nearest = distance;
		// Where it is not straight by itself, it has a gap to itself.
		const isStraight = swings[perSwing * run + 2]! - swings[perSwing * run + 1]! <= straightEnough;
		const after = isStraight ? this.goesOnAfter(run, distance) : -1;
		const before = isStraight ? this.goesOnBefore(run, distance) : -1;
		const count = this.firstRun[p + 1]! - this.firstRun[p]!;
		for (const other of near) {
			if (owner[other] === p) {
				const ahead = other >= run ? other - run : other - run + count;
				if (ahead <= after || (ahead > 0 ? count - ahead : 0) <= before) continue;
			}
			const dx = Math.max(boxes[4 * other]! - x1, 0, x0 - boxes[4 * other + 2]!);
			const dy = Math.max(boxes[4 * other + 1]! - y1, 0, y0 - boxes[4 * other + 3]!);
			nearest = Math.min(nearest, hypot(dx, dy));
		}
		this.emptyTo[run] = nearest;
		this.lookedTo[run] = distance;
	}

	private find(p: number, fraction: number, reach: number): Gap {
		const { segments, firstOf, lastOf, owner, wayTo, wayAfter, filled } = this;
		const piece = this.pieces[p]!;
		const step = 1e-4;
		const [a, b] = [Math.max(0, fraction - step), Math.min(1, fraction + step)];
		const [from, to] = [partPoint(piece, a, piece.length), partPoint(piece, b, piece.length)];
		const length = hypot(to.x - from.x, to.y - from.y) || 1;
		const tx = (to.x - from.x) / length;
		const ty = (to.y - from.y) / length;
		const { x, y } = partPoint(piece, fraction, piece.length);
		const isEnd = fraction === 0 || fraction === 1;
		let best = none;
		const along = fraction * piece.length;
		for (const run of this.tree.search(x - reach, y - reach, x + reach, y + reach)) {
			const q = owner[run]!;
			const nearest = this.distanceToBox(run, x, y);
			if (nearest > reach || nearest >= best.width) continue;
			// What is farther away than it can bow back over the way to it is the piece going on.
			if (p === q) {
				const way = Math.max(Math.abs(wayTo[firstOf[run]!]! - along), Math.abs(wayAfter[run]! - along));
				if (nearest > bowSlope * way) continue;
			}
			for (let k = firstOf[run]!; k < lastOf[run]!; k++) {
				const ax = segments[4 * k]!;
				const ay = segments[4 * k + 1]!;
				const ux = segments[4 * k + 2]! - ax;
				const uy = segments[4 * k + 3]! - ay;
				const own = hypot(ux, uy);
				const share = Math.min(1, Math.max(0, ((x - ax) * ux + (y - ay) * uy) / (own * own || 1)));
				const qx = ax + share * ux;
				const qy = ay + share * uy;
				const width = hypot(qx - x, qy - y);
				if (!(width < best.width && width <= reach && width > 1e-9 * this.diagonal)) continue;
				const corner = this.cornerWidth(p, along, q, wayTo[k]! + share * own);
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

	private distanceToBox(run: number, x: number, y: number): number {
		const { boxes } = this;
		const dx = Math.max(boxes[4 * run]! - x, 0, x - boxes[4 * run + 2]!);
		const dy = Math.max(boxes[4 * run + 1]! - y, 0, y - boxes[4 * run + 3]!);
		return hypot(dx, dy);
	}
}

/** Where the runs of a polyline end, as indices of points, doubled; and the swing of each. */
function endsOfRuns(line: Float64Array, isClosed: boolean): { at: number[]; swing: number[] } {
	const at: number[] = [];
	const swing: number[] = [];
	const last = line.length - 2;
	let [into, low, high, own] = [0, 0, 0, 0];
	for (let k = 0, first = 0; k < last; k += 2) {
		const turn = turnInto(line, k, isClosed);
		const count = (k - first) / 2;
		const isFull =
			count === inRun || (count >= fewestInRun && Math.max(high, own + turn) - Math.min(low, own + turn) > swingInRun);
		if (isFull) {
			at.push(k);
			swing.push(into, low, high, own);
			first = k;
		}
		if (k === first) [into, low, high, own] = [turn, 0, 0, 0];
		else {
			own += turn;
			low = Math.min(low, own);
			high = Math.max(high, own);
		}
	}
	if (last > 0) {
		at.push(last);
		swing.push(into, low, high, own);
	}
	return { at, swing };
}

/** By how much a polyline turns to the left as it comes to the segment that starts at k; at the start of a closed one from its last. */
function turnInto(line: Float64Array, k: number, isClosed: boolean): number {
	if (k === 0 && !isClosed) return 0;
	const before = k === 0 ? line.length - 4 : k - 2;
	const [ux, uy] = [line[before + 2]! - line[before]!, line[before + 3]! - line[before + 1]!];
	const [wx, wy] = [line[k + 2]! - line[k]!, line[k + 3]! - line[k + 1]!];
	return atan2(ux * wy - uy * wx, ux * wx + uy * wy);
}

/** More gaps than these are not kept of a piece. */
const mostKept = 16_384;

/** The gaps that were found beside a piece, by the fraction of its length, and how far they were looked for at most. */
interface OfPiece {
	gaps: Map<number, { reach: number; width: number; beyond: Piece | undefined }>;
	farthest: number;
}

/** A piece with what gaps beside it follow from: its box, and which of its sides are filled. */
interface Seen {
	box: readonly [number, number, number, number];
	sides: number;
}

/** Remembers gaps from one time to the next: a gap stays as long as no piece within the reach that it was looked for in changes. */
export class KnownGaps {
	private found = new WeakMap<Piece, OfPiece>();
	private seen = new Map<Piece, Seen>();
	private diagonal = NaN;
	private pieces: readonly Piece[] = [];
	private index = new Map<Piece, number>();
	/** The piece that was asked for last. */
	private last: { p: number; own: OfPiece } | undefined;

	/** Forgets what may be otherwise in an arrangement. */
	renew({ pieces, diagonal }: Arrangement, isFilled: (side: number) => boolean, lines: readonly Float64Array[]): void {
		const before = this.seen;
		this.seen = new Map();
		this.last = undefined;
		this.pieces = pieces;
		this.index = new Map(pieces.map((piece, p) => [piece, p]));
		const changed: Seen['box'][] = [];
		for (const [p, piece] of pieces.entries()) {
			const sides = Number(isFilled(2 * p)) + 2 * Number(isFilled(2 * p + 1));
			const old = before.get(piece);
			const box = old?.box ?? boxOf(lines[p]!);
			this.seen.set(piece, { box, sides });
			if (old?.sides !== sides) changed.push(box);
		}
		for (const [piece, { box }] of before) if (!this.seen.has(piece)) changed.push(box);
		if (diagonal !== this.diagonal || 4 * changed.length > pieces.length) this.found = new WeakMap();
		else if (changed.length > 0) {
			const tree = new Flatbush(changed.length);
			for (const box of changed) tree.add(...box);
			tree.finish();
			for (const [piece, { box }] of this.seen) {
				const own = this.found.get(piece);
				if (!own) continue;
				// A piece lies beside its line by as much as that is straightened.
				const reach = own.farthest + 2 * flatness * diagonal;
				const near = tree.search(box[0] - reach, box[1] - reach, box[2] + reach, box[3] + reach);
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
	of(p: number, reach: number): OfPiece {
		if (this.last?.p !== p) {
			const piece = this.pieces[p]!;
			let own = this.found.get(piece);
			if (!own) this.found.set(piece, (own = { gaps: new Map(), farthest: 0 }));
			this.last = { p, own };
		}
		const { own } = this.last;
		own.farthest = Math.max(own.farthest, reach);
		return own;
	}

	/** The gap beside a place of a piece as it was found before; what is no gap at a glance need not be asked for. */
	gap({ gaps }: OfPiece, fraction: number, reach: number): Gap | undefined {
		const known = gaps.get(fraction);
		if (known?.reach !== reach) return undefined;
		return { width: known.width, beyond: known.beyond === undefined ? -1 : this.index.get(known.beyond)! };
	}

	keep({ gaps }: OfPiece, fraction: number, reach: number, { width, beyond }: Gap): void {
		// Other sizes ask at other places: what is not asked for any more is not kept for ever.
		if (gaps.size > mostKept) gaps.clear();
		gaps.set(fraction, { reach, width, beyond: this.pieces[beyond] });
	}
}

function lengthOfLine(line: Float64Array): number {
	let length = 0;
	for (let k = 0; k + 3 < line.length; k += 2) length += hypot(line[k + 2]! - line[k]!, line[k + 3]! - line[k + 1]!);
	return length;
}

keepShape(new GapFinder(arrange([lineCurve('', { x: 0.5, y: 0.5 }, { x: 0.7, y: 0.9 })]), () => false, new KnownGaps(), []));
