import { renameSync, rmSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { Command, CommanderError } from 'commander';
import { finish } from '../core/numeric/work.ts';
import { elementCount } from '../core/mesh/mesh.ts';
import { Pipeline, type Result } from '../core/pipeline.ts';
import type { Settings } from '../core/recipe/evaluate.ts';
import { parseExpression } from '../core/recipe/parse.ts';
import type { Expression } from '../core/recipe/syntax.ts';
import { deliver, deliveryFormats, formatByEnding, type DeliveryFormat } from '../formats/delivery.ts';
import { report, type Report } from '../formats/report.ts';
import { recipeOfFiles } from '../formats/recipe-of-files.ts';
import type { CoordinateFiles } from '../core/recipe/model.ts';
import { readFileBeside, readMentionedFiles, readRecipe } from './read-recipe.ts';

/** The call itself is wrong: exit status 2. */
class UsageError extends Error {}

/** The recipe has errors or no mesh came out: exit status 1, each reason a line on standard error. */
class RecipeError extends Error {}

/** Files that are no recipes but can be made one. */
const geometryEndings = /\.(dxf|svg|csv|tsv|dat|txt|xy)$/i;

interface Options {
	out?: string[];
	set?: string[];
	json?: boolean;
}

const collect = (value: string, list: string[] = []) => [...list, value];

/** Runs the command; returns its exit status. */
export async function main(argv: string[]): Promise<number> {
	const program = new Command('tessellon')
		.description('Turns a recipe of a 2D domain into a simulation mesh.')
		.exitOverride()
		.configureOutput({ writeErr: (text) => process.stderr.write(text) });
	program
		.command('mesh')
		.argument('<recipe>', 'a .tessellon file; or a DXF, SVG or coordinate file, which is imported first')
		.description('mesh a recipe and write what --out names')
		.option(
			'--out <file>',
			`file to write, its format by its ending (${deliveryFormats.map((f) => '.' + f.ending).join(', ')}); may be repeated`,
			collect
		)
		.option('--set <name=value>', 'value of a `let` parameter; may be repeated', collect)
		.option('--json', 'print the figures as one JSON object')
		.action((path: string, options: Options) => mesh(path, options));
	program
		.command('check')
		.argument('<recipe>', 'a .tessellon file; or a DXF, SVG or coordinate file, which is imported first')
		.description('say what is wrong or doubtful, and write nothing')
		.option('--set <name=value>', 'value of a `let` parameter; may be repeated', collect)
		.option('--json', 'print the figures as one JSON object')
		.action((path: string, options: Options) => check(path, options));
	program
		.command('import')
		.argument('<file...>', 'files of coordinates, DXF or SVG')
		.description('write a recipe that takes the curves of files, makes every closed outline a region and fills it with triangles')
		.option('--out <recipe>', 'the recipe to write; it goes to standard output without')
		.action((paths: string[], options: { out?: string }) => importFiles(paths, options.out));
	try {
		await program.parseAsync(argv, { from: 'user' });
		return 0;
	} catch (error) {
		if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
		if (error instanceof RecipeError) {
			if (error.message) complain(error.message);
			return 1;
		}
		complain(error instanceof Error ? error.message : String(error));
		return 2;
	}
}

const complain = (message: string) => process.stderr.write(`tessellon: ${message}\n`);

async function mesh(path: string, options: Options): Promise<void> {
	const targets = (options.out ?? []).map((file): { file: string; format: DeliveryFormat } => {
		const ending = /\.([^./\\]+)$/.exec(file)?.[1] ?? '';
		const format = formatByEnding(ending);
		if (!format)
			throw new UsageError(
				`${file}: no format has the ending \`.${ending}\`; there are ${deliveryFormats.map((f) => '.' + f.ending).join(', ')}`
			);
		return { file, format };
	});
	const result = run(path, options);
	for (const { file, format } of targets)
		if (elementCount(result.mesh) > 0 || (format.holds === 'drawing' && result.model.curves.length > 0))
			writeWhole(file, await deliver(result, format));
	conclude(path, result, options);
	if (elementCount(result.mesh) === 0)
		throw new RecipeError(
			`${path}: no mesh came out; ${result.regions.length === 0 ? 'the recipe defines no region' : 'no region could be filled'}`
		);
}

function importFiles(paths: string[], out: string | undefined): void {
	const files: CoordinateFiles = {};
	for (const path of paths) {
		const file = readFileBeside(path);
		if (!file) throw new UsageError(`there is no file ${path}`);
		if ('error' in file) throw new RecipeError(`${path}: ${file.error}`);
		files[basename(path)] = file;
	}
	const text = recipeOfFiles(files);
	if (out === undefined) process.stdout.write(text);
	else writeWhole(out, new TextEncoder().encode(text));
}

function check(path: string, options: Options): void {
	conclude(path, run(path, options), options);
}

function run(path: string, options: Options): Result {
	let text: string;
	let own: CoordinateFiles = {};
	try {
		if (geometryEndings.test(path)) {
			const file = readFileBeside(path);
			if (!file) throw new UsageError(`there is no file ${path}`);
			if ('error' in file) throw new RecipeError(`${path}: ${file.error}`);
			own = { [basename(path)]: file };
			text = recipeOfFiles(own);
		} else text = readRecipe(path);
	} catch (error) {
		if (error instanceof UsageError || error instanceof RecipeError) throw error;
		const { code, message } = error as NodeJS.ErrnoException;
		if (code === 'ENOENT') throw new UsageError(`there is no file ${path}`);
		if (code) throw new UsageError(message);
		throw new RecipeError(message);
	}
	const settings = readSettings(options.set ?? []);
	const pipeline = new Pipeline(() => performance.now());
	return finish(pipeline.run({ text, files: { ...readMentionedFiles(path, text), ...own }, settings }));
}

function readSettings(list: string[]): Settings {
	const settings = new Map<string, Expression>();
	for (const item of list) {
		const [, name, value] = /^\s*([^=\s]+)\s*=(.*)$/s.exec(item) ?? [];
		if (name === undefined || value === undefined)
			throw new UsageError(`--set ${item}: expected NAME=VALUE, like --set beta=0.5`);
		const { expression, error } = parseExpression(value);
		if (!expression) throw new UsageError(`--set ${item}: ${error!.message}`);
		settings.set(name, expression);
	}
	return settings;
}

/** Prints the figures and the findings; throws when the recipe has errors. */
function conclude(path: string, result: Result, options: Options): void {
	const figures = report(result);
	if (options.json) process.stdout.write(JSON.stringify(figures) + '\n');
	else process.stdout.write(summary(figures));
	for (const { severity, message, statement } of figures.findings) {
		if (severity === 'note' || (options.json && severity !== 'error')) continue;
		const place = statement ? `:${statement.line}:${statement.column}` : '';
		process.stderr.write(`${path}${place}: ${severity}: ${message}\n`);
	}
	if (figures.findings.some((f) => f.severity === 'error')) throw new RecipeError('');
}

function summary(figures: Report): string {
	const rows = [
		`${figures.nodes} nodes, ${figures.elements} elements (${figures.triangles} triangles, ${figures.quads} quadrilaterals)`
	];
	for (const r of figures.regions)
		rows.push(`region ${r.name}: ${r.fill}, ${r.elements} elements, area ${Number(r.area.toPrecision(8))}`);
	for (const g of figures.groups)
		rows.push(
			`group ${g.name}: ${g.kind}${g.kind === 'region' ? '' : `, ${g.edges} edges, length ${Number(g.length.toPrecision(8))}`}`
		);
	return rows.join('\n') + '\n';
}

/** Writes under another name first, so that no half-written file is ever left behind. */
function writeWhole(file: string, bytes: Uint8Array): void {
	const partial = `${file}.${process.pid}.partial`;
	try {
		writeFileSync(partial, bytes);
		renameSync(partial, file);
	} catch (error) {
		rmSync(partial, { force: true });
		throw new UsageError(`${file} could not be written: ${(error as Error).message}`);
	}
}
