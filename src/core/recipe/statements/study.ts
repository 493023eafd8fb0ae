import type { Model, WithLine } from '../model/model.ts';
import { namesIn } from '../language/names.ts';
import type { Line } from '../language/recipe.ts';
import { type NamedRule, word } from '../language/rules.ts';
import { stated, type StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { Comma, keyword, Name } from '../language/tokens.ts';
import { didYouMean } from '../../text/nearest.ts';
import { fail, type EvaluationContext } from '../model/evaluation-context.ts';

/** A study takes no more cases than this. */
export const mostCases = 100_000;

/** A parameter and the values that it takes. */
export interface Variation {
	name: string;
	values: number[];
}

/** A parameter and the range from which its values are drawn. */
export interface Range {
	name: string;
	low: number;
	high: number;
	/** It gives a count somewhere: whole numbers alone are drawn. */
	whole?: true;
}

/** What is run how often: parameters by their values, rows of a table, finer and finer meshes, or random samples. */
export type StudyStatement = { name: string } & (
	| { kind: 'sweep'; variations: Variation[]; paired: boolean }
	| { kind: 'table'; file: string }
	| { kind: 'refine'; levels: number; by: number }
	| { kind: 'random'; count: number; seed: number; ranges: Range[] }
);

interface VariationSyntax {
	name: Word;
	/** Low and high end with a number of values, or the values themselves. */
	ends?: { low: Expression; high: Expression; count?: Expression };
	values?: Expression[];
}

export interface StudySyntax extends Statement {
	kind: 'study';
	name: Word;
	variations?: VariationSyntax[];
	paired?: boolean;
	file?: Word;
	refine?: { levels: Expression; by: Expression };
	random?: { count: Expression; seed?: Expression };
}

/** `beta from 0.4 to 0.7 in 7`, `rows in 16` */
const variation: NamedRule<VariationSyntax> = {
	name: 'variation',
	parse(p) {
		const name = word(p.CONSUME(Name));
		return p.OR([
			{
				ALT: () => {
					p.CONSUME(keyword('from'));
					const low = p.SUBRULE(p.expression);
					p.CONSUME(keyword('to'));
					const high = p.SUBRULE2(p.expression);
					const count = p.OPTION(() => {
						p.CONSUME(keyword('in'));
						return p.SUBRULE3(p.expression);
					});
					return { name, ends: { low, high, ...(count ? { count } : {}) } };
				}
			},
			{
				ALT: () => {
					p.CONSUME2(keyword('in'));
					return { name, values: [p.SUBRULE4(p.expression)] };
				}
			}
		]) as VariationSyntax;
	}
};

/** Variations in a list: a comma goes on with the values of the last, or with the next parameter. */
const variations: NamedRule<VariationSyntax[]> = {
	name: 'variations',
	parse(p) {
		const list = [p.SUBRULE(p.ruleOf(variation))];
		p.MANY(() => {
			p.CONSUME(Comma);
			p.OR({
				// A value may be a name; followed by `from` or `in` it is the next parameter.
				IGNORE_AMBIGUITIES: true,
				DEF: [
					{ ALT: () => void list.push(p.SUBRULE2(p.ruleOf(variation))) },
					{ ALT: () => void list.at(-1)?.values?.push(p.SUBRULE(p.expression)) }
				]
			});
		});
		return list;
	}
};

export const study: StatementRecord<StudySyntax, StudyStatement> = {
	kind: 'study',
	title: 'Study',
	words: ['study', 'from', 'to', 'in', 'paired', 'refine', 'levels', 'by', 'random', 'seed'],
	stage: 'studies',
	rules: [variation, variations],
	clauses: ['name', 'variations', 'paired', 'file', 'refine', 'random'],
	form: 'study ${name} = ${beta} from ${low} to ${high} in ${count}',
	doc: 'Runs the recipe many times: over all combinations of values of parameters (`paired`: the first with the first, the second with the second), over the rows of a table (`from "cases.csv"`), with finer and finer meshes (`refine 4 levels by 2`), or for random samples (`random 50 seed 7 beta from 0.4 to 0.7`).',
	grammar(p) {
		p.CONSUME(keyword('study'));
		const name = p.SUBRULE(p.definedName);
		return {
			kind: 'study',
			name,
			...(p.OR({
				// A parameter may be called `random`; here the words win.
				IGNORE_AMBIGUITIES: true,
				DEF: [
					{
						ALT: () => {
							p.CONSUME(keyword('from'));
							return { file: p.clause('file', () => p.SUBRULE(p.quoted)) };
						}
					},
					{
						ALT: () => ({
							refine: p.clause('refine', () => {
								p.CONSUME(keyword('refine'));
								const levels = p.SUBRULE(p.expression);
								p.CONSUME(keyword('levels'));
								p.CONSUME(keyword('by'));
								return { levels, by: p.SUBRULE2(p.expression) };
							})
						})
					},
					{
						ALT: () => ({
							random: p.clause('random', () => {
								p.CONSUME(keyword('random'));
								const count = p.SUBRULE3(p.expression);
								const seed = p.OPTION(() => {
									p.CONSUME(keyword('seed'));
									return p.SUBRULE4(p.expression);
								});
								return { count, ...(seed ? { seed } : {}) };
							}),
							variations: p.clause('variations', () => p.SUBRULE(p.ruleOf(variations)))
						})
					},
					{
						ALT: () => {
							const list = p.clause('variations', () => p.SUBRULE2(p.ruleOf(variations)));
							const paired = p.OPTION2(() => p.clause('paired', () => p.CONSUME(keyword('paired')) && true));
							return { variations: list, ...(paired ? { paired } : {}) };
						}
					}
				]
			}) as Partial<StudySyntax>)
		};
	},
	evaluate(statement, context) {
		const name = statement.name.text;
		if (statement.file) {
			tableOf(statement.file, context);
			return { name, kind: 'table', file: statement.file.text };
		}
		if (statement.refine) {
			const levels = whole(statement.refine.levels, 'levels', 1, 12, context);
			const by = whole(statement.refine.by, 'the factor of a refinement', 2, 10, context);
			if (by ** (levels - 1) > 4096)
				fail(statement.refine.by, `${levels} levels by ${by} divide an edge into ${by ** (levels - 1)}; up to 4096 can be`);
			return { name, kind: 'refine', levels, by };
		}
		for (const { name: parameter } of statement.variations ?? []) knownParameter(parameter, context);
		const twice = statement.variations?.find((v, k, all) => all.findIndex((w) => w.name.text === v.name.text) < k);
		if (twice) fail(twice.name, `“${twice.name.text}” is varied twice`);
		if (statement.random) {
			const count = whole(statement.random.count, 'samples', 1, mostCases, context);
			const seed = statement.random.seed ? whole(statement.random.seed, 'a seed', 0, 2 ** 31 - 2, context) : 1;
			const counts = parametersOfCounts(context.model.recipe.lines);
			const ranges = statement.variations!.map(({ name: parameter, ends }): Range => {
				if (!ends || ends.count)
					fail(
						parameter,
						`a random sample is drawn from a range: “${parameter.text} from low to high”, without a number of values`
					);
				const range = endsOf(ends, context);
				return { name: parameter.text, ...(counts.has(parameter.text) ? wholeRange(range, ends.low) : range) };
			});
			return { name, kind: 'random', count, seed, ranges };
		}
		const list = statement.variations!.map(({ name: parameter, ends, values }): Variation => {
			if (values) return { name: parameter.text, values: values.map((e) => context.number(e, 'any')) };
			if (!ends!.count)
				fail(parameter, `say how many values “${parameter.text}” takes: “${parameter.text} from low to high in 5”`);
			const count = whole(ends!.count, 'values', 2, mostCases, context);
			const { low, high } = endsOf(ends!, context);
			return {
				name: parameter.text,
				values: Array.from({ length: count }, (_, k) =>
					k === count - 1 ? high : Number((low + ((high - low) * k) / (count - 1)).toPrecision(12))
				)
			};
		});
		const paired = statement.paired === true;
		if (paired) {
			const [first, ...others] = list;
			const other = others.findIndex(({ values }) => values.length !== first!.values.length);
			if (other >= 0)
				fail(
					statement.variations![other + 1]!.name,
					`“${others[other]!.name}” has ${others[other]!.values.length} values and “${first!.name}” ${first!.values.length}; paired parameters have as many`
				);
		} else {
			const total = list.reduce((product, { values }) => product * values.length, 1);
			if (total > mostCases)
				fail(
					statement.name,
					`these are ${total.toLocaleString('en')} cases; a study takes up to ${mostCases.toLocaleString('en')}`
				);
		}
		return { name, kind: 'sweep', variations: list, paired };
	},
	defines: ({ name }) => ({ space: 'study', name }),
	file: ({ file }) => file,
	uses: ({ variations: list = [], refine, random }) => [
		...namesIn(
			list.flatMap(({ ends, values }) => [
				...(values ?? []),
				...(ends ? [ends.low, ends.high] : []),
				...(ends?.count ? [ends.count] : [])
			]),
			refine?.levels,
			refine?.by,
			random?.count,
			random?.seed
		),
		...list.map(({ name }) => ({ space: 'value' as const, name: name.text, from: name.from }))
	]
};

function endsOf({ low, high }: { low: Expression; high: Expression }, context: EvaluationContext): { low: number; high: number } {
	const ends = { low: context.number(low, 'any'), high: context.number(high, 'any') };
	if (!(ends.low < ends.high)) fail(low, `the range starts at ${ends.low}, which is not below its end ${ends.high}`);
	return ends;
}

/** The clauses whose number is a count. */
const countClauses: ReadonlySet<string> = new Set(['into', 'count', 'sides', 'layers']);

const isName = (value: unknown): value is { kind: 'name'; name: string } =>
	typeof value === 'object' && value !== null && 'kind' in value && value.kind === 'name' && 'name' in value;

/** The parameters that stand where a recipe wants a whole number: `into n`, `count n`. */
function parametersOfCounts(lines: readonly Line[]): Set<string> {
	const found = new Set<string>();
	const take = (clauses: object) => {
		for (const [clause, value] of Object.entries(clauses)) if (countClauses.has(clause) && isName(value)) found.add(value.name);
	};
	for (const { statement } of lines) {
		if (!statement) continue;
		take(statement);
		if ('numbers' in statement && typeof statement.numbers === 'object' && statement.numbers) take(statement.numbers);
	}
	return found;
}

/** The whole numbers of a range. */
function wholeRange({ low, high }: { low: number; high: number }, at: Expression): Omit<Range, 'name'> {
	const [from, to] = [Math.ceil(low), Math.floor(high)];
	if (from > to) fail(at, `there is no whole number from ${low} to ${high}, and a count is drawn from them`);
	return { low: from, high: to, whole: true };
}

function whole(e: Expression, what: string, least: number, most: number, context: EvaluationContext): number {
	const value = context.number(e, 'number');
	if (!(Number.isInteger(value) && value >= least && value <= most))
		fail(e, `${value} is no number for ${what}; it is a whole number from ${least} to ${most}`);
	return value;
}

function knownParameter(name: Word, { model }: EvaluationContext): void {
	const names = model.parameters.map((p) => p.name);
	if (!names.includes(name.text)) fail(name, `no parameter is named “${name.text}”${didYouMean(name.text, names)}`);
}

/** The text of a table of cases that stands beside the recipe. */
function tableOf(word: Word, { files }: EvaluationContext): void {
	const file = Object.hasOwn(files, word.text) ? files[word.text] : undefined;
	if (!file) fail(word, `there is no file “${word.text}” beside this recipe; a table of cases has a column for each parameter`);
}

/** The studies of a recipe, in their order. */
export const studiesOf = (model: Model): WithLine<StudyStatement>[] => stated(model, study);
