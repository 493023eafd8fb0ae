import { availableParallelism } from 'node:os';
import { join, resolve } from 'node:path';
import { UserError } from '../core/text/user-error.ts';
import { makeFolder } from '../platform/make-folder.ts';
import { DataLock } from './data-lock.ts';
import { type Database, openDatabase } from '../platform/database/database.ts';
import { seedDemo } from './demo.ts';
import { RecipeDocument } from './document.ts';
import { Jobs } from './jobs.ts';
import { Projects } from './projects.ts';
import { StoredFiles } from './stored-files.ts';
import { StudyResults } from './study-results.ts';
import { Workers } from './workers.ts';

/** Everything that request handlers work with. */
export interface Services {
	projects: Projects;
	files: StoredFiles;
	workers: Workers;
	jobs: Jobs;
	results: StudyResults;
	/** The recipe file on disk that this server was started for. */
	document?: RecipeDocument;
	database: Database;
	lock: DataLock;
}

let opened: Promise<Services> | undefined;

/** The services of this process, opened once. `TESSELLON_DATA` names the folder of the database. */
export function services(): Promise<Services> {
	return (opened ??= open());
}

/** Ends all that runs and closes the database: the process may go at once. */
export async function closeServices(): Promise<void> {
	const running = await opened?.catch(() => undefined);
	opened = undefined;
	if (!running) return;
	running.document?.close();
	await running.jobs.close().catch(() => {});
	await running.workers.close().catch(() => {});
	await running.database.destroy();
	running.lock.release();
}

/** Megabytes of files that may wait to be fetched, as the environment has it. */
function outputQuota(text: string | undefined): { outputBytes?: number } {
	if (text === undefined || text === '') return {};
	const megabytes = Number(text);
	if (!(megabytes >= 1)) throw new UserError(`TESSELLON_OUTPUTS is “${text}”; it is a number of megabytes from 1`);
	return { outputBytes: megabytes * 1e6 };
}

async function open(): Promise<Services> {
	const folder = resolve(process.env.TESSELLON_DATA ?? 'data');
	const limits = outputQuota(process.env.TESSELLON_OUTPUTS);
	makeFolder(folder);
	const lock = DataLock.take(folder);
	const database = await openDatabase(join(folder, 'tessellon.db'));
	const projects = new Projects(database);
	const files = new StoredFiles(database, join(folder, 'files'));
	const { count } = await database
		.selectFrom('projects')
		.select((e) => e.fn.countAll().as('count'))
		.executeTakeFirstOrThrow();
	if (Number(count) === 0) await seedDemo(projects, files);
	// One process more than one: a delivery never waits for the cases of a study.
	const workers = new Workers(Math.max(2, availableParallelism() - 1));
	const results = new StudyResults(database);
	const path = process.env.TESSELLON_DOCUMENT;
	const document = path ? await RecipeDocument.open(resolve(path), database, projects, files) : undefined;
	const jobs = await Jobs.open(database, workers, files, results, join(folder, 'outputs'), limits);
	return { projects, files, workers, jobs, results, database, lock, ...(document ? { document } : {}) };
}
