import { formatNumber } from '../recipe/language/literals.ts';
import { mostCases, type StudyStatement } from '../recipe/statements/study.ts';
import { UserError } from '../text/user-error.ts';

/** One run of a study. */
export interface StudyCase {
	/** Its place among the cases of the study, from 1. A case is known by its number and its values. */
	number: number;
	/** What a table calls it: the name that the user gave it, or its values. Two cases may have one name. */
	name: string;
	/** Values of parameters, by name, as a recipe writes them. */
	settings: Record<string, string>;
	/** Into how many every edge of the recipe's mesh is divided. */
	refine: number;
}

/** A table of cases: the names of its columns, and its rows. */
export interface CaseTable {
	columns: readonly string[];
	rows: readonly Readonly<Record<string, string | undefined>>[];
}

/**
 * The cases of a study, in their order; throws an Error with a sentence where its table does not fit the recipe.
 *
 * @param parameters names of the parameters that the recipe has
 * @param table what the file of a table holds, where the study is one
 */
export const casesOf = (study: StudyStatement, parameters: readonly string[], table?: CaseTable): StudyCase[] =>
	unnumbered(study, parameters, table).map((one, k) => ({ number: k + 1, ...one }));

type Unnumbered = Omit<StudyCase, 'number'>;

function unnumbered(study: StudyStatement, parameters: readonly string[], table?: CaseTable): Unnumbered[] {
	switch (study.kind) {
		case 'refine':
			return Array.from({ length: study.levels }, (_, k) => ({ name: `level_${k + 1}`, settings: {}, refine: study.by ** k }));
		case 'sweep': {
			const { variations, paired } = study;
			const rows = paired
				? variations[0]!.values.map((_, k) => variations.map(({ values }) => values[k]!))
				: variations.reduce<number[][]>((all, { values }) => all.flatMap((row) => values.map((v) => [...row, v])), [[]]);
			return rows.map((row) => {
				const settings = Object.fromEntries(variations.map(({ name }, k) => [name, formatNumber(row[k]!)]));
				return { name: nameOf(settings), settings, refine: 1 };
			});
		}
		case 'random':
			return samples(study.count, study.seed, study.ranges.length).map((row, k, all) => ({
				name: `sample_${String(k + 1).padStart(String(all.length).length, '0')}`,
				settings: Object.fromEntries(
					study.ranges.map(({ name, low, high, whole }, r) => [
						name,
						formatNumber(
							whole
								? Math.min(high, low + Math.floor((high - low + 1) * row[r]!))
								: Number((low + (high - low) * row[r]!).toPrecision(12))
						)
					])
				),
				refine: 1
			}));
		case 'table':
			return ofTable(study.file, table, parameters);
	}
}

function ofTable(file: string, table: CaseTable | undefined, parameters: readonly string[]): Unnumbered[] {
	if (!table || table.rows.length === 0) throw new UserError(`“${file}” holds no row of cases under its headings`);
	if (table.rows.length > mostCases)
		throw new UserError(
			`“${file}” has ${table.rows.length.toLocaleString('en')} rows; a study takes up to ${mostCases.toLocaleString('en')} cases`
		);
	const columns = table.columns.filter((column) => parameters.includes(column));
	const named = table.columns.find((column) => column === 'case' || column === 'name');
	const unknown = table.columns.find((column) => column !== named && !parameters.includes(column));
	if (columns.length === 0 || unknown !== undefined)
		throw new UserError(
			`“${file}” has a column “${unknown ?? table.columns[0]}”, and no parameter has that name; there are ${parameters.join(', ')}, and “case” for names`
		);
	return table.rows.map((row, k) => {
		const empty = columns.find((column) => (row[column] ?? '').trim() === '');
		if (empty !== undefined) throw new UserError(`row ${k + 1} of “${file}” has no value for “${empty}”`);
		const settings = Object.fromEntries(columns.map((column) => [column, row[column]!.trim()]));
		const name = named === undefined ? '' : (row[named] ?? '').trim();
		return { name: name === '' ? nameOf(settings) : name, settings, refine: 1 };
	});
}

/** Latin hypercube samples (M. D. McKay, R. J. Beckman & W. J. Conover, Technometrics 21, 1979): each of `count` strata of every dimension once. */
function samples(count: number, seed: number, dimensions: number): number[][] {
	// Park & Miller's minimal generator: the same samples everywhere.
	let state = (seed % 2147483646) + 1;
	const next = () => (state = (state * 16807) % 2147483647) / 2147483647;
	for (let k = 0; k < 10; k++) next();
	const columns = Array.from({ length: dimensions }, () => {
		const order = Array.from({ length: count }, (_, k) => k);
		for (let k = count - 1; k > 0; k--) {
			const other = Math.floor(next() * (k + 1));
			[order[k], order[other]] = [order[other]!, order[k]!];
		}
		return order.map((stratum) => (stratum + next()) / count);
	});
	return Array.from({ length: count }, (_, k) => columns.map((column) => column[k]!));
}

const nameOf = (settings: Readonly<Record<string, string>>): string =>
	Object.entries(settings)
		.map(([name, value]) => `${name}_${value}`)
		.join('_');

/** Longest part of a folder's name that is taken from the name of its case. */
const longestSlug = 40;

/**
 * The name of the folder of a case: its number, which makes it unique, and what letters of its name every file system takes,
 * like `0003-w_2_n_3`.
 */
export function caseFolder({ number, name }: Pick<StudyCase, 'number' | 'name'>): string {
	const slug = name
		.normalize('NFKD')
		.replace(/\p{M}/gu, '')
		.replace(/[^A-Za-z0-9._+-]+/g, '_')
		.slice(0, longestSlug)
		.replace(/^[._+-]+|[._]+$/g, '');
	return `${String(number).padStart(4, '0')}${slug === '' ? '' : `-${slug}`}`;
}
