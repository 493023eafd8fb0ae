import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import type { Job } from '../api/schemas.ts';
import { log } from './log.ts';
import type { MeshPool, MeshTask, Output } from './pool.ts';
import { StoppedError } from './stopped.ts';
import { notFound, ProblemError } from './problem.ts';

interface Entry {
	job: Job;
	output?: Output;
	mediaType: string;
	fileName: string;
	stop: () => void;
	listeners: Set<(job: Job) => void>;
}

/** How many finished jobs are kept for their files to be fetched. */
const keep = 20;

/** Long deliveries: started, watched, stopped and fetched separately. */
export class Jobs {
	private readonly entries = new Map<string, Entry>();

	constructor(private readonly pool: MeshPool) {}

	start(task: MeshTask, mediaType: string, fileName: string): Job {
		const id = randomUUID();
		const entry: Entry = {
			job: { id, state: 'running', progress: 0 },
			mediaType,
			fileName,
			stop: () => {},
			listeners: new Set()
		};
		const tell = (change: Partial<Job>) => {
			entry.job = { ...entry.job, ...change };
			for (const listener of entry.listeners) listener(entry.job);
		};
		log.info({ job: id, output: task.output, project: task.project }, `job ${id} begins`);
		const running = this.pool.run(task, (progress) => tell({ progress }));
		entry.stop = running.stop;
		running.result.then(
			(output) => {
				entry.output = output;
				log.info({ job: id, bytes: output.size }, `job ${id} is done`);
				tell({ state: 'done', progress: 1 });
			},
			(error: Error) => {
				const isStopped = error instanceof StoppedError;
				if (isStopped) log.info({ job: id }, `job ${id} was stopped`);
				else log.warn({ job: id, reason: error.message }, `job ${id} failed`);
				tell(isStopped ? { state: 'stopped' } : { state: 'failed', message: error.message });
			}
		);
		this.entries.set(id, entry);
		this.forgetOld();
		return entry.job;
	}

	get(id: string): Job {
		return this.entry(id).job;
	}

	stop(id: string): Job {
		const entry = this.entry(id);
		if (entry.job.state === 'running') entry.stop();
		return entry.job;
	}

	file(id: string): { output: Output; mediaType: string; fileName: string } {
		const { output, mediaType, fileName, job } = this.entry(id);
		if (!output)
			throw new ProblemError(
				409,
				'Not ready',
				job.state === 'failed' ? job.message! : `the job is ${job.state}, so it has no file`
			);
		return { output, mediaType, fileName };
	}

	/** Calls back now and on every change; returns what ends that. */
	watch(id: string, listener: (job: Job) => void): () => void {
		const entry = this.entry(id);
		entry.listeners.add(listener);
		listener(entry.job);
		return () => entry.listeners.delete(listener);
	}

	private entry(id: string): Entry {
		const entry = this.entries.get(id);
		if (!entry) throw notFound(`job ${id}`);
		return entry;
	}

	private forgetOld(): void {
		const finished = [...this.entries].filter(([, e]) => e.job.state !== 'running');
		for (const [id, { output }] of finished.slice(0, Math.max(0, finished.length - keep))) {
			this.entries.delete(id);
			if (output) void rm(output.path, { force: true });
		}
	}
}
