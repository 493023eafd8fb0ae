import { curveLength, pointAt } from '../geometry/curve.ts';
import { partPoint } from '../geometry/parts.ts';
import type { CurvePiece } from '../geometry/pieces.ts';
import type { Finding } from '../text/finding.ts';
import type { ShapeCheck } from './shape-check.ts';

/** Curves too small to be distinguished from a point, and outlines that close around nothing: the mesh would lack them without a word. */
export function checkVanishing({ arrangement, report }: ShapeCheck): void {
	const { byCurve, curves, pieces, sides, tangled, vanished, tolerance } = arrangement;
	const list: Finding[] = [];
	const leftOut = new Set(tangled);
	const found = new Set<string>();
	for (const [c, curve] of curves.entries()) {
		const curvePieces = byCurve[c]!;
		if (leftOut.has(c)) {
			const at = pointAt(curve, 0);
			list.push(report.finding('too-many-crossings', { curve: curve.name }, { at, pieces: [] }));
		} else if (curvePieces.length === 0) {
			const at = pointAt(curve, 0);
			list.push(
				report.finding(
					'curve-vanishes',
					{ curve: curve.name, at, length: curveLength(curve), reach: 2 * tolerance },
					{ at, pieces: [] }
				)
			);
		} else if (curve.closed && isSameOnBothSides(curvePieces, sides)) {
			const first = pieces[curvePieces[0]!.piece]!;
			const at = partPoint(first, 0.5, first.length);
			found.add(curve.name);
			list.push(
				report.finding(
					'encloses-nothing',
					{ curve: curve.name, at, retraced: true },
					{ at, pieces: curvePieces.map(({ piece }) => piece) }
				)
			);
		}
	}
	for (const p of vanished) {
		const piece = pieces[p]!;
		if (found.has(piece.curve.name)) continue;
		const at = partPoint(piece, 0.5, piece.length);
		list.push(report.finding('encloses-nothing', { curve: piece.curve.name, at, retraced: false }, { at, pieces: [p] }));
	}
	report.addAll(list);
}

/** Whether every piece of a curve has the same face, or none, on both sides. */
function isSameOnBothSides(pieces: readonly CurvePiece[], sides: Int32Array): boolean {
	for (const { piece } of pieces) if (sides[2 * piece] !== sides[2 * piece + 1]) return false;
	return true;
}
