import type { Count, CountConflict } from '../blocks/counts.ts';
import { pieceNames } from '../domain/references.ts';
import { partPoint } from '../geometry/parts.ts';
import type { Walk } from '../geometry/pieces.ts';
import { setClause } from '../recipe/edits/edits.ts';
import { isLiteral } from '../recipe/language/literals.ts';
import type { Model } from '../recipe/model/model.ts';
import { isA } from '../recipe/language/statement.ts';
import { divide } from '../recipe/statements/divide.ts';
import type { TextEdit } from '../text/edit.ts';
import type { DivisionRequest } from './requests.ts';
import type { BlockOf, DivideContext } from './division.ts';

/** One finding for all that hangs together: what each piece asks for, and the smallest changes that would settle it. */
export function describeConflict(
	{ model, arrangement, regions, report }: DivideContext,
	blocks: readonly BlockOf[],
	counts: readonly Count[],
	requests: readonly (DivisionRequest | undefined)[],
	{ mismatches, pieces, settlements }: CountConflict
): void {
	const names = pieceNames(arrangement);
	const say = (walk: Walk) =>
		walk.map((h) => `“${names[h >> 1]}” ${counts[h >> 1]!.count} (${counts[h >> 1]!.source})`).join(' + ');
	const pins = pieces.filter((p) => counts[p]!.source === 'pinned');
	const changes = settlements.map((changed) => [...changed].map(([p, count]) => `“${names[p]}” into ${count}`).join(', '));
	const sentences: string[] = [];
	const [mismatch] = mismatches;
	if (mismatch) {
		const [one, other] = mismatch.sides;
		const region = regions[blocks[mismatch.block]!.region]!.name;
		sentences.push(
			`opposite sides of the structured region “${region}” have ${mismatch.counts[0]} and ${mismatch.counts[1]} divisions: ${say(one)} against ${say(other)}; they must be equal`
		);
	} else sentences.push('fixed counts contradict each other');
	if (pins.length > 2 || mismatches.length > 1)
		sentences.push(
			`typed along the whole chain: ${pins
				.slice(0, 12)
				.map((p) => `“${names[p]}” ${counts[p]!.count}`)
				.join(', ')}${pins.length > 12 ? ` and ${pins.length - 12} more` : ''}`
		);
	if (changes.length > 0) sentences.push(`${changes.join(', or ')} would settle it`);
	const first = arrangement.pieces[(mismatch?.sides[0][0] ?? 2 * pieces[0]!) >> 1]!;
	const mend = settleConflict(model, requests, names, settlements);
	report.add(
		'count-conflict',
		{ message: sentences.join('. ') },
		{
			at: partPoint(first, 0.5, first.length),
			pieces: [...new Set([...pins, ...(mismatch ? mismatch.sides.flat().map((h) => h >> 1) : [])])],
			...(mend ? { mend } : {})
		}
	);
}

/** The edit of the first settlement that one is possible for. */
function settleConflict(
	model: Model,
	requests: readonly (DivisionRequest | undefined)[],
	names: readonly string[],
	settlements: readonly Map<number, number>[]
): { label: string; edits: TextEdit[] } | undefined {
	// What was written last is the likelier to give way.
	const last = (changes: Map<number, number>) => Math.max(...[...changes.keys()].map((p) => requests[p]!.countLine));
	for (const changes of [...settlements].sort((a, b) => last(b) - last(a))) {
		// Pieces of one statement change together, where they all change to one count.
		const byLine = new Map<number, Set<number>>();
		for (const [p, count] of changes) {
			const line = requests[p]!.countLine;
			byLine.set(line, (byLine.get(line) ?? new Set()).add(count));
		}
		const whole = [...byLine].every(([line, wanted]) => {
			const ruled = requests.flatMap((a, p) => (a?.countLine === line && a.count !== undefined ? [p] : []));
			return wanted.size === 1 && ruled.every((p) => changes.has(p)) && isTyped(model, line);
		});
		if (!whole) continue;
		const label = [...changes].map(([p, count]) => `${names[p]} into ${count}`).join(', ');
		const edits = [...byLine].flatMap(([line, [count]]) => setClause(model.recipe.lines[line]!, 'count', `into ${count}`));
		return { label: `Make it ${label}`, edits };
	}
	return undefined;
}

/** Whether the count of a statement stands there as a number; a formula is changed where its parts are. */
function isTyped(model: Model, line: number): boolean {
	const { statement } = model.recipe.lines[line]!;
	return isA(divide, statement) && statement.into !== undefined && isLiteral(statement.into);
}
