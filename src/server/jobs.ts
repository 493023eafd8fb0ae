import { codeOf } from '../platform/system-error.ts';
import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { pipeline as piped } from 'node:stream/promises';
import type { FileTable, Job } from '../api/schemas.ts';
import type { StudyCase } from '../core/study/cases.ts';
import { isUserError, sentenceOf } from '../core/text/user-error.ts';
import { caseHash } from '../platform/case-hash.ts';
import type { CaseRecord } from '../formats/study.ts';
import type { Database, JobState } from '../platform/database/database.ts';
import { fairest } from './fair-turn.ts';
import { JobOutputs } from './job-outputs.ts';
import { jobOfRow } from './job-row.ts';
import { log } from './log.ts';
import { notFound, ProblemError } from './problem.ts';
import { StoppedError } from './stopped.ts';
import type { StoredFiles } from './stored-files.ts';
import type { StudyResults } from './study-results.ts';
import type { CaseOutcome, TaskRecipe } from './tasks.ts';
import type { Workers } from './workers.ts';

/** What is asked for: a delivery in a format, or `all` that the recipe asks for; or a study. */
export type JobRequest =
	| { kind: 'delivery'; format: string; options?: Record<string, unknown>; settings?: Record<string, string> }
	| { kind: 'study'; study: string };

/** A job to be started. */
export interface NewJob {
	/** Who asks: turns are shared fairly between owners. */
	owner: string;
	project: string;
	revision: number;
	request: JobRequest;
	fileName: string;
	mediaType: string;
}

/** A file that a job made. */
export interface JobFile {
	path: string;
	size: number;
	mediaType: string;
	fileName: string;
}

/** The cases of a study that is run. */
interface StudyRun {
	title: string;
	cases: StudyCase[];
	ground: string;
	/** What has come of cases, by their number. */
	done: Map<number, CaseOutcome>;
	waiting: StudyCase[];
	/** Results that are not in the database yet. */
	unsaved: StudyCase[];
	/** Set when its table is being made. */
	isTabulated: boolean;
}

/** A job that waits or is at work. */
interface LiveJob extends NewJob {
	seq: number;
	id: string;
	state: 'queued' | 'running';
	attempts: number;
	/** Whether this server has begun it. */
	isTried: boolean;
	createdAt: string;
	progress: number;
	listeners: Set<(job: Job) => void>;
	/** What stops its tasks. */
	stops: Set<() => void>;
	isStopped: boolean;
	recipe?: TaskRecipe;
	study?: StudyRun;
}

/** What jobs are allowed. */
export interface JobLimits {
	/** More jobs than this do not wait. */
	queued: number;
	/** Bytes of files that wait to be fetched: beyond it no new job is taken. */
	outputBytes: number;
	/** How long a file is kept, in milliseconds. */
	keepFor: number;
	/** A job is begun no more often than this: it may be what ends the server. */
	attempts: number;
}

export const usualLimits: JobLimits = { queued: 1000, outputBytes: 8e9, keepFor: 3_600_000, attempts: 10 };

/** How long a row of an ended job is kept, in milliseconds. */
const rowKeptFor = 7 * 86_400_000;
/** How often files are looked at whose time is over, in milliseconds. */
const sweepInterval = 60_000;
/** Results of cases are stored in groups of this size, or after this time, in milliseconds. */
const [resultsAtOnce, resultsWithin] = [50, 500];
/** How often, and how long after, a change of state is tried again while the database is held by another program. */
const [retries, retryDelay] = [120, 500];

const iso = (time: number) => new Date(time).toISOString();

/**
 * Long work: deliveries and studies. Each is a row of the database from the moment it is taken, so that after a restart it runs
 * again or says why not. Whose turn it is, is fair between those who ask; deliveries go before cases of studies, which always
 * leave a process free.
 */
export class Jobs {
	private readonly live = new Map<string, LiveJob>();
	/** Tasks at work, and how many of them are cases of studies. */
	private busy = 0;
	private busyWithStudies = 0;
	/** When each owner had a turn last, as a count of turns. */
	private readonly lastTurn = new Map<string, number>();
	private turns = 0;
	private isClosed = false;
	private sweeper: ReturnType<typeof setInterval> | undefined;

	private constructor(
		private readonly database: Database,
		private readonly workers: Workers,
		private readonly files: StoredFiles,
		private readonly results: StudyResults,
		readonly outputs: JobOutputs,
		private readonly limits: JobLimits,
		private readonly now: () => number
	) {}

