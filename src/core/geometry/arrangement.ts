import { addTo } from '../numeric/lists.ts';
import { PairBuckets } from '../numeric/pair-buckets.ts';
import Flatbush from 'flatbush';
import { hypot } from '../numeric/elementary.ts';
import { finish, part, type Work } from '../numeric/work.ts';
import {
	CUBIC,
	curveLength,
	lengthAt,
	LINE,
	pointAt,
	segmentBox,
	segmentCount,
	segmentPoint,
	STRIDE,
	type Curve,
	type Point
} from './curve.ts';
import { faceAt, findFaces, keepLocator } from './faces.ts';
import { intersectSegments, nearestOn, selfCrossings } from './intersect.ts';
import { partLength, partPoint, type CurvePart } from './parts.ts';
import type { Arrangement, Piece, CurvePiece } from './pieces.ts';

/**
 * Cuts curves where they meet, joins what lies on one another, and finds the bounded faces.
 *
 * @param nodes points that are to be junctions: on a curve they cut it, elsewhere they stand alone
 * @param known an arrangement before: what pieces it has alike, of the same curves, are taken from it as they are, with all
 *   that was made of them
 */
export function* arranging(curves: Curve[], nodes: readonly Point[] = [], known?: Arrangement): Work<Arrangement> {
	const box = extent(curves);
	const diagonal = box ? hypot(box[2] - box[0], box[3] - box[1]) : 0;
	const tolerance = box ? toleranceOfBox(box) : 0;
	const tangled = new Set<number>();
	let found: Cuts | undefined;
	do found = yield* part(findCuts(curves, nodes, tolerance, tangled), 0, 0.4);
	while (!found);
	const { cuts, loose } = found;
	const stops = curves.map((curve, c) => (tangled.has(c) ? [] : stopsOf(curve, cuts[c]!, tolerance)));
	yield 0.45;
	const { x, y, of, alone } = numberJunctions(curves, stops, loose, tolerance);
	yield 0.5;
	const { pieces, byCurve } = yield* part(makePieces(curves, stops, of, tolerance), 0.5, 0.6);
	if (known) keepPieces(pieces, known);
	const degree = new Uint32Array(x.length);
	for (const piece of pieces) {
		degree[piece.start]!++;
		degree[piece.end]!++;
	}
	const { faces, sides, vanished, locator } = yield* part(findFaces(pieces, x, y, diagonal, tolerance), 0.6, 1);
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
	keepLocator(arrangement, locator);
	for (const junction of alone)
		if (degree[junction] === 0)
			arrangement.isolated.push({ junction, face: faceAt(arrangement, { x: x[junction]!, y: y[junction]! }) });
	return arrangement;
}

/** As {@link arranging}, in one step. */
export const arrange = (curves: Curve[], nodes: readonly Point[] = []): Arrangement => finish(arranging(curves, nodes));

/**
 * Two points nearer than this are one: 1e-9 of the diagonal of the box, or 32 roundings of its
 * largest coordinate where that is more, as it is far from the origin.
 */
export const toleranceOfBox = ([minX, minY, maxX, maxY]: readonly [number, number, number, number]): number =>
	Math.max(
		1e-9 * hypot(maxX - minX, maxY - minY),
		32 * Number.EPSILON * Math.max(Math.abs(minX), Math.abs(minY), Math.abs(maxX), Math.abs(maxY))
	);

/** So often curves may meet, and so many pairs of segments may lie near one another: more than any mesh could resolve. */
const mostCrossings = 1_000_000;
const mostPairs = 30_000_000;

interface Cuts {
	cuts: number[][];
	loose: Point[];
}

/**
 * The parameters at which each curve is cut, unsorted, with repeats; and the nodes that lie on no curve. Where curves meet
 * too often, those that meet most are added to `tangled` and nothing is answered.
 *
 * @param tangled curves that are left out
 */
