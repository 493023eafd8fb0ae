import { atan2, hypot } from '../../numeric/elementary.ts';
import type { Arrangement, Walk } from '../../shape/arrangement.ts';
import { tangent } from '../../shape/build.ts';
import { segmentCount, type Point } from '../../shape/curve.ts';

/**
 * A four-sided region: its outer walk cut at four corners. Side k runs from corner k to corner
 * k + 1, counter-clockwise; sides 0 and 2 face one another, so do 1 and 3.
 */
export interface Block {
	sides: [Walk, Walk, Walk, Walk];
}

/** Why a region is no block, with the place. */
export interface BlockRefusal {
	reason: string;
	at?: Point;
}

/** The turn from which a junction may serve as a corner when none is named. */
const leastTurn = (25 * Math.PI) / 180;

/** Cuts the outline of a face into the four sides of a block, at the corners given or at its four sharpest. */
export function findBlock(arrangement: Arrangement, faceIndex: number, corners?: readonly Point[]): Block | BlockRefusal {
	const face = arrangement.faces[faceIndex]!;
	const { pieces, x, y } = arrangement;
	if (face.inner.length > 0) {
		const start = pieces[face.inner[0]![0]! >> 1]!.start;
		return {
			reason: 'it has a hole or a loose curve inside; a structured region has neither',
			at: { x: x[start]!, y: y[start]! }
		};
	}
	const walk = face.outer;
	const junctions = walk.map((h) => (h & 1 ? pieces[h >> 1]!.end : pieces[h >> 1]!.start));
	if (new Set(junctions).size < junctions.length)
		return { reason: 'its outline touches itself or has a curve hanging inside; a structured region has a simple outline' };
	if (walk.length < 4)
		return {
			reason: `its outline has ${walk.length} piece${walk.length === 1 ? '' : 's'}, and four sides need at least four; cut the outline with points or lines`
		};
	const chosen = corners ? namedCorners(arrangement, junctions, corners) : sharpestCorners(arrangement, walk);
	if (!Array.isArray(chosen)) return chosen;
	const sides = chosen.map((from, k) => {
		const to = chosen[(k + 1) % 4]!;
		return to > from ? walk.slice(from, to) : [...walk.slice(from), ...walk.slice(0, to)];
	});
	return { sides: sides as Block['sides'] };
}

/** Places along the walk of the corners given, in walking order from the first one given. */
function namedCorners(arrangement: Arrangement, junctions: number[], corners: readonly Point[]): number[] | BlockRefusal {
	const places: number[] = [];
	for (const corner of corners) {
		const place = junctions.findIndex(
			(j) => hypot(arrangement.x[j]! - corner.x, arrangement.y[j]! - corner.y) <= 2 * arrangement.tolerance
		);
		if (place < 0) return { reason: `the corner (${corner.x}, ${corner.y}) is no junction of its outline`, at: corner };
		if (places.includes(place)) return { reason: `the corner (${corner.x}, ${corner.y}) is given twice`, at: corner };
		places.push(place);
	}
	const first = places[0]!;
	return places.sort((a, b) => order(a, first, junctions.length) - order(b, first, junctions.length));
}

const order = (place: number, first: number, count: number) => (place - first + count) % count;

/** The four places with the sharpest left turn; of equal ones the earlier along the walk. */
function sharpestCorners(arrangement: Arrangement, walk: Walk): number[] | BlockRefusal {
	const turns = walk.map((h, k) => turnAt(arrangement, walk.at(k - 1)!, h));
	const ranked = walk.map((_, k) => k).sort((a, b) => (Math.abs(turns[b]! - turns[a]!) > 1e-9 ? turns[b]! - turns[a]! : a - b));
	const sharp = ranked.slice(0, 4);
	const weakest = sharp[3]!;
	if (turns[weakest]! < leastTurn) {
		const count = turns.filter((t) => t >= leastTurn).length;
		const h = walk[weakest]!;
		const piece = arrangement.pieces[h >> 1]!;
		const j = h & 1 ? piece.end : piece.start;
		return {
			reason: `only ${count} of its junctions ${count === 1 ? 'is a corner' : 'are corners'}; name the four with \`corners\``,
			at: { x: arrangement.x[j]!, y: arrangement.y[j]! }
		};
	}
	return sharp.sort((a, b) => a - b);
}

/** How far the walk turns left from half-piece g to half-piece h, in (−π, π]. */
function turnAt(arrangement: Arrangement, g: number, h: number): number {
	const arriving = direction(arrangement, g, 'end');
	const leaving = direction(arrangement, h, 'start');
	return atan2(arriving.x * leaving.y - arriving.y * leaving.x, arriving.x * leaving.x + arriving.y * leaving.y);
}

/** Travelling direction of a half-piece at its own start or end. */
function direction(arrangement: Arrangement, h: number, at: 'start' | 'end'): Point {
	const { curve, t0, t1 } = arrangement.pieces[h >> 1]!;
	const atLow = (at === 'start') === !(h & 1);
	const t = atLow ? t0 : t1;
	const segment = atLow ? Math.floor(t) : Math.ceil(t) - 1;
	const d = tangent(curve, segment % segmentCount(curve), t - segment, atLow);
	return h & 1 ? { x: -d.x, y: -d.y } : d;
}
