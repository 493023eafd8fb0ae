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

/** Runs mesh tasks in worker threads, so many at a time as there are processors to spare. */
export class MeshPool {
	private readonly waiting: (() => void)[] = [];
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
				return await new Promise<Uint8Array>((fulfil, fail) => {
					reject = fail;
					worker = new Worker(this.script);
					worker.on('message', (answer: MeshAnswer) => {
						if (answer.kind === 'progress') onProgress(answer.progress);
						else if (answer.kind === 'done') fulfil(answer.output);
						else fail(new Error(answer.message));
					});
					worker.on('error', fail);
					worker.postMessage(task);
				});
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

	private async enter(): Promise<void> {
		if (this.busy >= this.size) await new Promise<void>((go) => this.waiting.push(go));
		this.busy++;
	}

	private leave(): void {
		this.busy--;
		this.waiting.shift()?.();
	}
}
