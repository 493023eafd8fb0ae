import { atan2 } from '../numeric/elementary.ts';
import { DisjointSets } from '../numeric/disjoint-sets.ts';
import { alongHilbertCurve } from '../numeric/hilbert-order.ts';
import { keepHiddenClass } from '../numeric/hidden-class.ts';
import { cachedFor } from '../numeric/cached-for.ts';
import type { Work } from '../numeric/work.ts';
import type { Arrangement, Face, Piece, Walk } from './pieces.ts';
import { tangent } from './build.ts';
import { pointAt, segmentCount, segmentLength, STRIDE, type Point } from './curve.ts';
import { Locator, straightened, traitsOf } from './locator.ts';
import { flatten, isStraight, partArea, partPoint } from './parts.ts';

/** What pieces enclose. */
export interface Faces {
	faces: Face[];
	/** The face to the left of each half-piece, −1 where there is none. */
	sides: Int32Array;
	/** Pieces of outlines that enclose next to nothing, though they should. */
	vanished: number[];
	found: FaceSearch;
}

/** What was found on the way to the faces of an arrangement, for questions, and for the next arrangement. */
export interface FaceSearch {
	locator: Locator;
	/** Walks one after the other, as half-pieces; where each starts, and the end of the last; the walk of each half-piece. */
	walked: Uint32Array;
	starts: Uint32Array;
	walkOf: Int32Array;
	/** For every walk that encloses what is on its outside, the half-piece next to the left of it, −1 for none; {@link unknown} for other walks. */
	beside: Int32Array;
}

/** The time before: what was found then, and the number that each piece had, −1 for what is new or lies otherwise. */
export interface PreviousFaces {
	found: FaceSearch;
	numbers: Int32Array;
}

/**
 * The faces between pieces: walks that keep their face on the left, and for every walk that runs
 * clockwise the face in which it lies, found by looking left from its leftmost point (de Berg et
 * al. 2008, ch. 2.3); n log n in the number of pieces.
 *
 * @param before what was found in the same way before some of the pieces changed
 */
export function* findFaces(
	pieces: Piece[],
	x: Float64Array,
	y: Float64Array,
	diagonal: number,
	tolerance: number,
	before?: PreviousFaces
): Work<Faces> {
	// Phase 1: around every junction, the outgoing half-pieces in counter-clockwise order.
	const halves = 2 * pieces.length;
	const traits = traitsOf(pieces);
	const { from, isCurved } = traits;
	const next = nextAround(pieces, from, x.length, tolerance);
	yield 0.2;
	// Phase 2: walks, and what they enclose.
	const bulges = new Float64Array(pieces.length);
	for (let p = 0; p < pieces.length; p += piecesInStep) {
		yield 0.2 + (0.3 * p) / pieces.length;
		putBulges(bulges, pieces, isCurved, p, Math.min(p + piecesInStep, pieces.length), diagonal);
	}
	const walks = walksAlong(next, from, bulges, x, y);
	// Phase 3: counter-clockwise walks bound faces.
	const smallest = 1e-14 * diagonal * diagonal;
	const locator = new Locator(pieces, x, y, diagonal, traits);
	yield 0.6;
	const bounded = facesBounded(walks, locator, smallest);
	// Phase 4: the others are holes in the face to the left of them, or of what is there. They are looked for as they lie in
	// the plane.
	const { walked, starts, walkOf } = walks;
	const { faces, vanished, open, leftX, leftY } = bounded;
	const beside = new Int32Array(starts.length - 1).fill(unknown);
	if (before) putBesideBefore(beside, before, locator, walks, bounded, smallest);
	const asked = open.filter((w) => beside[w] === unknown);
	const component = asked.length > 0 ? components(from, x.length) : new Int32Array(0);
	const order = alongHilbertCurve(valuesOf(leftX, asked), valuesOf(leftY, asked));
	locator.expect(asked.length);
	yield 0.65;
	/** The component that a walk is part of, and with it what does not lie to its left. */
	const apart = { component, ownComponent: 0 };
	for (let n = 0; n < order.length; n++) {
		if ((n & 0x3ff) === 0x3ff) yield 0.65 + (0.35 * n) / asked.length;
		const w = asked[order[n]!]!;
		apart.ownComponent = component[from[walked[starts[w]!]!]!]!;
		beside[w] = locator.leftOf({ x: leftX[w]!, y: leftY[w]! }, apart);
	}
	putHoles(walks, bounded, beside);
	const sides = new Int32Array(halves);
	for (let h = 0; h < halves; h++) sides[h] = bounded.faceOfWalk[walkOf[h]!]!;
	return { faces, sides, vanished, found: { locator, walked, starts, walkOf, beside } };
}