function* findCuts(curves: Curve[], nodes: readonly Point[], tolerance: number, tangled: Set<number>): Work<Cuts | undefined> {
	const cuts: number[][] = curves.map((curve) => [...curve.corners]);
	const total = curves.reduce((sum, curve, c) => sum + (tangled.has(c) ? 0 : segmentCount(curve)), 0);
	if (total === 0) return { cuts, loose: [...nodes] };
	const curveOf = new Uint32Array(total);
	const segmentOf = new Uint32Array(total);
	const boxes = new Float64Array(4 * total);
	const index = new Flatbush(total);
	let k = 0;
	curves.forEach((curve, c) => {
		if (tangled.has(c)) return;
		for (let i = 0; i < segmentCount(curve); i++, k++) {
			const box = segmentBox(curve, i);
			boxes[4 * k] = box[0] - tolerance;
			boxes[4 * k + 1] = box[1] - tolerance;
			boxes[4 * k + 2] = box[2] + tolerance;
			boxes[4 * k + 3] = box[3] + tolerance;
			index.add(boxes[4 * k]!, boxes[4 * k + 1]!, boxes[4 * k + 2]!, boxes[4 * k + 3]!);
			curveOf[k] = c;
			segmentOf[k] = i;
		}
	});
	index.finish();
	const met = new Float64Array(curves.length);
	let [crossings, pairs] = [0, 0];
	for (let a = 0; a < total; a++) {
		if ((a & 0x7ff) === 0) yield a / total;
		if (crossings > mostCrossings || pairs > mostPairs) {
			const most = met.reduce((high, own) => Math.max(high, own));
			met.forEach((own, c) => own > most / 2 && tangled.add(c));
			return undefined;
		}
		meetOthers(a);
	}
	const loose = nodes.filter((p) => {
		let on = false;
		for (const b of index.search(p.x, p.y, p.x, p.y)) {
			const [c, j] = [curveOf[b]!, segmentOf[b]!];
			const v = nearestOn(curves[c]!, j, p);
			const q = segmentPoint(curves[c]!, j, v);
			if (hypot(q.x - p.x, q.y - p.y) > tolerance) continue;
			cuts[c]!.push(j + v);
			on = true;
		}
		return !on;
	});
	return { cuts, loose };

	/** Where a segment meets itself and those after it. */
	function meetOthers(a: number): void {
		const [ca, i] = [curveOf[a]!, segmentOf[a]!];
		selfCrossings(curves[ca]!, i, tolerance, (u, v) => cuts[ca]!.push(i + u, i + v));
		const near = index.search(boxes[4 * a]!, boxes[4 * a + 1]!, boxes[4 * a + 2]!, boxes[4 * a + 3]!, (b) => b > a);
		pairs += near.length;
		met[ca]! += near.length;
		for (const b of near) {
			const [cb, j] = [curveOf[b]!, segmentOf[b]!];
			met[cb]!++;
			const neighbours = ca === cb ? jointsBetween(curves[ca]!, i, j) : undefined;
			if (
				neighbours?.length === 1 &&
				goesOn(curves[ca]!, ...(neighbours[0]![0] === 1 ? ([i, j] as const) : ([j, i] as const)), tolerance)
			)
				continue;
			intersectSegments(curves[ca]!, i, curves[cb]!, j, tolerance, (u, v) => {
				// Neighbouring segments of a curve always meet at their common joint; that is no crossing.
				if (neighbours?.some(([p, q]) => Math.abs(u - p) < 1e-9 && Math.abs(v - q) < 1e-9)) return;
				crossings++;
				cuts[ca]!.push(i + u);
				cuts[cb]!.push(j + v);
			});
		}
	}
}

/**
 * Whether a segment goes on from another so that they can meet at their joint alone: all legs of both, of lines and cubics,
 * run within 60° of the direction at the joint, so that the one lies behind it and the other ahead.
 */
function goesOn({ kinds, data }: Curve, before: number, after: number, tolerance: number): boolean {
	const isBent = (segment: number) => kinds[segment] === CUBIC;
	if ((kinds[before] !== LINE && !isBent(before)) || (kinds[after] !== LINE && !isBent(after))) return false;
	const [o, n] = [before * STRIDE, after * STRIDE];
	// The leg before the joint, and the one after it.
	const fromLast = isBent(before) ? o + 6 : o;
	const toFirst = isBent(after) ? n + 4 : n + 2;
	const ax = data[o + 2]! - data[fromLast]!;
	const ay = data[o + 3]! - data[fromLast + 1]!;
	const bx = data[toFirst]! - data[n]!;
	const by = data[toFirst + 1]! - data[n + 1]!;
	const a = Math.sqrt(ax * ax + ay * ay);
	const b = Math.sqrt(bx * bx + by * by);
	// What is hardly longer than can be told is left to the closer look.
	if (!(a > 16 * tolerance && b > 16 * tolerance)) return false;
	const dx = ax / a + bx / b;
	const dy = ay / a + by / b;
	const half = 0.5 * Math.sqrt(dx * dx + dy * dy);
	/** Whether the leg from one point of the data to another runs ahead. */
	const isAhead = (from: number, to: number) => {
		const lx = data[to]! - data[from]!;
		const ly = data[to + 1]! - data[from + 1]!;
		return lx * dx + ly * dy >= half * Math.sqrt(lx * lx + ly * ly);
	};
	const areAhead = (at: number, segment: number) =>
		isBent(segment) ? isAhead(at, at + 4) && isAhead(at + 4, at + 6) && isAhead(at + 6, at + 2) : isAhead(at, at + 2);
	return areAhead(o, before) && areAhead(n, after);
}

