import { createHash } from 'node:crypto';
import { mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { FileTable, StoredFile } from '../api/schemas.ts';
import { coordinateFileLimit } from '../formats/coordinates.ts';
import type { Database } from '../platform/database/database.ts';
import { notFound, ProblemError } from './problem.ts';
import type { TaskRecipe } from './tasks.ts';

/** Coordinate files, kept once by the hash of their content. */
export class StoredFiles {
	/** Files that lie on the disk already, or are being written. */
	private readonly onDisk = new Map<string, Promise<string>>();

	/** @param folder where files are laid for workers to read; it may be emptied between two runs of the server */
	constructor(
		private readonly database: Database,
		private readonly folder: string
	) {}

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

	/** Every file of a revision, by name, as a file on the disk: workers read it there. */
	async laidOut(files: FileTable): Promise<TaskRecipe['files']> {
		const entries = await Promise.all(
			Object.entries(files).map(async ([name, hash]) => [name, { hash, path: await this.layOut(hash) }] as const)
		);
		return Object.fromEntries(entries);
	}

	private layOut(hash: string): Promise<string> {
		const path = join(this.folder, hash);
		const laid =
			this.onDisk.get(hash) ??
			this.get(hash).then(async (content) => {
				await mkdir(this.folder, { recursive: true });
				await writeFile(`${path}.partial`, content);
				await rename(`${path}.partial`, path);
				return path;
			});
		this.onDisk.set(hash, laid);
		laid.catch(() => this.onDisk.delete(hash));
		return laid;
	}
}
