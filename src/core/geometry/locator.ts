import Flatbush from 'flatbush';
import type { Piece, Walk } from './pieces.ts';
import type { Point } from './curve.ts';
import { flatten } from './parts.ts';

/** How far the straight segments may lie from curved pieces, as a share of the model's diagonal. */
const flatness = 1e-6;

/** Answers which piece lies next to the left of a point, by a spatial index over straightened pieces. */
export class Locator {
	/** Segments as ax, ay, bx, by, in the direction of their piece. */
	private readonly ends: Float64Array;
	private readonly pieceOf: Uint32Array;
	/** Where the segments of each piece start. */
	private readonly first: Uint32Array;
	private readonly index: Flatbush | undefined;
	private readonly left: number = 0;

	constructor(pieces: readonly Piece[], x: Float64Array, y: Float64Array, diagonal: number) {
		const lines = pieces.map((piece) => {
			const line = flatten(piece, flatness * diagonal);
			// Pieces that meet must do so in the same double, or a ray could slip between them.
			line.set([x[piece.start]!, y[piece.start]!]);
			line.set([x[piece.end]!, y[piece.end]!], line.length - 2);
			return line;
		});
		const total = lines.reduce((sum, line) => sum + line.length / 2 - 1, 0);
		this.ends = new Float64Array(4 * total);
		this.pieceOf = new Uint32Array(total);
		this.first = new Uint32Array(pieces.length + 1);
		if (total === 0) return;
		const index = new Flatbush(total);
		let s = 0;
		lines.forEach((line, p) => {
			this.first[p] = s;
			for (let k = 0; k + 3 < line.length; k += 2, s++) {
				const [ax, ay, bx, by] = [line[k]!, line[k + 1]!, line[k + 2]!, line[k + 3]!];
				this.ends.set([ax, ay, bx, by], 4 * s);
				this.pieceOf[s] = p;
				index.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
			}
		});
		this.first[pieces.length] = s;
		index.finish();
		this.index = index;
		this.left = index.minX;
	}

	/** The leftmost point of a walk, the lowest of several. */
	leftmost(walk: Walk): Point {
		let best = { x: Infinity, y: Infinity };
		for (const h of walk)
			for (let k = 4 * this.first[h >> 1]!; k < 4 * this.first[(h >> 1) + 1]!; k += 2) {
				const [x, y] = [this.ends[k]!, this.ends[k + 1]!];
				if (x < best.x || (x === best.x && y < best.y)) best = { x, y };
			}
		return best;
	}

	/**
	 * The half-piece (`2 p` or `2 p + 1`) next to the left of a point, as it runs downward past it, so
	 * that the point is in the face to its left; −1 when there is none.
	 */
	leftOf(p: Point, accept: (piece: number) => boolean = () => true): number {
		if (!this.index) return -1;
		// A window that doubles until it holds a crossing keeps the search short in a crowded drawing.
		for (let width = (p.x - this.left) / 256; ; width *= 2) {
			const from = width > p.x - this.left ? -Infinity : p.x - width;
			let best = -1;
			let bestX = -Infinity;
			let bestSlope = -Infinity;
			for (const s of this.index.search(from, p.y, p.x, p.y, (k) => accept(this.pieceOf[k]!))) {
				const [ax, ay, bx, by] = this.ends.subarray(4 * s, 4 * s + 4) as unknown as [number, number, number, number];
				if (ay > p.y === by > p.y) continue;
				const slope = (bx - ax) / (by - ay);
				// From an end on the ray itself: several segments that leave one point must cross in one place.
				const x = by === p.y ? bx : ax + (p.y - ay) * slope;
				// Of those, the rightmost just above the ray is the neighbour.
				if (x >= p.x || x < bestX || (x === bestX && slope < bestSlope)) continue;
				bestX = x;
				bestSlope = slope;
				best = 2 * this.pieceOf[s]! + (by < ay ? 0 : 1);
			}
			if (bestX >= from && best >= 0) return best;
			if (from === -Infinity || !(width > 0)) return best;
		}
	}
}
