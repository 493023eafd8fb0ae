import { atan2 } from '../numeric/elementary.ts';
import type { Work } from '../numeric/work.ts';
import type { Arrangement, Face, Piece, Walk } from './pieces.ts';
import { tangent } from './build.ts';
import { segmentCount, segmentLength, type Point } from './curve.ts';
import { Locator, straightened } from './locator.ts';
import { flatten, partArea, partPoint } from './parts.ts';

/** What pieces enclose. */
export interface Faces {
	faces: Face[];
	/** The face to the left of each half-piece, −1 where there is none. */
	sides: Int32Array;
	/** Pieces of outlines that enclose next to nothing, though they should. */
	vanished: number[];
	locator: Locator;
}

/**
 * The faces between pieces: walks that keep their face on the left, and for every walk that runs
 * clockwise the face in which it lies, found by looking left from its leftmost point (de Berg et
 * al. 2008, ch. 2.3); n log n in the number of pieces.
 */
export function* findFaces(pieces: Piece[], x: Float64Array, y: Float64Array, diagonal: number, tolerance: number): Work<Faces> {
	// Phase 1: around every junction, the outgoing half-pieces in counter-clockwise order.
	const next = nextAround(pieces, x.length, tolerance);
	yield 0.2;
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
		if ((walks.length & 0xfff) === 0) yield 0.2 + (0.1 * first) / pieces.length;
	}
	for (const [p, piece] of pieces.entries()) {
		if ((p & 0x1ff) === 0) yield 0.3 + (0.2 * p) / pieces.length;
		straightened(piece, diagonal);
	}
	// Phase 3: counter-clockwise walks bound faces.
	const faces: Face[] = [];
	const faceOfWalk = new Int32Array(walks.length).fill(-1);
	const smallest = 1e-14 * diagonal * diagonal;
	const inner: { w: number; leftmost: Point }[] = [];
	const vanished: number[] = [];
	const locator = new Locator(pieces, x, y, diagonal);
	yield 0.6;
	walks.forEach(({ walk, area }, w) => {
		if (area > smallest) {
			faceOfWalk[w] = faces.length;
			faces.push({ outer: walk, inner: [], area });
			return;
		}
		inner.push({ w, leftmost: locator.leftmost(walk) });
		// A walk out along some pieces and back along the same encloses nothing and has no need to.
		const ring = Math.abs(area) <= smallest ? walk.find((h) => walkOf[h ^ 1] !== w) : undefined;
		if (ring !== undefined && !vanished.some((p) => walk.some((h) => h >> 1 === p))) vanished.push(ring >> 1);
	});
	// Phase 4: the others are holes in the face to the left of them, or of what is there.
	const component = components(pieces, x.length);
	inner.sort((a, b) => a.leftmost.x - b.leftmost.x || a.leftmost.y - b.leftmost.y || a.w - b.w);
	yield 0.65;
	for (const [k, { w, leftmost }] of inner.entries()) {
		if ((k & 0x3ff) === 0x3ff) yield 0.65 + (0.35 * k) / inner.length;
		const { walk, area } = walks[w]!;
		const own = component[pieces[walk[0]! >> 1]!.start];
		const h = locator.leftOf(leftmost, (p) => component[pieces[p]!.start] !== own);
		const host = h < 0 ? -1 : faceOfWalk[walkOf[h]!]!;
		if (host < 0) continue;
		faces[host]!.inner.push(walk);
		faces[host]!.area += area;
		faceOfWalk[w] = host;
	}
	const sides = new Int32Array(2 * pieces.length);
	for (let h = 0; h < sides.length; h++) sides[h] = faceOfWalk[walkOf[h]!]!;
	return { faces, sides, vanished, locator };
}

/** After which half-piece which one comes, so that the face between them stays on the left. */
function nextAround(pieces: Piece[], junctions: number, tolerance: number): Int32Array {
	const count = 2 * pieces.length;
	const first = new Uint32Array(junctions + 1);
	for (const { start, end } of pieces) {
		first[start + 1]!++;
		first[end + 1]!++;
	}
	for (let i = 0; i < junctions; i++) first[i + 1]! += first[i]!;
	const around = new Int32Array(count);
	const filled = first.slice(0, junctions);
	for (const [p, { start, end }] of pieces.entries()) {
		around[filled[start]!++] = 2 * p;
		around[filled[end]!++] = 2 * p + 1;
	}
	const next = new Int32Array(count);
	const angle = new Float64Array(count);
	for (let i = 0; i < junctions; i++) {
		const list = around.subarray(first[i], first[i + 1]);
		// Two leave a junction in only one cyclic order.
		if (list.length > 2) sortAround(list, angle, pieces, tolerance);
		// Arriving by the twin of list[k], the walk that keeps its face on the left leaves by the clockwise neighbour.
		for (let k = 0; k < list.length; k++) next[list[k]! ^ 1] = list[k > 0 ? k - 1 : list.length - 1]!;
	}
	return next;
}

