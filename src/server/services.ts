import { join, resolve } from 'node:path';
import { openDatabase } from './database.ts';
import { seedDemo } from './demo.ts';
import { Jobs } from './jobs.ts';
import { MeshPool } from './pool.ts';
import { Projects } from './projects.ts';
import { StoredFiles } from './stored-files.ts';

/** Everything that request handlers work with. */
export interface Services {
	projects: Projects;
	files: StoredFiles;
	pool: MeshPool;
	jobs: Jobs;
}

let opened: Promise<Services> | undefined;

/** The services of this process, opened once. `TESSELLON_DATA` names the folder of the database. */
export function services(): Promise<Services> {
	return (opened ??= open());
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
	return { projects, files, pool, jobs: new Jobs(pool) };
}
