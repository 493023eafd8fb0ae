import type { Finding } from '../text/finding.ts';
import type { Model } from '../recipe/model.ts';
import { didYouMean } from '../text/nearest.ts';
import type { CurveReference } from '../recipe/syntax.ts';
import type { Arrangement, CurvePiece } from '../geometry/pieces.ts';

/** The pieces that references of one statement stand for, in order; what they miss is reported. */
export function resolvePieces(
	model: Model,
	arrangement: Arrangement,
	line: number,
	references: readonly CurveReference[],
	findings: Finding[]
): CurvePiece[] {
	const pieces: CurvePiece[] = [];
	for (const reference of references) {
		const curves = model.curvesByName.get(reference.name);
		const base = model.recipe.lines[line]!.from;
		const complain = (message: string) =>
			findings.push({
				severity: 'error',
				code: 'unknown-curve',
				message,
				span: { from: base + reference.from, to: base + reference.to }
			});
		if (!curves) {
			complain(`no curve is named \`${reference.name}\`${didYouMean(reference.name, model.curvesByName.keys())}`);
			continue;
		}
		const own = curves.flatMap((c) => arrangement.byCurve[c]!);
		if (reference.piece === undefined) pieces.push(...own);
		else if (own[reference.piece - 1]) pieces.push(own[reference.piece - 1]!);
		else
			complain(
				`\`${reference.name}\` has ${own.length} piece${own.length === 1 ? '' : 's'}; there is no piece ${reference.piece}`
			);
	}
	return pieces;
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
