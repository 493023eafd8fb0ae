import { DisjointSets } from '../numeric/disjoint-sets.ts';
import { numbersIn } from '../numeric/numbers-in.ts';
import { PairBuckets } from '../numeric/pair-buckets.ts';
import { hypot } from '../numeric/elementary.ts';
import { finish, part, type Work } from '../numeric/work.ts';
import { boxAround, boxesOf, putPointAt, segmentCount, toleranceOfBox, type Curve, type Point } from './curve.ts';
import { type CutUp, findCuts, type Places, stopsOf } from './cuts.ts';
import { faceAt, findFaces, foundBefore, keepFound, type PreviousFaces } from './faces.ts';
import { partLength, partPoint } from './parts.ts';
import type { Arrangement, Piece, CurvePiece } from './pieces.ts';

/**
 * Cuts curves where they meet, joins what lies on one another, and finds the bounded faces.
 *
 * @param nodes points that are to be junctions: on a curve they cut it, elsewhere they stand alone
 * @param previous an arrangement before: what pieces it has alike, of the same curves, are taken from it as they are, with all
 *   that was made of them
 */
export function* arranging(curves: Curve[], nodes: readonly Point[] = [], previous?: Arrangement): Work<Arrangement> {
	const cutUpBefore = previous && cutUpAs.get(previous);
	const cutBefore = cutUpBefore && { ...cutUpBefore, numbers: numbersIn(curves, cutUpBefore.boxes.curves) };
	const boxes = boxesOf(curves, cutBefore);
	const box = boxAround(boxes.boxes);
	const diagonal = box ? hypot(box[2] - box[0], box[3] - box[1]) : 0;
	const tolerance = box ? toleranceOfBox(box) : 0;
	const tangled = new Set<number>();
	let cutUp: CutUp | undefined;
	for (let round = 0; !cutUp; round++) cutUp = yield* part(findCuts(boxes, nodes, tolerance, tangled, round, cutBefore), 0, 0.4);
	const { cuts, loose } = cutUp;
	const stops = yield* part(stopsOf(curves, cuts, tangled, tolerance), 0.4, 0.45);
	const { x, y, of, alone } = numberJunctions(curves, stops, loose, tolerance);
	yield 0.5;
	const { pieces, byCurve } = yield* part(makePieces(curves, stops, of, tolerance), 0.5, 0.6);
	const before = previous && keepPieces(pieces, previous, x, y);
	const degree = new Uint32Array(x.length);
	for (const piece of pieces) {
		degree[piece.start]!++;
		degree[piece.end]!++;
	}
	const isSameScale = previous?.diagonal === diagonal && previous.tolerance === tolerance;
	const { faces, sides, vanished, found } = yield* part(
		findFaces(pieces, x, y, diagonal, tolerance, isSameScale ? before : undefined),
		0.6,
		1
	);
	const arrangement: Arrangement = {
		curves,
		tolerance,
		diagonal,
		x,
		y,
		degree,
		pieces,
		byCurve,
		faces,
		sides,
		vanished,
		tangled: [...tangled].sort((a, b) => a - b),
		isolated: []
	};
	keepFound(arrangement, found);
	// Where curves were left out, the others lack what they would be cut by.
	if (tangled.size === 0) cutUpAs.set(arrangement, cutUp);
	for (const junction of alone)
		if (degree[junction] === 0)
			arrangement.isolated.push({ junction, face: faceAt(arrangement, { x: x[junction]!, y: y[junction]! }) });
	return arrangement;
}

/** Where the curves of arrangements were cut, for the next; nothing of one that came from a worker. */
const cutUpAs = new WeakMap<Arrangement, CutUp>();

/** As {@link arranging}, in one step. */
export const arrange = (curves: Curve[], nodes: readonly Point[] = []): Arrangement => finish(arranging(curves, nodes));

const place = new Float64Array(2);

/**
 * Numbers the points at which curves are cut, taking those within the tolerance of one another as
 * one. Which of them stands for all does not depend on the order of the curves: an end or corner
 * before a crossing, then the leftmost.
 *
 * @returns the junctions' coordinates, the junction of each stop of each curve, and of each loose node
 */
