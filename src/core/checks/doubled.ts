import { addTo } from '../numeric/lists.ts';
import { language } from '../recipe/language/language.ts';
import { removeStatement } from '../recipe/edits/edits.ts';
import type { ShapeCheck } from './shape-check.ts';
import { partPoint } from '../geometry/parts.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import type { Finding } from '../text/finding.ts';

/** Statements all of whose curves lie on another curve, and curves that lie on another one for a part of the way. */
export function checkDoubled({ model, arrangement, report }: ShapeCheck): void {
	const { byCurve, pieces, curves } = arrangement;
	if (!isAnyShared(arrangement)) return;
	const users = new Map<number, number[]>();
	byCurve.forEach((list, c) => list.forEach(({ piece }) => addTo(users, piece, c)));
	const list: Finding[] = [];
	const byLine = new Map<number, number[]>();
	model.curveLines.forEach((line, c) => addTo(byLine, line, c));
	const dropped = new Set<number>();
	for (const [line, lineCurves] of byLine) {
		const covers = lineCurves.map((c) => coverOf(c));
		const first = lineCurves[0]!;
		if (covers.every((cover) => cover !== undefined)) {
			dropped.add(line);
			const at = middle(byCurve[first]![0]!.piece);
			list.push(
				report.finding(
					'doubled',
					{ curve: nameOf(line, first), other: curves[covers[0]!]!.name, at },
					{
						at,
						pieces: lineCurves.flatMap((c) => byCurve[c]!.map(({ piece }) => piece)),
						mend: removeStatement(model.recipe, line)
					}
				)
			);
			continue;
		}
		if (lineCurves.length > 1) continue;
		const shared = byCurve[first]!.filter(({ piece }) =>
			users.get(piece)!.some((c) => c < first && model.curveLines[c] !== line)
		);
		if (shared.length === 0) continue;
		const other = users.get(shared[0]!.piece)!.find((c) => c < first)!;
		const at = middle(shared[0]!.piece);
		list.push(
			report.finding(
				'overlap',
				{ curve: curves[first]!.name, other: curves[other]!.name, at },
				{ at, pieces: shared.map(({ piece }) => piece) }
			)
		);
	}
	report.addAll(list);

	/** A curve of another, remaining statement that has every piece of c. */
	function coverOf(c: number): number | undefined {
		const [head, ...rest] = byCurve[c]!;
		if (!head) return undefined;
		return users.get(head.piece)!.find((d) => {
			const line = model.curveLines[d]!;
			// Of two that cover each other, the later one goes.
			if (line === model.curveLines[c] || dropped.has(line)) return false;
			if (byCurve[d]!.length === byCurve[c]!.length && line > model.curveLines[c]!) return false;
			return rest.every(({ piece }) => users.get(piece)!.includes(d));
		});
	}

	function middle(p: number) {
		return partPoint(pieces[p]!, 0.5, pieces[p]!.length);
	}

	function nameOf(line: number, c: number): string {
		const { statement } = model.recipe.lines[line]!;
		return (statement && language().recordOf(statement).defines?.(statement)?.name.text) ?? curves[c]!.name;
	}
}

/** Whether a piece is one of two curves, or of one twice. */
function isAnyShared({ byCurve, pieces }: Arrangement): boolean {
	const isSeen = new Uint8Array(pieces.length);
	for (const list of byCurve)
		for (const { piece } of list) {
			if (isSeen[piece]) return true;
			isSeen[piece] = 1;
		}
	return false;
}
