import { atan2, cos, hypot, sin } from '../numeric/elementary.ts';
import Flatbush from 'flatbush';
import {
	curveLength,
	flatten,
	lengthAt,
	partArea,
	partLength,
	partPoint,
	pointAt,
	segmentBox,
	segmentCount,
	segmentDerivative,
	type Curve,
	type CurvePart,
	type Point
} from './curve.ts';
import { intersectSegments } from './intersect.ts';

/** The part of a curve between two junctions. Where curves lie on one another they share one piece. */
export interface Piece extends CurvePart {
	/** Index of the curve that gives the piece its shape and direction. */
	owner: number;
	start: number;
	end: number;
	length: number;
}

/** A piece as a curve sees it: `reversed` when the curve runs against the piece. */
export interface CurvePiece {
	piece: number;
	reversed: boolean;
}

/**
 * A walk along pieces: `2 p` is piece p from start to end, `2 p + 1` from end to start.
 */
export type Walk = number[];

/** A bounded face: its outer walk runs counter-clockwise, its inner walks (holes, loose pieces) keep it on their left too. */
export interface Face {
	outer: Walk;
	inner: Walk[];
	/** Area without the holes, on the true curves. */
	area: number;
}

/** The plane cut up by curves. */
export interface Arrangement {
	curves: Curve[];
	/** Two points nearer than this are one: 1e-9 of the model's diagonal. */
	tolerance: number;
	/** Diagonal of the box around everything. */
	diagonal: number;
	/** Junction coordinates, one each. */
	x: Float64Array;
	y: Float64Array;
	/** How many piece ends meet at each junction. */
	degree: Uint32Array;
	pieces: Piece[];
	/** For each curve its pieces in order from its start: `wall[2]` is `byCurve[wall][1]`. */
	byCurve: CurvePiece[][];
	faces: Face[];
	/** Left and right face of each piece, −1 for the outside: `sides[2 p]` left, `sides[2 p + 1]` right. */
	sides: Int32Array;
}

/** Cuts curves where they meet, joins what lies on one another, and finds the bounded faces. */
export function arrange(curves: Curve[]): Arrangement {
	const diagonal = modelDiagonal(curves);
	const tolerance = 1e-9 * diagonal;
	const cuts = findCuts(curves, tolerance);
	const junctions = new JunctionIndex(tolerance);
	const pieces: Piece[] = [];
	const byCurve = cutCurves(curves, cuts, junctions, pieces, tolerance);
	const x = Float64Array.from(junctions.x);
	const y = Float64Array.from(junctions.y);
	const degree = new Uint32Array(x.length);
	for (const piece of pieces) {
		degree[piece.start]!++;
		degree[piece.end]!++;
	}
	const { faces, sides } = findFaces(pieces, x, y, diagonal);
	return { curves, tolerance, diagonal, x, y, degree, pieces, byCurve, faces, sides };
}

function modelDiagonal(curves: Curve[]): number {
	const box = extent(curves);
	return box ? hypot(box[2] - box[0], box[3] - box[1]) : 0;
}

/** The parameters at which each curve is cut, unsorted, with repeats. */
function findCuts(curves: Curve[], tolerance: number): number[][] {
	const cuts: number[][] = curves.map((curve) => [...curve.corners]);
	const total = curves.reduce((sum, curve) => sum + segmentCount(curve), 0);
	if (total < 2) return cuts;
	const curveOf = new Uint32Array(total);
	const segmentOf = new Uint32Array(total);
	const boxes = new Float64Array(4 * total);
	const index = new Flatbush(total);
	let k = 0;
	curves.forEach((curve, c) => {
		for (let i = 0; i < segmentCount(curve); i++, k++) {
			const [minX, minY, maxX, maxY] = segmentBox(curve, i);
			boxes.set([minX - tolerance, minY - tolerance, maxX + tolerance, maxY + tolerance], 4 * k);
			index.add(boxes[4 * k]!, boxes[4 * k + 1]!, boxes[4 * k + 2]!, boxes[4 * k + 3]!);
			curveOf[k] = c;
			segmentOf[k] = i;
		}
	});
	index.finish();
	for (let a = 0; a < total; a++) {
		const near = index.search(boxes[4 * a]!, boxes[4 * a + 1]!, boxes[4 * a + 2]!, boxes[4 * a + 3]!, (b) => b > a);
		for (const b of near) {
			const [ca, cb] = [curveOf[a]!, curveOf[b]!];
			const [i, j] = [segmentOf[a]!, segmentOf[b]!];
			const neighbours = ca === cb ? jointsBetween(curves[ca]!, i, j) : undefined;
			intersectSegments(curves[ca]!, i, curves[cb]!, j, tolerance, (u, v) => {
				// Neighbouring segments of a curve always meet at their common joint; that is no crossing.
				if (neighbours?.some(([p, q]) => Math.abs(u - p) < 1e-9 && Math.abs(v - q) < 1e-9)) return;
				cuts[ca]!.push(i + u);
				cuts[cb]!.push(j + v);
			});
		}
	}
	return cuts;
}

