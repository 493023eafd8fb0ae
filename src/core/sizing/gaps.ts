import Flatbush from 'flatbush';
import { hypot } from '../numeric/elementary.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { flatten, partPoint } from '../geometry/parts.ts';

/** What widens faster than this from a junction, as from one of 30° or more, is a corner and no gap. */
const cornerSlope = 0.57;

/**
 * The width of the gap beside a place of a piece: the way, at right angles, to the next piece, on
 * the sides that are meshed. Toward a piece that meets this one in a junction it counts where it is
 * narrow for the way to that junction; what widens faster is a corner, whose angle decides. Infinity
 * where nothing lies within reach.
 */
export function gapsBeside(
	arrangement: Arrangement,
	isFilled: (side: number) => boolean
): (p: number, fraction: number, reach: number) => number {
	const { pieces, diagonal } = arrangement;
	const lines = pieces.map((piece) => flatten(piece, 5e-5 * diagonal));
	const count = lines.reduce((sum, line) => sum + line.length / 2 - 1, 0);
	const tree = new Flatbush(Math.max(1, count));
	const segments = new Float64Array(4 * count);
	const owner = new Uint32Array(count);
	let s = 0;
	for (const [p, line] of lines.entries())
		for (let k = 0; k + 3 < line.length; k += 2) {
			owner[s] = p;
			segments.set(line.subarray(k, k + 4), 4 * s++);
			tree.add(
				Math.min(line[k]!, line[k + 2]!),
				Math.min(line[k + 1]!, line[k + 3]!),
				Math.max(line[k]!, line[k + 2]!),
				Math.max(line[k + 1]!, line[k + 3]!)
			);
		}
	if (count === 0) tree.add(0, 0, 0, 0);
	tree.finish();
	/** The way to the first crossing of a ray with any segment, within reach; Infinity where there is none. */
	const ray = (p: number, along: number, x: number, y: number, dx: number, dy: number, reach: number): number => {
		const { start, end, length } = pieces[p]!;
		const toJunction = (j: number) =>
			Math.min(j === start ? along * length : Infinity, j === end ? (1 - along) * length : Infinity);
		let least = Infinity;
		const [ex, ey] = [x + reach * dx, y + reach * dy];
		for (const k of tree.search(Math.min(x, ex), Math.min(y, ey), Math.max(x, ex), Math.max(y, ey))) {
			const [ax, ay] = [segments[4 * k]!, segments[4 * k + 1]!];
			const [ux, uy] = [segments[4 * k + 2]! - ax, segments[4 * k + 3]! - ay];
			const cross = dx * uy - dy * ux;
			if (cross === 0) continue;
			const t = ((ax - x) * uy - (ay - y) * ux) / cross;
			const v = ((ax - x) * dy - (ay - y) * dx) / cross;
			// A curve is its own polyline only so far.
			const nearest = owner[k] === p ? 1e-3 * diagonal : 1e-7 * diagonal;
			if (!(t > nearest && t < least && t <= reach && v >= 0 && v <= 1)) continue;
			const other = pieces[owner[k]!]!;
			const away = owner[k] === p ? Infinity : Math.min(toJunction(other.start), toJunction(other.end));
			if (t <= cornerSlope * away) least = t;
		}
		return least;
	};
	return (p, fraction, reach) => {
		if (!isFilled(2 * p) && !isFilled(2 * p + 1)) return Infinity;
		const piece = pieces[p]!;
		const step = 1e-4;
		const [a, b] = [Math.max(0, fraction - step), Math.min(1, fraction + step)];
		const [from, to] = [partPoint(piece, a, piece.length), partPoint(piece, b, piece.length)];
		const length = hypot(to.x - from.x, to.y - from.y) || 1;
		const [tx, ty] = [(to.x - from.x) / length, (to.y - from.y) / length];
		// The ends stand on other pieces: a little inside the ray sees the true width.
		const inside = Math.min(0.98, Math.max(0.02, fraction));
		const at = partPoint(piece, inside, piece.length);
		let least = Infinity;
		if (isFilled(2 * p)) least = Math.min(least, ray(p, inside, at.x, at.y, -ty, tx, reach));
		if (isFilled(2 * p + 1)) least = Math.min(least, ray(p, inside, at.x, at.y, ty, -tx, reach));
		return least;
	};
}
