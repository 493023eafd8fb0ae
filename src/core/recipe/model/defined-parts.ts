import { compose, rotation, translation } from '../../geometry/transform.ts';
import { didYouMean } from '../../text/nearest.ts';
import { parseRecipe } from '../language/parse.ts';
import type { Line, Recipe } from '../language/recipe.ts';
import { isA } from '../language/statement.ts';
import type { Argument, Expression, PartSyntax, PlaceSyntax, Statement, Word } from '../language/syntax.ts';
import { parameter } from '../statements/let.ts';
import { part, partEnd } from '../statements/part.ts';
import { fileBeside } from '../statements/shared/curve-files.ts';
import { size } from '../statements/size.ts';
import { type EvaluationContext, fail } from './evaluation-context.ts';
import { evaluatePoint } from './expressions.ts';
import type { Placement } from './placed.ts';
import { fits, type Value } from './values.ts';

/** A part: the statements of a recipe between two of its lines, and what its parameters are unless a placement says otherwise. */
export interface DefinedPart {
	recipe: Recipe;
	from: number;
	to: number;
	parameters: readonly Argument[];
	/** The file that it is read from. */
	file?: string;
}

/** The values that a placement gives to parameters. */
export type GivenArguments = ReadonlyMap<Word, Value>;

/** A row has no more copies of a part than this. */
const mostCopies = 10_000;
/** What a part may not say: it is a piece of a drawing, and has no header, deliveries or studies of its own. */
const notInParts: ReadonlySet<string> = new Set([
	'recipe',
	'title',
	'units',
	'frame',
	'solid',
	'order',
	'deliver',
	'study',
	'part'
]);

/** The parts that a recipe defines, by name. */
export class DefinedParts {
	private readonly byName = new Map<string, DefinedPart>();

	/** Takes up the part that the present statement begins. Throws {@link ExpressionError} where it cannot be. */
	define({ name, file, parameters }: PartSyntax, context: EvaluationContext): void {
		if (this.byName.has(name.text)) fail(name, `a part “${name.text}” exists already`);
		if (file) {
			this.byName.set(name.text, partOfFile(name, file, parameters, context));
			return;
		}
		const { recipe } = context.model;
		const to = endOfPart(recipe.lines, context.line);
		if (to === recipe.lines.length) fail(name, `the part “${name.text}” has no “end”`);
		this.byName.set(name.text, { recipe, from: context.line + 1, to, parameters });
	}

	/** Takes up what a recipe that was worked out before defines. Of what files hold nothing is known then: such a part draws nothing. */
	takeOver(recipe: Recipe): void {
		for (const [line, { statement }] of recipe.lines.entries())
			if (isA(part, statement) && !this.byName.has(statement.name.text))
				this.byName.set(
					statement.name.text,
					statement.file
						? { recipe: parseRecipe(''), from: 0, to: 0, parameters: statement.parameters, file: statement.file.text }
						: { recipe, from: line + 1, to: endOfPart(recipe.lines, line), parameters: statement.parameters }
				);
	}

	/** The part of a name. Throws {@link ExpressionError} where there is none. */
	find(name: Word): DefinedPart {
		const found = this.byName.get(name.text);
		if (found) return found;
		const names = [...this.byName.keys()];
		const known =
			didYouMean(name.text, names) ||
			(names.length > 0 ? `; there are ${names.join(', ')}` : '; a part begins with “part name” and ends with “end”');
		fail(name, `no part is named “${name.text}”${known}`);
	}
}

