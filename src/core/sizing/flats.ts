import { bisectRight } from 'd3-array';
import { isStraight, leavingDirection, partPoints } from '../geometry/parts.ts';
import type { Piece } from '../geometry/pieces.ts';
import { largestBend, type Turns } from '../geometry/turns.ts';
import { atan2, hypot, tan } from '../numeric/elementary.ts';

/** Between two places at which a piece is looked at it turns by no more than this, in radians. */
const fineTurn = 0.1;
/** Stretches down to a 4096th of the requested size are looked at, each half as long as the one before. */
const mostHalvings = 12;
/** The distance between neighbouring stretches, as a share of their length. */
const apart = 1 / 4;
/** A piece that turns one way bends evenly enough if its largest curvature is no more than this multiple of the mean. */
const evenBend = 8;
/** A turn to one side and back again by less than this, in radians, is none. */
const sameWay = 0.02;

/** A stretch that is looked at lies a little beside the divisions that it stands for: it turns by no more than this share of what one may. */
const withinTurn = 0.8;
/** A stretch whose turns add up to this multiple of the range of its directions is noise, not a bend. */
const noisy = 2;

/**
 * Where a piece is flat enough for a division of some length: it turns by no more than a division may, or it turns to and fro
 * and leaves its chord by no more than an arc does that turns by as much. So an end at which the curvature has no bound, a kink
 * that is rounded off, or noise ask for small divisions only where they are large beside them.
 */
export class Flats {
	private readonly at: Float64Array;
	private readonly x: Float64Array;
	private readonly y: Float64Array;
	/** How far the piece has turned at each place, kinks before it included, without sign. */
	private readonly turned: Float64Array;
	/** By number of halvings and of the stretch: 1 where it is flat, 2 where it is not, 0 where nobody has asked. */
	private readonly seen: Uint8Array[] = [];
	private longest = NaN;
	private readonly length: number;
	/** How far a flat stretch leaves its chord, as a share of it. */
	private readonly leaves: number;

	constructor(
		piece: Piece,
		{ at, turn, kinks, length }: Turns,
		private readonly turnPerDivision: number
	) {
		const places: number[] = [0];
		const turned: number[] = [0];
		let [kink, kinked] = [0, 0];
		for (let k = 0; k + 1 < at.length; k++) {
			const steps = Math.min(64, Math.ceil((turn[k + 1]! - turn[k]!) / fineTurn)) || 1;
			for (; kink < kinks.at.length && kinks.at[kink]! <= at[k]! + 1e-12; kink++) kinked += kinks.turn[kink]!;
			for (let i = 1; i <= steps; i++) {
				const place = at[k]! + (i / steps) * (at[k + 1]! - at[k]!);
				if (!(place > places.at(-1)!)) continue;
				places.push(place);
				turned.push(turn[k]! + (i / steps) * (turn[k + 1]! - turn[k]!) + kinked);
			}
		}
		this.at = Float64Array.from(places);
		this.turned = Float64Array.from(turned);
		const { x, y } = partPoints(piece, this.at, length);
		[this.x, this.y, this.length] = [x, y, length];
		this.leaves = tan(Math.min(turnPerDivision, Math.PI) / 4) / 2;
	}

	/** Whether a piece turns to and fro about two fractions of its length, and stays near the chord: between them, or with as much around. */
	isNoise(from: number, to: number): boolean {
		const more = (to - from) / 2;
		return this.staysNear(from, to) || this.staysNear(Math.max(0, from - more), Math.min(1, to + more));
	}

	private staysNear(from: number, to: number): boolean {
		const { at, x, y } = this;
		const [first, end] = [bisectRight(at, from), bisectRight(at, to)];
		const [ax, ay] = this.point(from, first);
		const [bx, by] = this.point(to, end);
		const chord = hypot(bx - ax, by - ay);
		if (!(chord > 0)) return false;
		const [ex, ey] = [(bx - ax) / chord, (by - ay) / chord];
		const off = this.leaves * chord;
		let [lastX, lastY, low, high, total, last] = [ax, ay, Infinity, -Infinity, 0, NaN];
		for (let k = first; k <= end; k++) {
			const isEnd = k === end || at[k]! >= to;
			const [qx, qy] = isEnd ? [bx, by] : [x[k]!, y[k]!];
			const [px, py] = [qx - ax, qy - ay];
			const along = px * ex + py * ey;
			if (!(Math.abs(px * ey - py * ex) <= off && along >= -off && along <= chord + off)) return false;
			// The direction against that of the chord; what is noise turns back by no half turn.
			const direction = atan2((qy - lastY) * ex - (qx - lastX) * ey, (qx - lastX) * ex + (qy - lastY) * ey);
			if (last === last) total += Math.abs(direction - last);
			[lastX, lastY, last] = [qx, qy, direction];
			[low, high] = [Math.min(low, direction), Math.max(high, direction)];
			if (isEnd) break;
		}
		return total >= noisy * (high - low);
	}

