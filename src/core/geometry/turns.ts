import { cachedFor } from '../numeric/cached-for.ts';
import { Float64List } from '../numeric/lists.ts';
import { pooled } from '../numeric/pooled.ts';
import type { Piece } from './pieces.ts';
import { atan2 } from '../numeric/elementary.ts';
import { tangent } from './build.ts';
import {
	ARC,
	type Curve,
	LINE,
	type Point,
	putSegmentDerivative,
	segmentCurvature,
	segmentDerivative,
	segmentLength,
	STRIDE
} from './curve.ts';
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

/** The turning along a piece, distinguished above a curvature; worked out once for as long as the piece stays. */
export const turnsOfPiece = cachedFor((piece: Piece, enough) => turnsAlong(piece, piece.length, enough));

/**
 * The turning along a part, exact for lines and arcs.
 *
 * @param length the arc length of the part
 * @param enough a curvature below which nothing has to be distinguished
 */
export function turnsAlong(part: CurvePart, length: number, enough = 0): Turns {
	const { curve } = part;
	along.start(length);
	/** The length of the last segment, NaN before the first; the direction at its end is {@link arriving}. */
	let lastWay = NaN;
	forEachSegment(part, (segment, u0, u1) => {
		const way = segmentLength(curve, segment, u0, u1);
		putDirection(curve, segment, u0, true, leaving);
		if (lastWay > 0) along.kink(between(arriving[0]!, arriving[1]!, leaving[0]!, leaving[1]!), Math.min(lastWay, way));
		if (curve.kinds[segment] === LINE) along.put(way, 0);
		else if (curve.kinds[segment] === ARC) along.put(way, Math.abs(curve.data[segment * STRIDE + 8]!) * (u1 - u0));
		else followSmooth(curve, segment, u0, u1, enough);
		putDirection(curve, segment, u1, false, arriving);
		lastWay = way;
	});
	return along.turns();
}

const [leaving, arriving] = [new Float64Array(2), new Float64Array(2)];

/** Puts the direction of a segment into a list of two: of its derivative, or where that vanishes at an end, of its limit there. */
function putDirection(curve: Curve, segment: number, u: number, isLeaving: boolean, into: Float64Array): void {
	const kind = curve.kinds[segment];
	if (kind === LINE || kind === ARC || (u > 0 && u < 1)) return putSegmentDerivative(curve, segment, u, into);
	const { x, y } = tangent(curve, segment, u, isLeaving);
	into[0] = x;
	into[1] = y;
}

/** How far it was gone along a part, and how far that turned. */
class Along {
	private length = NaN;
	private way = NaN;
	private turned = NaN;
	private readonly at = new Float64List();
	private readonly turn = new Float64List();
	private readonly kinks = { at: new Float64List(), turn: new Float64List(), reach: new Float64List() };

	/** Starts at a part of a length. */
	start(length: number): void {
		const { at, turn, kinks } = this;
		this.length = length;
		this.way = this.turned = 0;
		for (const list of [at, turn, kinks.at, kinks.turn, kinks.reach]) list.length = 0;
		at.push(0);
		turn.push(0);
	}

	/** Goes on, and turns evenly. */
	put(way: number, turn: number): void {
		this.way += way;
		this.turned += turn;
		this.at.push(Math.min(1, this.way / this.length));
		this.turn.push(this.turned);
	}

	/** Turns at once; `shorter` is the length of the shorter segment beside the joint. */
	kink(turn: number, shorter: number): void {
		if (!(turn > 1e-6)) return;
		const { kinks, way, length } = this;
		kinks.at.push(way / length);
		kinks.turn.push(turn);
		kinks.reach.push(shorter / (2 * length));
	}

	turns(): Turns {
		const { length, kinks } = this;
		const at = this.at.copied();
		at[at.length - 1] = 1;
		return {
			at,
			turn: this.turn.copied(),
			kinks: { at: kinks.at.copied(), turn: kinks.turn.copied(), reach: kinks.reach.copied() },
			length
		};
	}
}

/** One part is followed at a time. */
const along = new Along();

/** The angle between two directions. */
const between = (ax: number, ay: number, bx: number, by: number): number => Math.abs(atan2(ax * by - ay * bx, ax * bx + ay * by));

/** Follows the direction of a smooth segment, halving where it turns much and not evenly. */
function followSmooth(curve: Curve, segment: number, u0: number, u1: number, enough: number): void {
	const direction = (u: number): Point => {
		if (u > 0 && u < 1) return segmentDerivative(curve, segment, u);
		return tangent(curve, segment, u);
	};
	const bend = (u: number) => {
		const k = Math.abs(segmentCurvature(curve, segment, u));
		return Number.isFinite(k) ? k : 0;
	};
	const halve = (a: number, b: number, da: Point, db: Point, ka: number, kb: number, depth: number): void => {
		const m = (a + b) / 2;
		const [dm, km] = [direction(m), bend(m)];
		const [before, after] = [between(da.x, da.y, dm.x, dm.y), between(dm.x, dm.y, db.x, db.y)];
		const turn = before + after;
		const most = Math.max(ka, km, kb);
		const isEven = most <= enough || most <= 1.3 * Math.min(ka, km, kb);
		if (depth >= deepest || (turn < fineTurn && isEven) || turn < fineTurn / 20 || (depth >= 3 && most <= enough)) {
			const way = segmentLength(curve, segment, a, m);
			along.put(way, before);
			along.put(segmentLength(curve, segment, m, b), after);
			return;
		}
		halve(a, m, da, dm, ka, km, depth + 1);
		halve(m, b, dm, db, km, kb, depth + 1);
	};
	halve(u0, u1, direction(u0), direction(u1), bend(u0), bend(u1), 0);
}

