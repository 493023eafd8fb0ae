import Flatbush from 'flatbush';
import { cachedFor } from '../numeric/cached-for.ts';
import type { Piece } from './pieces.ts';
import type { Point } from './curve.ts';
import { boxOf, flatten, isStraight } from './parts.ts';

/** How far the straight segments may lie from curved pieces, as a share of the model's diagonal. */
const flatness = 1e-6;
/** So many segments in a row share a box. */
const inBox = 16;

const flattened = cachedFor((piece: Piece, tolerance) => flatten(piece, tolerance));
/** What a {@link Locator} looks at of a piece; undefined of a straight one. It is kept, so that it can be made ahead. */
export const straightened = (piece: Piece, diagonal: number): Float64Array | undefined =>
	isStraight(piece) ? undefined : flattened(piece, flatness * diagonal);

/** The leftmost of the inner places of a piece that is curved, the lowest of several; where it has none, a place to the right of all. */
const leftmostInside = cachedFor((piece: Piece, diagonal): Point => {
	const line = straightened(piece, diagonal) ?? new Float64Array(0);
	const most = { x: Infinity, y: Infinity };
	for (let k = 2; k < line.length - 2; k += 2) takeLeft(most, line[k]!, line[k + 1]!);
	return most;
});

/** Puts a place in that of another where it lies farther to the left, or below it. */
function takeLeft(most: Point, x: number, y: number): void {
	if (x < most.x || (x === most.x && y < most.y)) [most.x, most.y] = [x, y];
}

/** So many questions are answered by looking at the boxes of all pieces; more are worth an index. */
const fewQuestions = 16;

/** Of pieces, by their numbers: the junctions that their half-pieces leave, and 1 for those that are curved. */
export interface Traits {
	from: Uint32Array;
	isCurved: Uint8Array;
}

export function traitsOf(pieces: readonly Piece[]): Traits {
	const from = new Uint32Array(2 * pieces.length);
	const isCurved = new Uint8Array(pieces.length);
	for (let p = 0; p < pieces.length; p++) {
		const piece = pieces[p]!;
		from[2 * p] = piece.start;
		from[2 * p + 1] = piece.end;
		if (!isStraight(piece)) isCurved[p] = 1;
	}
	return { from, isCurved };
}

/** The connected components of the drawing: the component of each junction, and that of the walk at hand. */
export interface Component {
	component: Int32Array;
	ownComponent: number;
}

const isIn = ({ component, ownComponent }: Component, from: Uint32Array, piece: number): boolean =>
	component[from[2 * piece]!] === ownComponent;

/** Returns which piece lies next to the left of a point, by a spatial index over straightened pieces. */
export class Locator {
	private index: Index | undefined;
	/** The boxes of pieces, minX, minY, maxX, maxY; NaN of those that were not looked at yet. */
	private boxes: Float64Array | undefined;
	private questions = 0;
	private readonly nearest = new Nearest();

	constructor(
		private readonly pieces: readonly Piece[],
		private readonly x: Float64Array,
		private readonly y: Float64Array,
		private readonly diagonal: number,
		private readonly traits: Traits = traitsOf(pieces)
	) {}

	/** The leftmost point of a walk, the lowest of several; the walk as a stretch of a list of half-pieces. */
	leftmost(walked: Uint32Array, from: number, to: number): Point {
		const { pieces, x, y, diagonal, traits } = this;
		const most = { x: Infinity, y: Infinity };
		for (let n = from; n < to; n++) {
			const h = walked[n]!;
			for (const junction of [traits.from[h]!, traits.from[h ^ 1]!]) takeLeft(most, x[junction]!, y[junction]!);
			if (!traits.isCurved[h >> 1]) continue;
			const inside = leftmostInside(pieces[h >> 1]!, diagonal);
			takeLeft(most, inside.x, inside.y);
		}
		return most;
	}

	/** Says that so many questions follow. */
	expect(questions: number): void {
		if (questions > fewQuestions) this.index ??= new Index(this.pieces, this.x, this.y, this.diagonal, this.traits);
	}

