import { writeFile } from 'node:fs/promises';
import { Pipeline } from '../core/pipeline.ts';
import type { CoordinateFiles } from '../core/recipe/model.ts';
import { parseSettings } from '../core/recipe/settings.ts';
import { deliverFile } from '../formats/delivery.ts';
import { readFileOfRecipe } from '../formats/read-file.ts';
import { drawPicture } from '../formats/picture.ts';
import { report } from '../formats/report.ts';
import { zipped } from '../formats/parts.ts';
import { type CaseRecord, emptyRecord, outcomeOf, studyCases, studyNamed } from '../formats/study.ts';
import { studyFiles } from '../formats/study-page.ts';
import { fillHelpers, finishShared } from '../disk/fill-helpers.ts';
import { caseHash, groundOf } from '../disk/case-hash.ts';
import { evaluateRecipe } from '../core/recipe/evaluate.ts';
import { parseRecipe } from '../core/recipe/parse.ts';
import type { WorkerTask } from './pool.ts';

/** A picture of more elements than this shows no more than one of the outlines. */
const mostPictured = 200_000;
/** How many projects a worker keeps the pipelines of, those that were used last. */
const mostKept = 4;

const pipelines = new Map<string, Pipeline>();
const helpers = fillHelpers();

function pipelineOf(project: string): Pipeline {
	const pipeline = pipelines.get(project) ?? new Pipeline(() => performance.now(), helpers);
	pipelines.delete(project);
	pipelines.set(project, pipeline);
	for (const key of pipelines.keys()) if (pipelines.size > mostKept) pipelines.delete(key);
	return pipeline;
}

/** Does one task: writes its output to its path, and gives the size. The pool ends the thread to stop a task. */
export default async function work(task: WorkerTask): Promise<number> {
	const files: CoordinateFiles = {};
	for (const [name, bytes] of Object.entries(task.files)) files[name] = await readFileOfRecipe(bytes);
	if (task.output === 'study') return writeStudy(task, files);
	const pipeline = pipelineOf(task.project);
	const run = pipeline.run({
		text: task.text,
		files,
		settings: parseSettings(task.settings ?? {}),
		...(task.output === 'picture' ? { askAbove: mostPictured } : {})
	});
	const result = await finishShared(pipeline, run, (progress) => task.port.postMessage(progress));
	const text = (content: string) => new TextEncoder().encode(content);
	const output =
		task.output === 'picture'
			? text(drawPicture(result))
			: task.output === 'report'
				? text(JSON.stringify(report(result)))
				: (await deliverFile(result, task.output === 'all' ? 'all' : { format: task.output, options: task.options ?? {} })).bytes;
	await writeFile(task.path, output);
	return output.length;
}

/** Runs all cases of a study, one after the other; a case that fails fails alone. Throws an Error with a sentence where there is no such study. */
async function writeStudy(
	{ project, text, files: contents, options, path, port }: WorkerTask,
	files: CoordinateFiles
): Promise<number> {
	const model = evaluateRecipe(parseRecipe(text), files);
	const study = studyNamed(model, options?.name as string | undefined);
	const cases = studyCases(study, model, (name) => new TextDecoder().decode(contents[name]));
	const ground = groundOf(text, (name) => contents[name]);
	const records = new Map<string, CaseRecord>();
	for (const [k, one] of cases.entries()) {
		let record = emptyRecord(one, caseHash(ground, one, false));
		try {
			const pipeline = pipelineOf(project);
			const run = pipeline.run({ text, files, settings: parseSettings(one.settings), refine: one.refine });
			const tell = (progress: number) => port.postMessage((k + progress) / cases.length);
			record = { ...record, ...outcomeOf(await finishShared(pipeline, run, tell)) };
		} catch (error) {
			record = { ...record, message: (error as Error).message };
		}
		records.set(one.name, record);
		port.postMessage((k + 1) / cases.length);
	}
	const output = zipped(studyFiles({ title: model.title, study: study.name, cases }, records));
	await writeFile(path, output);
	return output.length;
}
