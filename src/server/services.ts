import { join, resolve } from 'node:path';
import { type Database, openDatabase } from './database.ts';
import { seedDemo } from './demo.ts';
import { Jobs } from './jobs.ts';
import { RecipeDocument } from './document.ts';
import { MeshPool } from './pool.ts';
import { Projects } from './projects.ts';
import { StoredFiles } from './stored-files.ts';

/** Everything that request handlers work with. */
export interface Services {
	projects: Projects;
	files: StoredFiles;
	pool: MeshPool;
	jobs: Jobs;
	/** The recipe file on disk that this server was started for. */
	document?: RecipeDocument;
	database: Database;
}

let opened: Promise<Services> | undefined;

/** The services of this process, opened once. `TESSELLON_DATA` names the folder of the database. */
export function services(): Promise<Services> {
	return (opened ??= open());
}

/** Ends all that runs and closes the database: the process may go at once. */
export async function closeServices(): Promise<void> {
	const own = await opened?.catch(() => undefined);
	opened = undefined;
	if (!own) return;
	own.document?.close();
	await own.pool.close().catch(() => {});
	await own.database.destroy();
}

async function open(): Promise<Services> {
	const folder = resolve(process.env.TESSELLON_DATA ?? 'data');
	const database = await openDatabase(join(folder, 'tessellon.db'));
	const projects = new Projects(database);
	const files = new StoredFiles(database);
	const { count } = await database
		.selectFrom('projects')
		.select((e) => e.fn.countAll().as('count'))
		.executeTakeFirstOrThrow();
	if (Number(count) === 0) await seedDemo(projects, files);
	const pool = new MeshPool(join(folder, 'outputs'));
	const path = process.env.TESSELLON_DOCUMENT;
	const document = path ? await RecipeDocument.open(resolve(path), database, projects, files) : undefined;
	return { projects, files, pool, jobs: new Jobs(pool), database, ...(document ? { document } : {}) };
}
