import { addTo } from '../numeric/lists.ts';
import { atan2 } from '../numeric/elementary.ts';
import { tangent } from '../geometry/build.ts';
import { segmentCount, type Point } from '../geometry/curve.ts';
import type { Piece } from '../geometry/pieces.ts';
import { dropPoints } from './points-of-curves.ts';
import { placeText, short } from '../text/sentences.ts';
import type { ShapeCheck } from './shape-check.ts';
import type { Finding } from '../text/finding.ts';

/** A piece shorter than this share of both its neighbours is doubtful. */
const tooShort = 2e-3;
/** A corner of a filled region sharper than this, in degrees, is told. */
const tooSharp = 20;

/** Pieces far shorter than their neighbours on a curve. */
export function checkShortPieces({ model, arrangement, report }: ShapeCheck): void {
	const { byCurve, pieces, x, y, degree } = arrangement;
	const neighbours = new Map<number, number[]>();
	pieces.forEach((piece, p) => {
		for (const j of [piece.start, piece.end]) addTo(neighbours, j, p);
	});
	const curveOf = new Map<number, { c: number; k: number }>();
	byCurve.forEach((list, c) => list.forEach(({ piece }, k) => curveOf.set(piece, { c, k })));
	const list: Finding[] = [];
	pieces.forEach((piece, p) => {
		if (degree[piece.start] === 1 || degree[piece.end] === 1 || piece.start === piece.end) return;
		const longestAt = (j: number) =>
			Math.min(
				...neighbours
					.get(j)!
					.filter((q) => q !== p)
					.map((q) => pieces[q]!.length)
			);
		const least = Math.min(longestAt(piece.start), longestAt(piece.end));
		if (!(piece.length < tooShort * least)) return;
		const at = { x: x[piece.start]!, y: y[piece.start]! };
		const { c } = curveOf.get(p)!;
		const number = Math.floor(piece.t1) === piece.t1 ? piece.t1 % segmentCount(piece.curve) : undefined;
		const mend = number === undefined || segmentCount(piece.curve) < 3 ? undefined : dropPoints(model, c, [number]);
		list.push({
			severity: 'warning',
			code: 'short-piece',
			message: `a piece of \`${piece.curve.name}\` at ${placeText(at)} is ${short(piece.length)} long, ${Math.round(least / piece.length)} times shorter than its neighbours; elements there become as small`,
			at,
			pieces: [p],
			...(mend ? { mend: { ...mend, label: `Merge it: ${mend.label.toLowerCase()}` } } : {})
		});
	});
	report.tell(list, (n) => `${n} pieces are far shorter than their neighbours`);
}

/** Corners of filled regions that are so sharp that the elements in them must be poor. */
export function checkSharpCorners({ arrangement, regions, report }: ShapeCheck): void {
	const { faces, pieces, x, y } = arrangement;
	const list: Finding[] = [];
	for (const region of regions) {
		if (region.fill === 'none') continue;
		for (const walk of [faces[region.face]!.outer, ...faces[region.face]!.inner])
			walk.forEach((h, k) => {
				const next = walk[(k + 1) % walk.length]!;
				// The turn-round at the tip of an inner edge is a full turn, no corner.
				if ((h ^ 1) === next) return;
				const [arriving, leaving] = [direction(h, pieces, false), direction(next, pieces, true)];
				const turn = atan2(arriving.x * leaving.y - arriving.y * leaving.x, arriving.x * leaving.x + arriving.y * leaving.y);
				const angle = 180 - (turn * 180) / Math.PI;
				if (angle >= tooSharp) return;
				const j = next & 1 ? pieces[next >> 1]!.end : pieces[next >> 1]!.start;
				const at = { x: x[j]!, y: y[j]! };
				list.push({
					severity: 'note',
					code: 'sharp-corner',
					message: `the corner of \`${region.name}\` at ${placeText(at)} has ${short(Number(angle.toFixed(2)))}°; ${region.fill === 'structured' ? 'the cells in it are as skewed' : 'a triangle in it has an angle no larger than that'}`,
					at,
					pieces: [h >> 1, next >> 1]
				});
			});
	}
	report.tell(
		list,
		(n) => `${n} corners of filled regions are sharper than ${tooSharp}°; triangles in them have angles no larger`
	);
}

/** The unit direction of a half-piece at its start (`leaving`) or end. */
function direction(h: number, pieces: readonly Piece[], leaving: boolean): Point {
	const { curve, t0, t1 } = pieces[h >> 1]!;
	const count = segmentCount(curve);
	const forward = (h & 1) === 0;
	const atStart = leaving === forward;
	const t = atStart ? t0 : t1;
	const segment = atStart ? Math.floor(t) : Math.ceil(t) - 1;
	const d = tangent(curve, segment % count, t - segment);
	return forward ? d : { x: -d.x, y: -d.y };
}