/** The joints that two segments of one curve share, as local parameter pairs. */
function jointsBetween(curve: Curve, i: number, j: number): [number, number][] {
	const count = segmentCount(curve);
	const joints: [number, number][] = [];
	if (j === i + 1) joints.push([1, 0]);
	if (curve.closed && i === 0 && j === count - 1) joints.push([0, 1]);
	return joints;
}

/**
 * Numbers the points at which curves are cut, taking those within the tolerance of one another as
 * one. Which of them stands for all does not depend on the order of the curves: an end or corner
 * before a crossing, then the leftmost.
 *
 * @returns the junctions' coordinates, the junction of each stop of each curve, and of each loose node
 */
function numberJunctions(curves: Curve[], stops: number[][], loose: readonly Point[], tolerance: number) {
	const total = stops.reduce((sum, list) => sum + list.length, loose.length);
	const px = new Float64Array(total);
	const py = new Float64Array(total);
	const given = new Uint8Array(total);
	let n = 0;
	curves.forEach((curve, c) => {
		const count = segmentCount(curve);
		for (const t of stops[c]!) {
			const p = pointAt(curve, t > count ? t - count : t);
			px[n] = p.x;
			py[n] = p.y;
			given[n++] = t === Math.floor(t) ? 1 : 0;
		}
	});
	for (const p of loose) {
		px[n] = p.x;
		py[n] = p.y;
		given[n++] = 1;
	}
	const parent = new Uint32Array(total);
	const root = (i: number): number => {
		while (parent[i] !== i) i = parent[i] = parent[parent[i]!]!;
		return i;
	};
	// A hash grid far coarser than the tolerance finds the neighbours of each point in its cell and the next ones.
	const cell = 1000 * tolerance || 1;
	let [left, low] = [Infinity, Infinity];
	for (let i = 0; i < total; i++) {
		if (px[i]! < left) left = px[i]!;
		if (py[i]! < low) low = py[i]!;
	}
	const cells = new PairBuckets(total);
	for (let a = 0; a < total; a++) {
		parent[a] = a;
		const right = Math.floor((px[a]! + 2 * tolerance - left) / cell);
		const top = Math.floor((py[a]! + 2 * tolerance - low) / cell);
		for (let cx = Math.floor((px[a]! - 2 * tolerance - left) / cell); cx <= right; cx++)
			for (let cy = Math.floor((py[a]! - 2 * tolerance - low) / cell); cy <= top; cy++)
				for (let b = cells.newest(cx, cy); b >= 0; b = cells.older(b))
					if (hypot(px[a]! - px[b]!, py[a]! - py[b]!) <= 2 * tolerance) parent[root(a)] = root(b);
		cells.add(Math.floor((px[a]! - left) / cell), Math.floor((py[a]! - low) / cell));
	}
	const isBefore = (a: number, b: number): boolean =>
		given[a]! !== given[b]!
			? given[a]! > given[b]!
			: px[a]! !== px[b]!
				? px[a]! < px[b]!
				: py[a]! !== py[b]!
					? py[a]! < py[b]!
					: a < b;
	const standIn = new Int32Array(total).fill(-1);
	for (let i = 0; i < total; i++) {
		const r = root(i);
		if (standIn[r] === -1 || isBefore(i, standIn[r]!)) standIn[r] = i;
	}
	const number = new Int32Array(total).fill(-1);
	const x: number[] = [];
	const y: number[] = [];
	const numberOf = (i: number): number => {
		const r = root(i);
		if (number[r] === -1) {
			number[r] = x.length;
			x.push(px[standIn[r]!]!);
			y.push(py[standIn[r]!]!);
		}
		return number[r]!;
	};
	n = 0;
	const of = stops.map((list) => list.map(() => numberOf(n++)));
	const alone = [...new Set(loose.map(() => numberOf(n++)))];
	return { x: Float64Array.from(x), y: Float64Array.from(y), of, alone };
}