/** Pieces visited between two yields. */
const piecesInStep = 512;

/** What each of some pieces encloses with its chord. Those that are curved are made straight on the way. */
function putBulges(
	bulges: Float64Array,
	pieces: readonly Piece[],
	isCurved: Uint8Array,
	start: number,
	end: number,
	diagonal: number
): void {
	for (let p = start; p < end; p++) {
		if (!isCurved[p]) continue;
		bulges[p] = bulge(pieces[p]!, 0);
		straightened(pieces[p]!, diagonal);
	}
}

/** Walks, one after the other, as {@link FaceSearch} has them, and the area that each encloses, to its left. */
interface Walks extends Pick<FaceSearch, 'walked' | 'starts' | 'walkOf'> {
	areas: Float64Array;
}

function walksAlong(next: Int32Array, from: Uint32Array, bulges: Float64Array, x: Float64Array, y: Float64Array): Walks {
	const halves = next.length;
	const walkOf = new Int32Array(halves).fill(-1);
	const walked = new Uint32Array(halves);
	const starts = new Uint32Array(halves + 1);
	const areas = new Float64Array(halves);
	let w = 0;
	let end = 0;
	for (let first = 0; first < halves; first++) {
		if (walkOf[first] !== -1) continue;
		let area = 0;
		const ox = x[from[first]!]!;
		const oy = y[from[first]!]!;
		for (let h = first; walkOf[h] === -1; h = next[h]!) {
			walkOf[h] = w;
			walked[end++] = h;
			const a = from[h]!;
			const b = from[h ^ 1]!;
			const chord = (x[a]! - ox) * (y[b]! - oy) - (x[b]! - ox) * (y[a]! - oy);
			area += chord / 2 + (h & 1 ? -bulges[h >> 1]! : bulges[h >> 1]!);
		}
		areas[w++] = area;
		starts[w] = end;
	}
	return { walkOf, walked, starts: starts.slice(0, w + 1), areas: areas.slice(0, w) };
}

/** What the walks that run counter-clockwise bound, and what is left of the others. */
interface Bounded extends Pick<Faces, 'faces' | 'vanished'> {
	/** The face to the left of each walk, −1 where none is known. */
	faceOfWalk: Int32Array;
	/** The walks around an outside, and the leftmost point of each by its number among all. */
	open: Uint32Array;
	leftX: Float64Array;
	leftY: Float64Array;
}

function facesBounded({ walked, starts, walkOf, areas }: Walks, locator: Locator, smallest: number): Bounded {
	const count = areas.length;
	const faces: Face[] = [];
	const vanished: number[] = [];
	const faceOfWalk = new Int32Array(count).fill(-1);
	const open = new Uint32Array(count);
	const [leftX, leftY] = [new Float64Array(count), new Float64Array(count)];
	let holes = 0;
	for (let w = 0; w < count; w++) {
		const area = areas[w]!;
		if (area > smallest) {
			faceOfWalk[w] = faces.length;
			faces.push({ outer: walkOn(walked, starts[w]!, starts[w + 1]!), inner: [], area });
			continue;
		}
		({ x: leftX[w], y: leftY[w] } = locator.leftmost(walked, starts[w]!, starts[w + 1]!));
		open[holes++] = w;
		if (Math.abs(area) > smallest) continue;
		// A walk out along some pieces and back along the same encloses nothing and has no need to.
		let ring = starts[w]!;
		while (ring < starts[w + 1]! && walkOf[walked[ring]! ^ 1] === w) ring++;
		if (ring === starts[w + 1]) continue;
		const walk = walkOn(walked, starts[w]!, starts[w + 1]!);
		if (!vanished.some((p) => walk.some((h) => h >> 1 === p))) vanished.push(walked[ring]! >> 1);
	}
	return { faces, vanished, faceOfWalk, open: open.subarray(0, holes), leftX, leftY };
}

