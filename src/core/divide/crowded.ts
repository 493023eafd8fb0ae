import { pieceNames } from '../domain/references.ts';
import type { Report } from '../findings/report.ts';
import type { Point } from '../geometry/curve.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { formatNumber } from '../recipe/language/literals.ts';
import type { Recipe } from '../recipe/language/recipe.ts';
import type { Crowded } from '../sizing/demands.ts';
import type { TextEdit } from '../text/edit.ts';
import type { Finding } from '../text/finding.ts';
import { placeText } from '../text/sentences.ts';

/** Noise up to this share of the size is thinned by the mend. */
const noiseOverSize = 1 / 10;

/** Pieces that are divided far more finely than their sizes ask, because of how they bend or of what lies beside them. */
export class CrowdedPieces {
	private readonly found: { piece: number; at: Point; crowded: Crowded }[] = [];

	constructor(private readonly arrangement: Arrangement) {}

	take(piece: number, at: Point, crowded: Crowded): void {
		this.found.push({ piece, at, crowded });
	}

	report(report: Report, recipe: Recipe): void {
		if (this.found.length === 0) return;
		const names = pieceNames(this.arrangement);
		report.addAll(
			this.found.map(({ piece, at, crowded }): Finding => {
				const { count, plain, size, wanted, reason } = crowded;
				const mend = reason === 'bend' ? thin(recipe, this.arrangement.pieces[piece]!.curve.name, wanted) : undefined;
				return report.finding(
					'crowded',
					{ piece: names[piece]!, at: placeText(at), count: Math.round(count), plain: Math.round(plain), size, reason },
					{ at, pieces: [piece], ...(mend ? { mend } : {}) }
				);
			})
		);
	}
}

/** The edit that thins the polyline of a file; undefined for other curves, and where it is thinned already. */
function thin(recipe: Recipe, curve: string, size: number): TextEdit[] | undefined {
	const line = recipe.lines.find(
		({ statement }) =>
			statement?.kind === 'polyline' && 'name' in statement && (statement.name as { text: string }).text === curve
	);
	const statement = line?.statement;
	if (!line || !statement || !('file' in statement) || !statement.file || ('thinned' in statement && statement.thinned))
		return undefined;
	// It belongs to the file, before what is said of corners.
	const named = /from\s+"[^"]*"/.exec(recipe.text.slice(line.from, line.to));
	if (!named) return undefined;
	const after = line.from + named.index + named[0].length;
	return [{ from: after, to: after, insert: ` thinned within ${formatNumber(Number((noiseOverSize * size).toPrecision(2)))}` }];
}
