import { keysOf } from '../core/text/typed.ts';
import { csvFormatRows, csvParse, dsvFormat, tsvParse } from 'd3-dsv';
import type { Result } from '../core/pipeline.ts';
import type { Model } from '../core/recipe/model/model.ts';
import { studiesOf, type StudyStatement } from '../core/recipe/statements/study.ts';
import { type CaseTable, casesOf, type StudyCase } from '../core/study/cases.ts';
import type { Finding } from '../core/text/finding.ts';
import { didYouMean } from '../core/text/nearest.ts';
import { report, type Report } from './report.ts';
import { safeCell } from './safe-cell.ts';
import { UserError } from '../core/text/user-error.ts';

/** What came of one case. */
export interface CaseRecord {
	number: number;
	/** The name of the case, as it stands in tables. */
	case: string;
	/** Of all that the case depends on. */
	hash: string;
	settings: Record<string, string>;
	refine: number;
	/** Whether a mesh came out without errors; otherwise why not. */
	ok: boolean;
	message: string;
	figures: CaseFigures | null;
}

/** What a case came to in numbers. */
export type CaseFigures = {
	nodes: number;
	elements: number;
	triangles: number;
	quads: number;
	area: number;
	minJacobian: number;
	meanJacobian: number;
	minAngle: number;
	maxAngle: number;
	maxAspect: number;
	irregular: number;
	firstHeight: number;
	wallMean: number;
	boundary: number;
	errors: number;
	warnings: number;
};

/** The columns of figures, with their headings. */
export const figureTitles: Record<keyof CaseFigures, string> = {
	nodes: 'nodes',
	elements: 'elements',
	triangles: 'triangles',
	quads: 'quads',
	area: 'area',
	minJacobian: 'least scaled Jacobian',
	meanJacobian: 'mean scaled Jacobian',
	minAngle: 'smallest angle in degrees',
	maxAngle: 'largest angle in degrees',
	maxAspect: 'largest aspect ratio',
	irregular: 'irregular nodes',
	firstHeight: 'least first height of layers',
	wallMean: 'mean wall height over what is asked',
	boundary: 'length of all groups',
	errors: 'errors',
	warnings: 'warnings'
};

/** The figures of a report that a study compares. */
function caseFigures(report: Report): CaseFigures {
	const { quality, layers, walls } = report;
	const count = (severity: string) => report.findings.filter((f) => f.severity === severity).length;
	return {
		nodes: report.nodes,
		elements: report.elements,
		triangles: report.triangles,
		quads: report.quads,
		area: report.regions.reduce((sum, { area }) => sum + area, 0),
		minJacobian: quality.scaledJacobian!.min,
		meanJacobian: quality.scaledJacobian!.mean,
		minAngle: quality.minimumAngle!.min,
		maxAngle: quality.maximumAngle!.max,
		maxAspect: quality.aspectRatio!.max,
		irregular: report.irregular.nodes,
		firstHeight: layers.length > 0 ? Math.min(...layers.map(({ first }) => first.min)) : 0,
		wallMean: walls.length > 0 ? walls.reduce((sum, { mean }) => sum + mean, 0) / walls.length : 0,
		boundary: report.groups.reduce((sum, { length }) => sum + length, 0),
		errors: count('error'),
		warnings: count('warning')
	};
}

/** Whether a finding is about a statement that says a study. */
const isAboutStudy = ({ span }: Finding, { recipe }: Pick<Result, 'recipe'>): boolean =>
	span !== undefined &&
	recipe.lines.some(({ from, to }) => from <= span.from && span.to <= to && /^study\b/.test(recipe.text.slice(from, to)));

/** What a case came to: its figures where there is a mesh, and what is wrong with it, the first error or that there is no mesh. */
export function outcomeOf(result: Result): { ok: boolean; message: string; figures: CaseFigures | null } {
	const figures = caseFigures(report(result));
	// What is wrong with a study, this or another, is no fault of the mesh of a case.
	const first = result.findings.find((f) => f.severity === 'error' && !isAboutStudy(f, result));
	const message = first?.message ?? (figures.elements === 0 ? 'no mesh came out' : '');
	return { ok: message === '', message, figures: figures.elements === 0 ? null : figures };
}

/** The record of a case that has not been run. */
export const emptyRecord = ({ number, name, settings, refine }: StudyCase, hash: string): CaseRecord => ({
	number,
	case: name,
	hash,
	settings,
	refine,
	ok: false,
	message: '',
	figures: null
});

/** The longest line of headings that a table of cases may have. */
const longestHeadings = 20_000;

/**
 * A table of cases from the text of a file: comma, semicolon or tab between columns, headings first. Throws a {@link UserError}
 * where the headings have no end.
 */