/** What lies next to the left of walks around an outside, where what was before tells. */
function putBesideBefore(
	beside: Int32Array,
	before: PreviousFaces,
	locator: Locator,
	{ walked, starts, areas }: Walks,
	{ open, leftX, leftY }: Bounded,
	smallest: number
): void {
	const previousFaces = new PreviousSides(before, locator);
	if (!previousFaces.canTell) return;
	// What encloses nothing may have pieces of its own to its left.
	for (const w of open)
		if (areas[w]! < -smallest) beside[w] = previousFaces.of(walked, starts[w]!, starts[w + 1]!, { x: leftX[w]!, y: leftY[w]! });
}

/** Puts the walks around an outside into the faces beside them: from the left on, so that the face of what lies there is known. */
function putHoles({ walked, starts, walkOf, areas }: Walks, bounded: Bounded, beside: Int32Array): void {
	const { faces, faceOfWalk, open, leftX, leftY } = bounded;
	open.sort((v, w) => leftX[v]! - leftX[w]! || leftY[v]! - leftY[w]! || v - w);
	for (const w of open) {
		const host = beside[w]! < 0 ? -1 : faceOfWalk[walkOf[beside[w]!]!]!;
		if (host < 0) continue;
		faces[host]!.inner.push(walkOn(walked, starts[w]!, starts[w + 1]!));
		faces[host]!.area += areas[w]!;
		faceOfWalk[w] = host;
	}
}

/** Some numbers of a list. */
function valuesOf(list: Float64Array, numbers: Uint32Array): Float64Array {
	const values = new Float64Array(numbers.length);
	for (let k = 0; k < values.length; k++) values[k] = list[numbers[k]!]!;
	return values;
}

/** A stretch of a list of half-pieces as a walk. */
function walkOn(walked: Uint32Array, from: number, to: number): Walk {
	const part: Walk = [];
	for (let k = from; k < to; k++) part.push(walked[k]!);
	return part;
}

/** The half-piece beside a walk that has none to be known. */
const unknown = -2;

/** So many pieces may be new; of more, each hole would be held against too many. */
const mostNew = 64;

/**
 * Returns the half-piece next to the left of a walk around an outside from what it was before: the walk and its neighbour must
 * be as they were, and nothing new may lie between them. Of what went away none was between.
 */
class PreviousSides {
	/** Pieces that are new. */
	private readonly added: number[] = [];
	/** By the numbers of before, those that pieces have now. */
	private readonly numberNow: Int32Array;

	constructor(
		private readonly before: PreviousFaces,
		private readonly locator: Locator
	) {
		const { found, numbers } = before;
		this.numberNow = new Int32Array(found.walkOf.length / 2).fill(-1);
		for (let p = 0; p < numbers.length && this.canTell; p++) {
			if (numbers[p]! >= 0) this.numberNow[numbers[p]!] = p;
			else this.added.push(p);
		}
	}

	/** False where too much is new. */
	get canTell(): boolean {
		return this.added.length <= mostNew;
	}

	/**
	 * The half-piece, −1 for none, and {@link unknown} where what was before does not say.
	 *
	 * @param walked the walk, as a stretch of a list of half-pieces
	 */
	of(walked: Uint32Array, from: number, to: number, leftmost: Point): number {
		const { found: last } = this.before;
		const first = this.halfBefore(walked[from]!);
		if (first < 0) return unknown;
		const walk = last.walkOf[first]!;
		const shift = last.starts[walk]! - from;
		if (last.starts[walk + 1]! - to !== shift) return unknown;
		for (let k = from; k < to; k++) if (this.halfBefore(walked[k]!) !== last.walked[k + shift]) return unknown;
		const neighbour = last.beside[walk]!;
		if (neighbour === unknown) return unknown;
		const piece = neighbour < 0 ? -1 : this.numberNow[neighbour >> 1]!;
		if (neighbour >= 0 && piece < 0) return unknown;
		for (const p of this.added) if (this.locator.mayBeBetween(p, leftmost, piece)) return unknown;
		return neighbour < 0 ? -1 : 2 * piece + (neighbour & 1);
	}

	/** The half-piece of before that is this one now, −1 for none. */
	private halfBefore(h: number): number {
		const number = this.before.numbers[h >> 1]!;
		return number < 0 ? -1 : 2 * number + (h & 1);
	}
}

const nowhere = new Locator([], new Float64Array(0), new Float64Array(0), 1);
const [noNumbers, noPlaces] = [new Uint32Array(0), new Int32Array(0)];
const nothing: FaceSearch = { locator: nowhere, walked: noNumbers, starts: noNumbers, walkOf: noPlaces, beside: noPlaces };
keepHiddenClass(new PreviousSides({ found: nothing, numbers: noPlaces }, nowhere));

