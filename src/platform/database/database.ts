import { codeOf } from '../system-error.ts';
import { dirname } from 'node:path';
import Sqlite from 'better-sqlite3';
import { Kysely, Migrator, SqliteDialect, type Generated, type Migration } from 'kysely';
import { makeFolder } from '../make-folder.ts';
import { documentsMigration } from './migrations/2026-11-27-documents.ts';
import { firstMigration } from './migrations/2026-11-25-first.ts';
import { jobsMigration } from './migrations/2026-12-01-jobs.ts';
import { isUserError, UserError } from '../../core/text/user-error.ts';

/** The tables. Revisions and moves are only ever added to. */
export interface Tables {
	projects: { id: string; created_at: string; removed_at: string | null };
	/** Every text that a project ever had. */
	revisions: {
		project_id: string;
		number: number;
		parent: number | null;
		text: string;
		files: string;
		label: string;
		created_at: string;
	};
	/** Which revision became current, and how; the last one rules. */
	moves: {
		seq: Generated<number>;
		project_id: string;
		revision: number;
		kind: MoveKind;
		redo: number | null;
		created_at: string;
	};
	/** Coordinate files by the SHA-256 of their content. */
	files: { hash: string; content: Uint8Array; size: number; created_at: string };
	/** Projects whose document is a recipe file on disk, by its whole path. */
	documents: { path: string; project_id: string };
	/** Pictures of revisions, made when first asked for. */
	pictures: { project_id: string; revision: number; svg: string };
	/** Deliveries and studies: waiting, at work, and ended. */
	jobs: {
		seq: Generated<number>;
		id: string;
		/** Who asked for it: turns are shared fairly between owners. */
		owner: string;
		project_id: string;
		revision: number;
		kind: 'delivery' | 'study';
		/** What was asked for, as JSON. */
		request: string;
		file_name: string;
		media_type: string;
		state: JobState;
		message: string | null;
		/** How often it was begun: a job that ends the server is not tried for ever. */
		attempts: number;
		/** Bytes of its file; null without one. */
		size: number | null;
		created_at: string;
		finished_at: string | null;
		/** When its file was fetched to its end. */
		fetched_at: string | null;
		/** Until when its file is kept. */
		expires_at: string | null;
	};
	/** What came of cases of studies, by the hash of all that a case depends on. */
	study_results: {
		project_id: string;
		study: string;
		hash: string;
		/** The hash of what all cases of the study depend on. */
		ground: string;
		settings: string;
		refine: number;
		outcome: string;
		/** A small picture of the mesh, as SVG; empty without one. */
		picture: string;
		created_at: string;
	};
}

export type MoveKind = 'edit' | 'undo' | 'redo' | 'restore';
export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'stopped';
export type Database = Kysely<Tables>;

const migrations: Record<string, Migration> = {
	'2026-11-25-first': firstMigration,
	'2026-11-27-documents': documentsMigration,
	'2026-12-01-jobs': jobsMigration
};

/** Opens a database file (`:memory:` for none) and brings its tables up to date. */
export async function openDatabase(path: string): Promise<Database> {
	try {
		return await opened(path);
	} catch (error) {
		if (isUserError(error)) throw error;
		throw new UserError(whyNotOpened(path, error), { cause: error });
	}
}

/** Why a database could not be opened, as a sentence for whoever starts the server. */
export function whyNotOpened(path: string, error: unknown): string {
	const code = codeOf(error);
	const folder = dirname(path);
	if (['EACCES', 'EROFS', 'EPERM', 'SQLITE_CANTOPEN', 'SQLITE_READONLY'].some((c) => code.startsWith(c)))
		return `the data folder ${folder} cannot be written; give this user the right to, or name another in TESSELLON_DATA`;
	if (code === 'ENOTDIR' || code === 'EEXIST') return `${folder} is no folder; name another in TESSELLON_DATA`;
	if (code === 'ENOSPC' || code === 'SQLITE_FULL') return `the disk of the data folder ${folder} is full`;
	if (code.startsWith('SQLITE_NOTADB') || code.startsWith('SQLITE_CORRUPT'))
		return `${path} is no database, or is damaged; get out what can be read with “tessellon backup --rescue COPY”, put back a copy with “tessellon restore COPY”, or move it away to start anew`;
	if (code.startsWith('SQLITE_BUSY') || code.startsWith('SQLITE_LOCKED'))
		return `${path} is locked by another program; is another server running on it?`;
	if (error instanceof Error && /migration/.test(error.message))
		return `${path} was made by a newer version; start that one, or name another folder in TESSELLON_DATA`;
	return `${path} cannot be opened (${code || 'no reason given'})`;
}

async function opened(path: string): Promise<Database> {
	if (path !== ':memory:') makeFolder(dirname(path));
	// Whoever waits for a lock holds up everybody: a write that finds one is refused soon, and tried again by who asked.
	const sqlite = new Sqlite(path, { timeout: 200 });
	// A write is acknowledged only when it is on the disk.
	sqlite.pragma('journal_mode = WAL');
	sqlite.pragma('synchronous = FULL');
	sqlite.pragma('foreign_keys = ON');
	const database: Database = new Kysely<Tables>({ dialect: new SqliteDialect({ database: sqlite }) });
	const migrator = new Migrator({ db: database, provider: { getMigrations: async () => migrations } });
	const { error } = await migrator.migrateToLatest();
	if (error) throw error;
	return database;
}
