import { mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Database } from '../platform/database/database.ts';
import { ProblemError } from './problem.ts';

/** Names of files that jobs make. */
const isOurs = (name: string) => /^[0-9a-f]{8}-[0-9a-f-]{27}(\.records)?$/.test(name);

/** The files that jobs made and that wait to be fetched: one to a job, named by its id, under a quota by bytes. */
export class JobOutputs {
	/** @param quota bytes of files that wait to be fetched: beyond it no new job is taken */
	constructor(
		private readonly database: Database,
		private readonly folder: string,
		private readonly quota: number
	) {}

	/** Where the file of a job stands. */
	pathOf(id: string): string {
		return join(this.folder, id);
	}

	/** Bytes of files that wait to be fetched, and how many there may be. */
	async size(): Promise<{ bytes: number; quota: number }> {
		const { bytes } = await this.database
			.selectFrom('jobs')
			.select((e) => e.fn.sum('size').as('bytes'))
			.executeTakeFirstOrThrow();
		return { bytes: Number(bytes ?? 0), quota: this.quota };
	}

	/** Makes the folder, and takes away files that belong to no job. */
	async open(): Promise<void> {
		await mkdir(this.folder, { recursive: true });
		const rows = await this.database.selectFrom('jobs').where('size', 'is not', null).select('id').execute();
		const names = new Set(rows.map(({ id }) => id));
		for (const name of await readdir(this.folder))
			if (isOurs(name) && !names.has(name)) await rm(join(this.folder, name), { force: true });
	}

	/** Takes away files whose time is over. */
	async sweep(now: string): Promise<void> {
		const over = await this.database
			.selectFrom('jobs')
			.where('size', 'is not', null)
			.where('expires_at', '<', now)
			.select('id')
			.execute();
		for (const { id } of over) await this.drop(id);
	}

	/** Files that were fetched go, the first fetched first, until there is room. Throws a {@link ProblemError} where there is none then. */
	async makeRoom(): Promise<void> {
		let { bytes } = await this.size();
		if (bytes < this.quota) return;
		const fetched = await this.database
			.selectFrom('jobs')
			.where('size', 'is not', null)
			.where('fetched_at', 'is not', null)
			.select(['id', 'size'])
			.orderBy('fetched_at')
			.execute();
		for (const { id, size } of fetched) {
			if (bytes < this.quota) return;
			await this.drop(id);
			bytes -= size!;
		}
		if (bytes < this.quota) return;
		const megabytes = (n: number) => Math.round(n / 1e6).toLocaleString('en');
		throw new ProblemError(
			507,
			'No room for files',
			`files that wait to be fetched take ${megabytes(bytes)} MB of the ${megabytes(this.quota)} MB that this server keeps; fetch them, or wait until their time is over`
		);
	}

	/** Takes away the file of a job that failed or was stopped. */
	async remove(id: string): Promise<void> {
		await rm(this.pathOf(id), { force: true });
	}

	private async drop(id: string): Promise<void> {
		await this.remove(id);
		await this.database.updateTable('jobs').set({ size: null }).where('id', '=', id).execute();
	}
}