/** The direction in which a half-piece leaves its junction, as an angle; a first segment below the tolerance has none and is passed over. */
function departure(h: number, pieces: Piece[], tolerance: number): number {
	const piece = pieces[h >> 1]!;
	const count = segmentCount(piece.curve);
	const t = h & 1 ? piece.t1 : piece.t0;
	const segment = h & 1 ? Math.ceil(t) - 1 : Math.floor(t);
	const rest =
		h & 1 ? [Math.max(segment, piece.t0) - segment, t - segment] : [t - segment, Math.min(segment + 1, piece.t1) - segment];
	if (segmentLength(piece.curve, segment % count, rest[0]!, rest[1]!) <= 4 * tolerance && piece.length > 16 * tolerance) {
		const share = (8 * tolerance) / piece.length;
		const [from, to] = [partPoint(piece, h & 1 ? 1 : 0, piece.length), partPoint(piece, h & 1 ? 1 - share : share, piece.length)];
		return atan2(to.y - from.y, to.x - from.x);
	}
	const d = tangent(piece.curve, segment % count, t - segment, !(h & 1));
	return h & 1 ? atan2(-d.y, -d.x) : atan2(d.y, d.x);
}

/** Directions nearer than this, in radians, do not say by themselves which of two half-pieces leaves to the left of the other. */
const alike = 1e-3;

/**
 * Sorts the half-pieces at a junction counter-clockwise by departure; those that leave together by where they part.
 *
 * @param angle one for each half-piece: those of the list are written
 */
function sortAround(list: Int32Array, angle: Float64Array, pieces: Piece[], tolerance: number): void {
	for (const h of list) angle[h] = departure(h, pieces, tolerance);
	list.sort((g, h) => angle[g]! - angle[h]! || g - h);
	// The order starts after the widest gap, so that no two that leave together are torn apart at ±π.
	let start = 0;
	let widest = angle[list[0]!]! + 2 * Math.PI - angle[list.at(-1)!]!;
	let isClose = widest <= alike;
	for (let k = 1; k < list.length; k++) {
		const gap = angle[list[k]!]! - angle[list[k - 1]!]!;
		if (gap > widest) [widest, start] = [gap, k];
		if (gap <= alike) isClose = true;
	}
	if (!isClose) return;
	const moved = list.slice(0, start);
	for (const h of moved) angle[h]! += 2 * Math.PI;
	list.copyWithin(0, start);
	list.set(moved, list.length - start);
	list.sort((g, h) => {
		const difference = angle[g]! - angle[h]!;
		return Math.abs(difference) > alike ? difference : parting(g, h, pieces, tolerance) || difference || g - h;
	});
}

/** Below zero where half-piece h leaves to the left of g, as seen where they have come apart by more than the tolerance; 0 if they never do. */
function parting(g: number, h: number, pieces: Piece[], tolerance: number): number {
	const [p, q] = [pieces[g >> 1]!, pieces[h >> 1]!];
	const along = (half: number, piece: Piece, reach: number): Point =>
		partPoint(piece, half & 1 ? 1 - reach / piece.length : reach / piece.length, piece.length);
	const shorter = Math.min(p.length, q.length);
	const start = along(g, p, 0);
	for (let reach = Math.max(1e-3 * shorter, 8 * tolerance); reach <= 0.6 * shorter; reach *= 3) {
		const [a, b] = [along(g, p, reach), along(h, q, reach)];
		const apart = ((a.x - start.x) * (b.y - start.y) - (a.y - start.y) * (b.x - start.x)) / reach;
		if (Math.abs(apart) > 8 * tolerance) return -apart;
	}
	return 0;
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

/** Whether a point is inside a polygon given as flat x, y pairs (even–odd rule). */
export function insideOutline(outline: Float64Array, px: number, py: number): boolean {
	let inside = false;
	for (let k = 0, j = outline.length - 2; k < outline.length; j = k, k += 2) {
		const [ax, ay, bx, by] = [outline[k]!, outline[k + 1]!, outline[j]!, outline[j + 1]!];
		if (ay > py !== by > py && px < ((bx - ax) * (py - ay)) / (by - ay) + ax) inside = !inside;
	}
	return inside;
}

const locators = new WeakMap<Arrangement, Locator>();

/** Lets {@link faceAt} use the locator that the faces were found with; one that came from a worker makes its own. */
export const keepLocator = (arrangement: Arrangement, locator: Locator): void => void locators.set(arrangement, locator);

/** The face that holds a point, or −1. */
export function faceAt(arrangement: Arrangement, p: Point): number {
	let locator = locators.get(arrangement);
	if (!locator)
		locators.set(arrangement, (locator = new Locator(arrangement.pieces, arrangement.x, arrangement.y, arrangement.diagonal)));
	const h = locator.leftOf(p);
	return h < 0 ? -1 : arrangement.sides[h]!;
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
