import { pieceNames } from '../domain/references.ts';
import { partPoint } from '../geometry/parts.ts';
import { largestTurn, type Turns } from '../geometry/turns.ts';
import type { Finding } from '../text/finding.ts';
import { placeText, short } from '../text/sentences.ts';
import type { Asked } from './asked.ts';
import type { DivideContext, Division } from './division.ts';

/** A division by a size that turns by more than this, in degrees, is told. */
const flatTurn = 45;

/** Tells of divisions by a size that cut a curve flat. */
export function tellCutFlat(
	{ arrangement, report }: DivideContext,
	asked: readonly (Asked | undefined)[],
	turns: readonly Turns[],
	divisions: readonly Division[]
): void {
	const names = pieceNames(arrangement);
	const list: Finding[] = [];
	asked.forEach((own, p) => {
		if (!own?.bySize) return;
		const { at } = divisions[p]!;
		const { turn, cell } = largestTurn(turns[p]!, at);
		const degrees = (turn * 180) / Math.PI;
		if (degrees <= flatTurn) return;
		const piece = arrangement.pieces[p]!;
		const place = partPoint(piece, (at[cell]! + at[cell + 1]!) / 2, piece.length);
		const edge = (at[cell + 1]! - at[cell]!) * piece.length;
		list.push({
			...report
				.about(own.countLine)
				.finding(
					'note',
					'cut-flat',
					`\`${names[p]}\` turns by ${Math.round(degrees)}° on one edge at ${placeText(place)}; a size of ${short((edge * 30) / degrees)} there, or \`by chord\`, follows it`,
					{ at: place, pieces: [p] }
				)
		});
	});
	report.tell(list, (n) => `${n} pieces are cut flat by the size that they are given`);
}