/** Makes the pieces of every curve; a piece that lies on an earlier one is that one. */
function* makePieces(
	curves: Curve[],
	stops: number[][],
	of: number[][],
	tolerance: number
): Work<{ pieces: Piece[]; byCurve: CurvePiece[][] }> {
	const pieces: Piece[] = [];
	// Pieces by the junctions that they run between, under the same numbers.
	const between = new PairBuckets(stops.reduce((sum, list) => sum + list.length, 0));
	const byCurve: CurvePiece[][] = [];
	for (const [c, curve] of curves.entries()) {
		if ((c & 0x7ff) === 0) yield c / curves.length;
		const list: CurvePiece[] = [];
		for (let k = 0; k + 1 < stops[c]!.length; k++) {
			const own: CurvePart = { curve, t0: stops[c]![k]!, t1: stops[c]![k + 1]! };
			const length = partLength(own);
			const [start, end] = [of[c]![k]!, of[c]![k + 1]!];
			if (start === end && length <= 4 * tolerance) continue;
			const [low, high] = [Math.min(start, end), Math.max(start, end)];
			// Of several twins the first is the one.
			let twin = -1;
			for (let p = between.newest(low, high); p >= 0; p = between.older(p))
				if (liesOn(own, length, pieces[p]!, tolerance)) twin = p;
			if (twin >= 0) {
				list.push({ piece: twin, reversed: pieces[twin]!.start !== start });
				continue;
			}
			list.push({ piece: between.add(low, high), reversed: false });
			pieces.push({ curve, t0: own.t0, t1: own.t1, owner: c, start, end, length });
		}
		byCurve.push(list);
	}
	return { pieces, byCurve };
}

/** Puts those pieces of an arrangement before that are alike in the place of new ones. */
function keepPieces(pieces: Piece[], known: Arrangement): void {
	const byCurve = new Map<Curve, Piece[]>();
	for (const piece of known.pieces) addTo(byCurve, piece.curve, piece);
	const passed = new Map<Curve, number>();
	for (const [p, piece] of pieces.entries()) {
		const { owner, start, end, length, t0, t1 } = piece;
		const list = byCurve.get(piece.curve) ?? [];
		// Along a curve they come one after the other, here and there.
		let at = passed.get(piece.curve) ?? 0;
		while (at < list.length && list[at]!.t0 < t0) at++;
		passed.set(piece.curve, at);
		const same = list[at];
		if (
			same?.t0 === t0 &&
			same.t1 === t1 &&
			same.start === start &&
			same.end === end &&
			same.owner === owner &&
			same.length === length
		)
			pieces[p] = same;
	}
}

/** Whether two parts between the same junctions are one: they have the same middle. */
function liesOn(part: CurvePart, length: number, piece: Piece, tolerance: number): boolean {
	if (Math.abs(length - piece.length) > 1e-6 * length + 10 * tolerance) return false;
	const p = partPoint(part, 0.5, length);
	const q = partPoint(piece, 0.5, piece.length);
	return hypot(p.x - q.x, p.y - q.y) <= 10 * tolerance;
}

/** Sorted parameters between which the pieces of a curve lie. */
function stopsOf(curve: Curve, cuts: number[], tolerance: number): number[] {
	const count = segmentCount(curve);
	const whole = curveLength(curve);
	// A cut within the tolerance of a joint is at the joint, so that a piece never starts on a sliver of the segment before.
	const atJoint = (t: number): number => {
		const joint = Math.round(t);
		return Math.abs(lengthAt(curve, t) - curve.lengths[joint]!) <= 4 * tolerance ? joint : t;
	};
	const sorted = cuts.map(atJoint).sort((a, b) => a - b);
	const stops: number[] = [];
	let last = -Infinity;
	for (const t of sorted) {
		const along = lengthAt(curve, t);
		if (along - last <= 4 * tolerance) continue;
		if (!curve.closed && (along <= 4 * tolerance || whole - along <= 4 * tolerance)) continue;
		stops.push(t);
		last = along;
	}
	if (!curve.closed) return [0, ...stops, count];
	if (stops.length > 1 && lengthAt(curve, stops[0]!) + whole - last <= 4 * tolerance) {
		// The start of a closed curve is a joint, and stays one.
		if (stops.at(-1) === count) stops[0] = 0;
		stops.pop();
	}
	if (stops.length === 1 && stops[0] === count) stops[0] = 0;
	if (stops.length === 0) return [0, count];
	return [...stops, stops[0]! + count];
}

/** The box around all curves of an arrangement: [minX, minY, maxX, maxY]; undefined when there are none. */
export function extent(curves: Curve[]): [number, number, number, number] | undefined {
	let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
	for (const curve of curves)
		for (let i = 0; i < segmentCount(curve); i++) {
			const box = segmentBox(curve, i);
			if (box[0] < minX) minX = box[0];
			if (box[1] < minY) minY = box[1];
			if (box[2] > maxX) maxX = box[2];
			if (box[3] > maxY) maxY = box[3];
		}
	return minX <= maxX ? [minX, minY, maxX, maxY] : undefined;
}
