import { codeOf } from '../platform/system-error.ts';
import { join } from 'node:path';
import { programFolder } from '../platform/program-folder.ts';
import { type Pool, pool, Promise as PoolPromise, TerminateError } from 'workerpool';
import { sentenceOf, UserError } from '../core/text/user-error.ts';
import { log } from './log.ts';
import { StoppedError } from './stopped.ts';
import { longest, spoilt, type TaskName, type Tasks } from './tasks.ts';

/** Megabytes of the heap of a worker. */
const mostHeap = 4096;
/** A process that has had nothing to do for so long is ended, in milliseconds. */
const idleTime = 60_000;

/** A task was begun and gave nothing: it took too long, took too much, or ended its process. Tried again it would come to the same. */
export class TaskError extends UserError {}

/** A task under way. */
export interface RunningTask<T> {
	result: Promise<T>;
	stop: () => void;
}

/**
 * Processes that do tasks: pictures and figures, for which somebody waits, in one, all else in the others. What runs away ends
 * its process and nothing else.
 */
export class Workers {
	private readonly quick: Lane;
	private readonly heavy: Lane;

	/**
	 * @param count how many processes do deliveries and cases of studies at once
	 * @param script the bundled worker
	 */
	constructor(
		readonly count: number,
		script = join(programFolder, 'dist/mesh-worker.js')
	) {
		this.quick = new Lane(1, script);
		this.heavy = new Lane(count, script);
	}

	/**
	 * Does a task. The result is refused with a {@link StoppedError} when it is stopped, and otherwise with a {@link UserError}.
	 *
	 * @param onProgress called with how far it is, from 0 to 1
	 */
	run<K extends TaskName>(
		name: K,
		args: Parameters<Tasks[K]>,
		onProgress: (progress: number) => void = () => {}
	): RunningTask<Awaited<ReturnType<Tasks[K]>>> {
		const lane = name === 'picture' || name === 'figures' ? this.quick : this.heavy;
		return lane.run(name, args, onProgress);
	}

	/** Ends all processes; tasks under way are given up. */
	async close(): Promise<void> {
		await Promise.all([this.quick.close(), this.heavy.close()]);
	}
}

/** Some processes that do the same kind of tasks. They are started when there is something to do. */
class Lane {
	private processes: Pool | undefined;
	/** Those that are replaced, until their last task is done. */
	private readonly retired = new Set<Pool>();
	private busy = 0;
	private idle: ReturnType<typeof setTimeout> | undefined;

	constructor(
		private readonly count: number,
		private readonly script: string
	) {}

	run<K extends TaskName>(
		name: K,
		args: Parameters<Tasks[K]>,
		onProgress: (progress: number) => void
	): RunningTask<Awaited<ReturnType<Tasks[K]>>> {
		clearTimeout(this.idle);
		this.busy++;
		const processes = (this.processes ??= pool(this.script, {
			workerType: 'process',
			maxWorkers: this.count,
			workerTerminateTimeout: 200,
			forkOpts: { serialization: 'advanced', execArgv: [`--max-old-space-size=${mostHeap}`] }
		}));
		let [isStopped, isSpoilt] = [false, false];
		const take = (event: number | typeof spoilt) => (event === spoilt ? (isSpoilt = true) : onProgress(event));
		// The time of a task begins when a process takes it, not while it waits.
		const running = processes.exec(name, args as unknown[], { on: take }).timeout(longest[name]);
		const result = Promise.resolve(running as PromiseLike<Awaited<ReturnType<Tasks[K]>>>).then(
			(value) => {
				this.rest(processes, isSpoilt);
				return value;
			},
			(error: unknown) => {
				const mended = isStopped ? new StoppedError('stopped') : taskError(error, longest[name]);
				this.rest(processes, isSpoilt || mended.cause === error);
				throw mended;
			}
		);
		return {
			result,
			stop: () => {
				isStopped = true;
				running.cancel();
			}
		};
	}

	async close(): Promise<void> {
		clearTimeout(this.idle);
		const ended = [this.processes, ...this.retired].map((processes) => processes?.terminate(true));
		this.processes = undefined;
		this.retired.clear();
		await Promise.all(ended);
	}

	/** After a task. Processes in which the program itself failed may hold half of something: they get no more, and end after what they have. */
	private rest(processes: Pool, isSpoilt: boolean): void {
		if (isSpoilt) {
			this.retired.add(processes);
			if (this.processes === processes) this.processes = undefined;
		}
		const { activeTasks, pendingTasks } = processes.stats();
		// Ending them any sooner would refuse the tasks that wait.
		if (activeTasks + pendingTasks === 0 && this.retired.delete(processes)) void processes.terminate();
		if (--this.busy > 0) return;
		this.idle = setTimeout(() => void this.close(), idleTime);
		this.idle.unref();
	}
}

/** What went wrong with a task, for whoever asked for it. */
function taskError(error: unknown, bound: number): UserError {
	if (error instanceof PoolPromise.TimeoutError)
		return new TaskError(
			`this took longer than ${bound / 1000} s and was stopped; make the mesh smaller, or run it from the command line`
		);
	if (error instanceof TerminateError) {
		log.warn({ reason: error.message }, 'a worker ended at a task');
		return new TaskError(
			'this ended the process that was at it, most likely because it took too much memory; make the mesh smaller, or run it from the command line'
		);
	}
	if (codeOf(error) === 'ENOSPC') return new UserError('the disk of the server is full, so the file could not be written');
	const sentence = sentenceOf(error);
	if (error instanceof Error && error.message === sentence) return new TaskError(sentence);
	log.error(error);
	return new TaskError(sentence, { cause: error });
}
