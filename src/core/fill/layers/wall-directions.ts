import { LINE, type Point } from '../../geometry/curve.ts';
import { isStraight, partDirections } from '../../geometry/parts.ts';
import type { Piece } from '../../geometry/pieces.ts';
import type { Division } from '../../divide/division.ts';
import type { FillJob } from '../method.ts';

/** Directions along pieces, by the coordinates that their nodes have: these stay the same as long as nothing has changed. */
const cache = new WeakMap<Float64Array, Float64Array>();

/**
 * The directions of the true curves along walls: for every edge the unit vectors in which its curve leaves its start and
 * comes to its end, four numbers. NaN where there is no wall, and along the lines of a polyline: these are no smooth curve,
 * and its nodes tell its direction better. Undefined where all walls are straight, as their edges have it already.
 */
export function wallDirections(
	{ domain: { arrangement }, divisions, halves }: Pick<FillJob, 'domain' | 'divisions' | 'halves'>,
	wallOf: Int32Array
): Float64Array | undefined {
	const isCurved = (half: number, e: number) => wallOf[e]! >= 0 && !isStraight(arrangement.pieces[half >> 1]!);
	if (!halves.some(isCurved)) return undefined;
	const directions = new Float64Array(4 * halves.length).fill(NaN);
	for (let e = 0; e < halves.length;) {
		const half = halves[e]!;
		const [piece, division] = [arrangement.pieces[half >> 1]!, divisions[half >> 1]!];
		if (wallOf[e]! >= 0) {
			const forward = along(piece, division);
			directions.set(half & 1 ? turned(forward) : forward, 4 * e);
		}
		e += division.count;
	}
	return directions;
}

/** The same the other way. */
function turned(directions: Float64Array): Float64Array {
	const out = new Float64Array(directions.length);
	// From the last edge to the first, its end before its start.
	for (let k = 0; k < directions.length; k += 2) {
		out[directions.length - 2 - k] = -directions[k]!;
		out[directions.length - 1 - k] = -directions[k + 1]!;
	}
	return out;
}

function along(piece: Piece, division: Division): Float64Array {
	let list = cache.get(division.x);
	if (!list) cache.set(division.x, (list = directionsOf(piece, division)));
	return list;
}

function directionsOf(piece: Piece, { at, count }: Division): Float64Array {
	const list = new Float64Array(4 * count).fill(NaN);
	const put = (slot: number, { direction, kind }: { direction: Point; kind: number }) => {
		if (kind === LINE && !isStraight(piece)) return;
		list[slot] = direction.x;
		list[slot + 1] = direction.y;
	};
	for (let k = 0; k <= count; k++) {
		const { before, after } = partDirections(piece, at[k]!, piece.length);
		if (k > 0) put(4 * k - 2, before);
		if (k < count) put(4 * k, after);
	}
	return list;
}
