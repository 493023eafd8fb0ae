import polylabel from 'polylabel';
import { hypot } from '../numeric/elementary.ts';
import type { Point } from './curve.ts';
import { faceAt, walkOutline } from './faces.ts';
import { boxOf } from './parts.ts';
import type { Arrangement, Face, Piece } from './pieces.ts';

/** How near the pole is looked for, as a share of the box around the face. */
const precision = 0.01;

/**
 * A point inside a face and far from its outline, for marks and `region … at`: the pole of inaccessibility of its box
 * stretched to a square, so that a long thin face is no more work than a round one; where that misses a sliver, the
 * middle of the widest stretch of a few scan lines.
 */
export const pointInFace = (arrangement: Arrangement, f: number): Point => poleOf(arrangement, f, outlinesOf(arrangement, f));

/** The outlines of a face as polygons, flat x, y pairs: the outer one first. */
function outlinesOf({ faces, pieces, diagonal }: Arrangement, f: number): Float64Array[] {
	const face = faces[f]!;
	return [face.outer, ...face.inner].map((walk) => walkOutline(walk, pieces, diagonal * 1e-4));
}

function poleOf(arrangement: Arrangement, f: number, outlines: readonly Float64Array[]): Point {
	const [minX, minY, maxX, maxY] = boxOf(outlines[0]!);
	const [width, height] = [maxX - minX, maxY - minY];
	const onScan = widestOnScanLines(outlines, minY, maxY);
	if (!(width > 0 && height > 0)) return onScan;
	const rings = outlines.map((outline) =>
		Array.from({ length: outline.length / 2 }, (_, k): [number, number] => [
			(outline[2 * k]! - minX) / width,
			(outline[2 * k + 1]! - minY) / height
		])
	);
	const [u, v] = polylabel(rings, precision);
	const pole = { x: minX + u! * width, y: minY + v! * height };
	const isInside = faceAt(arrangement, pole) === f;
	return isInside && distanceTo(outlines, pole) >= distanceTo(outlines, onScan) ? pole : onScan;
}

/** The distance from a point to the nearest of some closed polygons, flat x, y pairs. */
function distanceTo(outlines: readonly Float64Array[], p: Point): number {
	let least = Infinity;
	for (const outline of outlines)
		for (let k = 0, j = outline.length - 2; k < outline.length; j = k, k += 2) {
			const [ax, ay] = [outline[j]!, outline[j + 1]!];
			const [dx, dy] = [outline[k]! - ax, outline[k + 1]! - ay];
			const along = Math.min(1, Math.max(0, ((p.x - ax) * dx + (p.y - ay) * dy) / (dx * dx + dy * dy || 1)));
			least = Math.min(least, hypot(ax + along * dx - p.x, ay + along * dy - p.y));
		}
	return least;
}

/** The middle of the widest stretch that a few level lines have inside an outline with holes. */
function widestOnScanLines(outlines: readonly Float64Array[], minY: number, maxY: number): Point {
	let best = { x: 0, y: 0 };
	let bestWidth = -1;
	for (const level of [0.5, 0.37, 0.61, 0.23, 0.79, 0.08, 0.93]) {
		const py = minY + level * (maxY - minY);
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

/** A point as it can be written, and its source. */
export interface Written {
	at: Point;
	text: string;
}

/** What was found in a face: its pieces and the way they are run through, walk after walk, and the point. */
interface CachedPoint {
	pieces: Piece[];
	ways: number[];
	diagonal: number;
	found: Written | undefined;
}

/** By the first piece of a face. */
const cache = new WeakMap<Piece, CachedPoint>();

/** A point inside a face as it can be written, with as few digits as keep it there, far from the outline; undefined for a sliver that no double is inside of. */
export function writtenPointInFace(arrangement: Arrangement, f: number): Written | undefined {
	const { faces, pieces, diagonal } = arrangement;
	const face = faces[f]!;
	const first = pieces[face.outer[0]! >> 1]!;
	const last = cache.get(first);
	if (last && isSameFace(last, face, arrangement)) return last.found;
	const found = writtenPoint(arrangement, f);
	const halves = [face.outer, ...face.inner].flat();
	cache.set(first, { pieces: halves.map((h) => pieces[h >> 1]!), ways: halves.map((h) => h & 1), diagonal, found });
	return found;
}

/** Whether a face has the same pieces as one before, run through in the same way. */
function isSameFace(last: CachedPoint, { outer, inner }: Face, { pieces, diagonal }: Arrangement): boolean {
	if (last.diagonal !== diagonal) return false;
	let n = 0;
	for (let w = -1; w < inner.length; w++)
		for (const h of w < 0 ? outer : inner[w]!) {
			if (last.pieces[n] !== pieces[h >> 1] || last.ways[n] !== (h & 1)) return false;
			n++;
		}
	return n === last.pieces.length;
}

function writtenPoint(arrangement: Arrangement, f: number): Written | undefined {
	const outlines = outlinesOf(arrangement, f);
	const exact = poleOf(arrangement, f, outlines);
	const room = distanceTo(outlines, exact);
	let last: Written | undefined;
	for (const digits of [3, 5, 8, 12, 17]) {
		const at = { x: Number(exact.x.toPrecision(digits)), y: Number(exact.y.toPrecision(digits)) };
		if (faceAt(arrangement, at) !== f) continue;
		last = { at, text: `(${at.x}, ${at.y})` };
		if (distanceTo(outlines, at) >= 0.8 * room) return last;
	}
	return last;
}