	/** Takes up what an earlier server left. */
	static async open(
		database: Database,
		workers: Workers,
		files: StoredFiles,
		results: StudyResults,
		folder: string,
		limits: Partial<JobLimits> = {},
		now: () => number = Date.now
	): Promise<Jobs> {
		const all = { ...usualLimits, ...limits };
		const outputs = new JobOutputs(database, folder, all.outputBytes);
		const jobs = new Jobs(database, workers, files, results, outputs, all, now);
		await jobs.recover();
		jobs.sweeper = setInterval(() => void jobs.sweep().catch((error: unknown) => log.error(error)), sweepInterval);
		jobs.sweeper.unref();
		jobs.schedule();
		return jobs;
	}

	/** Takes a job. Throws a {@link ProblemError} where too many wait, or too many files do. */
	async start(job: NewJob): Promise<Job> {
		const queued = [...this.live.values()].filter(({ state }) => state === 'queued').length;
		if (queued >= this.limits.queued)
			throw new ProblemError(
				503,
				'Queue full',
				`${queued.toLocaleString('en')} jobs wait already, which is the most that this server takes; try again in a moment`,
				{ queued }
			);
		await this.outputs.makeRoom();
		const id = randomUUID();
		const createdAt = iso(this.now());
		const { insertId } = await this.database
			.insertInto('jobs')
			.values({
				id,
				owner: job.owner,
				project_id: job.project,
				revision: job.revision,
				kind: job.request.kind,
				request: JSON.stringify(job.request),
				file_name: job.fileName,
				media_type: job.mediaType,
				state: 'queued',
				message: null,
				attempts: 0,
				size: null,
				created_at: createdAt,
				finished_at: null,
				fetched_at: null,
				expires_at: null
			})
			.executeTakeFirstOrThrow();
		const live = this.enter({ ...job, seq: Number(insertId), id, attempts: 0, createdAt });
		log.info({ job: id, kind: job.request.kind, project: job.project }, `job ${id} is taken`);
		const answer = this.describe(live);
		this.schedule();
		return answer;
	}

	/** The jobs of this server, the newest first, 200 at most. */
	async list(): Promise<Job[]> {
		const rows = await this.database.selectFrom('jobs').selectAll().orderBy('seq', 'desc').limit(200).execute();
		return rows.map((row) => {
			const live = this.live.get(row.id);
			return live ? this.describe(live) : jobOfRow(row);
		});
	}

	async get(id: string): Promise<Job> {
		const live = this.live.get(id);
		return live ? this.describe(live) : jobOfRow(await this.row(id));
	}

	/** How many jobs wait, and how many are at work. */
	get counts(): { queued: number; running: number } {
		const states = [...this.live.values()].map(({ state }) => state);
		const running = states.filter((state) => state === 'running').length;
		return { queued: states.length - running, running };
	}

	/** Stops a job; one that has ended stays as it is. */
	async stop(id: string): Promise<Job> {
		const live = this.live.get(id);
		if (live) await this.end(live, 'stopped');
		return this.get(id);
	}

	/** Ends all jobs of a project that is taken off the list. */
	async endOf(project: string): Promise<void> {
		for (const live of [...this.live.values()])
			if (live.project === project) await this.end(live, 'stopped', 'the project was deleted');
	}

	/** The file that a job made. Throws a {@link ProblemError} where there is none. */
	async file(id: string): Promise<JobFile> {
		const { state } = await this.get(id);
		if (state === 'running') throw new ProblemError(409, 'Not ready', 'the job has not ended, so it has no file yet');
		const row = await this.row(id);
		if (row.state !== 'done') throw new ProblemError(409, 'No file', row.message ?? `the job is ${row.state}, so it has no file`);
		if (row.size === null)
			throw new ProblemError(
				410,
				'Gone',
				`the file was kept until ${row.expires_at ?? 'it was fetched'}; start the job again, it gives the same bytes`
			);
		return { path: this.outputs.pathOf(id), size: row.size, mediaType: row.media_type, fileName: row.file_name };
	}

	/** The file of a job was fetched to its end: it may go where room is wanted. */
	async fetched(id: string): Promise<void> {
		await this.persist(() =>
			this.database
				.updateTable('jobs')
				.set({ fetched_at: iso(this.now()) })
				.where('id', '=', id)
				.execute()
		);
	}

	/** Calls back now and after every change; returns what ends that. */
	async watch(id: string, listener: (job: Job) => void): Promise<() => void> {
		const live = this.live.get(id);
		if (!live) {
			listener(jobOfRow(await this.row(id)));
			return () => {};
		}
		live.listeners.add(listener);
		listener(this.describe(live));
		return () => live.listeners.delete(listener);
	}

