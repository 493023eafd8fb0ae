import type { Report } from '../text/report.ts';
import type { Arrangement, CurvePiece } from '../geometry/pieces.ts';
import type { Model } from '../recipe/model.ts';
import type { CurveReference } from '../recipe/syntax.ts';
import { didYouMean } from '../text/nearest.ts';

/**
 * The pieces that references of one statement stand for, in order.
 *
 * @param report about that statement; it is told what names nothing
 */
export function resolvePieces(
	{ curvesByName }: Model,
	arrangement: Arrangement,
	references: readonly CurveReference[],
	report: Report
): CurvePiece[] {
	return references.flatMap((reference) => {
		const curves = curvesByName.get(reference.name);
		const complain = (message: string): CurvePiece[] => {
			report.error('unknown-curve', message, { within: reference });
			return [];
		};
		if (!curves) return complain(`no curve is named \`${reference.name}\`${didYouMean(reference.name, curvesByName.keys())}`);
		const own = curves.flatMap((c) => arrangement.byCurve[c]!);
		if (reference.piece === undefined) return own;
		const piece = own[reference.piece - 1];
		if (piece) return [piece];
		return complain(
			`\`${reference.name}\` has ${own.length} piece${own.length === 1 ? '' : 's'}; there is no piece ${reference.piece}`
		);
	});
}

/** The shortest reference to every piece: the curve's name where it has one piece, `wall[2]` otherwise. */
export function pieceNames(arrangement: Arrangement): string[] {
	const names = new Array<string>(arrangement.pieces.length);
	arrangement.byCurve.forEach((list, c) => {
		const name = arrangement.curves[c]!.name;
		list.forEach(({ piece }, k) => (names[piece] ??= list.length === 1 ? name : `${name}[${k + 1}]`));
	});
	return names;
}
