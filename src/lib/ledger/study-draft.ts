/** What one parameter of a study runs through, as it is typed: even steps, or a list. */
export interface StudyRow {
	parameter: string;
	way: 'steps' | 'list';
	low: string;
	high: string;
	count: string;
	list: string;
}

/** What a parameter runs through in the words of the recipe. */
export const rowSource = ({ parameter, way, low, high, count, list }: StudyRow): string =>
	way === 'steps' ? `${parameter} from ${low} to ${high} in ${count}` : `${parameter} in ${list.trim().replace(/[,;\s]+$/, '')}`;

/** The statement of a study; with `paired`, the first values go together, then the second, and so on. */
export const studySource = (name: string, rows: readonly StudyRow[], paired: boolean): string =>
	`study ${name} = ${rows.map(rowSource).join(', ')}${paired && rows.length > 1 ? ' paired' : ''}`;

/** How many values a row gives; undefined where that cannot be told. */
export function valuesIn({ way, count, list }: StudyRow): number | undefined {
	const given = way === 'steps' ? Number(count) : list.split(',').filter((v) => v.trim() !== '').length;
	return Number.isInteger(given) && given > 0 ? given : undefined;
}

/** How many cases a study has; undefined where that cannot be told. */
export function casesIn(rows: readonly StudyRow[], paired: boolean): number | undefined {
	const counts = rows.map(valuesIn);
	if (counts.length === 0 || counts.some((n) => n === undefined)) return undefined;
	const known = counts as number[];
	if (!paired || known.length < 2) return known.reduce((product, n) => product * n, 1);
	return known.every((n) => n === known[0]) ? known[0] : undefined;
}