	/** Takes away files whose time is over, and rows of jobs that ended long ago. */
	async sweep(): Promise<void> {
		await this.outputs.sweep(iso(this.now()));
		await this.database
			.deleteFrom('jobs')
			.where('state', 'in', ['done', 'failed', 'stopped'])
			.where('size', 'is', null)
			.where('finished_at', '<', iso(this.now() - rowKeptFor))
			.execute();
	}

	/** Begins nothing more; what is at work is taken up by the next server, and does not count as begun. */
	async close(): Promise<void> {
		this.isClosed = true;
		clearInterval(this.sweeper);
		for (const job of this.live.values()) {
			for (const stop of job.stops) stop();
			if (job.study) await this.saveResults(job, job.study);
			if (job.isTried) await this.setAttempts(job, job.attempts - 1);
		}
	}

	private async row(id: string) {
		const row = await this.database.selectFrom('jobs').where('id', '=', id).selectAll().executeTakeFirst();
		if (!row) throw notFound(`job ${id}`);
		return row;
	}

	private enter(job: NewJob & Pick<LiveJob, 'seq' | 'id' | 'attempts' | 'createdAt'>): LiveJob {
		const live: LiveJob = {
			...job,
			state: 'queued',
			isTried: false,
			progress: 0,
			listeners: new Set(),
			stops: new Set(),
			isStopped: false
		};
		this.live.set(live.id, live);
		return live;
	}

	/** Jobs that waited or were at work when the server ended wait again; files that belong to none go. */
	private async recover(): Promise<void> {
		const rows = await this.database
			.selectFrom('jobs')
			.where('state', 'in', ['queued', 'running'])
			.selectAll()
			.orderBy('seq')
			.execute();
		for (const row of rows) {
			const live = this.enter({
				seq: row.seq,
				id: row.id,
				owner: row.owner,
				project: row.project_id,
				revision: row.revision,
				request: JSON.parse(row.request) as JobRequest,
				fileName: row.file_name,
				mediaType: row.media_type,
				attempts: row.attempts,
				createdAt: row.created_at
			});
			if (row.attempts >= this.limits.attempts)
				await this.end(live, 'failed', `the server ended ${row.attempts} times while this was at work; it is not tried again`);
			else if (row.state === 'running')
				await this.database.updateTable('jobs').set({ state: 'queued' }).where('id', '=', row.id).execute();
		}
		await this.outputs.open();
	}

	/** Begins as many tasks as there are processes for. */
	private schedule(): void {
		while (!this.isClosed && this.busy < this.workers.count) {
			const mayStudy = this.busyWithStudies < Math.max(1, this.workers.count - 1);
			const ready = [...this.live.values()].filter(({ isStopped }) => !isStopped);
			const next =
				this.fairest(ready.filter((job) => job.request.kind === 'delivery' && job.state === 'queued')) ??
				(mayStudy ? this.fairest(ready.filter(hasStudyTask)) : undefined);
			if (!next) break;
			this.lastTurn.set(next.owner, ++this.turns);
			void this.work(next);
		}
		for (const live of this.live.values())
			if (live.state === 'queued' && live.listeners.size > 0) notify(live, this.describe(live));
	}

	private fairest(jobs: readonly LiveJob[]): LiveJob | undefined {
		const running = new Map<string, number>();
		for (const { owner, stops } of this.live.values()) running.set(owner, (running.get(owner) ?? 0) + stops.size);
		return fairest(jobs, {
			running: (job) => running.get(job.owner) ?? 0,
			lastTurn: (job) => this.lastTurn.get(job.owner) ?? 0,
			order: (job) => job.seq
		});
	}

	/** Does one task of a job. */
	private async work(job: LiveJob): Promise<void> {
		const isStudy = job.request.kind === 'study';
		this.busy++;
		if (isStudy) this.busyWithStudies++;
		// What stops it is known once it has begun; until then its place is taken all the same.
		const placeholder = () => {};
		job.stops.add(placeholder);
		try {
			// Taken at once, so that nobody else takes the same case.
			const one = job.study?.waiting.shift();
			await this.begin(job);
			if (job.request.kind === 'delivery') await this.deliver(job, job.request);
			else if (!job.study) await this.plan(job, job.request.study);
			else if (one) await this.runCase(job, job.study, one);
		} catch (error) {
			await this.failed(job, error);
		} finally {
			job.stops.delete(placeholder);
			this.busy--;
			if (isStudy) this.busyWithStudies--;
			this.schedule();
		}
	}

