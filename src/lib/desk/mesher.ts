import type { Surface } from '../../core/solid/surface.ts';
import type { DeckPreview } from '../../formats/deck.ts';
import type { DeckTemplate } from '../../formats/deck-options.ts';
import type { DeliveredFile, DeliveryRequest } from '../../formats/delivery.ts';
import * as Comlink from 'comlink';
import type { TextEdit } from '../../core/text/edit.ts';
import type { MeasureResult } from '../../core/quality/quality.ts';
import type { FileTable } from '../../api/schemas.ts';
import { fetchFile } from '../api/client.ts';
import { crashOf } from './crash-of.ts';
import type { OpenedMesh, MeshWorker } from './mesh.worker.ts';
import type { Runner } from './meshing.svelte.ts';
import { newMeshWorker } from './new-worker.ts';
import { NewestRuns } from './newest-runs.ts';
import { Unpacker, type DeskResult } from './snapshot.ts';
import { UserError } from '../../core/text/user-error.ts';

/** So long, in milliseconds, a run is let go on though a newer one waits: a mesh follows what is dragged, run by run. */
const grace = 500;

/** A worker, and what tells that it has come to an end by itself. */
function newLife() {
	const worker = newMeshWorker();
	return { worker, remote: Comlink.wrap<MeshWorker>(worker), crashed: crashOf(worker) };
}

/** The mesh worker as the desk sees it. */
export class Mesher implements Runner {
	private life = newLife();
	private unpacker = new Unpacker();
	private isSpoilt = false;
	private endDelivery: (() => void) | undefined;
	private readonly runs = new NewestRuns(grace, () => performance.now());

	/** Runs a recipe; undefined when a newer run overtook it, or it was stopped. */
	run(
		text: string,
		files: FileTable,
		settings: { askAbove: number; measure: string },
		onProgress: (progress: number) => void
	): Promise<{ id: number; result: DeskResult } | undefined> {
		return this.runs.run(
			() => {
				// A worker in which the program failed is kept for what it has made, and no longer.
				if (this.isSpoilt) this.restart();
				return this.bringFiles(files);
			},
			async (id) => {
				const { life } = this;
				const report = Comlink.proxy((progress: number) => this.runs.isNewest(id) && onProgress(progress));
				try {
					const snapshot = await Promise.race([life.remote.run(id, text, files, settings, report), life.crashed]);
					const unpacked = snapshot && this.unpacker.unpack(snapshot);
					if (life === this.life) this.isSpoilt ||= unpacked?.findings.some(({ code }) => code === 'internal') ?? false;
					return unpacked;
				} catch (error) {
					console.error(error);
					if (life === this.life) this.restart();
					throw new UserError(
						'The mesh of this text could not be worked out: the program failed at it. Your text is kept; undo the last change, or go on, and it is tried anew.',
						{ cause: error }
					);
				}
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

	/** A text with other units, its numbers converted, or why they cannot be. */
	async convertUnits(text: string, unit: string, files: FileTable): Promise<{ text: string } | { error: string }> {
		await this.bringFiles(files);
		return this.remote.convertUnits(text, unit, files);
	}

	stop(): void {
		this.runs.stop();
		void this.remote.stop();
	}

	/** What a template makes of a finished run: its files, cut to their first lines, or what is wrong with it. */
	previewDeck(id: number, template: DeckTemplate): Promise<DeckPreview> {
		return this.remote.previewDeck(id, template);
	}

	/** The surface of the solid that a finished run is delivered as; undefined where it has too many sides to look at. */
	surface(id: number): Promise<Surface | undefined> {
		return this.remote.surface(id);
	}

	/** Reads a mesh file, to be looked at. */
	readMesh(bytes: Uint8Array): Promise<OpenedMesh> {
		return this.remote.readMesh(bytes);
	}

	/**
	 * Writes what is wanted of a finished run, and tells how many of its deliveries are done; throws an Error with a sentence when it is
	 * stopped.
	 */
	async deliver(id: number, wanted: DeliveryRequest, onProgress: (done: number, of: number) => void): Promise<DeliveredFile> {
		const { life } = this;
		const stopped = new Promise<never>((_, reject) => {
			this.endDelivery = () => reject(new UserError('The delivery was stopped; nothing was written.'));
		});
		try {
			return await Promise.race([life.remote.deliver(id, wanted, Comlink.proxy(onProgress)), life.crashed, stopped]);
		} finally {
			this.endDelivery = undefined;
		}
	}

	/** Ends a delivery, and the worker that is at it: a writer does not listen while it writes. */
	stopDelivery(): void {
		if (!this.endDelivery) return;
		this.endDelivery();
		this.restart();
	}

	close(): void {
		this.life.worker.terminate();
	}

	/** A worker that failed may hold half of something: a new one takes its place. */
	private restart(): void {
		this.life.worker.terminate();
		this.life = newLife();
		this.isSpoilt = false;
		this.unpacker = new Unpacker();
	}

	private get remote() {
		return this.life.remote;
	}

	private async bringFiles(files: FileTable): Promise<void> {
		for (const hash of Object.values(files))
			if (!(await this.remote.hasFile(hash))) await this.remote.putFile(hash, await fetchFile(hash));
	}
}