/** What a piece encloses with its chord, to the left of it. */
const bulge = cachedFor((piece: Piece) => partArea(piece, pointAt(piece.curve, piece.t0)));

/** After which half-piece which one comes, so that the face between them stays on the left. */
function nextAround(pieces: Piece[], from: Uint32Array, junctions: number, tolerance: number): Int32Array {
	const count = from.length;
	const first = new Uint32Array(junctions + 1);
	for (let h = 0; h < count; h++) first[from[h]! + 1]!++;
	for (let i = 0; i < junctions; i++) first[i + 1]! += first[i]!;
	const around = new Int32Array(count);
	const filled = first.slice(0, junctions);
	for (let h = 0; h < count; h++) around[filled[from[h]!]!++] = h;
	const next = new Int32Array(count);
	// Two leave a junction in only one cyclic order, whatever their directions.
	const angle = new Float64Array(count);
	for (let h = 0; h < count; h++) if (first[from[h]! + 1]! - first[from[h]!]! > 2) angle[h] = departure(h, pieces, tolerance);
	for (let i = 0; i < junctions; i++) {
		const [start, end] = [first[i]!, first[i + 1]!];
		if (end - start > 2) sortAround(around.subarray(start, end), angle, pieces, tolerance);
		// Arriving by the twin of one, the walk that keeps its face on the left leaves by the clockwise neighbour.
		for (let k = start; k < end; k++) next[around[k]! ^ 1] = around[k > start ? k - 1 : end - 1]!;
	}
	return next;
}

/** The direction in which a half-piece leaves its junction, as an angle; a first segment below the tolerance has none and is passed over. */
function departure(h: number, pieces: Piece[], tolerance: number): number {
	const piece = pieces[h >> 1]!;
	if (isStraight(piece) && piece.length > 4 * tolerance) {
		const { data } = piece.curve;
		const o = (Math.floor(piece.t0) % piece.curve.kinds.length) * STRIDE;
		const [dx, dy] = [data[o + 2]! - data[o]!, data[o + 3]! - data[o + 1]!];
		return h & 1 ? atan2(-dy, -dx) : atan2(dy, dx);
	}
	const count = segmentCount(piece.curve);
	const t = h & 1 ? piece.t1 : piece.t0;
	const segment = h & 1 ? Math.ceil(t) - 1 : Math.floor(t);
	const rest =
		h & 1 ? [Math.max(segment, piece.t0) - segment, t - segment] : [t - segment, Math.min(segment + 1, piece.t1) - segment];
	if (segmentLength(piece.curve, segment % count, rest[0]!, rest[1]!) <= 4 * tolerance && piece.length > 16 * tolerance) {
		const share = (8 * tolerance) / piece.length;
		const [from, to] = [partPoint(piece, h & 1 ? 1 : 0, piece.length), partPoint(piece, h & 1 ? 1 - share : share, piece.length)];
		return atan2(to.y - from.y, to.x - from.x);
	}
	const d = tangent(piece.curve, segment % count, t - segment, !(h & 1));
	return h & 1 ? atan2(-d.y, -d.x) : atan2(d.y, d.x);
}

/** Directions nearer than this, in radians, do not say by themselves which of two half-pieces leaves to the left of the other. */
const alike = 1e-3;

/**
 * Sorts the half-pieces at a junction counter-clockwise by departure; those that leave together by where they part.
 *
 * @param angle of departure of each half-piece; those of the list may get a full turn more
 */
function sortAround(list: Int32Array, angle: Float64Array, pieces: Piece[], tolerance: number): void {
	for (let k = 0; k < list.length; k++) {
		const h = list[k]!;
		// By insertion, as they are few; those that leave in one direction by their numbers.
		let n = k;
		for (; n > 0 && !(angle[list[n - 1]!]! < angle[h]! || (angle[list[n - 1]!] === angle[h] && list[n - 1]! < h)); n--)
			list[n] = list[n - 1]!;
		list[n] = h;
	}
	// The order starts after the widest gap, so that no two that leave together are torn apart at ±π.
	let start = 0;
	let widest = angle[list[0]!]! + 2 * Math.PI - angle[list.at(-1)!]!;
	let isClose = widest <= alike;
	for (let k = 1; k < list.length; k++) {
		const gap = angle[list[k]!]! - angle[list[k - 1]!]!;
		if (gap > widest) [widest, start] = [gap, k];
		if (gap <= alike) isClose = true;
	}
	if (!isClose) return;
	const moved = list.slice(0, start);
	for (const h of moved) angle[h]! += 2 * Math.PI;
	list.copyWithin(0, start);
	list.set(moved, list.length - start);
	list.sort((g, h) => {
		const difference = angle[g]! - angle[h]!;
		return Math.abs(difference) > alike ? difference : parting(g, h, pieces, tolerance) || difference || g - h;
	});
}

