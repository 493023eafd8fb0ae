import { codeOf } from '../platform/system-error.ts';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { UserError } from '../core/text/user-error.ts';

/**
 * Keeps a data folder for one server: two would take each other's jobs and files. The system itself gives the lock back when the
 * process ends, whatever ends it.
 */
export class DataLock {
	private constructor(private readonly file: Sqlite.Database) {}

	/** Takes the lock of a folder. Throws a {@link UserError} where another server has it. */
	static take(folder: string): DataLock {
		const file = new Sqlite(join(folder, 'server.lock'), { timeout: 0 });
		try {
			file.exec('BEGIN EXCLUSIVE');
		} catch (error) {
			file.close();
			if (!/^SQLITE_(BUSY|LOCKED)/.test(codeOf(error))) throw error;
			throw new UserError(
				`another server is at work on the data folder ${folder}; stop it, or name another folder in TESSELLON_DATA`,
				{ cause: error }
			);
		}
		return new DataLock(file);
	}

	release(): void {
		this.file.close();
	}
}