/**
 * The largest turn, in radians, between two neighbours of some places along a part, fractions of its length; and the first of the two.
 *
 * @param isFlat whether what turns by so much between two places counts for nothing
 * @param mostKink kinks count for no more than this
 */
export function largestTurn(
	{ at, turn, kinks }: Turns,
	places: Float64Array,
	isFlat: (from: number, to: number, turned: number) => boolean = () => false,
	mostKink = Infinity
): { turn: number; cell: number } {
	let [largest, cell] = [0, 0];
	let [k, kink, smoothBefore] = [0, 0, 0];
	for (let i = 1; i < places.length; i++) {
		const place = places[i]!;
		while (k + 2 < at.length && at[k + 1]! < place) k++;
		const span = at[k + 1]! - at[k]!;
		const smooth = turn[k]! + (span > 0 ? (place - at[k]!) / span : 1) * (turn[k + 1]! - turn[k]!);
		let turned = smooth - smoothBefore;
		smoothBefore = smooth;
		// A node on a joint has its kink on neither side.
		while (kink < kinks.at.length && kinks.at[kink]! <= places[i - 1]! + 1e-9) kink++;
		for (; kink < kinks.at.length && kinks.at[kink]! < place - 1e-9; kink++) turned += Math.min(kinks.turn[kink]!, mostKink);
		if (turned > largest && !isFlat(places[i - 1]!, place, turned)) [largest, cell] = [turned, i - 1];
	}
	return { turn: largest, cell };
}

/**
 * The curvature at fractions of the length that rise, at each the larger one where two stretches meet. A kink is spread over
 * the half of the shorter segment beside it, either way, so that a polyline bends as the curve does that it stands for.
 */
export function bendsAt(turns: Turns, fractions: ArrayLike<number>): Float64Array {
	const { at, kinks } = turns;
	const bends = pooled(fractions.length);
	const touch = 1e-9;
	// The stretch, and the kink, that are the last to start before a place, or at it.
	let [stretch, kink] = [0, -1];
	for (let i = 0; i < fractions.length; i++) {
		const fraction = fractions[i]!;
		let bend = 0;
		while (stretch + 1 < at.length && at[stretch + 1]! <= fraction - touch) stretch++;
		for (let k = stretch; k + 1 < at.length && at[k]! <= fraction + touch; k++) bend = Math.max(bend, bendOfStretch(turns, k));
		while (kink + 1 < kinks.at.length && kinks.at[kink + 1]! <= fraction) kink++;
		for (let k = Math.max(0, kink); k <= kink + 1 && k < kinks.at.length; k++)
			if (Math.abs(kinks.at[k]! - fraction) <= kinks.reach[k]! + touch) bend = Math.max(bend, bendOfKink(turns, k));
		bends[i] = bend;
	}
	return bends;
}

/** The largest curvature, kinks spread as in {@link bendsAt}. */
export function largestBend(turns: Turns): number {
	let bend = 0;
	for (let k = 0; k + 1 < turns.at.length; k++) bend = Math.max(bend, bendOfStretch(turns, k));
	for (let k = 0; k < turns.kinks.at.length; k++) bend = Math.max(bend, bendOfKink(turns, k));
	return bend;
}

/** The curvature from one place to the next. */
function bendOfStretch({ at, turn, length }: Turns, k: number): number {
	const way = (at[k + 1]! - at[k]!) * length;
	return way > 0 ? (turn[k + 1]! - turn[k]!) / way : 0;
}

/**
 * A kink that turns by more than this, in radians, counts as one that turns by as much: divisions shorter than the segments beside
 * it follow it no better, and only a node on it would.
 */
export const mostOfKink = Math.PI / 6;

/** The curvature of a kink, over as far as it is spread. */
const bendOfKink = ({ kinks, length }: Turns, k: number): number =>
	Math.min(kinks.turn[k]!, mostOfKink) / (2 * kinks.reach[k]! * length);

/** The fractions of the length at which the curvature changes, of stretches that bend more than `enough`; they rise, and some may repeat. */
export function bendPlaces(turns: Turns, enough: number): number[] {
	const { at, turn, kinks, length } = turns;
	const places: number[] = [];
	for (let k = 0; k + 1 < at.length; k++) {
		const way = (at[k + 1]! - at[k]!) * length;
		if (way > 0 && turn[k + 1]! - turn[k]! > enough * way) places.push(at[k]!, at[k + 1]!);
	}
	const smooth = places.length;
	let last = 0;
	for (let k = 0; k < kinks.at.length; k++) {
		const [place, reach] = [kinks.at[k]!, kinks.reach[k]!];
		if (!(bendOfKink(turns, k) > enough)) continue;
		// Two kinks reach to the middle between them, but for rounding.
		places.push(Math.max(last, place - reach), place, (last = place + reach));
	}
	return smooth > 0 && places.length > smooth ? places.sort((a, b) => a - b) : places;
}
