import type { StudyCase } from '../../core/study/cases.ts';
import { type CaseFigures, figureTitles } from '../../formats/study.ts';
import { short } from '../ledger/rows.ts';
import type { CaseOutcome } from './case-outcome.ts';

export type FigureKey = keyof CaseFigures;

/** A case, and what came of it so far. */
export interface CaseRow {
	one: StudyCase;
	outcome: CaseOutcome | undefined;
}

/** Least and largest value, by the name of a column. */
export type Limits = Readonly<Record<string, [number, number] | undefined>>;

/** The figures that have a column. */
export const shownFigures: readonly FigureKey[] = ['elements', 'area', 'minJacobian', 'meanJacobian', 'minAngle', 'maxAspect'];

const isFigure = (key: string): key is FigureKey => key in figureTitles;

/** The value of a case in a column; NaN where it has none yet. */
export function valueOf({ one, outcome }: CaseRow, key: string): number | string {
	if (key === 'case') return one.name;
	if (key === 'refine') return one.refine;
	if (key === 'status') return outcome ? (outcome.ok ? 'done' : 'failed') : 'waiting';
	if (key === 'time') return outcome?.milliseconds ?? NaN;
	const setting = one.settings[key];
	if (setting !== undefined) return Number.isNaN(Number(setting)) ? setting : Number(setting);
	return isFigure(key) ? (outcome?.figures?.[key] ?? NaN) : NaN;
}

/** The value as a cell of the table shows it. */
export function textOf(row: CaseRow, key: string): string {
	const value = valueOf(row, key);
	if (typeof value === 'string') return value;
	if (Number.isNaN(value)) return '–';
	return key === 'time' ? `${Math.round(value)} ms` : short(value);
}

export const headingOf = (key: string): string => (key === 'refine' ? 'refined by' : isFigure(key) ? figureTitles[key] : key);

/** Names of the parameters that a study varies, in the order of their first case. */
export const parametersOf = (cases: readonly StudyCase[]): string[] => [
	...new Set(cases.flatMap((c) => Object.keys(c.settings)))
];

/** Columns that may hold numbers: the parameters, the refinement where it varies, and the figures. */
export const numericColumns = (cases: readonly StudyCase[]): string[] => [
	...parametersOf(cases),
	...(cases.some((c) => c.refine !== 1) ? ['refine'] : []),
	...shownFigures
];

/** The rows whose name, status or message has all words of a filter, and whose values lie within the limits. */
export function filtered(rows: readonly CaseRow[], filter: string, limits: Limits): CaseRow[] {
	const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
	const isWithin = (row: CaseRow) =>
		Object.entries(limits).every(([key, limit]) => {
			const value = valueOf(row, key);
			return !limit || (typeof value === 'number' && value >= limit[0] && value <= limit[1]);
		});
	return rows.filter((row) => {
		const text = `${row.one.name} ${valueOf(row, 'status')} ${row.outcome?.message ?? ''}`.toLowerCase();
		return words.every((word) => text.includes(word)) && isWithin(row);
	});
}

/** The rows by the values of a column, numbers by size, names by the numbers in them; cases without a value come last, both ways. */
export function sorted(rows: readonly CaseRow[], key: string, isDown: boolean): CaseRow[] {
	const isMissing = (value: number | string) => typeof value === 'number' && Number.isNaN(value);
	return rows.toSorted((a, b) => {
		const [p, q] = [valueOf(a, key), valueOf(b, key)];
		if (isMissing(p) || isMissing(q)) return Number(isMissing(p)) - Number(isMissing(q));
		const order =
			typeof p === 'string' || typeof q === 'string' ? String(p).localeCompare(String(q), 'en', { numeric: true }) : p - q;
		return isDown ? -order : order;
	});
}

/** The case with the least scaled Jacobian. */
export function worstOf(rows: readonly CaseRow[]): CaseRow | undefined {
	let worst: CaseRow | undefined;
	for (const row of rows)
		if (row.outcome?.figures && !(row.outcome.figures.minJacobian >= (worst?.outcome?.figures?.minJacobian ?? Infinity)))
			worst = row;
	return worst;
}