	/**
	 * The half-piece (`2 p` or `2 p + 1`) next to the left of a point, as it runs downward past it, so
	 * that the point is in the face to its left; −1 when there is none.
	 *
	 * @param apart what does not count
	 */
	leftOf(p: Point, apart?: Component): number {
		this.expect(++this.questions);
		if (this.index) return leftIn(this.index, p, apart);
		const { pieces, x, y, diagonal, nearest } = this;
		nearest.start(p);
		for (let piece = 0; piece < pieces.length; piece++) {
			if (!this.isLeftOf(piece, p) || (apart && isIn(apart, this.traits.from, piece))) continue;
			const line = lineOf(pieces[piece]!, x, y, diagonal);
			nearest.look(line, 0, line.length - 2, piece);
		}
		return nearest.half;
	}

	/** Whether a piece may lie on the way from a point to the left, up to the box of another piece where there is one. */
	mayBeBetween(piece: number, p: Point, other: number): boolean {
		if (!this.isLeftOf(piece, p)) return false;
		return other < 0 || this.boxesWith(piece)[4 * piece + 2]! >= this.boxesWith(other)[4 * other]!;
	}

	/** Whether a piece may have something level with a point and to the left of it. */
	private isLeftOf(piece: number, { x, y }: Point): boolean {
		const boxes = this.boxesWith(piece);
		return boxes[4 * piece]! <= x && boxes[4 * piece + 1]! <= y && boxes[4 * piece + 3]! >= y;
	}

	/** The boxes, that of a piece among them. */
	private boxesWith(piece: number): Float64Array {
		const boxes = (this.boxes ??= new Float64Array(4 * this.pieces.length).fill(NaN));
		if (Number.isNaN(boxes[4 * piece]!)) putBox(boxes, 4 * piece, this.pieces[piece]!, this.x, this.y, this.diagonal);
		return boxes;
	}
}

/** The segment next to the left of a point, of those that are looked at. */
class Nearest {
	/** Its half-piece, −1 for none. */
	half = -1;
	x = -Infinity;
	private slope = -Infinity;
	private px = 0;
	private py = 0;

	start({ x, y }: Point): void {
		[this.px, this.py] = [x, y];
		this.half = -1;
		this.x = this.slope = -Infinity;
	}

	/** Looks at the segments of a polyline that start from one place of it, flat x, y pairs, to before another. */
	look(line: Float64Array, from: number, to: number, piece: number): void {
		const { px, py } = this;
		for (let k = from; k < to; k += 2) {
			const [ay, by] = [line[k + 1]!, line[k + 3]!];
			if (ay > py === by > py) continue;
			const [ax, bx] = [line[k]!, line[k + 2]!];
			const slope = (bx - ax) / (by - ay);
			// From an end on the ray itself: several segments that leave one point must cross in one place.
			const x = by === py ? bx : ax + (py - ay) * slope;
			// Of those, the rightmost just above the ray is the neighbour.
			if (x >= px || x < this.x || (x === this.x && slope < this.slope)) continue;
			this.x = x;
			this.slope = slope;
			this.half = 2 * piece + (by < ay ? 0 : 1);
		}
	}
}

/** An index over straightened pieces. */
class Index {
	/** All pieces made straight, flat x, y pairs, one after the other; where each starts, and the end of the last. */
	private readonly line: Float64Array;
	private readonly starts: Uint32Array;
	/** For every box of the index, which holds up to {@link inBox} segments, its piece, and where the first of them starts. */
	private readonly pieceOf: Uint32Array;
	private readonly firstOf: Uint32Array;
	private readonly boxes: Flatbush | undefined;
	private readonly nearest = new Nearest();
	private readonly from: Uint32Array;
	/** What does not count now. */
	private apart: Component | undefined;

