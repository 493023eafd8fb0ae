import simplify from 'simplify-js';
import { atan2, hypot } from '../numeric/elementary.ts';
import { distanceToSegment } from './segments.ts';

/** Which points of a line are kept, and how far the others lie from it at most. */
export interface Thinned {
	/** Numbers of the kept points, rising. */
	kept: Uint32Array;
	/** The largest distance of a point from the thinned line, and the number of that point. */
	deviation: number;
	farthest: number;
}

/**
 * Leaves points out of a line so that none of them lies farther from it than a distance.
 *
 * Source: D. Douglas & T. Peucker, Cartographica 10 (1973), as the package simplify-js has it.
 *
 * @param closed the last point goes on to the first
 */
export function thinned(x: Float64Array, y: Float64Array, closed: boolean, within: number): Thinned {
	const points = Array.from(x, (px, k) => ({ x: px, y: y[k]!, k }));
	// A closed line is cut at its first point, which stays, and at the point farthest from it, so that both halves are lines.
	const far = closed ? points.reduce((best, p) => (away(p, points[0]!) > away(best, points[0]!) ? p : best)).k : 0;
	const parts = far > 0 ? [points.slice(0, far + 1), [...points.slice(far), points[0]!]] : [points];
	const left = parts.map((part) => simplify(part, within, true) as typeof points);
	const kept = [...new Set(left.flat().map((p) => p.k))].sort((a, b) => a - b);
	let [deviation, farthest] = [0, kept[0] ?? 0];
	for (let i = 0; i < kept.length; i++) {
		const from = kept[i]!;
		const to = kept[i + 1] ?? (closed ? kept[0]! : from);
		const count = to > from ? to - from : to === from ? 0 : x.length - from + to;
		for (let n = 1; n < count; n++) {
			const k = (from + n) % x.length;
			const d = distanceToSegment(x[k]!, y[k]!, x[from]!, y[from]!, x[to]!, y[to]!);
			if (d > deviation) [deviation, farthest] = [d, k];
		}
	}
	return { kept: Uint32Array.from(kept), deviation, farthest };
}

const away = (a: { x: number; y: number }, b: { x: number; y: number }) => hypot(a.x - b.x, a.y - b.y);

/** A turn from which a joint among smooth ones is a corner, in radians, and below which its neighbours are smooth. */
const [sharp, smooth] = [(60 * Math.PI) / 180, (30 * Math.PI) / 180];

/** How many joints of a line turn sharply while those beside them do not: corners that a smooth curve would round. */
export function sharpCorners(x: Float64Array, y: Float64Array, closed: boolean): number {
	// A closed line may come back to its first point, which is then the same joint.
	const n = closed && x.at(-1) === x[0] && y.at(-1) === y[0] ? x.length - 1 : x.length;
	if (n < 8) return 0;
	const turn = (k: number): number => {
		const [p, q, r] = [(k + n - 1) % n, (k + n) % n, (k + 1) % n];
		const [ux, uy, vx, vy] = [x[q]! - x[p]!, y[q]! - y[p]!, x[r]! - x[q]!, y[r]! - y[q]!];
		return Math.abs(atan2(ux * vy - uy * vx, ux * vx + uy * vy));
	};
	let count = 0;
	const [first, last] = closed ? [0, n] : [2, n - 2];
	for (let k = first; k < last; k++) if (turn(k) > sharp && turn(k - 1) < smooth && turn(k + 1) < smooth) count++;
	return count;
}
