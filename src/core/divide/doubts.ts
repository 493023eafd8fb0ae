import type { Arrangement } from '../geometry/pieces.ts';
import { addStatement } from '../recipe/edits/edits.ts';
import { formatNumber } from '../recipe/language/literals.ts';
import type { Recipe } from '../recipe/language/recipe.ts';
import type { Report } from '../findings/report.ts';
import type { JumpBetween } from './jumps.ts';
import { pieceNames } from '../domain/references.ts';
import { partPoint } from '../geometry/parts.ts';
import { largestTurn, type Turns } from '../geometry/turns.ts';
import type { Finding } from '../text/finding.ts';
import { placeText } from '../text/sentences.ts';
import type { DivisionRequest } from './requests.ts';
import type { DivideContext, Division } from './division.ts';

/** A division by a size that turns by more than this, in degrees, is reported. */
const flatTurn = 45;

/** Reports divisions by a size that cut a curve flat. */
export function reportCoarseCurves(
	{ arrangement, report }: DivideContext,
	requests: readonly (DivisionRequest | undefined)[],
	turns: readonly Turns[],
	divisions: readonly Division[]
): void {
	const list: Finding[] = [];
	for (const [p, request] of requests.entries()) {
		if (!request?.bySize) continue;
		const { at } = divisions[p]!;
		const { turn, cell } = largestTurn(turns[p]!, at);
		const degrees = (turn * 180) / Math.PI;
		if (degrees <= flatTurn) continue;
		const piece = arrangement.pieces[p]!;
		const place = partPoint(piece, (at[cell]! + at[cell + 1]!) / 2, piece.length);
		const edge = (at[cell + 1]! - at[cell]!) * piece.length;
		list.push(
			report.about(request.countLine).finding(
				'cut-flat',
				{
					piece: pieceNames(arrangement)[p]!,
					degrees: Math.round(degrees),
					at: placeText(place),
					size: (edge * 30) / degrees
				},
				{ at: place, pieces: [p] }
			)
		);
	}
	report.addAll(list);
}

/** Cells that touch along a line and differ by more than this are reported, unless the recipe says otherwise. */
const largeJump = 2;

/** What the findings about jumps need. */
interface JumpReport {
	arrangement: Arrangement;
	recipe: Recipe;
	/** The growth that the mend lets the coarser piece have. */
	growth: number;
	/** The ratio above which a jump is reported. */
	above?: number;
	report: Report;
}

/** Reports neighbouring cells, along a line of pieces that go on from one another, whose sizes jump; the mend lets the coarser piece start with the finer cell. */
export function reportJumps(
	jumps: readonly JumpBetween[],
	{ arrangement, recipe, growth, above = largeJump, report }: JumpReport
): void {
	const { pieces, x, y } = arrangement;
	const list = jumps
		.filter(({ ratio }) => ratio > above)
		.map(({ coarser, end, piece, cell, other, ratio }): Finding => {
			const names = pieceNames(arrangement);
			const at = { x: x[pieces[coarser]![end]]!, y: y[pieces[coarser]![end]]! };
			const beyond = pieces[piece]!;
			const far = pieces[coarser]![end === 'start' ? 'end' : 'start'];
			const isClear = beyond.start !== far && beyond.end !== far;
			const source = `divide ${names[coarser]} first ${formatNumber(Number(other.toPrecision(4)))} growth ${formatNumber(growth)} at ${names[piece]}`;
			return report.finding(
				'jump',
				{ piece: names[coarser]!, other: names[piece]!, at: placeText(at), cell, otherCell: other, ratio },
				{ at, pieces: [coarser, piece], ...(isClear ? { mend: addStatement(recipe, source) } : {}) }
			);
		});
	report.addAll(list);
}
