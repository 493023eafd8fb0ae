import { addTo } from '../../core/numeric/lists.ts';
import type { Division } from '../../core/divide/division.ts';
import { jumpAt } from '../../core/divide/jumps.ts';
import type { Shown } from '../desk/snapshot.ts';

/** One row of the Divide ledger. */
export interface PieceRow {
	piece: number;
	name: string;
	division: Division;
	/** The count as the recipe writes it. */
	countSource: string;
	/** The numbers of the spacing as the recipe writes them, such as `first 0.02`; empty for an even one. */
	spacing: string;
	/** Where the cells are smallest, as written; empty for a spacing that has no such end. */
	toward: string;
	/** What `toward` may name for this piece, by end. */
	targets: { start: string[]; end: string[] };
	/** The largest ratio of its end cells to those of the pieces that go on from it; undefined where none does. */
	jump: number | undefined;
}

/** Three significant digits in at most seven signs, for columns that are read rather than copied. */
export function short(value: number): string {
	if (!Number.isFinite(value)) return '–';
	if (value === 0) return '0';
	const size = Math.abs(value);
	return size >= 1e5 || size < 1e-3 ? value.toExponential(2).replace('e+', 'e') : String(Number(value.toPrecision(3)));
}

/** The row of a piece. */
export function pieceRow(result: Shown, names: readonly string[], piece: number): PieceRow {
	const { arrangement, divisions } = result;
	const division = divisions.pieces[piece]!;
	const jumps = (['start', 'end'] as const).flatMap((end) => jumpAt(arrangement, divisions.pieces, piece, end)?.ratio ?? []);
	const { spacing, toward } = spacingText(result, division);
	return {
		piece,
		name: names[piece]!,
		division,
		countSource: clauseText(result, division.countLine, 'count').replace(/^into\s+/, ''),
		spacing,
		toward,
		targets: targetsOf(result, piece),
		jump: jumps.length > 0 ? Math.max(...jumps) : undefined
	};
}

/** The numbers and the end of a spacing as the recipe writes them. */
function spacingText(result: Shown, { spacingLine }: Division): { spacing: string; toward: string } {
	const written = clauseText(result, spacingLine, 'spacing');
	const [, numbers, toward] = /^(.*?)\s+(?:toward|at|from)\s+(\S+)$/s.exec(written) ?? [];
	const spacing = numbers ?? written;
	return /^bias 1$/.test(spacing) ? { spacing: '', toward: '' } : { spacing, toward: toward ?? '' };
}

/** A spacing as it was typed: a bare number is a bias. */
export function spacingClause(typed: string, toward: string): string {
	const text = /^[\d.(]/.test(typed) ? `bias ${typed}` : typed;
	if (/^like\b/.test(text) || /\s(?:toward|at|from)\s/.test(text)) return text;
	if (/^positions\b/.test(text)) return `${text} from ${toward}`;
	return `${text} ${/\b(?:first|last)\b/.test(text) ? 'at' : 'toward'} ${toward}`;
}

/** A clause of a statement as it is written; empty where there is none. */
export function clauseText(result: Shown, line: number, clause: string): string {
	const statement = result.recipe.lines[line];
	const span = statement?.statement?.clauses.find((c) => c.name === clause);
	return statement && span ? result.recipe.text.slice(statement.from + span.from, statement.from + span.to) : '';
}

/** Curves and points at one end of a piece but not at the other. */
export function targetsOf(result: Shown, piece: number): { start: string[]; end: string[] } {
	const { arrangement, model } = result;
	const part = arrangement.pieces[piece]!;
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
	const [start, end] = [at(part.start), at(part.end)];
	return { start: [...start].filter((n) => !end.has(n)), end: [...end].filter((n) => !start.has(n)) };
}

/**
 * The ends at which a spacing is meant on several pieces, when it is set on one of them: each piece names an end that it
 * has. It is the one that is named there, where the piece meets it too; its own, where it has one; and otherwise the end
 * that lies on the same side of the piece as on the one that was edited.
 */
export function targetGroups(
	edited: PieceRow,
	rows: readonly PieceRow[],
	toward: string,
	{ pieces, x, y }: Shown['arrangement']
): { toward: string; names: string[] }[] {
	const groups = new Map<string, string[]>();
	const direction = ({ piece }: PieceRow, end: 'start' | 'end') => {
		const { start, end: last } = pieces[piece]!;
		const [dx, dy] = [x[last]! - x[start]!, y[last]! - y[start]!];
		return end === 'end' ? [dx, dy] : [-dx, -dy];
	};
	const endOf = (row: PieceRow, name: string) =>
		row.targets.start.includes(name) ? 'start' : row.targets.end.includes(name) ? 'end' : undefined;
	const meant = endOf(edited, toward);
	for (const row of rows) {
		let choice = toward;
		if (toward !== 'both' && toward !== 'middle' && row.piece !== edited.piece && !endOf(row, toward)) {
			const side = meant && direction(edited, meant);
			const along = side && direction(row, 'end');
			const end = side && along && side[0]! * along[0]! + side[1]! * along[1]! < 0 ? 'start' : 'end';
			const curve = row.name.replace(/\[\d+\]$/, '');
			// Another curve says more clearly which end is meant than the other pieces of its own.
			const named = (at: 'start' | 'end') => row.targets[at].find((t) => t !== curve) ?? row.targets[at][0];
			choice = (endOf(row, row.toward) && row.toward) || named(end) || named('start') || named('end') || 'both';
		}
		addTo(groups, choice, row.name);
	}
	return [...groups].map(([name, names]) => ({ toward: name, names }));
}