/** The joints that two segments of one curve share, as local parameter pairs. */
function jointsBetween(curve: Curve, i: number, j: number): [number, number][] {
	const count = segmentCount(curve);
	const joints: [number, number][] = [];
	if (j === i + 1) joints.push([1, 0]);
	if (curve.closed && i === 0 && j === count - 1) joints.push([0, 1]);
	return joints;
}

/** Numbers points, taking those within the tolerance of one another as one; a hash grid keeps it linear. */
class JunctionIndex {
	readonly x: number[] = [];
	readonly y: number[] = [];
	private readonly cells = new Map<string, number[]>();
	private readonly cell: number;

	constructor(private readonly tolerance: number) {
		this.cell = Math.max(4 * tolerance, Number.MIN_VALUE);
	}

	add(p: Point): number {
		const cx = Math.floor(p.x / this.cell);
		const cy = Math.floor(p.y / this.cell);
		for (let dx = -1; dx <= 1; dx++)
			for (let dy = -1; dy <= 1; dy++)
				for (const i of this.cells.get(`${cx + dx},${cy + dy}`) ?? [])
					if (hypot(this.x[i]! - p.x, this.y[i]! - p.y) <= 2 * this.tolerance) return i;
		const key = `${cx},${cy}`;
		const list = this.cells.get(key);
		if (list) list.push(this.x.length);
		else this.cells.set(key, [this.x.length]);
		this.x.push(p.x);
		this.y.push(p.y);
		return this.x.length - 1;
	}
}

/** Makes the pieces of every curve; a piece that lies on an earlier one is that one. */
function cutCurves(
	curves: Curve[],
	cuts: number[][],
	junctions: JunctionIndex,
	pieces: Piece[],
	tolerance: number
): CurvePiece[][] {
	const between = new Map<string, number[]>();
	// End points first: a junction stands exactly where a curve was said to end.
	for (const curve of curves)
		if (!curve.closed) {
			junctions.add(pointAt(curve, 0));
			junctions.add(pointAt(curve, segmentCount(curve)));
		}
	return curves.map((curve, c) => {
		const stops = stopsOf(curve, cuts[c]!, tolerance);
		const list: CurvePiece[] = [];
		for (let k = 0; k + 1 < stops.length; k++) {
			const part: CurvePart = { curve, t0: stops[k]!, t1: stops[k + 1]! };
			const length = partLength(part);
			const start = junctions.add(pointAt(curve, part.t0));
			const end = junctions.add(pointAt(curve, part.t1 > segmentCount(curve) ? part.t1 - segmentCount(curve) : part.t1));
			if (start === end && length <= 4 * tolerance) continue;
			const key = start < end ? `${start},${end}` : `${end},${start}`;
			const twins = between.get(key) ?? [];
			const middle = partPoint(part, 0.5, length);
			const twin = twins.find((p) => {
				const q = partPoint(pieces[p]!, 0.5, pieces[p]!.length);
				return hypot(q.x - middle.x, q.y - middle.y) <= 10 * tolerance;
			});
			if (twin !== undefined) {
				list.push({ piece: twin, reversed: pieces[twin]!.start !== start });
				continue;
			}
			between.set(key, [...twins, pieces.length]);
			list.push({ piece: pieces.length, reversed: false });
			pieces.push({ ...part, owner: c, start, end, length });
		}
		return list;
	});
}

/** Sorted parameters between which the pieces of a curve lie. */
function stopsOf(curve: Curve, cuts: number[], tolerance: number): number[] {
	const count = segmentCount(curve);
	const whole = curveLength(curve);
	const sorted = [...cuts].sort((a, b) => a - b);
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
	if (stops.length > 1 && lengthAt(curve, stops[0]!) + whole - last <= 4 * tolerance) stops.pop();
	if (stops.length === 0) return [0, count];
	return [...stops, stops[0]! + count];
}

