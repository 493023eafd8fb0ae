import type { TextEdit } from '../../text/edit.ts';
import { language } from '../language/language.ts';
import type { NameSpace, NameUse } from '../language/names.ts';
import type { Line, Recipe } from '../language/recipe.ts';
import { isA, workOrder, type WorkStage } from '../language/statement.ts';
import { part, partEnd } from '../statements/part.ts';
import { placement } from '../statements/place.ts';
import { statements } from '../statements/table.ts';
import type { Statement, Word } from '../language/syntax.ts';

/**
 * Sets one clause of a statement — `into 40`, `bias 12 toward pipe` — to `source`, or takes it away
 * with null. A clause that is not there yet is put in after the last one that precedes it.
 */
export function setClause(line: Line, clause: string, source: string | null): TextEdit[] {
	const statement = line.statement!;
	const present = statement.clauses.find((c) => c.name === clause);
	if (present) {
		if (source !== null) return [{ from: line.from + present.from, to: line.from + present.to, insert: source }];
		const before = Math.max(0, ...statement.clauses.filter((c) => c.to <= present.from).map((c) => c.to));
		return [{ from: line.from + before, to: line.from + present.to, insert: '' }];
	}
	if (source === null) return [];
	const order = language().recordOf(statement).clauses;
	const rank = order.indexOf(clause);
	if (rank < 0) throw new Error(`a “${statement.kind}” statement has no clause “${clause}”`);
	const ahead = statement.clauses.filter((c) => order.indexOf(c.name) < rank);
	const at = line.from + Math.max(...ahead.map((c) => c.to));
	return [{ from: at, to: at, insert: ` ${source}` }];
}

/**
 * Adds a statement. It goes after the last statement of its own kind, or of the nearest earlier
 * kind in the order of the work; a comment at the end of that line stays with it.
 */
export function addStatement(recipe: Recipe, source: string): TextEdit[] {
	const word = source.replace(/^guide\s+/, '').split(/\s/, 1)[0]!;
	const rankOf = (stage: WorkStage) => workOrder.indexOf(stage);
	const { recordOf } = language();
	const rank = rankOf(statements.find((record) => record.words[0] === word)!.stage);
	let after: Line | undefined;
	let hasOwn = false;
	const parts = partsOfLines(recipe);
	for (const [k, line] of recipe.lines.entries()) {
		// What a part holds is no place for what stands outside it; it counts where it ends.
		if (!line.statement || parts[k] !== '' || (isA(part, line.statement) && !line.statement.file)) continue;
		const rankOfLine = rankOf(recordOf(line.statement).stage);
		if (rankOfLine <= rank) after = line;
		hasOwn ||= rankOfLine === rank;
	}
	const { text } = recipe;
	if (!after) return [{ from: 0, to: 0, insert: `${source}\n` }];
	const end = text.indexOf('\n', after.to);
	// A first statement of its kind starts a paragraph of its own.
	const gap = hasOwn || rank === 0 ? '' : '\n';
	if (end === -1) return [{ from: text.length, to: text.length, insert: `\n${gap}${source}\n` }];
	return [{ from: end + 1, to: end + 1, insert: `${gap}${source}\n` }];
}

/** Takes a statement away, with its line when nothing else stands on it. */
export function removeStatement(recipe: Recipe, index: number): TextEdit[] {
	const line = recipe.lines[index]!;
	const { text } = recipe;
	const start = text.lastIndexOf('\n', line.from - 1) + 1;
	const newline = text.indexOf('\n', line.to);
	const end = newline === -1 ? text.length : newline + 1;
	const alone = text.slice(start, line.from).trim() === '' && text.slice(line.to, end).trim() === '';
	return [alone ? { from: start, to: end, insert: '' } : { from: line.from, to: line.to, insert: '' }];
}

/** Moves a statement to stand just before another one, or at the end with `before` equal to the number of lines. */
export function moveStatement(recipe: Recipe, index: number, before: number): TextEdit[] {
	const { text, lines } = recipe;
	if (before === index || before === index + 1) return [];
	const line = lines[index]!;
	const start = text.lastIndexOf('\n', line.from - 1) + 1;
	const newline = text.indexOf('\n', line.to);
	const end = newline === -1 ? text.length : newline + 1;
	const moved = text.slice(start, end).replace(/\n?$/, '\n');
	const target = lines[before] ? text.lastIndexOf('\n', lines[before].from - 1) + 1 : text.length;
	const glue = target === text.length && !text.endsWith('\n') ? '\n' : '';
	return [
		{ from: start, to: end, insert: '' },
		{ from: target, to: target, insert: glue + moved }
	];
}