	constructor(pieces: readonly Piece[], x: Float64Array, y: Float64Array, diagonal: number, { from, isCurved }: Traits) {
		this.from = from;
		// Phase 1: what is curved, made straight.
		const curved = new Map<number, Float64Array>();
		this.starts = new Uint32Array(pieces.length + 1);
		let total = 0;
		for (let p = 0; p < pieces.length; p++) {
			let segments = 1;
			if (isCurved[p]) {
				const straight = straightened(pieces[p]!, diagonal)!;
				curved.set(p, straight);
				segments = straight.length / 2 - 1;
			}
			this.starts[p + 1] = this.starts[p]! + 2 * segments + 2;
			total += Math.ceil(segments / inBox);
		}
		const line = new Float64Array(this.starts[pieces.length]!);
		for (const [p, straight] of curved) line.set(straight, this.starts[p]);
		for (let p = 0; p < pieces.length; p++)
			putEnds(line, this.starts[p]!, this.starts[p + 1]! - 2, from[2 * p]!, from[2 * p + 1]!, x, y);
		this.line = line;
		// Phase 2: the index.
		this.pieceOf = new Uint32Array(total);
		this.firstOf = new Uint32Array(total);
		if (total === 0) return;
		const boxes = new Flatbush(total);
		let box = 0;
		for (let p = 0; p < pieces.length; p++) {
			const last = this.starts[p + 1]! - 2;
			for (let first = this.starts[p]!; first < last; first += 2 * inBox, box++) {
				this.pieceOf[box] = p;
				this.firstOf[box] = first;
				const [minX, minY, maxX, maxY] = boxOf(line, first, Math.min(last, first + 2 * inBox) + 2);
				boxes.add(minX, minY, maxX, maxY);
			}
		}
		boxes.finish();
		this.boxes = boxes;
	}

	/** The half-piece to the left of a point; it must be {@link current}. */
	leftOf(p: Point, apart: Component | undefined): number {
		if (!this.boxes) return -1;
		const { nearest } = this;
		nearest.start(p);
		this.apart = apart;
		const whole = p.x - this.boxes.minX;
		// A window that doubles until it holds a crossing keeps the search short in a crowded drawing.
		for (let width = whole / 256; ; width *= 2) {
			const from = width > whole ? -Infinity : p.x - width;
			this.boxes.search(from, p.y, p.x, p.y, lookAtBox);
			if (nearest.half >= 0 && nearest.x >= from) return nearest.half;
			if (from === -Infinity || !(width > 0)) return nearest.half;
		}
	}

	/** Looks at the segments of a box. */
	look(box: number): void {
		const piece = this.pieceOf[box]!;
		if (this.apart && isIn(this.apart, this.from, piece)) return;
		const first = this.firstOf[box]!;
		this.nearest.look(this.line, first, Math.min(this.starts[piece + 1]! - 2, first + 2 * inBox), piece);
	}
}

/** The index that is asked, for the function that is handed to its tree: always the same, so that code compiled for it lasts. */
let current: Index;
function leftIn(index: Index, p: Point, apart: Component | undefined): number {
	current = index;
	return index.leftOf(p, apart);
}

/** Looks at a box; the tree need not keep it. */
function lookAtBox(box: number): boolean {
	current.look(box);
	return false;
}

/** A piece made straight, flat x, y pairs, its ends where the junctions are. */
function lineOf(piece: Piece, x: Float64Array, y: Float64Array, diagonal: number): Float64Array {
	const line = straightened(piece, diagonal)?.slice() ?? new Float64Array(4);
	putEnds(line, 0, line.length - 2, piece.start, piece.end, x, y);
	return line;
}

/** Puts the ends of a piece where its junctions are: pieces that meet do so in the same double, or a ray could slip between them. */
function putEnds(
	line: Float64Array,
	first: number,
	last: number,
	start: number,
	end: number,
	x: Float64Array,
	y: Float64Array
): void {
	line[first] = x[start]!;
	line[first + 1] = y[start]!;
	line[last] = x[end]!;
	line[last + 1] = y[end]!;
}

const boxOfCurved = cachedFor((piece: Piece, diagonal) => boxOf(straightened(piece, diagonal)!));

/** Puts the box of a piece into a list. */
function putBox(boxes: Float64Array, k: number, piece: Piece, x: Float64Array, y: Float64Array, diagonal: number): void {
	const { start, end } = piece;
	boxes[k] = Math.min(x[start]!, x[end]!);
	boxes[k + 1] = Math.min(y[start]!, y[end]!);
	boxes[k + 2] = Math.max(x[start]!, x[end]!);
	boxes[k + 3] = Math.max(y[start]!, y[end]!);
	if (isStraight(piece)) return;
	const [minX, minY, maxX, maxY] = boxOfCurved(piece, diagonal);
	boxes[k] = Math.min(boxes[k]!, minX);
	boxes[k + 1] = Math.min(boxes[k + 1]!, minY);
	boxes[k + 2] = Math.max(boxes[k + 2]!, maxX);
	boxes[k + 3] = Math.max(boxes[k + 3]!, maxY);
}