export function readCaseTable(text: string): CaseTable {
	const first = text.slice(0, text.indexOf('\n') + 1 || undefined);
	if (first.length > longestHeadings)
		throw new UserError(
			`the line of headings of a table of cases has ${first.length} characters, and ${longestHeadings} are the most; it names a parameter to a column`
		);
	const parsed = first.includes('\t') ? tsvParse(text) : first.includes(';') ? dsvFormat(';').parse(text) : csvParse(text);
	return {
		columns: parsed.columns.map((c) => c.trim()),
		rows: parsed.map((row) => Object.fromEntries(Object.entries(row).map(([k, v]) => [k.trim(), v])))
	};
}

/** A figure as a cell; empty where there is none. */
const textOf = (value: number | null | undefined): string => (Number.isFinite(value) ? String(value) : '');

/** One of a recipe's studies by its name, the only one without; throws an Error with a sentence where there is none. */
export function studyNamed(model: Model, name: string | undefined): StudyStatement {
	const all = studiesOf(model);
	const chosen = studyAmong(
		all.map((s) => s.name),
		name,
		'--name'
	);
	return all.find((s) => s.name === chosen)!;
}

/**
 * One of the names of a recipe's studies, the only one without; throws an Error with a sentence where there is none.
 *
 * @param by how a name is given
 */
export function studyAmong(names: readonly string[], name: string | undefined, by: string): string {
	if (names.length === 0)
		throw new UserError('the recipe has no study; write one, like “study sweep = beta from 0.4 to 0.7 in 7”');
	if (name === undefined) {
		if (names.length > 1) throw new UserError(`the recipe has the studies ${names.join(', ')}; say which with ${by}`);
		return names[0]!;
	}
	if (!names.includes(name))
		throw new UserError(`the recipe has no study “${name}”${didYouMean(name, names) || `; there are ${names.join(', ')}`}`);
	return name;
}

/** The cases of a study; `readFile` gives the text of a file beside the recipe. */
export const studyCases = (study: StudyStatement, model: Model, readFile: (name: string) => string): StudyCase[] =>
	casesOf(
		study,
		model.parameters.map((p) => p.name),
		study.kind === 'table' ? readCaseTable(readFile(study.file)) : undefined
	);

/**
 * The table of a study: its cases in their order, as CSV with a Data Package, and as JSON.
 *
 * @param records what came of cases, by their number
 */
export function studyTable(
	cases: readonly StudyCase[],
	records: ReadonlyMap<number, CaseRecord>
): { csv: string; json: string; dataPackage: string } {
	const parameters = [...new Set(cases.flatMap((c) => Object.keys(c.settings)))];
	const figures = keysOf(figureTitles);
	const fixed = ['number', 'case', 'refine', 'status', ...figures, 'message', 'hash'];
	// A parameter may have the name of another column.
	const columnOf = new Map(parameters.map((name) => [name, fixed.includes(name) ? `parameter_${name}` : name]));
	const columns = ['number', 'case', ...columnOf.values(), 'refine', 'status', ...figures, 'message', 'hash'];
	const rows = cases.map(({ number, name, settings, refine }): Record<string, string> => {
		const record = records.get(number);
		return {
			number: String(number),
			case: name,
			...Object.fromEntries(parameters.map((p) => [columnOf.get(p)!, settings[p] ?? ''])),
			refine: String(refine),
			status: record ? (record.ok ? 'done' : 'failed') : 'missing',
			...Object.fromEntries(figures.map((f) => [f, textOf(record?.figures?.[f])])),
			message: record?.message ?? '',
			hash: record?.hash ?? ''
		};
	});
	const csv = csvFormatRows([columns, ...rows.map((row) => columns.map((c) => safeCell(row[c]!)))]) + '\n';
	const texts = new Set(['case', 'status', 'message', 'hash', ...columnOf.values()]);
	const dataPackage = {
		profile: 'tabular-data-package',
		name: 'study',
		resources: [
			{
				profile: 'tabular-data-resource',
				name: 'table',
				path: 'table.csv',
				format: 'csv',
				encoding: 'utf-8',
				schema: {
					fields: columns.map((name) => ({
						name,
						type: texts.has(name) ? 'string' : 'number',
						...(name in figureTitles ? { title: figureTitles[name as keyof CaseFigures] } : {})
					})),
					primaryKey: 'number',
					missingValues: ['']
				}
			}
		]
	};
	return {
		csv,
		json: JSON.stringify(rows, undefined, '\t') + '\n',
		dataPackage: JSON.stringify(dataPackage, undefined, '\t') + '\n'
	};
}
