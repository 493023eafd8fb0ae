import type { Model } from '../recipe/model/model.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import type { Region } from '../domain/regions.ts';
import type { Report } from '../findings/report.ts';

/** What a check of the shape works on. */
export interface ShapeCheck {
	model: Model;
	arrangement: Arrangement;
	regions: readonly Region[];
	report: Report;
}

/** By piece, the last curve that runs over it. */
export function curveOfPieces({ byCurve, pieces }: Arrangement): Int32Array {
	const curveOf = new Int32Array(pieces.length).fill(-1);
	for (const [c, list] of byCurve.entries()) for (const { piece } of list) curveOf[piece] = c;
	return curveOf;
}

/** The recipe's text of a thing of a statement, by its offsets there. */
export function sourceText(model: Model, line: number, { from, to }: { from: number; to: number }): string {
	const base = model.recipe.lines[line]!.from;
	return model.recipe.text.slice(base + from, base + to);
}
