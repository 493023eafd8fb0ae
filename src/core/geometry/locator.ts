import Flatbush from 'flatbush';
import { kept } from '../numeric/kept.ts';
import type { Piece, Walk } from './pieces.ts';
import type { Point } from './curve.ts';
import { flatten } from './parts.ts';

/** How far the straight segments may lie from curved pieces, as a share of the model's diagonal. */
const flatness = 1e-6;
/** So many segments in a row share a box. */
const inBox = 16;

/** A piece made straight, flat x, y pairs; the boxes of its segments, and its leftmost point. */
interface Straightened {
	line: Float64Array;
	/** minX, minY, maxX, maxY of every {@link inBox} segments. */
	boxes: Float64Array;
	leftmost: Point;
}

const straightened = kept((piece: Piece, tolerance): Straightened => straighten(flatten(piece, tolerance)));

function straighten(line: Float64Array): Straightened {
	const segments = line.length / 2 - 1;
	const boxes = new Float64Array(4 * Math.ceil(segments / inBox));
	let leftmost = { x: Infinity, y: Infinity };
	for (let b = 0; 4 * b < boxes.length; b++) {
		let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
		for (let k = b * inBox; k <= Math.min(segments, (b + 1) * inBox); k++) {
			const [x, y] = [line[2 * k]!, line[2 * k + 1]!];
			if (x < minX) minX = x;
			if (y < minY) minY = y;
			if (x > maxX) maxX = x;
			if (y > maxY) maxY = y;
			if (x < leftmost.x || (x === leftmost.x && y < leftmost.y)) leftmost = { x, y };
		}
		boxes.set([minX, minY, maxX, maxY], 4 * b);
	}
	return { line, boxes, leftmost };
}

/** Answers which piece lies next to the left of a point, by a spatial index over straightened pieces. */
export class Locator {
	private readonly lines: Straightened[];
	/** For every box of the index its piece, and the first of its segments. */
	private readonly pieceOf: Uint32Array;
	private readonly firstOf: Uint32Array;
	private readonly index: Flatbush | undefined;
	private readonly left: number = 0;

	constructor(pieces: readonly Piece[], x: Float64Array, y: Float64Array, diagonal: number) {
		this.lines = pieces.map((piece) => {
			const own = straightened(piece, flatness * diagonal);
			const { line } = own;
			const last = line.length - 2;
			// Pieces that meet must do so in the same double, or a ray could slip between them.
			const [ax, ay, bx, by] = [x[piece.start]!, y[piece.start]!, x[piece.end]!, y[piece.end]!];
			if (line[0] === ax && line[1] === ay && line[last] === bx && line[last + 1] === by) return own;
			const joined = line.slice();
			joined.set([ax, ay]);
			joined.set([bx, by], last);
			return straighten(joined);
		});
		const total = this.lines.reduce((sum, { boxes }) => sum + boxes.length / 4, 0);
		this.pieceOf = new Uint32Array(total);
		this.firstOf = new Uint32Array(total);
		if (total === 0) return;
		const index = new Flatbush(total);
		let box = 0;
		this.lines.forEach(({ boxes }, p) => {
			for (let b = 0; b < boxes.length; b += 4, box++) {
				this.pieceOf[box] = p;
				this.firstOf[box] = (b / 4) * inBox;
				index.add(boxes[b]!, boxes[b + 1]!, boxes[b + 2]!, boxes[b + 3]!);
			}
		});
		index.finish();
		this.index = index;
		this.left = index.minX;
	}

	/** The leftmost point of a walk, the lowest of several. */
	leftmost(walk: Walk): Point {
		let best = { x: Infinity, y: Infinity };
		for (const h of walk) {
			const { leftmost } = this.lines[h >> 1]!;
			if (leftmost.x < best.x || (leftmost.x === best.x && leftmost.y < best.y)) best = leftmost;
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
			for (const box of this.index.search(from, p.y, p.x, p.y, (k) => accept(this.pieceOf[k]!))) {
				const { line } = this.lines[this.pieceOf[box]!]!;
				const first = 2 * this.firstOf[box]!;
				const last = Math.min(line.length - 2, first + 2 * inBox);
				for (let k = first; k < last; k += 2) {
					const [ay, by] = [line[k + 1]!, line[k + 3]!];
					if (ay > p.y === by > p.y) continue;
					const [ax, bx] = [line[k]!, line[k + 2]!];
					const slope = (bx - ax) / (by - ay);
					// From an end on the ray itself: several segments that leave one point must cross in one place.
					const x = by === p.y ? bx : ax + (p.y - ay) * slope;
					// Of those, the rightmost just above the ray is the neighbour.
					if (x >= p.x || x < bestX || (x === bestX && slope < bestSlope)) continue;
					bestX = x;
					bestSlope = slope;
					best = 2 * this.pieceOf[box]! + (by < ay ? 0 : 1);
				}
			}
			if (bestX >= from && best >= 0) return best;
			if (from === -Infinity || !(width > 0)) return best;
		}
	}
}
