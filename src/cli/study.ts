import { basename } from 'node:path';
import type { Command } from 'commander';
import { Pipeline } from '../core/pipeline.ts';
import { evaluateRecipe } from '../core/recipe/model/evaluate.ts';
import type { CoordinateFiles } from '../core/recipe/model/model.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import { parseSettings } from '../core/recipe/model/settings.ts';
import type { StudyCase } from '../core/study/cases.ts';
import { sentenceOf } from '../core/text/user-error.ts';
import { runCase as runOne } from '../formats/study-case.ts';
import { caseHash, contentHash, groundOf } from '../platform/case-hash.ts';
import { startChild } from '../platform/threads/child-process.ts';
import { finishShared } from '../platform/threads/fill-helpers.ts';
import { contentBeside, readMentionedFiles, readRecipe } from '../platform/read-recipe.ts';
import { type CaseCounts, StudyFolder } from '../platform/study-folder.ts';
import { decodeText } from '../formats/coordinates.ts';
import { deliverAll } from '../formats/delivery.ts';
import { studyCases, studyNamed } from '../formats/study.ts';
import type { StudyManifest } from '../formats/study-page.ts';
import { complain, RecipeError, UsageError } from './errors.ts';
import { submitToSlurm } from './slurm.ts';
import type { Subcommand } from './subcommand.ts';

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
			.argument('<recipe>', 'a .tessellon file with a “study” statement')
			.option('--name <study>', 'which of its studies; the only one without')
			.requiredOption('--out <folder>', 'where the cases go, and the table')
			.option('--deliver', 'write all that the recipe asks for with “deliver”, case by case')
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
		.action((folder: string) => void process.stdout.write(summary(StudyFolder.open(folder).collect())));
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
	const folder = StudyFolder.make(options.out, manifest);

	if (options.engine === 'slurm') {
		const said = await submitToSlurm(path, { ...options, jobs, cases: cases.length });
		process.stdout.write(said);
		return;
	}
	if (jobs > 1 && !shard) await inProcesses(path, options, jobs);
	else {
		const share = shard ? cases.filter((_, k) => k % shard.of === shard.k - 1) : cases;
		const pipeline = new Pipeline(() => performance.now());
		const ground = groundOf(text, (name) => contentHash(contentBeside(path, name)));
		for (const one of share) await runCase(one, { text, files, path, ground, pipeline, folder, options });
		// A shard's share is collected by whoever has all of them.
		if (shard) return;
	}
	const counts = folder.collect();
	process.stdout.write(options.json ? folder.table : summary(counts));
	if (counts.failed > 0 || counts.missing > 0) throw new RecipeError('');
}

/** The recipe, its files, and the cases of its study. */
async function planned(path: string, name: string | undefined) {
	const text = readRecipe(path);
	const files: CoordinateFiles = await readMentionedFiles(path, text);
	const model = evaluateRecipe(parseRecipe(text), files);
	try {
		const chosen = studyNamed(model, name);
		const cases = studyCases(chosen, model, (file) => decodeText(contentBeside(path, file) ?? new Uint8Array()));
		const manifest: StudyManifest = { title: model.title, study: chosen.name, cases };
		return { text, files, cases, manifest };
	} catch (error) {
		const broken = model.findings.find((f) => f.severity === 'error');
		throw new RecipeError(`${path}: ${sentenceOf(error, 'the study')}${broken ? ` (${broken.message})` : ''}`);
	}
}

/** A share of the cases, as requested or as a scheduler gives it in the environment. */
function shardOf(asked: string | undefined): { k: number; of: number } | undefined {
	const { JOB_COMPLETION_INDEX: index, STUDY_SHARDS: count } = process.env;
	const text = asked ?? (index !== undefined && count !== undefined ? `${Number(index) + 1}/${count}` : undefined);
	if (text === undefined) return undefined;
	const [, k, of] = /^(\d+)\/(\d+)$/.exec(text) ?? [];
	if (!k || !of || Number(k) < 1 || Number(k) > Number(of))
		throw new UsageError(`--shard ${text}: expected K/N with K from 1 to N, like --shard 3/16`);
	return { k: Number(k), of: Number(of) };
}

/** So many processes of our own, each with its share; they end with this one. */
async function inProcesses(path: string, options: StudyOptions, jobs: number): Promise<void> {
	const ended = Array.from({ length: jobs }, (_, k) => {
		const child = startChild([
			...[process.argv[1]!, 'study', path, '--out', options.out, '--shard', `${k + 1}/${jobs}`],
			...(options.name ? ['--name', options.name] : []),
			...(options.deliver ? ['--deliver'] : [])
		]);
		return new Promise<void>((resolve, reject) => {
			child.on('error', reject);
			child.on('exit', () => resolve());
		});
	});
	await Promise.all(ended);
}

interface Run {
	text: string;
	files: CoordinateFiles;
	path: string;
	/** The hash of what all cases depend on. */
	ground: string;
	pipeline: Pipeline;
	folder: StudyFolder;
	options: StudyOptions;
}

/** Runs a case, unless it is done: its record is there, of the same hash. A case that fails fails alone. */
async function runCase(one: StudyCase, { text, files, path, ground, pipeline, folder, options }: Run): Promise<void> {
	const hash = caseHash(ground, one, options.deliver === true);
	if (folder.record(one)?.hash === hash) return;
	const { record, parts } = await runOne(
		one,
		hash,
		() => finishShared(pipeline, pipeline.run({ text, files, settings: parseSettings(one.settings), refine: one.refine })),
		options.deliver ? (result) => deliverAll(result, basename(path).replace(/\.[^.]*$/, '')) : undefined
	);
	try {
		folder.write(one, record, parts);
	} catch (error) {
		complain(`case ${one.number} (${one.name}): ${sentenceOf(error, 'writing it')}`);
	}
}

const summary = ({ done, failed, missing }: CaseCounts): string =>
	`${done} done${failed > 0 ? `, ${failed} failed` : ''}${missing > 0 ? `, ${missing} missing` : ''}\n`;