function findFaces(pieces: Piece[], x: Float64Array, y: Float64Array, diagonal: number) {
	// Phase 1: around every junction, the outgoing half-pieces in counter-clockwise order.
	const around: number[][] = Array.from({ length: x.length }, () => []);
	pieces.forEach((piece, p) => {
		around[piece.start]!.push(2 * p);
		around[piece.end]!.push(2 * p + 1);
	});
	const next = new Int32Array(2 * pieces.length).fill(-1);
	for (const list of around) {
		sortAround(list, pieces);
		// Arriving by the twin of list[k], the walk that keeps its face on the left leaves by the clockwise neighbour.
		for (let k = 0; k < list.length; k++) next[list[k]! ^ 1] = list[(k + list.length - 1) % list.length]!;
	}
	// Phase 2: walks.
	const walkOf = new Int32Array(2 * pieces.length).fill(-1);
	const walks: { walk: Walk; area: number }[] = [];
	for (let first = 0; first < 2 * pieces.length; first++) {
		if (walkOf[first] !== -1) continue;
		const walk: Walk = [];
		let area = 0;
		const origin = { x: x[pieces[first >> 1]!.start]!, y: y[pieces[first >> 1]!.start]! };
		for (let h = first; walkOf[h] === -1; h = next[h]!) {
			walkOf[h] = walks.length;
			walk.push(h);
			area += (h & 1 ? -1 : 1) * partArea(pieces[h >> 1]!, origin);
		}
		walks.push({ walk, area });
	}
	// Phase 3: counter-clockwise walks bound faces; the others are holes in the smallest face around them.
	const faces: Face[] = [];
	const faceOfWalk = new Int32Array(walks.length).fill(-1);
	const smallest = 1e-14 * diagonal * diagonal;
	const outlines: Float64Array[] = [];
	const boxes: number[][] = [];
	walks.forEach(({ walk, area }, w) => {
		if (area <= smallest) return;
		faceOfWalk[w] = faces.length;
		faces.push({ outer: walk, inner: [], area });
		const outline = walkOutline(walk, pieces, diagonal * 1e-5);
		outlines.push(outline);
		boxes.push(boxOf(outline));
	});
	const component = components(pieces, x.length);
	const byArea = faces.map((_, f) => f).sort((a, b) => faces[a]!.area - faces[b]!.area);
	const fullArea = faces.map((face) => face.area);
	walks.forEach(({ walk, area }, w) => {
		if (area > smallest) return;
		const first = pieces[walk[0]! >> 1]!;
		const px = x[first.start]!;
		const py = y[first.start]!;
		const own = component[first.start];
		const host = byArea.find(
			(f) =>
				component[pieces[faces[f]!.outer[0]! >> 1]!.start] !== own &&
				fullArea[f]! > -area &&
				px >= boxes[f]![0]! &&
				px <= boxes[f]![2]! &&
				py >= boxes[f]![1]! &&
				py <= boxes[f]![3]! &&
				insideOutline(outlines[f]!, px, py)
		);
		if (host === undefined) return;
		faces[host]!.inner.push(walk);
		faces[host]!.area += area;
		faceOfWalk[w] = host;
	});
	const sides = new Int32Array(2 * pieces.length);
	for (let h = 0; h < sides.length; h++) sides[h] = faceOfWalk[walkOf[h]!]!;
	return { faces, sides };
}

/** The direction in which a half-piece leaves its junction, as an angle. */
function departure(h: number, pieces: Piece[]): number {
	const piece = pieces[h >> 1]!;
	const count = segmentCount(piece.curve);
	const t = h & 1 ? piece.t1 : piece.t0;
	const segment = h & 1 ? Math.ceil(t) - 1 : Math.floor(t);
	const d = segmentDerivative(piece.curve, segment % count, t - segment);
	return h & 1 ? atan2(-d.y, -d.x) : atan2(d.y, d.x);
}

/** Sorts half-pieces by departure; those that leave tangentially to one another by where they are a little later. */
function sortAround(list: number[], pieces: Piece[]): void {
	if (list.length < 2) return;
	const angle = new Map(list.map((h) => [h, departure(h, pieces)]));
	const reach = 1e-3 * Math.min(...list.map((h) => pieces[h >> 1]!.length));
	const later = (h: number, base: number): number => {
		const piece = pieces[h >> 1]!;
		const fraction = reach / piece.length;
		const at = partPoint(piece, h & 1 ? 1 - fraction : fraction, piece.length);
		const from = partPoint(piece, h & 1 ? 1 : 0, piece.length);
		const d = atan2(at.y - from.y, at.x - from.x) - base;
		return atan2(sin(d), cos(d));
	};
	list.sort((g, h) => {
		const [a, b] = [angle.get(g)!, angle.get(h)!];
		const difference = a - b;
		const wrapped = Math.abs(atan2(sin(difference), cos(difference)));
		return wrapped > 1e-7 ? difference : later(g, a) - later(h, a) || g - h;
	});
	// Departures at almost ±π that are tangential may have been torn apart by the cut of atan2.
	const first = list[0]!;
	const last = list[list.length - 1]!;
	const gap = angle.get(last)! - angle.get(first)!;
	if (gap > 2 * Math.PI - 1e-7 && later(last, Math.PI) > later(first, Math.PI)) {
		list[0] = last;
		list[list.length - 1] = first;
	}
}

