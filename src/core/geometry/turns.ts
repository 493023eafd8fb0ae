import { kept } from '../numeric/kept.ts';
import type { Piece } from './pieces.ts';
import { atan2 } from '../numeric/elementary.ts';
import { ARC, LINE, segmentCurvature, segmentDerivative, segmentLength, STRIDE, type Point } from './curve.ts';
import { type CurvePart, forEachSegment } from './parts.ts';

/**
 * How far a part has turned, without sign, at places along it: `at` as fractions of its arc length, rising, `turn` in
 * radians; between two places it turns evenly.
 */
export interface Turns {
	at: Float64Array;
	turn: Float64Array;
	/** The joints at which it turns at once: where, by how much, and half the length of the shorter segment beside it, as a fraction. */
	kinks: { at: Float64Array; turn: Float64Array; reach: Float64Array };
	length: number;
}

/** Within a smooth segment the direction is followed until two places turn by less than this, or bend nearly alike. */
const fineTurn = 0.04;
const deepest = 12;

/** The turning along a piece, told apart above a curvature; worked out once for as long as the piece stays. */
export const turnsOfPiece = kept((piece: Piece, enough) => turnsAlong(piece, piece.length, enough));

/**
 * The turning along a part, exact for lines and arcs.
 *
 * @param length the arc length of the part
 * @param enough a curvature below which nothing has to be told apart
 */
export function turnsAlong(part: CurvePart, length: number, enough = 0): Turns {
	const { curve } = part;
	const at = [0];
	const turn = [0];
	const kinks: { at: number[]; turn: number[]; reach: number[] } = { at: [], turn: [], reach: [] };
	let along = 0;
	/** The direction at the end of the last segment, and the length of it. */
	let last: { direction: Point; way: number } | undefined;
	const put = (way: number, more: number) => {
		along += way;
		at.push(Math.min(1, along / length));
		turn.push(turn.at(-1)! + more);
	};
	forEachSegment(part, (segment, u0, u1) => {
		const way = segmentLength(curve, segment, u0, u1);
		const kink = last ? between(last.direction, segmentDerivative(curve, segment, u0)) : 0;
		if (kink > 1e-6) {
			kinks.at.push(along / length);
			kinks.turn.push(kink);
			kinks.reach.push(Math.min(last!.way, way) / (2 * length));
		}
		if (curve.kinds[segment] === LINE) put(way, 0);
		else if (curve.kinds[segment] === ARC) put(way, Math.abs(curve.data[segment * STRIDE + 8]!) * (u1 - u0));
		else followSmooth(part, segment, u0, u1, enough, put);
		last = { direction: segmentDerivative(curve, segment, u1), way };
	});
	at[at.length - 1] = 1;
	return {
		at: Float64Array.from(at),
		turn: Float64Array.from(turn),
		kinks: { at: Float64Array.from(kinks.at), turn: Float64Array.from(kinks.turn), reach: Float64Array.from(kinks.reach) },
		length
	};
}

const between = (a: Point, b: Point): number => Math.abs(atan2(a.x * b.y - a.y * b.x, a.x * b.x + a.y * b.y));

/** Follows the direction of a smooth segment, halving where it turns much and not evenly. */
function followSmooth(
	{ curve }: CurvePart,
	segment: number,
	u0: number,
	u1: number,
	enough: number,
	put: (way: number, turn: number) => void
): void {
	const direction = (u: number) => segmentDerivative(curve, segment, u);
	const bend = (u: number) => {
		const k = Math.abs(segmentCurvature(curve, segment, u));
		return Number.isFinite(k) ? k : 0;
	};
	const halve = (a: number, b: number, da: Point, db: Point, ka: number, kb: number, depth: number): void => {
		const m = (a + b) / 2;
		const [dm, km] = [direction(m), bend(m)];
		const turn = between(da, dm) + between(dm, db);
		const most = Math.max(ka, km, kb);
		const isEven = most <= enough || most <= 1.3 * Math.min(ka, km, kb);
		if (depth >= deepest || (turn < fineTurn && isEven) || turn < fineTurn / 20 || (depth >= 3 && most <= enough)) {
			const way = segmentLength(curve, segment, a, m);
			put(way, between(da, dm));
			put(segmentLength(curve, segment, m, b), between(dm, db));
			return;
		}
		halve(a, m, da, dm, ka, km, depth + 1);
		halve(m, b, dm, db, km, kb, depth + 1);
	};
	halve(u0, u1, direction(u0), direction(u1), bend(u0), bend(u1), 0);
}

