import type { Health } from '../api/schemas.ts';
import { version } from '../api/version.ts';
import { storageTrouble } from './problem.ts';
import type { Services } from './services.ts';

/** How the server is: its version, database, jobs and files. */
export async function healthOf({ database, jobs }: Services): Promise<Health> {
	const health = { version, jobs: jobs.counts };
	try {
		await database.selectFrom('projects').select('id').limit(1).execute();
		return { ...health, database: 'ok', outputs: await jobs.outputs.size() };
	} catch (error) {
		const trouble = storageTrouble(error)?.detail ?? 'the database cannot be read';
		return { ...health, database: trouble, outputs: { bytes: 0, quota: 0 } };
	}
}
