import type { Kysely, Migration } from 'kysely';

/** Jobs with their outputs, and what came of the cases of studies. */
export const jobsMigration: Migration = {
	async up(db: Kysely<unknown>): Promise<void> {
		await db.schema
			.createTable('jobs')
			.addColumn('seq', 'integer', (c) => c.primaryKey().autoIncrement())
			.addColumn('id', 'text', (c) => c.notNull().unique())
			.addColumn('owner', 'text', (c) => c.notNull())
			.addColumn('project_id', 'text', (c) => c.notNull().references('projects.id'))
			.addColumn('revision', 'integer', (c) => c.notNull())
			.addColumn('kind', 'text', (c) => c.notNull())
			.addColumn('request', 'text', (c) => c.notNull())
			.addColumn('file_name', 'text', (c) => c.notNull())
			.addColumn('media_type', 'text', (c) => c.notNull())
			.addColumn('state', 'text', (c) => c.notNull())
			.addColumn('message', 'text')
			.addColumn('attempts', 'integer', (c) => c.notNull())
			.addColumn('size', 'integer')
			.addColumn('created_at', 'text', (c) => c.notNull())
			.addColumn('finished_at', 'text')
			.addColumn('fetched_at', 'text')
			.addColumn('expires_at', 'text')
			.execute();
		await db.schema.createIndex('jobs_by_state').on('jobs').columns(['state', 'seq']).execute();
		await db.schema.createIndex('jobs_by_project').on('jobs').columns(['project_id', 'seq']).execute();
		await db.schema
			.createTable('study_results')
			.addColumn('project_id', 'text', (c) => c.notNull().references('projects.id'))
			.addColumn('study', 'text', (c) => c.notNull())
			.addColumn('hash', 'text', (c) => c.notNull())
			.addColumn('ground', 'text', (c) => c.notNull())
			.addColumn('settings', 'text', (c) => c.notNull())
			.addColumn('refine', 'integer', (c) => c.notNull())
			.addColumn('outcome', 'text', (c) => c.notNull())
			.addColumn('picture', 'text', (c) => c.notNull())
			.addColumn('created_at', 'text', (c) => c.notNull())
			.addPrimaryKeyConstraint('study_results_key', ['project_id', 'study', 'hash'])
			.execute();
	}
};
