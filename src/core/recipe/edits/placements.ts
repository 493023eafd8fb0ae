import type { TextEdit } from '../../text/edit.ts';
import { setClause } from './edits.ts';
import { asDegrees } from '../language/literals.ts';
import type { Line, Recipe } from '../language/recipe.ts';
import { isA, type ValueReader } from '../language/statement.ts';
import { part } from '../statements/part.ts';
import { placement } from '../statements/place.ts';
import type { Argument, Expression, PlaceSyntax } from '../language/syntax.ts';

/** A dimension of what a statement draws, as it is written, and the edits that set it to another expression. */
export interface TextDimension {
	label: string;
	value: number;
	/** As it is written; empty where it follows from other numbers. */
	source: string;
	/** Takes it back to what it is by itself; where there is nothing of that kind, it is not there. */
	clear?(): TextEdit[];
	set(source: string): TextEdit[];
}

/** A part that a recipe defines, and how often it is placed. */
export interface PartOfRecipe {
	name: string;
	/** The index of its statement. */
	line: number;
	/** The file that it is read from. */
	file?: string;
	/** Its parameters with what they are unless a placement says otherwise, as it is written. */
	parameters: readonly { name: string; source: string }[];
	placements: number;
}

/** The parts of a recipe in their order. */
export function partsOf({ lines, text }: Recipe): PartOfRecipe[] {
	return lines.flatMap(({ statement, from }, line): PartOfRecipe[] => {
		if (!isA(part, statement)) return [];
		return [
			{
				name: statement.name.text,
				line,
				...(statement.file ? { file: statement.file.text } : {}),
				parameters: statement.parameters.map(({ name, value }) => ({
					name: name.text,
					source: text.slice(from + value.from, from + value.to)
				})),
				placements: lines.filter((other) => isA(placement, other.statement) && other.statement.part.text === statement.name.text)
					.length
			}
		];
	});
}

/**
 * What a placement says in numbers: its turn, the count of a row, and each parameter of its part. A parameter that it does not set
 * has the part's own value; set, it stands behind `with`.
 */
export function placementDimensions(recipe: Recipe, line: Line, statement: PlaceSyntax, look: ValueReader): TextDimension[] {
	const written = ({ from, to }: Expression, base: number) => recipe.text.slice(base + from, base + to);
	const { turned, count, arguments: given = [] } = statement;
	const found: TextDimension[] = [
		{
			label: 'turned °',
			value: turned ? (look.number(turned) * 180) / Math.PI : 0,
			source: turned ? written(turned, line.from) : '',
			...(turned ? { clear: () => setClause(line, 'turned', null) } : {}),
			set: (source) => setClause(line, 'turned', `turned ${asDegrees(source)}`)
		}
	];
	if (count)
		found.push({
			label: 'count',
			value: look.number(count),
			source: written(count, line.from),
			set: (source) => setClause(line, 'count', `count ${source}`)
		});
	const defined = recipe.lines.find((other) => isA(part, other.statement) && other.statement.name.text === statement.part.text);
	const parameters = defined && isA(part, defined.statement) ? defined.statement.parameters : [];
	const others = given.filter(({ name }) => !parameters.some((p) => p.name.text === name.text));
	for (const { name, value } of [...parameters, ...others]) {
		const own = given.find((g) => g.name.text === name.text);
		found.push({
			label: name.text,
			value: look.number(own?.value ?? value),
			source: own ? written(own.value, line.from) : written(value, defined!.from),
			...(own ? { clear: () => withoutArgument(line, given, own) } : {}),
			set: (source) => withArgument(line, given, own, `${name.text} = ${source}`)
		});
	}
	return found;
}

function withArgument(line: Line, given: readonly Argument[], own: Argument | undefined, source: string): TextEdit[] {
	if (own) return [{ from: line.from + own.name.from, to: line.from + own.value.to, insert: source }];
	const last = given.at(-1);
	if (!last) return setClause(line, 'with', `with ${source}`);
	return [{ from: line.from + last.value.to, to: line.from + last.value.to, insert: `, ${source}` }];
}

function withoutArgument(line: Line, given: readonly Argument[], own: Argument): TextEdit[] {
	if (given.length === 1) return setClause(line, 'with', null);
	const k = given.indexOf(own);
	const from = k === 0 ? own.name.from : given[k - 1]!.value.to;
	const to = k === 0 ? given[1]!.name.from : own.value.to;
	return [{ from: line.from + from, to: line.from + to, insert: '' }];
}