/** A walk as a polygon (flat x, y pairs, first point not repeated). */
export function walkOutline(walk: Walk, pieces: Piece[], tolerance: number): Float64Array {
	const out: number[] = [];
	for (const h of walk) {
		const line = flatten(pieces[h >> 1]!, tolerance);
		const n = line.length / 2;
		for (let k = 0; k + 1 < n; k++) {
			const i = h & 1 ? n - 1 - k : k;
			out.push(line[2 * i]!, line[2 * i + 1]!);
		}
	}
	return Float64Array.from(out);
}

function boxOf(outline: Float64Array): number[] {
	const box = [Infinity, Infinity, -Infinity, -Infinity];
	for (let k = 0; k < outline.length; k += 2) {
		box[0] = Math.min(box[0]!, outline[k]!);
		box[1] = Math.min(box[1]!, outline[k + 1]!);
		box[2] = Math.max(box[2]!, outline[k]!);
		box[3] = Math.max(box[3]!, outline[k + 1]!);
	}
	return box;
}

/** Whether a point is inside a polygon given as flat x, y pairs (even–odd rule). */
export function insideOutline(outline: Float64Array, px: number, py: number): boolean {
	let inside = false;
	for (let k = 0, j = outline.length - 2; k < outline.length; j = k, k += 2) {
		const [ax, ay, bx, by] = [outline[k]!, outline[k + 1]!, outline[j]!, outline[j + 1]!];
		if (ay > py !== by > py && px < ((bx - ax) * (py - ay)) / (by - ay) + ax) inside = !inside;
	}
	return inside;
}

/** The face that holds a point, or −1: inside its outer walk and outside its holes. */
export function faceAt(arrangement: Arrangement, p: Point): number {
	const { faces, pieces, diagonal } = arrangement;
	let best = -1;
	faces.forEach((face, f) => {
		if (best !== -1 && faces[best]!.area <= face.area) return;
		if (!insideOutline(walkOutline(face.outer, pieces, diagonal * 1e-5), p.x, p.y)) return;
		if (face.inner.some((walk) => insideOutline(walkOutline(walk, pieces, diagonal * 1e-5), p.x, p.y))) return;
		best = f;
	});
	return best;
}

/** A component number for each junction: the same for junctions that pieces connect. */
function components(pieces: Piece[], count: number): Int32Array {
	const parent = Int32Array.from({ length: count }, (_, i) => i);
	const root = (i: number): number => {
		while (parent[i] !== i) i = parent[i] = parent[parent[i]!]!;
		return i;
	};
	for (const piece of pieces) parent[root(piece.start)] = root(piece.end);
	for (let i = 0; i < count; i++) parent[i] = root(i);
	return parent;
}

/** A point inside a face, well away from its boundary where that is cheap to find: for marks and `region … at`. */
export function pointInFace(arrangement: Arrangement, f: number): Point {
	const { faces, pieces, diagonal } = arrangement;
	const face = faces[f]!;
	const outlines = [face.outer, ...face.inner].map((walk) => walkOutline(walk, pieces, diagonal * 1e-4));
	const [, minY, , maxY] = boxOf(outlines[0]!);
	let best = { x: 0, y: 0 };
	let bestWidth = -1;
	for (const level of [0.5, 0.37, 0.61, 0.23, 0.79, 0.08, 0.93]) {
		const py = minY! + level * (maxY! - minY!);
		const crossings: number[] = [];
		for (const outline of outlines)
			for (let k = 0, j = outline.length - 2; k < outline.length; j = k, k += 2) {
				const [ax, ay, bx, by] = [outline[k]!, outline[k + 1]!, outline[j]!, outline[j + 1]!];
				if (ay > py !== by > py) crossings.push(((bx - ax) * (py - ay)) / (by - ay) + ax);
			}
		crossings.sort((a, b) => a - b);
		for (let k = 0; k + 1 < crossings.length; k += 2) {
			const width = crossings[k + 1]! - crossings[k]!;
			if (width > bestWidth * 1.000001) {
				bestWidth = width;
				best = { x: (crossings[k]! + crossings[k + 1]!) / 2, y: py };
			}
		}
	}
	return best;
}

/** The box around all curves of an arrangement: [minX, minY, maxX, maxY]; undefined when there are none. */
export function extent(curves: Curve[]): [number, number, number, number] | undefined {
	let box: [number, number, number, number] | undefined;
	for (const curve of curves)
		for (let i = 0; i < segmentCount(curve); i++) {
			const b = segmentBox(curve, i);
			box = box ? [Math.min(box[0], b[0]), Math.min(box[1], b[1]), Math.max(box[2], b[2]), Math.max(box[3], b[3])] : b;
		}
	return box;
}
