import type { Kysely, Migration } from 'kysely';

/** Projects, revisions, moves, files and pictures. */
export const firstMigration: Migration = {
	async up(db: Kysely<unknown>): Promise<void> {
		await db.schema
			.createTable('projects')
			.addColumn('id', 'text', (c) => c.primaryKey())
			.addColumn('created_at', 'text', (c) => c.notNull())
			.addColumn('removed_at', 'text')
			.execute();
		await db.schema
			.createTable('revisions')
			.addColumn('project_id', 'text', (c) => c.notNull().references('projects.id'))
			.addColumn('number', 'integer', (c) => c.notNull())
			.addColumn('parent', 'integer')
			.addColumn('text', 'text', (c) => c.notNull())
			.addColumn('files', 'text', (c) => c.notNull())
			.addColumn('label', 'text', (c) => c.notNull())
			.addColumn('created_at', 'text', (c) => c.notNull())
			.addPrimaryKeyConstraint('revisions_key', ['project_id', 'number'])
			.execute();
		await db.schema
			.createTable('moves')
			.addColumn('seq', 'integer', (c) => c.primaryKey().autoIncrement())
			.addColumn('project_id', 'text', (c) => c.notNull().references('projects.id'))
			.addColumn('revision', 'integer', (c) => c.notNull())
			.addColumn('kind', 'text', (c) => c.notNull())
			.addColumn('redo', 'integer')
			.addColumn('created_at', 'text', (c) => c.notNull())
			.execute();
		await db.schema.createIndex('moves_by_project').on('moves').columns(['project_id', 'seq']).execute();
		await db.schema
			.createTable('files')
			.addColumn('hash', 'text', (c) => c.primaryKey())
			.addColumn('content', 'blob', (c) => c.notNull())
			.addColumn('size', 'integer', (c) => c.notNull())
			.addColumn('created_at', 'text', (c) => c.notNull())
			.execute();
		await db.schema
			.createTable('pictures')
			.addColumn('project_id', 'text', (c) => c.notNull().references('projects.id'))
			.addColumn('revision', 'integer', (c) => c.notNull())
			.addColumn('svg', 'text', (c) => c.notNull())
			.addPrimaryKeyConstraint('pictures_key', ['project_id', 'revision'])
			.execute();
	}
};
