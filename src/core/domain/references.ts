import { counted } from '../text/sentences.ts';
import { cachedFor } from '../numeric/cached-for.ts';
import type { Report } from '../findings/report.ts';
import type { Arrangement, CurvePiece } from '../geometry/pieces.ts';
import type { Model } from '../recipe/model/model.ts';
import type { CurveReference, PieceSet } from '../recipe/language/syntax.ts';
import { chainBetween, type NamedFace, piecesOfSet } from './piece-sets.ts';
import type { Mend } from '../text/finding.ts';
import { didYouMean } from '../text/nearest.ts';

/**
 * The pieces that references of one statement stand for, in order.
 *
 * @param report about that statement; names without a curve are reported there
 * @param regions for descriptions; without them nothing is filled
 */
export function resolvePieces(
	model: Model,
	arrangement: Arrangement,
	references: readonly CurveReference[],
	report: Report,
	regions: readonly NamedFace[] = []
): CurvePiece[] {
	const { curvesByName } = model;
	return references.flatMap((reference) => {
		const complain = (message: string, mends?: readonly Mend[]): CurvePiece[] => {
			report.add('unknown-curve', { message }, { within: reference, mends });
			return [];
		};
		const found = reference.found ?? namedSet(reference, curvesByName);
		if (found) {
			const resolve = (list: readonly CurveReference[], of = report) => resolvePieces(model, arrangement, list, of, regions);
			return piecesOfSet(found, { source: reference.name, ...reference }, { model, arrangement, regions, report, resolve });
		}
		if (reference.through) {
			const { through, ...first } = reference;
			const ends = [first, through].map((one) => resolvePieces(model, arrangement, [one], report, regions));
			const [from, to] = [ends[0]![0], ends[1]!.at(-1)];
			if (!from || !to) return [];
			const chain = chainBetween(arrangement, from, to);
			return chain.length > 0 ? chain : complain(`no way leads along curves from “${reference.name}” to “${through.name}”`);
		}
		const curves = curvesByName.get(reference.name);
		if (!curves) {
			// An error in the statement of a curve is reported there alone.
			if (model.failed.has(reference.name)) return [];
			return complain(...unknownCurve(model, reference));
		}
		const pieces = curves.flatMap((c) => arrangement.byCurve[c]!);
		if (reference.piece === undefined) return pieces;
		const piece = pieces[reference.piece - 1];
		if (piece) return [piece];
		return complain(`“${reference.name}” has ${counted(pieces.length, 'piece')}; there is no piece ${reference.piece}`);
	});
}

/** What is said of a name that no curve has: one that is a region's, one that is written a little otherwise, or none. */
function unknownCurve({ curvesByName, guides, stated: { region = [] } }: Model, reference: CurveReference): [string, Mend[]] {
	const { name, from } = reference;
	if (guides.some((guide) => guide.name === name))
		return [`“${name}” is a guide, which has no pieces; without “guide” it has`, []];
	if (region.some((r) => (r as { name?: string }).name === name))
		return [
			`“${name}” is a region, and pieces of curves stand here; regions are written “region ${name}”`,
			[{ label: `Write “region ${name}”`, edits: [{ from, to: from, insert: 'region ' }] }]
		];
	const guess = didYouMean(name, curvesByName.keys());
	const names = [...curvesByName.keys()];
	const others = names.length > 0 && names.length <= mostListed ? `; there are ${names.join(', ')}` : '';
	return [`no curve is named “${name}”${guess || others}`, []];
}

/** So many names are listed where one is not known. */
const mostListed = 12;

/** The outline, or what is in no group, by its word alone, unless a curve has that name. */
const namedSet = ({ name, piece }: CurveReference, curves: ReadonlyMap<string, unknown>): PieceSet | undefined =>
	(name === 'outer' || name === 'rest') && piece === undefined && !curves.has(name) ? { kind: name } : undefined;

/** The shortest reference to every piece: the curve's name where it has one piece, `wall[2]` otherwise. */
export const pieceNames = (arrangement: Arrangement): readonly string[] => namesOf(arrangement, 0);

const namesOf = cachedFor(({ pieces, byCurve, curves }: Arrangement): readonly string[] => {
	const names = new Array<string>(pieces.length);
	for (const [c, list] of byCurve.entries()) {
		const { name } = curves[c]!;
		for (const [k, { piece }] of list.entries()) names[piece] ??= list.length === 1 ? name : `${name}[${k + 1}]`;
	}
	return names;
});
