import { curveLength, pointAt } from '../geometry/curve.ts';
import { partPoint } from '../geometry/parts.ts';
import type { CurvePiece } from '../geometry/pieces.ts';
import { placeText, short } from '../text/sentences.ts';
import type { Finding } from '../text/finding.ts';
import type { ShapeCheck } from './shape-check.ts';

/** Curves too small to be told from a point, and outlines that close around nothing: the mesh would lack them without a word. */
export function checkVanishing({ arrangement, report }: ShapeCheck): void {
	const { byCurve, curves, pieces, sides, tangled, vanished, tolerance } = arrangement;
	const list: Finding[] = [];
	const leftOut = new Set(tangled);
	const found = new Set<string>();
	const warn = (code: string, message: string, at: { x: number; y: number }, of: number[]) => {
		list.push({ severity: 'error', code, message, at, pieces: of });
	};
	for (const [c, curve] of curves.entries()) {
		const curvePieces = byCurve[c]!;
		if (leftOut.has(c)) {
			const at = pointAt(curve, 0);
			warn(
				'too-many-crossings',
				`“${curve.name}” meets itself or other curves, or runs beside them, more often than can be worked out, so it is left out; thin it, smooth it, or leave out what it crosses`,
				at,
				[]
			);
		} else if (curvePieces.length === 0) {
			const at = pointAt(curve, 0);
			warn(
				'curve-vanishes',
				`“${curve.name}” at ${placeText(at)} is ${short(curveLength(curve))} long, and points nearer than ${short(2 * tolerance)} are one here, so nothing is left of it; draw it larger, or nearer the origin`,
				at,
				[]
			);
		} else if (curve.closed && isSameOnBothSides(curvePieces, sides)) {
			const first = pieces[curvePieces[0]!.piece]!;
			const at = partPoint(first, 0.5, first.length);
			found.add(curve.name);
			warn(
				'encloses-nothing',
				`“${curve.name}” closes at ${placeText(at)} but encloses nothing: the outline has zero area, it retraces itself`,
				at,
				curvePieces.map(({ piece }) => piece)
			);
		}
	}
	for (const p of vanished) {
		const piece = pieces[p]!;
		if (found.has(piece.curve.name)) continue;
		const at = partPoint(piece, 0.5, piece.length);
		warn(
			'encloses-nothing',
			`the outline with “${piece.curve.name}” at ${placeText(at)} closes but encloses nothing that can be told from rounding; move its sides apart`,
			at,
			[p]
		);
	}
	report.reportAll(list, (n) => `${n} curves vanish or close around nothing`);
}

/** Whether every piece of a curve has the same face, or none, on both sides. */
function isSameOnBothSides(pieces: readonly CurvePiece[], sides: Int32Array): boolean {
	for (const { piece } of pieces) if (sides[2 * piece] !== sides[2 * piece + 1]) return false;
	return true;
}
