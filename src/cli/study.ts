import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import type { Command } from 'commander';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { evaluateRecipe } from '../core/recipe/evaluate.ts';
import type { CoordinateFiles } from '../core/recipe/model.ts';
import { parseRecipe } from '../core/recipe/parse.ts';
import { parseSettings } from '../core/recipe/settings.ts';
import type { StudyCase } from '../core/study/cases.ts';
import { deliverAll } from '../formats/delivery.ts';
import { type CaseRecord, emptyRecord, outcomeOf, studyCases, studyNamed } from '../formats/study.ts';
import { studyFiles, type StudyManifest } from '../formats/study-page.ts';
import { RecipeError, UsageError } from './errors.ts';
import { caseHash, groundOf } from '../disk/case-hash.ts';
import { readMentionedFiles, readRecipe } from '../disk/read-recipe.ts';
import { submitToSlurm } from './slurm.ts';
import type { Subcommand } from './subcommand.ts';
import { writeWhole } from '../disk/write-whole.ts';
import { sentenceOf } from '../core/text/user-error.ts';

interface StudyOptions {
	name?: string;
	out: string;
	deliver?: boolean;
	jobs: string;
	shard?: string;
	engine: string;
	engineOption?: string[];
	json?: boolean;
}

/** `tessellon study`: runs all cases of a study, and makes one table of what came of them. */
export const study: Subcommand = (program) => {
	const command = program
		.command('study')
		.description('run the cases of a study; what is done is not done again, and a case that fails fails alone');
	addRun(
		command
			.command('run', { isDefault: true })
			.argument('<recipe>', 'a .tessellon file with a `study` statement')
			.option('--name <study>', 'which of its studies; the only one without')
			.requiredOption('--out <folder>', 'where the cases go, and the table')
			.option('--deliver', 'write all that the recipe asks for with `deliver`, case by case')
			.option('--jobs <number>', 'how many processes run at once here', '1')
			.option(
				'--shard <k/n>',
				'only every n-th case, from the k-th on (also from JOB_COMPLETION_INDEX and STUDY_SHARDS); makes no table'
			)
			.option('--engine <local|slurm>', 'run here, or submit an array job and a collecting job', 'local')
			.option(
				'--engine-option <option>',
				'passed on to sbatch, like --partition=long; may be repeated',
				(v: string, list: string[] = []) => [...list, v]
			)
			.option('--json', 'print the table as JSON')
	);
	command
		.command('collect')
		.argument('<folder>', 'the folder of a study')
		.description('make the table and the page of what is there')
		.action((folder: string) => void process.stdout.write(summary(collect(folder))));
};

const addRun = (command: Command) => void command.action(run);

async function run(path: string, options: StudyOptions): Promise<void> {
	const jobs = Number(options.jobs);
	if (!(Number.isInteger(jobs) && jobs >= 1 && jobs <= 256))
		throw new UsageError(`--jobs ${options.jobs}: a whole number from 1 to 256`);
	if (options.engine !== 'local' && options.engine !== 'slurm')
		throw new UsageError(`--engine ${options.engine}: local or slurm`);
	const shard = shardOf(options.shard);
	const { text, files, cases, manifest } = await planned(path, options.name);
	mkdirSync(join(options.out, 'cases'), { recursive: true });
	writeWhole(join(options.out, 'study.json'), new TextEncoder().encode(JSON.stringify(manifest, undefined, '\t') + '\n'));

	if (options.engine === 'slurm') {
		const said = await submitToSlurm(path, { ...options, jobs, cases: cases.length });
		process.stdout.write(said);
		return;
	}
	if (jobs > 1 && !shard) await inProcesses(path, options, jobs);
	else {
		const own = shard ? cases.filter((_, k) => k % shard.of === shard.k - 1) : cases;
		const pipeline = new Pipeline(() => performance.now());
		const ground = groundOf(text, beside(path));
		for (const one of own) await runCase(one, { text, files, path, ground, pipeline, options });
		// A shard's share is collected by whoever has all of them.
		if (shard) return;
	}
	const { done, failed, missing } = collect(options.out);
	if (options.json) process.stdout.write(readFileSync(join(options.out, 'table.json'), 'utf8'));
	else process.stdout.write(summary({ done, failed, missing }));
	if (failed > 0 || missing > 0) throw new RecipeError('');
}

/** The recipe, its files, and the cases of its study. */
async function planned(path: string, name: string | undefined) {
	let text: string;
	try {
		text = readRecipe(path);
	} catch (error) {
		const { code, message } = error as NodeJS.ErrnoException;
		throw new UsageError(code === 'ENOENT' ? `there is no file ${path}` : message);
	}
	const files: CoordinateFiles = await readMentionedFiles(path, text);
	const model = evaluateRecipe(parseRecipe(text), files);
	try {
		const own = studyNamed(model, name);
		const cases = studyCases(own, model, (file) => readFileSync(join(dirname(path), file), 'utf8'));
		const manifest: StudyManifest = { title: model.title, study: own.name, cases };
		return { text, files, cases, manifest };
	} catch (error) {
		const broken = model.findings.find((f) => f.severity === 'error');
		throw new RecipeError(`${path}: ${sentenceOf(error, 'the study')}${broken ? ` (${broken.message})` : ''}`);
	}
}