/** A part from beside the recipe: a file of parts has it between “part” and “end”, any other recipe is the part. */
function partOfFile(name: Word, file: Word, parameters: readonly Argument[], context: EvaluationContext): DefinedPart {
	const read = fileBeside(file, context);
	if (!('error' in read) || read.text === undefined)
		fail(file, `“${file.text}” is no recipe, but a file of coordinates or a drawing`);
	const recipe = parseRecipe(read.text);
	const first = recipe.lines.findIndex((line) => isA(part, line.statement) && line.statement.name.text === name.text);
	const inner = recipe.lines[first]?.statement;
	if (!isA(part, inner)) return { recipe, from: 0, to: recipe.lines.length, parameters, file: file.text };
	const inherited = inner.parameters.filter((p) => !parameters.some((q) => q.name.text === p.name.text));
	return {
		recipe,
		from: first + 1,
		to: endOfPart(recipe.lines, first),
		parameters: [...inherited, ...parameters],
		file: file.text
	};
}

/** The line on which the part that begins on another ends; that after the last where it does not. */
export function endOfPart(lines: readonly Line[], from: number): number {
	const end = lines.findIndex(({ statement }, k) => k > from && isA(partEnd, statement));
	return end < 0 ? lines.length : end;
}

/**
 * Where the copies of a placement stand, with the names that their names are gathered under besides. Throws {@link ExpressionError}
 * where the placement does not say a place, a turn, a step or a count.
 */
export function copiesOf(
	{ name, part: of, at, turned, by, count, ownGroups }: PlaceSyntax,
	context: EvaluationContext
): { copies: Placement[]; gathered: string[] } {
	const origin = evaluatePoint(at, context.scope);
	const angle = turned ? context.number(turned, 'angle') : 0;
	const step = by ? evaluatePoint(by, context.scope) : { x: 0, y: 0 };
	const copies = count ? context.number(count, 'number') : 1;
	if (!(Number.isInteger(copies) && copies >= 0 && copies <= mostCopies))
		fail(count!, `a row has a whole number of copies from 0 to ${mostCopies}, found ${copies}`);
	if (copies > 1 && !by) fail(count!, 'a row of copies says the step from one to the next: “by (10, 0)”');
	return {
		copies: Array.from({ length: copies }, (_, k) => ({
			map: compose(translation(origin.x + k * step.x, origin.y + k * step.y), rotation(angle, { x: 0, y: 0 })),
			name: count ? `${name.text}_${k + 1}` : name.text,
			hasOwnGroups: ownGroups ?? false
		})),
		gathered: count ? [of.text, name.text] : [of.text]
	};
}

/** Refuses arguments that a part has no parameter for. A recipe that is read as a part has its `let` statements besides. */
export function checkArguments({ recipe, from, to, parameters, file }: DefinedPart, given: GivenArguments): void {
	const lets =
		file === undefined
			? []
			: recipe.lines.slice(from, to).flatMap(({ statement }) => (isA(parameter, statement) ? [statement.name.text] : []));
	const names = [...parameters.map(({ name }) => name.text), ...lets];
	for (const [name] of given)
		if (!names.includes(name.text)) {
			const known = names.length > 0 ? `; there are ${names.join(', ')}` : '';
			fail(name, `the part has no parameter “${name.text}”${didYouMean(name.text, names) || known}`);
		}
}

/** Why a statement of a part is left out; undefined where it stands, an empty text where nothing need be said. */
export function whyNotInPart(statement: Statement, { file }: DefinedPart): string | undefined {
	// A recipe that is read as a part keeps its header and its deliveries for itself.
	if (notInParts.has(statement.kind)) return file === undefined ? `“${statement.kind}” does not stand in a part` : '';
	if (isA(size, statement) && !statement.zone)
		return 'a size for everything does not stand in a part; its fill has one: “fill body triangles size 1.5”';
	return undefined;
}

/** The arguments of a part that is a recipe of its own: its parameters have them as their values. */
export function settingsOf(given: GivenArguments, { file }: DefinedPart): Map<string, Expression> {
	if (file === undefined) return new Map();
	return new Map(
		[...given].flatMap(([{ text, from, to }, value]): [string, Expression][] => {
			if (value.kind === 'point') return [];
			const unit = value.dimension && fits(value.dimension, 'angle') ? { unit: 'rad' } : {};
			return [[text, { kind: 'number', value: value.value, ...unit, from, to }]];
		})
	);
}