	/** Marks a job as at work, and reads its recipe. */
	private async begin(job: LiveJob): Promise<void> {
		// To work out the cases of a study is no attempt at it yet.
		const isAttempt = !job.isTried && (job.request.kind === 'delivery' || job.study !== undefined);
		if (isAttempt) {
			job.isTried = true;
			job.attempts++;
		}
		if (job.state === 'queued' || isAttempt) {
			const isNew = job.state === 'queued';
			job.state = 'running';
			await this.persist(() =>
				this.database.updateTable('jobs').set({ state: 'running', attempts: job.attempts }).where('id', '=', job.id).execute()
			);
			if (isNew) log.info({ job: job.id }, `job ${job.id} begins`);
			if (isNew) notify(job, this.describe(job));
		}
		job.recipe ??= await this.recipeOf(job);
	}

	private async recipeOf({ project, revision, request }: LiveJob): Promise<TaskRecipe> {
		const { text, files } = await this.revision(project, revision);
		return {
			project,
			text,
			files: await this.files.laidOut(files),
			...(request.kind === 'delivery' && request.settings ? { settings: request.settings } : {})
		};
	}

	private async revision(project: string, number: number): Promise<{ text: string; files: FileTable }> {
		const row = await this.database
			.selectFrom('revisions')
			.where('project_id', '=', project)
			.where('number', '=', number)
			.select(['text', 'files'])
			.executeTakeFirst();
		if (!row) throw notFound(`revision ${number} of this project`);
		return { text: row.text, files: JSON.parse(row.files) as FileTable };
	}

	private async deliver(job: LiveJob, { format, options }: Extract<JobRequest, { kind: 'delivery' }>): Promise<void> {
		const wanted = { format, ...(options ? { options } : {}) };
		const { size, problems } = await this.task(job, () =>
			this.workers.run('deliver', [job.recipe!, wanted, this.outputs.pathOf(job.id)], (progress) => this.progress(job, progress))
		);
		await this.done(job, size, problems.length > 0 ? problems.join('; ') : null);
	}

	/** Works out the cases of a study, and which of them are done already. */
	private async plan(job: LiveJob, study: string): Promise<void> {
		const { title, cases } = await this.task(job, () => this.workers.run('cases', [job.recipe!, study]));
		const ground = this.results.groundOf(await this.revision(job.project, job.revision));
		const stored = await this.results.of(job.project, study, ground);
		const byHash = new Map(
			stored.map(({ ok, message, figures, ...one }) => [
				caseHash(ground, one, false),
				{ ok, message, figures, picture: '' } as CaseOutcome
			])
		);
		const done = new Map<number, CaseOutcome>();
		for (const one of cases) {
			const outcome = byHash.get(caseHash(ground, one, false));
			if (outcome) done.set(one.number, outcome);
		}
		job.study = {
			title,
			cases,
			ground,
			done,
			waiting: cases.filter(({ number }) => !done.has(number)),
			unsaved: [],
			isTabulated: false
		};
		await this.tabulateWhenDone(job, job.study);
	}

	private async setAttempts(job: LiveJob, attempts: number): Promise<void> {
		job.attempts = attempts;
		await this.database.updateTable('jobs').set({ attempts }).where('id', '=', job.id).execute();
	}

	private async runCase(job: LiveJob, study: StudyRun, one: StudyCase): Promise<void> {
		const { settings, refine } = one;
		const outcome = await this.task(job, () => this.workers.run('runCase', [job.recipe!, { settings, refine }])).catch(
			(error: unknown): CaseOutcome => {
				// A case that ends its process fails alone.
				if (error instanceof StoppedError || !isUserError(error)) throw error;
				return { ok: false, message: error.message, figures: null, picture: '' };
			}
		);
		study.done.set(one.number, outcome);
		study.unsaved.push(one);
		this.progress(job, study.done.size / study.cases.length);
		if (study.unsaved.length >= resultsAtOnce) await this.saveResults(job, study);
		else setTimeout(() => void this.saveResults(job, study).catch((error: unknown) => log.error(error)), resultsWithin).unref();
		await this.tabulateWhenDone(job, study);
	}

	private async saveResults(job: LiveJob, study: StudyRun): Promise<void> {
		const { request } = job;
		const cases = study.unsaved.splice(0);
		if (cases.length === 0 || request.kind !== 'study') return;
		const results = cases.map((one) => ({ case: one, ...study.done.get(one.number)! }));
		await this.persist(() => this.results.put(job.project, request.study, study.ground, results));
		// It gets on: however often the server is ended, it goes on from here.
		if (job.attempts > 1) await this.persist(() => this.setAttempts(job, 1));
		// Pictures are in the database; the table wants figures alone.
		for (const one of cases) study.done.set(one.number, { ...study.done.get(one.number)!, picture: '' });
	}