/** A share of the cases, as it is asked for or as a scheduler says it in the environment. */
function shardOf(asked: string | undefined): { k: number; of: number } | undefined {
	const { JOB_COMPLETION_INDEX: index, STUDY_SHARDS: count } = process.env;
	const text = asked ?? (index !== undefined && count !== undefined ? `${Number(index) + 1}/${count}` : undefined);
	if (text === undefined) return undefined;
	const [, k, of] = /^(\d+)\/(\d+)$/.exec(text) ?? [];
	if (!k || !of || Number(k) < 1 || Number(k) > Number(of))
		throw new UsageError(`--shard ${text}: expected K/N with K from 1 to N, like --shard 3/16`);
	return { k: Number(k), of: Number(of) };
}

/** So many processes of our own, each with its share. */
async function inProcesses(path: string, options: StudyOptions, jobs: number): Promise<void> {
	const own = Array.from({ length: jobs }, (_, k) => {
		const child = spawn(
			process.execPath,
			[
				...[process.argv[1]!, 'study', path, '--out', options.out, '--shard', `${k + 1}/${jobs}`],
				...(options.name ? ['--name', options.name] : []),
				...(options.deliver ? ['--deliver'] : [])
			],
			{ stdio: ['ignore', 'ignore', 'inherit'] }
		);
		return new Promise<void>((resolve, reject) => {
			child.on('error', reject);
			child.on('exit', () => resolve());
		});
	});
	await Promise.all(own);
}

interface Run {
	text: string;
	files: CoordinateFiles;
	path: string;
	/** The hash of what all cases depend on. */
	ground: string;
	pipeline: Pipeline;
	options: StudyOptions;
}

/** Runs a case, unless it is done: its record is there, of the same hash. */
async function runCase(one: StudyCase, { text, files, path, ground, pipeline, options }: Run): Promise<void> {
	const folder = join(options.out, 'cases', one.name);
	const hash = caseHash(ground, one, options.deliver === true);
	if (readRecord(folder)?.hash === hash) return;
	let record = emptyRecord(one, hash);
	let parts: { name: string; bytes: Uint8Array }[] = [];
	try {
		const result = finish(pipeline.run({ text, files, settings: parseSettings(one.settings), refine: one.refine }));
		record = { ...record, ...outcomeOf(result) };
		if (options.deliver && record.ok) parts = await deliverAll(result, basename(path).replace(/\.[^.]*$/, ''));
	} catch (error) {
		record = { ...record, ok: false, message: sentenceOf(error, 'this case') };
	}
	// A folder of its own takes the place of the old one when it is whole: what is killed on the way leaves none.
	const half = `${folder}.${process.pid}.part`;
	rmSync(half, { recursive: true, force: true });
	mkdirSync(half, { recursive: true });
	for (const { name, bytes } of parts) {
		mkdirSync(dirname(join(half, name)), { recursive: true });
		writeFileSync(join(half, name), bytes);
	}
	writeFileSync(join(half, 'case.json'), JSON.stringify(record, undefined, '\t') + '\n');
	rmSync(folder, { recursive: true, force: true });
	renameSync(half, folder);
}

/** The content of a file beside a recipe. */
const beside = (path: string) => (name: string) => {
	const file = join(dirname(path), name);
	return basename(name) === name && existsSync(file) ? readFileSync(file) : undefined;
};

function readRecord(folder: string): CaseRecord | undefined {
	try {
		return JSON.parse(readFileSync(join(folder, 'case.json'), 'utf8')) as CaseRecord;
	} catch {
		return undefined;
	}
}

/** Makes the table and the page of a study's folder; says how many cases there are of each kind. */
function collect(folder: string): { done: number; failed: number; missing: number } {
	const path = join(folder, 'study.json');
	if (!existsSync(path))
		throw new UsageError(`${folder} holds no study; it is made by \`tessellon study RECIPE --out ${folder}\``);
	const manifest = JSON.parse(readFileSync(path, 'utf8')) as StudyManifest;
	// What was killed halfway leaves a part of a folder.
	for (const name of readdirSync(join(folder, 'cases')))
		if (name.endsWith('.part')) rmSync(join(folder, 'cases', name), { recursive: true, force: true });
	const records = new Map<string, CaseRecord>();
	for (const { name } of manifest.cases) {
		const record = readRecord(join(folder, 'cases', name));
		if (record) records.set(name, record);
	}
	for (const { name, bytes } of studyFiles(manifest, records)) writeWhole(resolve(folder, name), bytes);
	const all = [...records.values()];
	return {
		done: all.filter((r) => r.ok).length,
		failed: all.filter((r) => !r.ok).length,
		missing: manifest.cases.length - all.length
	};
}

const summary = ({ done, failed, missing }: { done: number; failed: number; missing: number }): string =>
	`${done} done${failed > 0 ? `, ${failed} failed` : ''}${missing > 0 ? `, ${missing} missing` : ''}\n`;
