import { basename, dirname, join } from 'node:path';
import type { Command } from 'commander';
import { collect } from './subcommand.ts';
import { Pipeline, type Result } from '../core/pipeline.ts';
import type { Settings } from '../core/recipe/model/evaluate.ts';
import type { CoordinateFiles } from '../core/recipe/model/model.ts';
import { parseSettings } from '../core/recipe/model/settings.ts';
import { recipeOfFiles } from '../formats/recipe-of-files.ts';
import { checkDeliveries } from '../formats/check-deliveries.ts';
import { deliveredText, report, type Report } from '../formats/report.ts';
import { RecipeError, UsageError } from './errors.ts';
import { fillHelpers, finishShared } from '../platform/threads/fill-helpers.ts';
import { readDrawingFile, readMentionedFiles, readRecipe } from '../platform/read-recipe.ts';
import { uncapital } from '../core/text/sentences.ts';
import { sentenceOf } from '../core/text/user-error.ts';

/** Files that are no recipes but can be made one. */
const geometryEndings = /\.(dxf|svg|csv|tsv|dat|txt|xy|cgns|vtu)$/i;

/** What all subcommands that run a recipe take. */
export interface RunOptions {
	set?: string[];
	json?: boolean;
}

/** Adds the argument and the options of a subcommand that runs a recipe. */
export const runsRecipe = (command: Command): Command =>
	command
		.argument('<recipe>', 'a .tessellon file; or a DXF, SVG, coordinate or mesh file, which is imported first')
		.option('--set <name=value>', 'value of a “let” parameter; may be repeated', collect)
		.option('--json', 'print the figures as one JSON object');

/** What came of a recipe file, and the files that were read for it. */
export interface RecipeRun {
	result: Result;
	inputs: string[];
}

/** Runs the recipe of a file, with the files beside it. */
export async function runRecipe(path: string, options: RunOptions): Promise<RecipeRun> {
	let text: string;
	let files: CoordinateFiles;
	if (geometryEndings.test(path)) {
		const file = await readDrawingFile(path);
		if ('error' in file) throw new RecipeError(`${path}: ${file.error}`);
		files = { [basename(path)]: file };
		text = recipeOfFiles(files);
	} else {
		text = readRecipe(path);
		files = await readMentionedFiles(path, text);
	}
	const settings = readSettings(options.set ?? []);
	const helpers = fillHelpers();
	const pipeline = new Pipeline(() => performance.now(), helpers);
	try {
		const result = await finishShared(pipeline, pipeline.run({ text, files, settings }));
		return { result, inputs: [path, ...Object.keys(files).map((name) => join(dirname(path), name))] };
	} finally {
		helpers?.end();
	}
}

/** Reads `NAME=VALUE` words. */
function readSettings(list: readonly string[]): Settings {
	const sources: Record<string, string> = {};
	for (const item of list) {
		const { name, value } = readAssignment(item, '--set', 'beta=0.5');
		sources[name] = value;
	}
	try {
		return parseSettings(sources);
	} catch (error) {
		throw new UsageError(`--set ${sentenceOf(error)}`);
	}
}

/** Splits NAME=VALUE; throws UsageError with an example where it is none. */
export function readAssignment(item: string, option: string, example: string): { name: string; value: string } {
	const [, name, value] = /^\s*([^=\s]+)\s*=(.*)$/s.exec(item) ?? [];
	if (name === undefined || value === undefined)
		throw new UsageError(`${option} ${item}: expected NAME=VALUE, like ${option} ${example}`);
	return { name, value };
}

/** Prints the figures and the findings; throws when the recipe has errors. */
export function conclude(path: string, result: Result, options: RunOptions): void {
	const figures = report(result, checkDeliveries(result.model));
	if (options.json) process.stdout.write(JSON.stringify(figures) + '\n');
	else process.stdout.write(summary(figures));
	for (const { severity, message, statement, mends } of figures.findings) {
		if (severity === 'note' || (options.json && severity !== 'error')) continue;
		const place = statement ? `:${statement.line}:${statement.column}` : '';
		const mend = severity === 'error' && mends.length > 0 ? ` (${mends.map(uncapital).join(', or: ')})` : '';
		process.stderr.write(`${path}${place}: ${severity}: ${message}${mend}\n`);
	}
	if (figures.findings.some((f) => f.severity === 'error')) throw new RecipeError('');
}

function summary(figures: Report): string {
	const { delivered } = figures;
	const rows = [
		`${figures.nodes} nodes, ${figures.elements} elements (${figures.triangles} triangles, ${figures.quads} quadrilaterals)`,
		...(delivered ? [`delivered as ${deliveredText(delivered)}`] : [])
	];
	for (const r of figures.regions)
		rows.push(`region ${r.name}: ${r.fill}, ${r.elements} elements, area ${Number(r.area.toPrecision(8))}`);
	for (const g of figures.groups)
		rows.push(
			`group ${g.name}: ${g.kind}${g.kind === 'region' ? '' : `, ${g.edges} edges, length ${Number(g.length.toPrecision(8))}`}`
		);
	return rows.join('\n') + '\n';
}