function numberJunctions(curves: readonly Curve[], stops: Places, loose: readonly Point[], tolerance: number) {
	const total = stops.t.length + loose.length;
	const px = new Float64Array(total);
	const py = new Float64Array(total);
	const given = new Uint8Array(total);
	let n = 0;
	for (const [c, curve] of curves.entries()) {
		const count = segmentCount(curve);
		for (; n < stops.first[c + 1]!; n++) {
			const t = stops.t[n]!;
			putPointAt(curve, t > count ? t - count : t, place, 0);
			px[n] = place[0]!;
			py[n] = place[1]!;
			given[n] = t === Math.floor(t) ? 1 : 0;
		}
	}
	for (const p of loose) {
		px[n] = p.x;
		py[n] = p.y;
		given[n++] = 1;
	}
	const joined = new DisjointSets(total);
	// A hash grid far coarser than the tolerance finds the neighbours of each point in its cell and the next ones.
	const cell = 1000 * tolerance || 1;
	let [left, low] = [Infinity, Infinity];
	for (let i = 0; i < total; i++) {
		if (px[i]! < left) left = px[i]!;
		if (py[i]! < low) low = py[i]!;
	}
	const cells = new PairBuckets(total);
	for (let a = 0; a < total; a++) {
		const right = Math.floor((px[a]! + 2 * tolerance - left) / cell);
		const top = Math.floor((py[a]! + 2 * tolerance - low) / cell);
		for (let cx = Math.floor((px[a]! - 2 * tolerance - left) / cell); cx <= right; cx++)
			for (let cy = Math.floor((py[a]! - 2 * tolerance - low) / cell); cy <= top; cy++)
				for (let b = cells.newest(cx, cy); b >= 0; b = cells.older(b))
					if (hypot(px[a]! - px[b]!, py[a]! - py[b]!) <= 2 * tolerance) joined.join(a, b);
		cells.add(Math.floor((px[a]! - left) / cell), Math.floor((py[a]! - low) / cell));
	}
	const standIn = new Int32Array(total).fill(-1);
	for (let i = 0; i < total; i++) {
		const r = joined.root(i);
		const other = standIn[r]!;
		if (
			other === -1 ||
			(given[i] === given[other]
				? px[i]! < px[other]! || (px[i] === px[other] && py[i]! < py[other]!)
				: given[i]! > given[other]!)
		)
			standIn[r] = i;
	}
	// Numbered in the order in which their first points come.
	const number = new Int32Array(total).fill(-1);
	const x: number[] = [];
	const y: number[] = [];
	for (let i = 0; i < total; i++) {
		const r = joined.root(i);
		if (number[r] === -1) {
			number[r] = x.length;
			x.push(px[standIn[r]!]!);
			y.push(py[standIn[r]!]!);
		}
		number[i] = number[r]!;
	}
	const alone = [...new Set(number.subarray(stops.t.length))];
	return { x: Float64Array.from(x), y: Float64Array.from(y), of: number.subarray(0, stops.t.length), alone };
}

/** Makes the pieces of every curve; a piece that lies on an earlier one is that one. */
function* makePieces(
	curves: readonly Curve[],
	stops: Places,
	of: Int32Array,
	tolerance: number
): Work<{ pieces: Piece[]; byCurve: CurvePiece[][] }> {
	const pieces: Piece[] = [];
	// Pieces by the junctions that they run between, under the same numbers.
	const between = new PairBuckets(stops.t.length);
	const byCurve: CurvePiece[][] = [];
	for (const [c, curve] of curves.entries()) {
		if ((c & 0x7ff) === 0) yield c / curves.length;
		const list: CurvePiece[] = [];
		for (let k = stops.first[c]!; k + 1 < stops.first[c + 1]!; k++) {
			const [start, end] = [of[k]!, of[k + 1]!];
			const piece: Piece = { curve, t0: stops.t[k]!, t1: stops.t[k + 1]!, owner: c, start, end, length: 0 };
			const length = (piece.length = partLength(piece));
			if (start === end && length <= 4 * tolerance) continue;
			const [low, high] = [Math.min(start, end), Math.max(start, end)];
			// Of several twins the first is the one.
			let twin = -1;
			for (let p = between.newest(low, high); p >= 0; p = between.older(p)) if (liesOn(piece, pieces[p]!, tolerance)) twin = p;
			if (twin >= 0) {
				list.push({ piece: twin, reversed: pieces[twin]!.start !== start });
				continue;
			}
			list.push({ piece: between.add(low, high), reversed: false });
			pieces.push(piece);
		}
		byCurve.push(list);
	}
	return { pieces, byCurve };
}

/** Puts those pieces of an arrangement before that are alike in the place of new ones. */
function keepPieces(pieces: Piece[], previous: Arrangement, x: Float64Array, y: Float64Array): PreviousFaces | undefined {
	const found = foundBefore(previous);
	/** For each piece the one of before that it is now, its ends in the same places; −1 where there is none. */
	const numbers = new Int32Array(pieces.length).fill(-1);
	// Both lists go through the curves in order, and along each.
	let q = 0;
	for (const [p, { curve, owner, start, end, length, t0, t1 }] of pieces.entries()) {
		while (q < previous.pieces.length && isEarlier(previous.pieces[q]!, owner, t0)) q++;
		const same = previous.pieces[q];
		if (
			same?.curve === curve &&
			same.t0 === t0 &&
			same.t1 === t1 &&
			same.start === start &&
			same.end === end &&
			same.owner === owner &&
			same.length === length
		) {
			pieces[p] = same;
			if (
				previous.x[start] === x[start] &&
				previous.y[start] === y[start] &&
				previous.x[end] === x[end] &&
				previous.y[end] === y[end]
			)
				numbers[p] = q;
		}
	}
	return found && { found, numbers };
}

/** Whether a piece comes before a place of a curve, as curves are numbered. */
const isEarlier = (piece: Piece, owner: number, t0: number): boolean =>
	piece.owner < owner || (piece.owner === owner && piece.t0 < t0);

/** Whether two pieces between the same junctions are one: they have the same middle. */
function liesOn(one: Piece, other: Piece, tolerance: number): boolean {
	if (Math.abs(one.length - other.length) > 1e-6 * one.length + 10 * tolerance) return false;
	const p = partPoint(one, 0.5, one.length);
	const q = partPoint(other, 0.5, other.length);
	return hypot(p.x - q.x, p.y - q.y) <= 10 * tolerance;
}
