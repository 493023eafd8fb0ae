import { atan2 } from '../numeric/elementary.ts';
import { cachedFor } from '../numeric/cached-for.ts';
import { pooledOf } from '../numeric/pooled.ts';
import { segmentCount } from '../geometry/curve.ts';
import { leavingDirection } from '../geometry/parts.ts';
import type { Arrangement, Piece } from '../geometry/pieces.ts';
import { dropPoints } from './points-of-curves.ts';
import { curveOfPieces, type ShapeCheck } from './shape-check.ts';
import type { Finding } from '../text/finding.ts';

/** A piece shorter than this share of both its neighbours is doubtful. */
const tooShort = 2e-3;
/** A corner of a filled region sharper than this, in degrees, is reported. */
const tooSharp = 20;
/** At such a corner the directions run against one another by more than this: the cosine of the sharpest, and a little room. */
const leastAgainst = 0.93;

/** Pieces far shorter than their neighbours on a curve. */
export function checkShortPieces({ model, arrangement, report }: ShapeCheck): void {
	const { pieces, x, y, degree } = arrangement;
	const shortest = shortestAt(arrangement);
	let curveOf: Int32Array | undefined;
	const list: Finding[] = [];
	for (const [p, piece] of pieces.entries()) {
		const { start, end } = piece;
		if (degree[start] === 1 || degree[end] === 1 || start === end) continue;
		const least = Math.min(shortestBeside(shortest, start, p), shortestBeside(shortest, end, p));
		if (!(piece.length < tooShort * least)) continue;
		const at = { x: x[piece.start]!, y: y[piece.start]! };
		curveOf ??= curveOfPieces(arrangement);
		const c = curveOf[p]!;
		const number = Math.floor(piece.t1) === piece.t1 ? piece.t1 % segmentCount(piece.curve) : undefined;
		const mend = number === undefined || segmentCount(piece.curve) < 3 ? undefined : dropPoints(model, c, [number]);
		list.push(
			report.finding(
				'short-piece',
				{ curve: piece.curve.name, at, length: piece.length, times: Math.round(least / piece.length) },
				{ at, pieces: [p], ...(mend ? { mend: { ...mend, label: `Merge it: ${mend.label.toLowerCase()}` } } : {}) }
			)
		);
	}
	report.addAll(list);
}

/** The lengths of the two shortest pieces at each junction, and which is the shortest. */
interface Shortest {
	first: Float64Array;
	second: Float64Array;
	firstOf: Int32Array;
}

function shortestAt({ pieces, x }: Arrangement): Shortest {
	const [first, second] = [new Float64Array(x.length).fill(Infinity), new Float64Array(x.length).fill(Infinity)];
	const firstOf = new Int32Array(x.length).fill(-1);
	for (const [p, { start, end, length }] of pieces.entries())
		for (let j = start, k = 0; k < (start === end ? 1 : 2); j = end, k++)
			if (length < first[j]!) {
				second[j] = first[j]!;
				first[j] = length;
				firstOf[j] = p;
			} else if (length < second[j]!) second[j] = length;
	return { first, second, firstOf };
}

/** The length of the shortest piece at a junction, other than one. */
const shortestBeside = ({ first, second, firstOf }: Shortest, junction: number, piece: number): number =>
	firstOf[junction] === piece ? second[junction]! : first[junction]!;

/** Corners of filled regions that are so sharp that the elements in them must be poor. */
export function checkSharpCorners({ arrangement, regions, report }: ShapeCheck): void {
	const { faces, pieces, x, y } = arrangement;
	const list: Finding[] = [];
	for (const region of regions) {
		if (region.fill === 'none') continue;
		for (const walk of [faces[region.face]!.outer, ...faces[region.face]!.inner])
			for (const [k, h] of walk.entries()) {
				const next = walk[(k + 1) % walk.length]!;
				// The turn-round at the tip of an inner edge is a full turn, no corner.
				if ((h ^ 1) === next) continue;
				const [arriving, leaving] = [directionsOf(pieces[h >> 1]!, 0), directionsOf(pieces[next >> 1]!, 0)];
				// Against its piece a half-piece leaves where that arrives.
				const [a, b, sign] = [h & 1 ? 0 : 2, next & 1 ? 2 : 0, (h ^ next) & 1 ? -1 : 1];
				const along = sign * (arriving[a]! * leaving[b]! + arriving[a + 1]! * leaving[b + 1]!);
				if (along > -leastAgainst) continue;
				const across = sign * (arriving[a]! * leaving[b + 1]! - arriving[a + 1]! * leaving[b]!);
				const angle = 180 - (atan2(across, along) * 180) / Math.PI;
				if (angle >= tooSharp) continue;
				const j = next & 1 ? pieces[next >> 1]!.end : pieces[next >> 1]!.start;
				const at = { x: x[j]!, y: y[j]! };
				list.push(
					report.finding(
						'sharp-corner',
						{ region: region.name, at, angle: Number(angle.toFixed(2)), structured: region.fill === 'structured' },
						{ at, pieces: [h >> 1, next >> 1] }
					)
				);
			}
	}
	report.addAll(list);
}

/** The unit directions in which a piece leaves its start, and arrives at its end: x, y of each. */
const directionsOf = cachedFor((piece: Piece): Float64Array => {
	const [leaving, arriving] = [leavingDirection(piece, 'start'), leavingDirection(piece, 'end')];
	return pooledOf([leaving.x, leaving.y, -arriving.x, -arriving.y]);
});
