import { mkdir, rm } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join, resolve } from 'node:path';
import { randomUUID } from 'node:crypto';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { log } from './log.ts';
import { StoppedError } from './stopped.ts';
import { UserError } from '../core/text/user-error.ts';

/** What is made of a recipe: a delivery format by its ending, a `picture`, a `report`, or a `study` with all its cases. */
export interface MeshTask {
	/** What a worker keeps its pipeline under, so that the next task of the same project refills only what changed. */
	project: string;
	text: string;
	files: Record<string, Uint8Array>;
	output: string;
	/** Values that replace those of `let` statements, as expressions. */
	settings?: Record<string, string>;
	/** Options of the delivery format; of a study its `name`. */
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

/** Bounds of a task: megabytes of its heap, and how long it may take, in milliseconds. */
const mostMemory = 4096;
const mostTime = { picture: 20_000, report: 120_000, delivery: 1_200_000, study: 7_200_000 } as const;

/** A task under way. */
export interface RunningTask {
	result: Promise<Output>;
	stop: () => void;
}

/** What went wrong with a task, for whoever asked for it: never the words of a machine. */
function sentenceOf(error: unknown, bound: number): string {
	const { name, code, message = '' } = error as { name?: string; code?: string; message?: string };
	if (name === 'AbortError' || name === 'TimeoutError')
		return `this took longer than ${bound / 1000} s and was stopped; make the mesh smaller, or run it from the command line`;
	if (code === 'ERR_WORKER_OUT_OF_MEMORY')
		return `this took more than ${mostMemory} MB of memory and was stopped; make the mesh smaller, or run it from the command line`;
	if (code === 'ENOSPC') return 'the disk of the server is full, so the file could not be written';
	if (name === 'Error' && code === undefined) return message;
	log.error(error);
	return 'the computation failed on the server; the recipe is as it was, and this should be reported';
}

/** Lets one through at a time, in the order of asking. */
class Turnstile {
	private readonly waiting: (() => void)[] = [];
	private isTaken = false;

	async enter(signal: AbortSignal): Promise<void> {
		if (signal.aborted) throw new StoppedError('stopped');
		if (!this.isTaken) {
			this.isTaken = true;
			return;
		}
		await new Promise<void>((resolve, reject) => {
			this.waiting.push(resolve);
			signal.addEventListener('abort', () => {
				const k = this.waiting.indexOf(resolve);
				if (k < 0) return;
				this.waiting.splice(k, 1);
				reject(new StoppedError('stopped'));
			});
		});
	}

	leave(): void {
		const next = this.waiting.shift();
		if (next) next();
		else this.isTaken = false;
	}
}

/**
 * Runs mesh tasks in worker threads, so many at a time as there are processors to spare. Workers keep their pipelines from
 * task to task; outputs go to disk.
 */
export class MeshPool {
	private readonly workers: Piscina<WorkerTask, number>;
	/** Pictures are drawn one at a time. */
	private readonly pictures = new Turnstile();
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
			// One more than there are pictures at a time, so that a delivery never waits for them.
			maxThreads: Math.max(2, availableParallelism() - 1),
			idleTimeout: 60_000,
			resourceLimits: { maxOldGenerationSizeMb: mostMemory }
		});
	}

	run(task: MeshTask, onProgress: (progress: number) => void = () => {}): RunningTask {
		const controller = new AbortController();
		const path = join(this.folder, randomUUID());
		return { result: this.work(task, path, controller.signal, onProgress), stop: () => controller.abort() };
	}

	private async work(task: MeshTask, path: string, signal: AbortSignal, onProgress: (progress: number) => void): Promise<Output> {
		await this.ready;
		const isPicture = task.output === 'picture';
		if (isPicture) await this.pictures.enter(signal);
		const { port1, port2 } = new MessageChannel();
		port1.on('message', onProgress);
		port1.unref();
		const bound = task.output in mostTime ? mostTime[task.output as keyof typeof mostTime] : mostTime.delivery;
		const own = { ...task, path, port: port2 as unknown as MessagePort };
		try {
			const size = await this.workers.run(own, {
				signal: AbortSignal.any([signal, AbortSignal.timeout(bound)]),
				transferList: [port2]
			});
			return { path, size };
		} catch (error) {
			await rm(path, { force: true });
			if (signal.aborted) throw new StoppedError('stopped');
			throw new UserError(sentenceOf(error, bound), { cause: error });
		} finally {
			port1.close();
			if (isPicture) this.pictures.leave();
		}
	}

	/** Ends all workers; tasks under way are given up. */
	close(): Promise<void> {
		return this.workers.destroy();
	}
}
