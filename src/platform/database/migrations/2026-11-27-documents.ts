import type { Kysely, Migration } from 'kysely';

/** Projects whose document is a recipe file on disk. */
export const documentsMigration: Migration = {
	async up(db: Kysely<unknown>): Promise<void> {
		await db.schema
			.createTable('documents')
			.addColumn('path', 'text', (c) => c.primaryKey())
			.addColumn('project_id', 'text', (c) => c.notNull().references('projects.id'))
			.execute();
	}
};
