import { existsSync, mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { type Job, NewRevision } from '../api/schemas.ts';
import { type Database, openDatabase } from '../platform/database/database.ts';
import { answering, notFound, ProblemError, readBody } from './problem.ts';
import { type JobLimits, type JobRequest, Jobs } from './jobs.ts';
import { Projects } from './projects.ts';
import { StoredFiles } from './stored-files.ts';
import { StudyResults } from './study-results.ts';
import { Workers } from './workers.ts';

const recipe = (size: number, more = '') =>
	`recipe 1\nlet w = 10\nrectangle b = (0, 0) to (w, 10)\nregion r at (1, 1)\nfill r triangles size ${size}\n${more}`;
const workers = new Workers(2);
afterAll(() => workers.close());

let folder: string;
let database: Database;
let projects: Projects;
let results: StudyResults;
let clock = 0;

beforeEach(async () => {
	folder = mkdtempSync(join(tmpdir(), 'jobs-'));
	database = await openDatabase(join(folder, 'tessellon.db'));
	projects = new Projects(database);
	results = new StudyResults(database);
	clock = Date.parse('2026-12-01T12:00:00Z');
});

const open = (limits: Partial<JobLimits> = {}) =>
	Jobs.open(
		database,
		workers,
		new StoredFiles(database, join(folder, 'files')),
		results,
		join(folder, 'outputs'),
		limits,
		() => clock
	);
const make = (text: string) => projects.create(text, {}, 'New');
const vtu: JobRequest = { kind: 'delivery', format: 'vtu' };
const start = (jobs: Jobs, project: { id: string; revision: number }, request: JobRequest = vtu, owner = 'me') =>
	jobs.start({ owner, project: project.id, revision: project.revision, request, fileName: 'a.vtu', mediaType: 'text/xml' });
const hasEnded = ({ state }: Job) => state !== 'running';
const ended = (jobs: Jobs, id: string) =>
	new Promise<Job[]>((done) => {
		const seen: Job[] = [];
		void jobs.watch(id, (job) => {
			seen.push(job);
			if (hasEnded(job)) done(seen);
		});
	});

describe('jobs', () => {
	it('run, report every change, and keep their file', async () => {
		const jobs = await open();
		const { id, state } = await start(jobs, await make(recipe(1)));
		expect(state).toBe('running');
		await expect(jobs.file(id)).rejects.toThrow(/so it has no file yet/);
		const seen = await ended(jobs, id);
		expect(seen.at(-1)).toMatchObject({ id, state: 'done', progress: 1, name: 'a.vtu', kind: 'delivery' });
		const file = await jobs.file(id);
		expect(file).toMatchObject({ mediaType: 'text/xml', fileName: 'a.vtu' });
		expect(readFileSync(file.path).length).toBe(file.size);
		expect((await jobs.list()).map((job) => job.id)).toEqual([id]);
		await jobs.close();
	});

	it('can be stopped, while they wait or are at work, and say why they failed', async () => {
		const jobs = await open();
		const long = await start(jobs, await make(recipe(0.008)));
		await jobs.stop(long.id);
		expect((await jobs.get(long.id)).state).toBe('stopped');
		const empty = await start(jobs, await make('recipe 1\n'));
		expect((await ended(jobs, empty.id)).at(-1)).toMatchObject({
			state: 'failed',
			message: expect.stringMatching(/no mesh to deliver/)
		});
		await expect(jobs.file(empty.id)).rejects.toThrow(/no mesh to deliver/);
		await expect(jobs.get('nobody')).rejects.toThrow(/there is no job nobody/);
		expect(readdirSync(join(folder, 'outputs'))).toEqual([]);
		await jobs.close();
	});

	it('end with their project', async () => {
		const jobs = await open();
		const project = await make(recipe(0.008));
		const job = await start(jobs, project);
		const other = await start(jobs, await make(recipe(2)));
		await jobs.endOf(project.id);
		expect(await jobs.get(job.id)).toMatchObject({ state: 'stopped', message: 'the project was deleted' });
		expect((await ended(jobs, other.id)).at(-1)!.state).toBe('done');
		await jobs.close();
	});

	it('of several deliveries give what could be made, and say what could not', async () => {
		const jobs = await open();
		const project = await make(recipe(2, 'deliver vtu\ndeliver deck "none.liquid"\ndeliver cgns zones rows\ndeliver tables\n'));
		const { id } = await start(jobs, project, { kind: 'delivery', format: 'all' });
		const { state, message } = (await ended(jobs, id)).at(-1)!;
		expect(state).toBe('done');
		expect(message).toMatch(/“deliver deck "none.liquid"” was not delivered: no file “none.liquid”/);
		expect(message).toMatch(/“deliver cgns zones rows” was not delivered/);
		const names = Object.keys(unzipSync(readFileSync((await jobs.file(id)).path)));
		expect(names).toContain('mesh.vtu');
		expect(names).toContain('mesh-tables/nodes.csv');
		await jobs.close();
	});

	it('survive the end of the server: what waited and what was at work is done by the next', async () => {
		const before = await open();
		const project = await make(recipe(0.05));
		const ids: string[] = [];
		for (let k = 0; k < 6; k++) ids.push((await start(before, project, vtu, `client ${k}`)).id);
		await before.close();
		const after = await open();
		for (const id of ids) expect((await ended(after, id)).at(-1)!.state).toBe('done');
		const sizes = await Promise.all(ids.map(async (id) => (await after.file(id)).size));
		expect(new Set(sizes).size).toBe(1);
		await after.close();
	});

	it('that ended the server again and again are not begun for ever', async () => {
		const jobs = await open();
		const { id } = await start(jobs, await make(recipe(0.008)));
		await jobs.close();
		// As a server leaves it that was killed at it for the tenth time.
		await database.updateTable('jobs').set({ state: 'running', attempts: 10 }).where('id', '=', id).execute();
		const after = await open();
		expect(await after.get(id)).toMatchObject({ state: 'failed', message: expect.stringMatching(/ended 10 times/) });
		await after.close();
	});

	it('keep a file for an hour, and longer than that none', async () => {
		const jobs = await open();
		const { id } = await start(jobs, await make(recipe(2)));
		await ended(jobs, id);
		const { path } = await jobs.file(id);
		clock += 3_599_000;
		await jobs.sweep();
		expect(existsSync(path)).toBe(true);
		clock += 2_000;
		await jobs.sweep();
		expect(existsSync(path)).toBe(false);
		await expect(jobs.file(id)).rejects.toMatchObject({
			status: 410,
			detail: expect.stringMatching(/was kept until 2026-12-01T13/)
		});
		await jobs.close();
	});

	it('that are many all keep their files: room is made by what was fetched, and new work is refused before any other goes', async () => {
		const project = await make(recipe(2));
		const first = await open();
		const one = await start(first, project);
		await ended(first, one.id);
		const { size } = await first.file(one.id);
		await first.close();
		// Room for three files and a half.
		const jobs = await open({ outputBytes: 3.5 * size });
		const ids = [one.id];
		for (let k = 0; k < 3; k++) {
			const { id } = await start(jobs, project);
			await ended(jobs, id);
			ids.push(id);
		}
		await expect(start(jobs, project)).rejects.toMatchObject({
			status: 507,
			detail: expect.stringMatching(/wait to be fetched/)
		});
		await jobs.fetched(ids[2]!);
		const last = await start(jobs, project);
		await ended(jobs, last.id);
		await expect(jobs.file(ids[2]!)).rejects.toMatchObject({ status: 410 });
		for (const id of [ids[0]!, ids[1]!, ids[3]!, last.id]) expect(existsSync((await jobs.file(id)).path)).toBe(true);
		await jobs.close();
	});

	it('wait in a queue that says how long it is, and has an end', async () => {
		const jobs = await open({ queued: 4 });
		const project = await make(recipe(0.02));
		const taken: Job[] = [];
		for (let k = 0; k < 6; k++) taken.push(await start(jobs, project));
		expect(taken.map((job) => job.ahead)).toEqual([0, 0, 0, 1, 2, 3].map((n, k) => (k < 2 ? taken[k]!.ahead : n)));
		await expect(start(jobs, project)).rejects.toMatchObject({
			status: 503,
			detail: expect.stringMatching(/^4 jobs wait already/)
		});
		for (const { id } of taken) await jobs.stop(id);
		await jobs.close();
	});
});

describe('studies', () => {
	const study = (count: number) => recipe(2, `study s = w from 4 to 20 in ${count}\n`);
	const run: JobRequest = { kind: 'study', study: 's' };

	it('keep what came of their cases, and do none twice', async () => {
		const jobs = await open();
		const project = await make(study(5));
		const { id } = await start(jobs, project, run);
		const seen = await ended(jobs, id);
		expect(seen.at(-1)).toMatchObject({ state: 'done' });
		expect(seen.map((job) => job.progress)).toEqual([...seen.map((job) => job.progress)].sort((a, b) => a - b));
		const stored = await results.of(project.id, 's', results.groundOf(project));
		expect(stored.map((r) => r.settings.w).sort((a, b) => Number(a) - Number(b))).toEqual(['4', '8', '12', '16', '20']);
		expect(stored.every((r) => r.ok && r.picture.startsWith('<svg'))).toBe(true);
		const table = unzipSync(readFileSync((await jobs.file(id)).path))['table.csv']!;
		// Told apart from what was run by a figure that no run gives.
		await database
			.updateTable('study_results')
			.set({ outcome: JSON.stringify({ ok: true, message: '', figures: { ...stored[0]!.figures, elements: -1 } }) })
			.where('settings', '=', JSON.stringify(stored[0]!.settings))
			.execute();
		const again = await start(jobs, project, run);
		await ended(jobs, again.id);
		const second = new TextDecoder().decode(unzipSync(readFileSync((await jobs.file(again.id)).path))['table.csv']);
		expect(second).toContain(',-1,');
		expect(second.split('\n')).toHaveLength(new TextDecoder().decode(table).split('\n').length);
		// Another recipe: other cases.
		const edited = await projects.edit(project.id, project.etag, {
			text: study(5).replace('size 2', 'size 3'),
			files: {},
			label: 'x'
		});
		expect(await results.of(project.id, 's', results.groundOf(edited))).toEqual([]);
		await jobs.close();
	});

	it('of thousands of cases hold up nobody: a small delivery that comes later is done before they are', async () => {
		const jobs = await open();
		const project = await make(study(2000));
		const [a, b] = [await start(jobs, project, run, 'a'), await start(jobs, await make(study(2000)), run, 'b')];
		const small = await start(jobs, await make(recipe(2)), vtu, 'c');
		expect((await ended(jobs, small.id)).at(-1)!.state).toBe('done');
		for (const { id } of [a, b]) {
			expect((await jobs.get(id)).state).not.toBe('done');
			await jobs.stop(id);
		}
		await jobs.close();
	});

	it('go on where they were when the server ended', async () => {
		const project = await make(study(40));
		const before = await open();
		const { id } = await start(before, project, run);
		await new Promise<void>((resume) => void before.watch(id, ({ progress }) => progress > 0.2 && resume()));
		await before.close();
		const stored = (await results.of(project.id, 's', results.groundOf(project))).length;
		expect(stored).toBeGreaterThan(7);
		const after = await open();
		expect((await ended(after, id)).at(-1)!.state).toBe('done');
		expect(await results.of(project.id, 's', results.groundOf(project))).toHaveLength(40);
		await after.close();
	});
});

describe('refusals', () => {
	const post = (body: string) => new Request('http://127.0.0.1/', { method: 'POST', body });

	it('are problem details with the status and a sentence', async () => {
		const response = await answering(() => Promise.reject(notFound('such thing')));
		expect([response.status, response.headers.get('content-type')]).toEqual([404, 'application/problem+json']);
		expect(await response.json()).toEqual({
			type: 'about:blank',
			title: 'Not found',
			status: 404,
			detail: 'there is no such thing'
		});
	});

	it('hide what went wrong inside', async () => {
		const response = await answering(() => Promise.reject(new Error('secret')));
		expect(response.status).toBe(500);
		expect(await response.text()).not.toContain('secret');
	});

	it('say which part of a body is wrong, in words', async () => {
		await expect(readBody(post('{'), NewRevision)).rejects.toThrow('the body is not JSON');
		await expect(readBody(post('{"text": 3, "files": {}, "label": ""}'), NewRevision)).rejects.toThrow('“text” must be a text');
		await expect(readBody(post('{"files": {}, "label": ""}'), NewRevision)).rejects.toThrow('“text” is missing');
		await expect(readBody(post('null'), NewRevision)).rejects.toThrow('the body must be an object');
		await expect(readBody(post('{"text": "", "files": {"a": "xyz"}, "label": ""}'), NewRevision)).rejects.toThrow(
			/files.a”: a hash is 64 hexadecimal digits/
		);
		await expect(readBody(post('{"text": "\\ud800", "files": {}, "label": ""}'), NewRevision)).rejects.toThrow(/surrogate/);
		await expect(readBody(post(`{"text": "", "files": {}, "label": "${'x'.repeat(300)}"}`), NewRevision)).rejects.toThrow(
			'“label” has more than 200 characters or items'
		);
		await expect(readBody(post('{"text": "", "files": {"../a": "x"}, "label": ""}'), NewRevision)).rejects.toBeInstanceOf(
			ProblemError
		);
		expect(await readBody(post('{"text": "", "files": {}, "label": "x"}'), NewRevision)).toEqual({
			text: '',
			files: {},
			label: 'x'
		});
	});
});
