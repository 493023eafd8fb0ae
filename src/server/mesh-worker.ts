import { readFile, writeFile } from 'node:fs/promises';
import { constants, setPriority } from 'node:os';
import { createInterface } from 'node:readline';
import { createReadStream } from 'node:fs';
import { worker, workerEmit } from 'workerpool';
import { Pipeline, type PipelineInput, type Result } from '../core/pipeline.ts';
import { evaluateRecipe } from '../core/recipe/model/evaluate.ts';
import type { CoordinateFile, CoordinateFiles } from '../core/recipe/model/model.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import { parseSettings } from '../core/recipe/model/settings.ts';
import { sentenceOf, UserError } from '../core/text/user-error.ts';
import { fillHelpers, finishShared } from '../platform/threads/fill-helpers.ts';
import { decodeText } from '../formats/coordinates.ts';
import { deliverFile } from '../formats/delivery.ts';
import { zipped } from '../formats/parts.ts';
import { drawPicture } from '../formats/picture.ts';
import { readFileOfRecipe } from '../formats/read-file.ts';
import { report } from '../formats/report.ts';
import { type CaseRecord, outcomeOf, studyCases, studyNamed } from '../formats/study.ts';
import { studyFiles } from '../formats/study-page.ts';
import { leastRecent } from './least-recent.ts';
import { spoilt, type TaskRecipe, type Tasks } from './tasks.ts';

/** A picture of more elements than this shows no more than one of the outlines; a case of a study has none then. */
const [mostPictured, mostPicturedCase] = [200_000, 100_000];
/** How many projects a worker keeps the pipelines of, and how many files, those that were used last. */
const [pipelinesKept, filesKept] = [4, 32];
/** More memory than this no task may take, in bytes. */
const mostMemory = 5e9;

const pipelines = leastRecent<Pipeline>(pipelinesKept);
const parsedFiles = leastRecent<CoordinateFile>(filesKept);
const helpers = fillHelpers();

async function filesOf({ files }: TaskRecipe): Promise<CoordinateFiles> {
	const read: CoordinateFiles = {};
	for (const [name, { path, hash }] of Object.entries(files)) {
		const parsed = parsedFiles.get(hash) ?? (await readFileOfRecipe(await readFile(path)));
		parsedFiles.set(hash, parsed);
		read[name] = parsed;
	}
	return read;
}

/** Runs a recipe and reports how far it is. A pipeline in which anything threw is not used again: it may hold half of something. */
async function run(
	{ project, text, ...recipe }: TaskRecipe,
	{ settings, ...more }: Partial<Pick<PipelineInput, 'askAbove' | 'refine'>> & { settings?: Record<string, string> } = {}
): Promise<Result> {
	const pipeline = pipelines.get(project) ?? new Pipeline(() => performance.now(), helpers);
	pipelines.delete(project);
	const input = { text, files: await filesOf({ project, text, ...recipe }), ...more };
	const work = pipeline.run({ ...input, settings: parseSettings(settings ?? recipe.settings ?? {}) });
	const result = await finishShared(pipeline, work, (progress) => {
		workerEmit(progress);
		if (process.memoryUsage.rss() > mostMemory)
			throw new UserError(
				`this takes more than ${mostMemory / 1e9} GB of memory; make the mesh smaller, or run it from the command line`
			);
	});
	if (result.findings.some(({ code }) => code === 'internal')) workerEmit(spoilt);
	else pipelines.set(project, pipeline);
	return result;
}

const tasks: Tasks = {
	picture: async (recipe) => drawPicture(await run(recipe, { askAbove: mostPictured })),

	figures: async (recipe) => JSON.stringify(report(await run(recipe))),

	async deliver(recipe, wanted, path) {
		const result = await run(recipe);
		const { bytes, problems = [] } = await deliverFile(result, wanted.format === 'all' ? 'all' : wanted);
		await writeFile(path, bytes);
		return { size: bytes.length, problems };
	},

	async cases(recipe, name) {
		const model = evaluateRecipe(parseRecipe(recipe.text), await filesOf(recipe));
		const study = studyNamed(model, name);
		const texts = new Map<string, string>();
		for (const [file, { path }] of Object.entries(recipe.files)) texts.set(file, decodeText(await readFile(path)));
		return { title: model.title, cases: studyCases(study, model, (file) => texts.get(file) ?? '') };
	},

	async runCase(recipe, { settings, refine }) {
		try {
			const result = await run(recipe, { settings, refine });
			const outcome = outcomeOf(result);
			const elements = outcome.figures?.elements ?? 0;
			return { ...outcome, picture: elements > 0 && elements <= mostPicturedCase ? drawPicture(result) : '' };
		} catch (error) {
			return { ok: false, message: sentenceOf(error, 'this case'), figures: null, picture: '' };
		}
	},

	async table(manifest, recordsPath, path) {
		const records = new Map<number, CaseRecord>();
		for await (const line of createInterface({ input: createReadStream(recordsPath) })) {
			const record = JSON.parse(line) as CaseRecord;
			records.set(record.number, record);
		}
		const output = zipped(studyFiles(manifest, records));
		await writeFile(path, output);
		return output.length;
	}
};

// Whoever edits does not wait for meshes: the server itself goes first.
setPriority(constants.priority.PRIORITY_LOW);
// The server has gone, and with it whoever waits for this.
process.on('error' as 'disconnect', () => process.exit(1));
worker(tasks as unknown as Record<string, (...args: unknown[]) => unknown>);
