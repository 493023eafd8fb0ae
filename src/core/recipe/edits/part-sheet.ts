import { applyEdits, type TextEdit } from '../../text/edit.ts';
import { setUnits } from './convert-units.ts';
import { partsOfLines } from './edits.ts';
import { namesIn } from '../language/names.ts';
import { parseRecipe } from '../language/parse.ts';
import type { Line, Recipe } from '../language/recipe.ts';
import { isA } from '../language/statement.ts';
import { endOfPart } from '../model/defined-parts.ts';
import { parameter } from '../statements/let.ts';
import { part } from '../statements/part.ts';
import { units } from '../statements/units.ts';

/**
 * A part as a recipe of its own, to be drawn and meshed by itself: its parameters are `let` statements, and the parts that it may place
 * stand before them. {@link keptInPart} takes it back.
 *
 * @returns undefined where the recipe has no such part in itself
 */
export function sheetOf(recipe: Recipe, name: string): string | undefined {
	const line = lineOfPart(recipe, name);
	const statement = recipe.lines[line]?.statement;
	if (!isA(part, statement)) return undefined;
	const { from } = recipe.lines[line]!;
	const unit = recipe.lines.find((other) => isA(units, other.statement));
	const head = [
		'recipe 1',
		...(unit ? [recipe.text.slice(unit.from, unit.to)] : []),
		...earlierParts(recipe, line).map((other) => textOfPart(recipe, other)),
		'',
		...statement.parameters.map(
			({ name: own, value }) => `let ${own.text} = ${recipe.text.slice(from + value.from, from + value.to)}`
		),
		markOf(name)
	];
	return `${head.join('\n')}\n${lessIndented(bodyOf(recipe, line).text)}`;
}

/**
 * The recipe with a part as its sheet says it now. What stands in the sheet before the mark is the head: `let` statements that need
 * nothing but one another are the parameters, units and earlier parts are those of the recipe, and all else is moved into the part.
 */
export function keptInPart(recipe: Recipe, name: string, sheetText: string): string {
	if (sheetOf(recipe, name) === sheetText) return recipe.text;
	const sheet = parseRecipe(sheetText);
	const { head, body } = halvesOf(sheet, name);
	const parameters: Line[] = [];
	const moved = remarksIn(sheet, head);
	const textOf = ({ from, to }: { from: number; to: number }) => sheetText.slice(from, to);
	const edits: TextEdit[] = [];
	const inner = partsOfLines(sheet);
	for (const [k, line] of sheet.lines.entries()) {
		const { statement } = line;
		if (line.from >= head || inner[k] !== '' || statement?.kind === 'recipe' || statement?.kind === 'end') continue;
		if (isA(part, statement)) edits.push(...partEdits(recipe, sheet, k));
		else if (isA(units, statement)) continue;
		else if (isA(parameter, statement) && !statement.range && needsOnly(line, parameters)) parameters.push(line);
		else moved.push(textOf(line));
	}
	const line = lineOfPart(recipe, name);
	const at = recipe.lines[line]!;
	const given = parameters.map((one) => textOf(one).replace(/^let\s+/, ''));
	const first = given.length === 0 ? `part ${name}` : `part ${name} with ${given.join(', ')}`;
	const { from, to } = bodyOf(recipe, line);
	const lines = [...moved, body].filter((text) => text !== '').join('\n');
	edits.push({ from: at.from, to: at.to, insert: first }, { from, to, insert: indented(lines) });
	const changed = applyEdits(recipe.text, edits);
	const unit = unitOf(sheet);
	return unit === undefined || unit === unitOf(recipe) ? changed : setUnits(parseRecipe(changed), unit);
}

const unitOf = ({ lines }: Recipe): string | undefined =>
	lines.map(({ statement }) => statement).find((statement) => isA(units, statement))?.unit.text;

/** A part that draws nothing yet, behind the parts of a recipe. */
export const emptyPart = (name: string): string => `part ${name}\nend`;

/** Where the head of a sheet ends and its part begins. */
const markOf = (name: string) => `# The part ${name}. What stands above are its parameters.`;

const lineOfPart = ({ lines }: Recipe, name: string) =>
	lines.findIndex(({ statement }) => isA(part, statement) && !statement.file && statement.name.text === name);