	/**
	 * The longest division, of a length and its halves, for which a piece is flat around a place.
	 *
	 * @param least the length that it may have anyway
	 */
	size(fraction: number, least: number, longest: number): number {
		if (longest !== this.longest) {
			this.longest = longest;
			this.seen.length = 0;
		}
		for (let halvings = 0, size = longest; halvings <= mostHalvings && size > 1.5 * least; halvings++, size /= 2) {
			const step = Math.min(1, (apart * size) / this.length);
			const place = Math.min(fraction / step, 1 / step);
			if (
				this.isStretchFlat(halvings, size, step, Math.floor(place)) &&
				this.isStretchFlat(halvings, size, step, Math.ceil(place))
			)
				return size;
		}
		return least;
	}

	private isStretchFlat(halvings: number, size: number, step: number, number: number): boolean {
		const list = (this.seen[halvings] ??= new Uint8Array(Math.ceil(1 / step) + 2));
		if (list[number] === 0) {
			const wide = Math.min(1, size / this.length);
			const from = Math.min(Math.max(0, number * step - wide / 2), 1 - wide);
			list[number] = this.isFlat(from, Math.min(1, from + wide)) ? 1 : 2;
		}
		return list[number] === 1;
	}

	private isFlat(from: number, to: number): boolean {
		return this.turnedAt(to) - this.turnedAt(from) <= withinTurn * this.turnPerDivision || this.staysNear(from, to);
	}

	private turnedAt(fraction: number): number {
		const { at, turned } = this;
		const k = Math.min(bisectRight(at, fraction), at.length - 1);
		return turned[k - 1]! + ((fraction - at[k - 1]!) / (at[k]! - at[k - 1]!)) * (turned[k]! - turned[k - 1]!);
	}

	/** The point at a fraction, before which place it lies. */
	private point(fraction: number, next: number): [number, number] {
		const { at, x, y } = this;
		const k = Math.min(next, at.length - 1);
		const t = (fraction - at[k - 1]!) / (at[k]! - at[k - 1]!);
		return [x[k - 1]! + t * (x[k]! - x[k - 1]!), y[k - 1]! + t * (y[k]! - y[k - 1]!)];
	}
}

const made = new WeakMap<Turns, { turnPerDivision: number; flats: Flats | undefined }>();

/**
 * Where a piece is flat enough whatever it turns; undefined where it turns evenly, so that its curvature says all there is.
 *
 * @param turnPerDivision what a division may turn, in radians
 */
export function flatsOf(piece: Piece, turns: Turns, turnPerDivision: number): Flats | undefined {
	let last = made.get(turns);
	if (last?.turnPerDivision !== turnPerDivision) {
		const flats = turnsEvenly(piece, turns) ? undefined : new Flats(piece, turns, turnPerDivision);
		made.set(turns, (last = { turnPerDivision, flats }));
	}
	return last.flats;
}

function turnsEvenly(piece: Piece, turns: Turns): boolean {
	if (isStraight(piece)) return true;
	// One arc.
	if (turns.at.length === 2 && turns.kinks.at.length === 0) return true;
	let total = turns.turn.at(-1)!;
	for (const turn of turns.kinks.turn) total += turn;
	if (largestBend(turns) * turns.length > evenBend * total) return false;
	const [out, back] = [leavingDirection(piece, 'start'), leavingDirection(piece, 'end')];
	const net = atan2(-(out.x * back.y - out.y * back.x), -(out.x * back.x + out.y * back.y));
	const off = (Math.abs(net) - total) / (2 * Math.PI);
	const other = (-Math.abs(net) - total) / (2 * Math.PI);
	return (
		[off, other].some((turnsOff) => Math.abs(turnsOff - Math.round(turnsOff)) * 2 * Math.PI < sameWay) &&
		total <= 2 * Math.PI + sameWay
	);
}