/** The last of some rising places that is not above a value; −1 where all are. */
function lastNotAbove(places: Float64Array, value: number): number {
	let [low, high] = [-1, places.length - 1];
	while (low < high) {
		const middle = (low + high + 1) >> 1;
		if (places[middle]! <= value) low = middle;
		else high = middle - 1;
	}
	return low;
}

/** The largest turn, in radians, between two neighbours of some places along a part, fractions of its length; and the first of the two. */
export function largestTurn({ at, turn, kinks }: Turns, places: Float64Array): { turn: number; cell: number } {
	let [largest, cell] = [0, 0];
	let [k, kink, smoothBefore] = [0, 0, 0];
	for (let i = 1; i < places.length; i++) {
		const place = places[i]!;
		while (k + 2 < at.length && at[k + 1]! < place) k++;
		const span = at[k + 1]! - at[k]!;
		const smooth = turn[k]! + (span > 0 ? (place - at[k]!) / span : 1) * (turn[k + 1]! - turn[k]!);
		let own = smooth - smoothBefore;
		smoothBefore = smooth;
		// A node on a joint has its kink on neither side.
		while (kink < kinks.at.length && kinks.at[kink]! <= places[i - 1]! + 1e-9) kink++;
		for (; kink < kinks.at.length && kinks.at[kink]! < place - 1e-9; kink++) own += kinks.turn[kink]!;
		if (own > largest) [largest, cell] = [own, i - 1];
	}
	return { turn: largest, cell };
}

/**
 * The curvature at a fraction of the length, the larger one where two stretches meet. A kink is spread over the half of the
 * shorter segment beside it, either way, so that a polyline bends as the curve does that it stands for.
 */
export function bendAt({ at, turn, kinks, length }: Turns, fraction: number): number {
	let bend = 0;
	const touch = 1e-9;
	for (let k = Math.max(0, lastNotAbove(at, fraction - touch)); k + 1 < at.length && at[k]! <= fraction + touch; k++) {
		const way = (at[k + 1]! - at[k]!) * length;
		if (way > 0) bend = Math.max(bend, (turn[k + 1]! - turn[k]!) / way);
	}
	const near = lastNotAbove(kinks.at, fraction);
	for (const k of [near, near + 1])
		if (k >= 0 && k < kinks.at.length && Math.abs(kinks.at[k]! - fraction) <= kinks.reach[k]! + touch)
			bend = Math.max(bend, kinks.turn[k]! / (2 * kinks.reach[k]! * length));
	return bend;
}

/** The fractions of the length at which the curvature changes, of stretches that bend more than `enough`; some may repeat. */
export function bendPlaces({ at, turn, kinks, length }: Turns, enough: number): number[] {
	const places: number[] = [];
	for (let k = 0; k + 1 < at.length; k++) {
		const way = (at[k + 1]! - at[k]!) * length;
		if (way > 0 && turn[k + 1]! - turn[k]! > enough * way) places.push(at[k]!, at[k + 1]!);
	}
	for (let k = 0; k < kinks.at.length; k++) {
		const [place, reach] = [kinks.at[k]!, kinks.reach[k]!];
		if (kinks.turn[k]! > enough * 2 * reach * length) places.push(place - reach, place, place + reach);
	}
	return places;
}