/**
 * Renames a thing with all its uses. Names of parameters, points and curves are one space.
 *
 * @param scope the part in which it stands; a part sees nothing of what stands outside
 */
export const renameEverywhere = (recipe: Recipe, space: NameSpace, from: string, to: string, scope = ''): TextEdit[] =>
	[...usesOf(recipe, space, from, scope), ...usesThroughCopies(recipe, from, scope)].map((at) => ({
		from: at,
		to: at + from.length,
		insert: to
	}));

/** Where a name stands in the text, as it is defined and wherever it is used. */
export const usesOf = (recipe: Recipe, space: NameSpace, name: string, scope = ''): number[] =>
	scopedNames(recipe).flatMap(({ use, at, scope: of }) => (of === scope && use.space === space && use.name === name ? [at] : []));

/** The part in which each statement stands, an empty text outside of parts; `part` and `end` themselves stand outside. */
export function partsOfLines({ lines }: Recipe): string[] {
	let inside = '';
	return lines.map(({ statement }) => {
		if (isA(partEnd, statement)) inside = '';
		const of = inside;
		if (isA(part, statement) && !statement.file) inside = statement.name.text;
		return of;
	});
}

/** Returns the placement that brings what has a name: `p1` of `p1.head`, `row` of `row_2.head`; undefined where none does. */
export function placementsOf({ lines }: Recipe): (name: string) => string | undefined {
	const placed = new Set(lines.flatMap(({ statement }) => (isA(placement, statement) ? [statement.name.text] : [])));
	return (name) => {
		const [owner] = name.split('.', 1) as [string];
		return [owner, owner.replace(/_\d+$/, '')].find((one) => placed.has(one));
	};
}

/** A name of a recipe with the part in which it is known, an empty text outside of parts, and where it stands in the text. */
export interface ScopedName {
	scope: string;
	use: NameUse;
	at: number;
	isDefinition: boolean;
}

/** Every name of a recipe. The parameters of a part are known in the part, those that a placement gives too. */
export function scopedNames(recipe: Recipe): ScopedName[] {
	const found: ScopedName[] = [];
	const parts = partsOfLines(recipe);
	for (const [k, { statement, from }] of recipe.lines.entries()) {
		if (!statement) continue;
		// What a part is given by itself is worked out in it.
		const inside = isA(part, statement) ? statement.name.text : parts[k]!;
		const take = (scope: string, uses: readonly NameUse[], isDefinition = false) => {
			for (const use of uses) found.push({ scope, use, at: from + use.from, isDefinition });
		};
		const valueOf = ({ text, from: at }: Word): NameUse => ({ space: 'value', name: text, from: at });
		if (isA(part, statement))
			take(
				inside,
				statement.parameters.map(({ name }) => valueOf(name)),
				true
			);
		if (isA(placement, statement))
			take(
				statement.part.text,
				(statement.arguments ?? []).map(({ name }) => valueOf(name))
			);
		const definitions = definedBy(statement).map(({ space, name }) => ({ space, name: name.text, from: name.from }));
		take(inside, definitions, true);
		take(inside, language().recordOf(statement).uses?.(statement) ?? []);
	}
	return found;
}

/** Where a name of a part is used outside of it, behind the name of a copy or of the part: `p1.head`, `row_2.head`, `pin.head`. */
function usesThroughCopies({ text, lines }: Recipe, name: string, scope: string): number[] {
	if (scope === '') return [];
	const copies = lines.flatMap(({ statement }) =>
		isA(placement, statement) && statement.part.text === scope ? [`${statement.name.text}(?:_\\d+)?`] : []
	);
	const pattern = new RegExp(`(?<![\\p{L}\\p{N}_.])(?:${[...copies, scope].join('|')})\\.(?=${name}(?![\\p{L}\\p{N}_]))`, 'gu');
	return lines.flatMap(({ from, to, statement }) =>
		statement ? [...text.slice(from, to).matchAll(pattern)].map(({ index, 0: { length } }) => from + index + length) : []
	);
}

/** The names that a statement defines. */
export function definedBy(statement: Statement): { space: NameSpace; name: Word }[] {
	const record = language().recordOf(statement);
	const defined = record.defines?.(statement);
	return [...(defined ? [defined] : []), ...(record.definesAlso?.(statement) ?? [])];
}

/** Every name that a statement defines or uses. */
export const namesOf = (statement: Statement): NameUse[] => [
	...definedBy(statement).map(({ space, name }) => ({ space, name: name.text, from: name.from })),
	...(language().recordOf(statement).uses?.(statement) ?? [])
];