/** The lines of the parts that stand before another. */
const earlierParts = ({ lines }: Recipe, before: number): number[] =>
	lines.flatMap(({ statement }, k) => (k < before && isA(part, statement) ? [k] : []));

/** A part in the text, from its first line to its `end`. */
function textOfPart(recipe: Recipe, line: number): string {
	const { from, to } = spanOfPart(recipe, line);
	return recipe.text.slice(from, to);
}

function spanOfPart({ lines }: Recipe, line: number): { from: number; to: number } {
	const { from, to, statement } = lines[line]!;
	if (isA(part, statement) && statement.file) return { from, to };
	return { from, to: lines[Math.min(endOfPart(lines, line), lines.length - 1)]!.to };
}

/** What stands between a part's first line and its `end`, with whole lines. */
function bodyOf({ text, lines }: Recipe, line: number): { from: number; to: number; text: string } {
	const from = Math.min(text.length, text.indexOf('\n', lines[line]!.to) + 1 || text.length);
	const end = lines[endOfPart(lines, line)];
	const to = end ? Math.max(from, text.lastIndexOf('\n', end.from) + 1) : text.length;
	return { from, to, text: text.slice(from, to) };
}

/** The head of a sheet, as the place where it ends, and the text of its part. */
function halvesOf({ text, lines }: Recipe, name: string): { head: number; body: string } {
	const mark = text.split('\n').findIndex((row) => row.trim() === markOf(name));
	if (mark >= 0) {
		const rows = text.split('\n');
		const before = rows.slice(0, mark).join('\n').length;
		return { head: before, body: rows.slice(mark + 1).join('\n') };
	}
	// Where the mark was taken out, the head is what can stand in one.
	const inner = partsOfLines({ text, lines });
	const first = lines.find(
		({ statement }, k) =>
			inner[k] === '' &&
			statement &&
			!isA(part, statement) &&
			!isA(units, statement) &&
			!isA(parameter, statement) &&
			!['recipe', 'end'].includes(statement.kind)
	);
	const head = first ? text.lastIndexOf('\n', first.from) + 1 : text.length;
	return { head, body: text.slice(head) };
}

/** Whether the value of a `let` needs nothing but parameters before it. */
function needsOnly({ statement }: Line, parameters: readonly Line[]): boolean {
	if (!isA(parameter, statement)) return false;
	return namesIn(statement.value).every(({ name }) =>
		parameters.some((other) => isA(parameter, other.statement) && other.statement.name.text === name)
	);
}

/** What is remarked in the head of a sheet, outside of other parts. */
function remarksIn(sheet: Recipe, head: number): string[] {
	const inner = partsOfLines(sheet);
	const said = sheet.lines.flatMap((line, k) => {
		if (line.from >= head || inner[k] !== '' || line.statement?.kind === 'end') return [];
		return isA(part, line.statement) ? [spanOfPart(sheet, k)] : [line];
	});
	let rest = sheet.text.slice(0, head);
	for (const { from, to } of said.toReversed()) rest = rest.slice(0, from) + rest.slice(to);
	return rest
		.split('\n')
		.map((row) => row.trim())
		.filter((row) => row.startsWith('#'));
}

/** What was changed of another part in the head of a sheet. */
function partEdits(recipe: Recipe, sheet: Recipe, line: number): TextEdit[] {
	const { statement } = sheet.lines[line]!;
	if (!isA(part, statement)) return [];
	const before = recipe.lines.findIndex(
		(other) => isA(part, other.statement) && other.statement.name.text === statement.name.text
	);
	if (before < 0) return [];
	const insert = textOfPart(sheet, line);
	return insert === textOfPart(recipe, before) ? [] : [{ ...spanOfPart(recipe, before), insert }];
}

/** Lines without the room that all of them begin with. */
function lessIndented(text: string): string {
	const rows = text.split('\n');
	const room = Math.min(...rows.filter((row) => row.trim() !== '').map((row) => /^[ \t]*/.exec(row)![0].length));
	return rows.map((row) => (row.trim() === '' ? row : row.slice(room))).join('\n');
}

/** Whole lines that stand two spaces in. */
function indented(text: string): string {
	if (text.trim() === '') return '';
	const rows = text.replace(/\n+$/, '').split('\n');
	return `${rows.map((row) => (row.trim() === '' ? '' : `  ${row}`)).join('\n')}\n`;
}