/** Below zero where half-piece h leaves to the left of g, as seen where they have come apart by more than the tolerance; 0 if they never do. */
function parting(g: number, h: number, pieces: Piece[], tolerance: number): number {
	const [p, q] = [pieces[g >> 1]!, pieces[h >> 1]!];
	const along = (half: number, piece: Piece, reach: number): Point =>
		partPoint(piece, half & 1 ? 1 - reach / piece.length : reach / piece.length, piece.length);
	const shorter = Math.min(p.length, q.length);
	const start = along(g, p, 0);
	const least = Math.max(1e-3 * shorter, 8 * tolerance);
	let farthest = 0;
	for (let reach = least; reach < 3 * shorter; reach *= 3) {
		const within = Math.min(reach, shorter);
		const [a, b] = [along(g, p, within), along(h, q, within)];
		const apart = ((a.x - start.x) * (b.y - start.y) - (a.y - start.y) * (b.x - start.x)) / within;
		if (Math.abs(apart) > 8 * tolerance) return -apart;
		if (Math.abs(apart) > Math.abs(farthest)) farthest = apart;
	}
	// Short ones that touch part by little; the junction itself may be off by the tolerance.
	return Math.abs(farthest) > 2 * tolerance ? -farthest : 0;
}

/** A walk as a polygon (flat x, y pairs, first point not repeated). */
export function walkOutline(walk: Walk, pieces: Piece[], tolerance: number): Float64Array {
	const out: number[] = [];
	for (const h of walk) {
		const line = flatten(pieces[h >> 1]!, tolerance);
		const n = line.length / 2;
		for (let k = 0; k + 1 < n; k++) {
			const i = h & 1 ? n - 1 - k : k;
			out.push(line[2 * i]!, line[2 * i + 1]!);
		}
	}
	return Float64Array.from(out);
}

/** Whether a point is inside a polygon given as flat x, y pairs (even–odd rule). */
export function insideOutline(outline: Float64Array, px: number, py: number): boolean {
	let inside = false;
	for (let k = 0, j = outline.length - 2; k < outline.length; j = k, k += 2) {
		const [ax, ay, bx, by] = [outline[k]!, outline[k + 1]!, outline[j]!, outline[j + 1]!];
		if (ay > py !== by > py && px < ((bx - ax) * (py - ay)) / (by - ay) + ax) inside = !inside;
	}
	return inside;
}

const locators = new WeakMap<Arrangement, Locator>();
const foundIn = new WeakMap<Arrangement, FaceSearch>();

/** Keeps what was found on the way to the faces of an arrangement for {@link faceAt} and {@link foundBefore}. */
export function keepFound(arrangement: Arrangement, found: FaceSearch): void {
	foundIn.set(arrangement, found);
	locators.set(arrangement, found.locator);
}

/** What was kept of an arrangement; nothing of one that came from a worker. */
export const foundBefore = (arrangement: Arrangement): FaceSearch | undefined => foundIn.get(arrangement);

/** The face that holds a point, or −1. */
export function faceAt(arrangement: Arrangement, p: Point): number {
	let locator = locators.get(arrangement);
	if (!locator)
		locators.set(arrangement, (locator = new Locator(arrangement.pieces, arrangement.x, arrangement.y, arrangement.diagonal)));
	const h = locator.leftOf(p);
	return h < 0 ? -1 : arrangement.sides[h]!;
}

/** A component number for each junction: the same for junctions that pieces, whose half-pieces leave from those given, connect. */
function components(from: Uint32Array, count: number): Int32Array {
	const sets = new DisjointSets(count);
	for (let h = 0; h < from.length; h += 2) sets.join(from[h]!, from[h + 1]!);
	const component = new Int32Array(count);
	for (let i = 0; i < count; i++) component[i] = sets.root(i);
	return component;
}
