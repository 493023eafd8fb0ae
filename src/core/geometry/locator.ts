import Flatbush from 'flatbush';
import { kept } from '../numeric/kept.ts';
import type { Piece } from './pieces.ts';
import type { Point } from './curve.ts';
import { boxOf, flatten, isStraight } from './parts.ts';

/** How far the straight segments may lie from curved pieces, as a share of the model's diagonal. */
const flatness = 1e-6;
/** So many segments in a row share a box. */
const inBox = 16;

const flattened = kept((piece: Piece, tolerance) => flatten(piece, tolerance));
/** What a {@link Locator} looks at of a piece; undefined of a straight one. It is kept, so that it can be made ahead. */
export const straightened = (piece: Piece, diagonal: number): Float64Array | undefined =>
	isStraight(piece) ? undefined : flattened(piece, flatness * diagonal);

/** Answers which piece lies next to the left of a point, by a spatial index over straightened pieces. */
export class Locator {
	/** All pieces made straight, flat x, y pairs, one after the other; where each starts, and the end of the last. */
	private readonly line: Float64Array;
	private readonly starts: Uint32Array;
	/** For every box of the index, which holds up to {@link inBox} segments, its piece, and where the first of them starts. */
	private readonly pieceOf: Uint32Array;
	private readonly firstOf: Uint32Array;
	private readonly index: Flatbush | undefined;
	private readonly left: number = 0;

	constructor(pieces: readonly Piece[], x: Float64Array, y: Float64Array, diagonal: number) {
		// Phase 1: what is curved, made straight.
		const curved = new Map<number, Float64Array>();
		this.starts = new Uint32Array(pieces.length + 1);
		let total = 0;
		for (let p = 0; p < pieces.length; p++) {
			const own = straightened(pieces[p]!, diagonal);
			if (own) curved.set(p, own);
			const segments = own ? own.length / 2 - 1 : 1;
			this.starts[p + 1] = this.starts[p]! + 2 * segments + 2;
			total += Math.ceil(segments / inBox);
		}
		// Phase 2: pieces that meet do so in the same double, or a ray could slip between them.
		const line = new Float64Array(this.starts[pieces.length]!);
		for (const [p, own] of curved) line.set(own, this.starts[p]);
		for (let p = 0; p < pieces.length; p++) {
			const { start, end } = pieces[p]!;
			line[this.starts[p]!] = x[start]!;
			line[this.starts[p]! + 1] = y[start]!;
			line[this.starts[p + 1]! - 2] = x[end]!;
			line[this.starts[p + 1]! - 1] = y[end]!;
		}
		this.line = line;
		// Phase 3: the index.
		this.pieceOf = new Uint32Array(total);
		this.firstOf = new Uint32Array(total);
		if (total === 0) return;
		const index = new Flatbush(total);
		let box = 0;
		for (let p = 0; p < pieces.length; p++) {
			const last = this.starts[p + 1]! - 2;
			for (let first = this.starts[p]!; first < last; first += 2 * inBox, box++) {
				this.pieceOf[box] = p;
				this.firstOf[box] = first;
				const [minX, minY, maxX, maxY] = boxOf(line, first, Math.min(last, first + 2 * inBox) + 2);
				index.add(minX, minY, maxX, maxY);
			}
		}
		index.finish();
		this.index = index;
		this.left = index.minX;
	}

	/** The leftmost point of a walk, the lowest of several; the walk as a stretch of a list of half-pieces. */
	leftmost(walked: Uint32Array, from: number, to: number): Point {
		const { line, starts } = this;
		let [x, y] = [Infinity, Infinity];
		for (let n = from; n < to; n++) {
			const p = walked[n]! >> 1;
			for (let k = starts[p]!; k < starts[p + 1]!; k += 2)
				if (line[k]! < x || (line[k] === x && line[k + 1]! < y)) [x, y] = [line[k]!, line[k + 1]!];
		}
		return { x, y };
	}

	/**
	 * The half-piece (`2 p` or `2 p + 1`) next to the left of a point, as it runs downward past it, so
	 * that the point is in the face to its left; −1 when there is none.
	 */
	leftOf(p: Point, accept: (piece: number) => boolean = () => true): number {
		if (!this.index) return -1;
		const { line, pieceOf, firstOf, starts } = this;
		const { x: px, y: py } = p;
		let best = -1;
		let bestX = -Infinity;
		let bestSlope = -Infinity;
		/** Looks at the segments of a box; the index need not keep it. */
		const look = (box: number): boolean => {
			const piece = pieceOf[box]!;
			if (!accept(piece)) return false;
			const first = firstOf[box]!;
			const last = Math.min(starts[piece + 1]! - 2, first + 2 * inBox);
			for (let k = first; k < last; k += 2) {
				const [ay, by] = [line[k + 1]!, line[k + 3]!];
				if (ay > py === by > py) continue;
				const [ax, bx] = [line[k]!, line[k + 2]!];
				const slope = (bx - ax) / (by - ay);
				// From an end on the ray itself: several segments that leave one point must cross in one place.
				const x = by === py ? bx : ax + (py - ay) * slope;
				// Of those, the rightmost just above the ray is the neighbour.
				if (x >= px || x < bestX || (x === bestX && slope < bestSlope)) continue;
				bestX = x;
				bestSlope = slope;
				best = 2 * piece + (by < ay ? 0 : 1);
			}
			return false;
		};
		// A window that doubles until it holds a crossing keeps the search short in a crowded drawing.
		for (let width = (px - this.left) / 256; ; width *= 2) {
			const from = width > px - this.left ? -Infinity : px - width;
			this.index.search(from, py, px, py, look);
			if (bestX >= from && best >= 0) return best;
			if (from === -Infinity || !(width > 0)) return best;
		}
	}
}
