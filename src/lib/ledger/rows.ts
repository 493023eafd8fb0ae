import type { Division } from '../../core/divide/divisions.ts';
import type { Result } from '../../core/pipeline.ts';
import { referenceText } from '../../core/recipe/intents.ts';

/** One row of the Divide ledger. */
export interface PieceRow {
	piece: number;
	name: string;
	division: Division;
	/** The count as the recipe writes it. */
	countSource: string;
	bias: string;
	toward: string;
	/** What `toward` may name for this piece. */
	targets: string[];
}

/** Above this many rows only the selected and the first ones are shown. */
export const rowLimit = 300;

/** Three significant digits, for columns that are read rather than copied. */
export function short(value: number): string {
	if (!Number.isFinite(value)) return '–';
	if (value === 0) return '0';
	const size = Math.abs(value);
	return size >= 1e5 || size < 1e-4 ? value.toExponential(1) : String(Number(value.toPrecision(3)));
}

/** The row of a piece. */
export function pieceRow(result: Result, names: readonly string[], piece: number): PieceRow {
	const division = result.divisions.pieces[piece]!;
	const { spacing } = division;
	const bias = spacing.law === 'geometric' && 'bias' in spacing.number ? String(Number(spacing.number.bias.toPrecision(4))) : '';
	return {
		piece,
		name: names[piece]!,
		division,
		countSource: clauseText(result, division.countLine, 'count').replace(/^into\s+/, ''),
		bias,
		toward: towardText(result, division, names),
		targets: targetsOf(result, piece)
	};
}

/** A clause of a statement as it is written; empty where there is none. */
export function clauseText(result: Result, line: number, clause: string): string {
	const statement = result.recipe.lines[line];
	const span = statement?.statement?.clauses.find((c) => c.name === clause);
	return statement && span ? result.recipe.text.slice(statement.from + span.from, statement.from + span.to) : '';
}

function towardText(result: Result, division: Division, names: readonly string[]): string {
	const { spacing } = division;
	if (spacing.law === 'even') return '';
	if (spacing.law === 'across') return `as ${names[spacing.piece]}`;
	const statement = result.recipe.lines[division.spacingLine]?.statement;
	const toward = statement?.kind === 'divide' ? statement.toward : undefined;
	return typeof toward === 'object' ? referenceText(toward) : (toward ?? spacing.end);
}

/** Curves and points at one end of a piece but not at the other. */
function targetsOf(result: Result, piece: number): string[] {
	const { arrangement, model } = result;
	const own = arrangement.pieces[piece]!;
	const at = (junction: number): Set<string> => {
		const found = new Set<string>();
		arrangement.byCurve.forEach((list, c) => {
			if (
				list.some(
					(p) =>
						p.piece !== piece &&
						(arrangement.pieces[p.piece]!.start === junction || arrangement.pieces[p.piece]!.end === junction)
				)
			)
				found.add(arrangement.curves[c]!.name);
		});
		for (const p of model.points)
			if (Math.hypot(p.x - arrangement.x[junction]!, p.y - arrangement.y[junction]!) <= 4 * arrangement.tolerance)
				found.add(p.name);
		return found;
	};
	const [start, end] = [at(own.start), at(own.end)];
	return [...[...start].filter((n) => !end.has(n)), ...[...end].filter((n) => !start.has(n))];
}
