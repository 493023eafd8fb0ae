import { mkdir, rm } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join, resolve } from 'node:path';
import { randomUUID } from 'node:crypto';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';

/** What is made of a recipe: a delivery format by its ending, a `picture`, or a `report`. */
export interface MeshTask {
	/** What a worker keeps its pipeline under, so that the next task of the same project refills only what changed. */
	project: string;
	text: string;
	files: Record<string, Uint8Array>;
	output: string;
	/** Values that replace those of `let` statements, as expressions. */
	settings?: Record<string, string>;
	/** Options of the delivery format. */
	options?: Record<string, unknown>;
}

/** A task as a worker gets it: with the path that its output goes to. */
export interface WorkerTask extends MeshTask {
	path: string;
	/** Takes the progress, from 0 to 1. */
	port: MessagePort;
}

/** A file that a task has written. Whoever takes it removes it. */
export interface Output {
	path: string;
	size: number;
}

/** A task under way. */
export interface RunningTask {
	result: Promise<Output>;
	stop: () => void;
}

/** Thrown to whoever waits for a task that was stopped. */
export class StoppedError extends Error {}

/**
 * Runs mesh tasks in worker threads, so many at a time as there are processors to spare. Workers keep their pipelines from
 * task to task; outputs go to disk.
 */
export class MeshPool {
	private readonly workers: Piscina<WorkerTask, number>;
	private readonly ready: Promise<unknown>;

	/**
	 * @param folder where outputs go; what an earlier process left there is removed
	 * @param script the bundled worker
	 */
	constructor(
		private readonly folder: string,
		script = resolve('dist/mesh-worker.js')
	) {
		this.ready = rm(folder, { recursive: true, force: true }).then(() => mkdir(folder, { recursive: true }));
		this.workers = new Piscina({
			filename: script,
			minThreads: 0,
			maxThreads: Math.max(1, availableParallelism() - 1),
			idleTimeout: 60_000
		});
	}

	run(task: MeshTask, onProgress: (progress: number) => void = () => {}): RunningTask {
		const controller = new AbortController();
		const path = join(this.folder, randomUUID());
		return { result: this.work(task, path, controller.signal, onProgress), stop: () => controller.abort() };
	}

	private async work(task: MeshTask, path: string, signal: AbortSignal, onProgress: (progress: number) => void): Promise<Output> {
		await this.ready;
		const { port1, port2 } = new MessageChannel();
		port1.on('message', onProgress);
		port1.unref();
		try {
			const own = { ...task, path, port: port2 as unknown as MessagePort };
			const size = await this.workers.run(own, { signal, transferList: [port2] });
			return { path, size };
		} catch (error) {
			await rm(path, { force: true });
			throw signal.aborted ? new StoppedError('stopped') : error;
		} finally {
			port1.close();
		}
	}

	/** Ends all workers; tasks under way are given up. */
	close(): Promise<void> {
		return this.workers.destroy();
	}
}
