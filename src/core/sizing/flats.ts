import { isStraight, leavingDirection, partPoints } from '../geometry/parts.ts';
import type { Piece } from '../geometry/pieces.ts';
import { largestBend, type Turns } from '../geometry/turns.ts';
import { atan2, hypot, tan } from '../numeric/elementary.ts';

/** Between two places at which a piece is looked at it turns by no more than this, in radians. */
const fineTurn = 0.1;
/** A stretch is halved so often where it is looked for flat ones: to a 4096th of the size that is asked. */
const mostHalvings = 12;
/** Stretches of a length are looked at so far apart, as a share of it. */
const apart = 1 / 4;
/** A piece that turns one way bends evenly enough where it bends nowhere more than so many times as in the mean. */
const evenBend = 8;
/** A turn to one side and back again by less than this, in radians, is none. */
const sameWay = 0.02;

/**
 * Where a piece is flat enough for a division of some length, whatever it does within it: it leaves the chord by no more than
 * an arc does that turns by as much as a division may. So noise, a kink that is rounded off, or an end at which
 * the curvature has no bound ask for small divisions only where they are large beside them.
 */
export class Flats {
	private readonly at: Float64Array;
	private readonly x: Float64Array;
	private readonly y: Float64Array;
	/** Whether the stretches of a length, halved so often, are flat, by number: 1 where they are, 2 where they are not. */
	private readonly seen: Uint8Array[] = [];
	private longest = NaN;

	constructor(
		piece: Piece,
		{ at, turn, length }: Turns,
		private readonly most: number
	) {
		const places: number[] = [0];
		for (let k = 0; k + 1 < at.length; k++) {
			const steps = Math.min(64, Math.ceil((turn[k + 1]! - turn[k]!) / fineTurn)) || 1;
			for (let i = 1; i <= steps; i++) {
				const place = at[k]! + (i / steps) * (at[k + 1]! - at[k]!);
				if (place > places.at(-1)!) places.push(place);
			}
		}
		this.at = Float64Array.from(places);
		const { x, y } = partPoints(piece, this.at, length);
		[this.x, this.y, this.length] = [x, y, length];
	}

	private readonly length: number;

	/** Whether a piece stays near the chord between two fractions of its length. */
	isFlat(from: number, to: number): boolean {
		const { at, x, y } = this;
		const first = this.firstAfter(from);
		const [ax, ay] = this.point(from, first);
		const [bx, by] = this.point(to, this.firstAfter(to));
		const chord = hypot(bx - ax, by - ay);
		const [ex, ey] = [(bx - ax) / chord, (by - ay) / chord];
		const off = this.most * chord;
		for (let k = first; k < at.length && at[k]! < to; k++) {
			const [px, py] = [x[k]! - ax, y[k]! - ay];
			const along = px * ex + py * ey;
			if (!(Math.abs(px * ey - py * ex) <= off && along >= -off && along <= chord + off)) return false;
		}
		return chord > 0;
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
			list[number] = this.isFlat(from, from + wide) ? 1 : 2;
		}
		return list[number] === 1;
	}

	/** The first place after a fraction. */
	private firstAfter(fraction: number): number {
		const { at } = this;
		let [low, high] = [0, at.length];
		while (low < high) {
			const middle = (low + high) >> 1;
			if (at[middle]! <= fraction) low = middle + 1;
			else high = middle;
		}
		return low;
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
		const flats = turnsEvenly(piece, turns)
			? undefined
			: new Flats(piece, turns, tan(Math.min(turnPerDivision, Math.PI) / 4) / 2);
		made.set(turns, (last = { turnPerDivision, flats }));
	}
	return last.flats;
}

function turnsEvenly(piece: Piece, turns: Turns): boolean {
	if (isStraight(piece)) return true;
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
