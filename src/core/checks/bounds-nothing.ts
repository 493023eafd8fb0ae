import { removeStatement } from '../recipe/edits/edits.ts';
import { partPoint } from '../geometry/parts.ts';
import type { CurvePiece } from '../geometry/pieces.ts';
import type { ShapeCheck } from './shape-check.ts';
import type { Finding } from '../text/finding.ts';

/** Curves that neither bound a face nor lie in one: no mesh will know of them. */
export function checkUseless({ model, arrangement, report }: ShapeCheck): void {
	const { byCurve, pieces, sides, curves, faces } = arrangement;
	// While nothing is closed yet, the drawing is under way.
	if (faces.length === 0) return;
	const list: Finding[] = [];
	let curvesOfLine: Map<number, number> | undefined;
	for (const [c, curvePieces] of byCurve.entries()) {
		if (curvePieces.length === 0 || isAtFace(curvePieces, sides)) continue;
		curvesOfLine ??= countsOf(model.curveLines);
		const piece = pieces[curvePieces[0]!.piece]!;
		const at = partPoint(piece, 0.5, piece.length);
		const line = model.curveLines[c]!;
		const alone = curvesOfLine.get(line) === 1;
		list.push(
			report.finding(
				'bounds-nothing',
				{ curve: curves[c]!.name, at },
				{
					at,
					pieces: curvePieces.map((p) => p.piece),
					...(alone ? { mend: removeStatement(model.recipe, line) } : {})
				}
			)
		);
	}
	report.addAll(list);
}

/** Whether one of the pieces of a curve has a face beside it. */
function isAtFace(pieces: readonly CurvePiece[], sides: Int32Array): boolean {
	for (const { piece } of pieces) if (sides[2 * piece]! >= 0 || sides[2 * piece + 1]! >= 0) return true;
	return false;
}

/** How often a list has each number. */
function countsOf(numbers: readonly number[]): Map<number, number> {
	const counts = new Map<number, number>();
	for (const number of numbers) counts.set(number, (counts.get(number) ?? 0) + 1);
	return counts;
}
