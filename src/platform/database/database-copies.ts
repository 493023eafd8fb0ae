import { codeOf } from '../system-error.ts';
import { existsSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { UserError } from '../../core/text/user-error.ts';
import { openDatabase, whyNotOpened } from './database.ts';

/** Tables with what a user made, in an order in which each refers only to those before it. */
const tables = ['projects', 'files', 'revisions', 'moves', 'documents', 'pictures', 'study_results'] as const;

/** The file of the database in a data folder. */
export const databaseOf = (folder: string): string => join(folder, 'tessellon.db');

/** Opens a database file that is there. Throws a {@link UserError} for what is none. */
function opened(path: string, options: Sqlite.Options): Sqlite.Database {
	if (!existsSync(path)) throw new UserError(`there is no database ${path}; name its folder with --data`);
	try {
		const file = new Sqlite(path, { ...options, timeout: 20_000 });
		file.prepare('SELECT name FROM sqlite_master LIMIT 1').get();
		return file;
	} catch (error) {
		throw new UserError(whyNotOpened(path, error), { cause: error });
	}
}

/** Copies a database as it is at one moment, while a server works on it. Throws a {@link UserError}; never overwrites a file. */
export async function backup(folder: string, copy: string): Promise<void> {
	if (existsSync(copy)) throw new UserError(`${copy} is there already, and stays as it is; name another file`);
	const file = opened(databaseOf(folder), { readonly: true });
	const partial = `${copy}.${process.pid}.partial`;
	try {
		await file.backup(partial);
		renameSync(partial, copy);
	} catch (error) {
		rmSync(partial, { force: true });
		throw new UserError(whyNotCopied(copy, error), { cause: error });
	} finally {
		file.close();
	}
}

function whyNotCopied(copy: string, error: unknown): string {
	const code = codeOf(error);
	if (/CORRUPT|NOTADB|IOERR/.test(code))
		return `the database is damaged, so no whole copy can be made; get out what can be read with “tessellon backup --rescue ${copy}”`;
	if (/FULL|ENOSPC/.test(code)) return `${copy} cannot be written: the disk is full`;
	return `${copy} cannot be written; is there such a folder, and may this user write there?`;
}

/** How many rows of each table were got out, and how many could not be read. */
export type Rescued = Record<string, { read: number; lost: number }>;

/** What was lost leaves nothing that refers to it: a project is at the last of its revisions that is left. */
const mendReferences = `
	INSERT OR IGNORE INTO projects (id, created_at) SELECT project_id, min(created_at) FROM revisions GROUP BY project_id;
	DELETE FROM projects WHERE id NOT IN (SELECT project_id FROM revisions);
	UPDATE revisions SET parent = NULL WHERE parent IS NOT NULL AND NOT EXISTS
		(SELECT 1 FROM revisions AS r WHERE r.project_id = revisions.project_id AND r.number = revisions.parent);
	DELETE FROM moves WHERE NOT EXISTS
		(SELECT 1 FROM revisions AS r WHERE r.project_id = moves.project_id AND r.number = moves.revision);
	INSERT INTO moves (project_id, revision, kind, created_at)
		SELECT project_id, max(number), 'restore', max(created_at) FROM revisions
		WHERE project_id NOT IN (SELECT project_id FROM moves) GROUP BY project_id;
	DELETE FROM documents WHERE project_id NOT IN (SELECT id FROM projects);
	DELETE FROM pictures WHERE project_id NOT IN (SELECT id FROM projects);
	DELETE FROM study_results WHERE project_id NOT IN (SELECT id FROM projects);
`;

/** Copies all rows of a damaged database that can be read. Throws a {@link UserError} where nothing can. */
export async function rescue(folder: string, copy: string): Promise<Rescued> {
	if (existsSync(copy)) throw new UserError(`${copy} is there already, and stays as it is; name another file`);
	const file = opened(databaseOf(folder), { readonly: true });
	const partial = `${copy}.${process.pid}.partial`;
	const rescued: Rescued = {};
	try {
		await (await openDatabase(partial)).destroy();
		const into = new Sqlite(partial);
		into.pragma('foreign_keys = OFF');
		into.pragma('journal_mode = DELETE');
		for (const table of tables) rescued[table] = copyReadable(file, into, table);
		into.exec(mendReferences);
		into.close();
		renameSync(partial, copy);
		return rescued;
	} catch (error) {
		for (const end of ['', '-wal', '-shm', '-journal']) rmSync(partial + end, { force: true });
		throw error;
	} finally {
		file.close();
	}
}

/** Copies the rows of a table that can be read: ranges of rows are halved until what cannot be read stands alone. */
function copyReadable(from: Sqlite.Database, into: Sqlite.Database, table: string): { read: number; lost: number } {
	const columns = (into.pragma(`table_info(${table})`) as { name: string }[]).map(({ name }) => name);
	const insert = into.prepare(
		`INSERT OR IGNORE INTO ${table} (${columns.join(', ')}) VALUES (${columns.map((name) => `@${name}`).join(', ')})`
	);
	let [read, lost] = [0, 0];
	let last: number;
	try {
		const select = from.prepare(`SELECT ${columns.join(', ')} FROM ${table} WHERE rowid BETWEEN ? AND ?`);
		last = lastRow(from, table);
		const take = (low: number, high: number): void => {
			try {
				for (const row of select.all(low, high)) {
					insert.run(row);
					read++;
				}
			} catch {
				if (low === high) {
					lost++;
					return;
				}
				const middle = Math.floor((low + high) / 2);
				take(low, middle);
				take(middle + 1, high);
			}
		};
		const step = 1024;
		for (let low = 1; low <= last; low += step) take(low, Math.min(last, low + step - 1));
	} catch {
		// The table is not there, or nothing of it can be read.
		return { read, lost };
	}
	return { read, lost };
}

/** The number of the last row, as far as it is known. */
function lastRow(file: Sqlite.Database, table: string): number {
	try {
		return (file.prepare(`SELECT max(rowid) AS last FROM ${table}`).get() as { last: number | null }).last ?? 0;
	} catch {
		// The way to the last row is damaged: far enough for any table.
		return 1_000_000;
	}
}

/**
 * Puts the projects of a copy in the place of those that are there, all at once, while a server works on them. What is there is
 * copied first. Throws a {@link UserError} for a file that is no copy; then nothing has changed.
 *
 * @param saved where what is there now is copied to
 */
export async function restore(folder: string, copy: string, saved: string): Promise<{ projects: number }> {
	opened(copy, { readonly: true }).close();
	// Worked on beside the database: a copy of an older version is brought up to date, and the copy itself stays as it is.
	const work = join(folder, `restore.${process.pid}.partial`);
	try {
		const source = opened(copy, { readonly: true });
		try {
			if (!source.prepare("SELECT 1 FROM sqlite_master WHERE name = 'revisions'").get())
				throw new UserError(`${copy} is a database, but none of Tessellon`);
			await source.backup(work);
		} finally {
			source.close();
		}
		await (await openDatabase(work)).destroy();
		if (existsSync(databaseOf(folder))) await backup(folder, saved);
		else await (await openDatabase(databaseOf(folder))).destroy();
		return replaceAll(databaseOf(folder), work);
	} finally {
		for (const end of ['', '-wal', '-shm', '-journal']) rmSync(work + end, { force: true });
	}
}

function replaceAll(path: string, work: string): { projects: number } {
	const live = opened(path, {});
	try {
		live.pragma('foreign_keys = OFF');
		live.prepare('ATTACH ? AS copy').run(work);
		live
			.transaction(() => {
				// ETags are numbers of moves: none is given out twice, so that no old one fits a new state.
				const { last } = live.prepare('SELECT max(seq) AS last FROM main.moves').get() as { last: number | null };
				for (const table of [...tables].reverse()) live.prepare(`DELETE FROM main.${table}`).run();
				for (const table of tables) {
					const columns = (live.pragma(`main.table_info(${table})`) as { name: string }[]).map(({ name }) => name).join(', ');
					live.prepare(`INSERT INTO main.${table} (${columns}) SELECT ${columns} FROM copy.${table}`).run();
				}
				live.prepare("UPDATE main.sqlite_sequence SET seq = max(seq, ?) WHERE name = 'moves'").run(last ?? 0);
				live.prepare('DELETE FROM main.jobs WHERE project_id NOT IN (SELECT id FROM main.projects)').run();
			})
			.immediate();
		const { count } = live.prepare('SELECT count(*) AS count FROM projects WHERE removed_at IS NULL').get() as { count: number };
		return { projects: count };
	} finally {
		live.close();
	}
}
