import { availableParallelism } from 'node:os';
import { resolve } from 'node:path';
import { Worker } from 'node:worker_threads';

/** Work for a thread: a recipe, its files, and what to make of it (a delivery format, `picture` or `report`). */
export interface MeshTask {
	text: string;
	files: Record<string, Uint8Array>;
	output: string;
}

export type MeshAnswer =
	{ kind: 'progress'; progress: number } | { kind: 'done'; output: Uint8Array } | { kind: 'failed'; message: string };

/** A task under way. */
export interface RunningTask {
	result: Promise<Uint8Array>;
	stop: () => void;
}

/** Thrown to whoever waits for a task that was stopped. */
export class StoppedError extends Error {}

/**
 * Runs mesh tasks in worker threads, so many at a time as there are processors to spare. A thread that
 * has done its task waits for the next one; one that is stopped, or fails, is ended.
 */
export class MeshPool {
	private readonly waiting: (() => void)[] = [];
	private readonly idle: Worker[] = [];
	private busy = 0;
	private readonly size = Math.max(1, availableParallelism() - 1);

	constructor(private readonly script = resolve('dist/mesh-worker.js')) {}

	run(task: MeshTask, onProgress: (progress: number) => void = () => {}): RunningTask {
		let worker: Worker | undefined;
		let stopped = false;
		let reject: (error: Error) => void = () => {};
		const result = (async () => {
			await this.enter();
			try {
				if (stopped) throw new StoppedError('stopped');
				const own = (worker = this.idle.pop() ?? this.newWorker());
				let onMessage: (answer: MeshAnswer) => void = () => {};
				const output = await new Promise<Uint8Array>((fulfil, fail) => {
					reject = fail;
					onMessage = (answer) => {
						if (answer.kind === 'progress') onProgress(answer.progress);
						else if (answer.kind === 'done') fulfil(answer.output);
						else fail(new Error(answer.message));
					};
					own.on('message', onMessage).once('error', fail);
					own.postMessage(task);
				});
				own.off('message', onMessage).removeAllListeners('error');
				this.idle.push(own);
				worker = undefined;
				return output;
			} finally {
				void worker?.terminate();
				this.leave();
			}
		})();
		const stop = () => {
			stopped = true;
			reject(new StoppedError('stopped'));
		};
		return { result, stop };
	}

	/** A thread that does not keep the process from ending. */
	private newWorker(): Worker {
		const worker = new Worker(this.script);
		worker.unref();
		return worker;
	}

	private async enter(): Promise<void> {
		if (this.busy >= this.size) await new Promise<void>((go) => this.waiting.push(go));
		this.busy++;
	}

	private leave(): void {
		this.busy--;
		this.waiting.shift()?.();
	}
}
