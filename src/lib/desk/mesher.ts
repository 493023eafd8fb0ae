import * as Comlink from 'comlink';
import type { TextEdit } from '../../core/text/edit.ts';
import type { MeasureResult } from '../../core/quality/quality.ts';
import type { FileTable } from '../../api/schemas.ts';
import { fetchFile } from '../api/client.ts';
import type { MeshWorker } from './mesh.worker.ts';
import type { Runner } from './meshing.svelte.ts';
import { NewestRuns } from './newest-runs.ts';
import { Unpacker, type DeskResult } from './snapshot.ts';

/** So long, in milliseconds, a run is let go on though a newer one waits: a mesh follows what is dragged, run by run. */
const grace = 500;

/** The mesh worker as the desk sees it. */
export class Mesher implements Runner {
	private readonly worker = new Worker(new URL('./mesh.worker.ts', import.meta.url), { type: 'module' });
	private readonly remote = Comlink.wrap<MeshWorker>(this.worker);
	private readonly unpacker = new Unpacker();
	private readonly runs = new NewestRuns(grace, () => performance.now());

	/** Runs a recipe; undefined when a newer run overtook it, or it was stopped. */
	run(
		text: string,
		files: FileTable,
		settings: { askAbove: number; measure: string },
		onProgress: (progress: number) => void
	): Promise<{ id: number; result: DeskResult } | undefined> {
		return this.runs.run(
			() => this.bringFiles(files),
			async (id) => {
				const snapshot = await this.remote.run(
					id,
					text,
					files,
					settings,
					Comlink.proxy((progress: number) => this.runs.isNewest(id) && onProgress(progress))
				);
				return snapshot && this.unpacker.unpack(snapshot);
			}
		);
	}

	measure(id: number, key: string): Promise<MeasureResult | undefined> {
		return this.remote.measure(id, key);
	}

	/** Hands a file over before it is first used; answers why it cannot be read, or nothing. */
	putFile(hash: string, bytes: Uint8Array): Promise<string | undefined> {
		return this.remote.putFile(hash, bytes);
	}

	/** The edits after which the pieces of `after` are named as in `before`. */
	async keepNames(before: string, after: string, files: FileTable): Promise<TextEdit[]> {
		await this.bringFiles(files);
		return this.remote.keepNames(before, after, files);
	}

	stop(): void {
		this.runs.stop();
		void this.remote.stop();
	}

	deliver(id: number, ending: string, options: Record<string, unknown>): Promise<Uint8Array> {
		return this.remote.deliver(id, ending, options);
	}

	close(): void {
		this.worker.terminate();
	}

	private async bringFiles(files: FileTable): Promise<void> {
		for (const hash of Object.values(files))
			if (!(await this.remote.hasFile(hash))) await this.remote.putFile(hash, await fetchFile(hash));
	}
}
