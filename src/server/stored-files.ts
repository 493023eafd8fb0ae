import { createHash } from 'node:crypto';
import type { FileTable, StoredFile } from '../api/schemas.ts';
import { coordinateFileLimit } from '../formats/coordinates.ts';
import type { Database } from './database.ts';
import { notFound, ProblemError } from './problem.ts';

/** Coordinate files, kept once by the hash of their content. */
export class StoredFiles {
	constructor(private readonly database: Database) {}

	async put(content: Uint8Array): Promise<StoredFile> {
		if (content.length > coordinateFileLimit)
			throw new ProblemError(
				413,
				'Too large',
				`the file has ${Math.round(content.length / 1e6)} MB, above the limit of ${coordinateFileLimit / 1e6} MB`
			);
		const hash = createHash('sha256').update(content).digest('hex');
		await this.database
			.insertInto('files')
			.values({ hash, content, size: content.length, created_at: new Date().toISOString() })
			.onConflict((c) => c.doNothing())
			.execute();
		return { hash, size: content.length };
	}

	async get(hash: string): Promise<Uint8Array> {
		const row = await this.database.selectFrom('files').where('hash', '=', hash).select('content').executeTakeFirst();
		if (!row) throw notFound(`file ${hash}`);
		return row.content;
	}

	/** The content of every file of a revision, by name. */
	async getAll(files: FileTable): Promise<Record<string, Uint8Array>> {
		const entries = await Promise.all(Object.entries(files).map(async ([name, hash]) => [name, await this.get(hash)] as const));
		return Object.fromEntries(entries);
	}
}