	/** Makes the table of a study whose cases have all been run. */
	private async tabulateWhenDone(job: LiveJob, study: StudyRun): Promise<void> {
		if (study.done.size < study.cases.length || study.isTabulated) return;
		study.isTabulated = true;
		await this.saveResults(job, study);
		const records = `${this.outputs.pathOf(job.id)}.records`;
		const name = (job.request as { study: string }).study;
		try {
			await piped(recordLines(study), createWriteStream(records));
			const manifest = { title: study.title, study: name, cases: study.cases };
			const size = await this.task(job, () => this.workers.run('table', [manifest, records, this.outputs.pathOf(job.id)]));
			await this.done(job, size, null);
		} finally {
			await rm(records, { force: true });
		}
	}

	/** Runs a task of a job that can be stopped meanwhile. */
	private async task<T>(job: LiveJob, start: () => { result: Promise<T>; stop: () => void }): Promise<T> {
		if (job.isStopped || this.isClosed) throw new StoppedError('stopped');
		const { result, stop } = start();
		job.stops.add(stop);
		try {
			return await result;
		} finally {
			job.stops.delete(stop);
		}
	}

	private progress(job: LiveJob, progress: number): void {
		if (job.isStopped) return;
		job.progress = progress;
		notify(job, this.describe(job));
	}

	private async done(job: LiveJob, size: number, message: string | null): Promise<void> {
		if (job.isStopped) return;
		log.info({ job: job.id, bytes: size }, `job ${job.id} is done`);
		await this.settle(job, { state: 'done', message, size, expires_at: iso(this.now() + this.limits.keepFor) });
	}

	private async failed(job: LiveJob, error: unknown): Promise<void> {
		// Stopped with the server: the next one goes on with it.
		if (this.isClosed || job.isStopped || error instanceof StoppedError) return;
		if (!isUserError(error) && !(error instanceof ProblemError)) log.error(error);
		await this.end(job, 'failed', error instanceof ProblemError ? error.detail : sentenceOf(error));
	}

	/** Ends a job before it is done. */
	private async end(job: LiveJob, state: 'failed' | 'stopped', message: string | null = null): Promise<void> {
		job.isStopped = true;
		for (const stop of job.stops) stop();
		if (state === 'failed') log.warn({ job: job.id, reason: message }, `job ${job.id} failed`);
		else log.info({ job: job.id }, `job ${job.id} was stopped`);
		await this.settle(job, { state, message, size: null, expires_at: null });
		await this.outputs.remove(job.id);
	}

	/** Writes how a job has ended, and then reports it. */
	private async settle(
		job: LiveJob,
		end: { state: JobState; message: string | null; size: number | null; expires_at: string | null }
	): Promise<void> {
		await this.persist(() =>
			this.database
				.updateTable('jobs')
				.set({ ...end, finished_at: iso(this.now()) })
				.where('id', '=', job.id)
				.execute()
		);
		this.live.delete(job.id);
		const row = await this.row(job.id).catch(() => undefined);
		if (row) notify(job, jobOfRow(row));
		this.schedule();
	}

	/** Writes to the database, again and again while another program holds it. */
	private async persist<T>(write: () => Promise<T>): Promise<T> {
		for (let k = 0; ; k++) {
			try {
				return await write();
			} catch (error) {
				const isHeld = /^SQLITE_(BUSY|LOCKED)/.test(codeOf(error));
				if (!isHeld || k >= retries) throw error;
				await new Promise((resume) => setTimeout(resume, retryDelay));
			}
		}
	}

	private describe({ seq, id, request, project, fileName, state, progress, createdAt }: LiveJob): Job {
		const ahead = [...this.live.values()].filter((other) => other.state === 'queued' && other.seq < seq).length;
		return {
			id,
			kind: request.kind,
			project,
			name: fileName,
			state: 'running',
			progress,
			...(state === 'queued' ? { ahead } : {}),
			createdAt
		};
	}
}

/** Whether a study has a task that can be begun: its cases are to be worked out, or some of them wait. */
const hasStudyTask = ({ request, state, study }: LiveJob): boolean =>
	request.kind === 'study' && (study ? study.waiting.length > 0 : state === 'queued');

/** The records of a study, one to a line. */
function* recordLines({ cases, done, ground }: StudyRun): Generator<string> {
	for (const one of cases) {
		const { ok, message, figures } = done.get(one.number)!;
		const { number, name, settings, refine } = one;
		const record: CaseRecord = { number, case: name, hash: caseHash(ground, one, false), settings, refine, ok, message, figures };
		yield `${JSON.stringify(record)}\n`;
	}
}

function notify({ listeners }: LiveJob, job: Job): void {
	for (const listener of listeners) listener(job);
}
