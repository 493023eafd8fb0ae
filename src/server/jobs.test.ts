import { readdirSync } from 'node:fs';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { type Job, NewRevision } from '../api/schemas.ts';
import { answering, notFound, ProblemError, readBody } from './problem.ts';
import { Jobs } from './jobs.ts';
import { takeOutput } from './outputs.ts';
import { MeshPool, type Output } from './pool.ts';
import { StoppedError } from './stopped.ts';

const recipe = (size: number) =>
	`recipe 1\nrectangle b = (0, 0) to (10, 10)\nregion r at (1, 1)\nfill r triangles size ${size}\n`;
const task = (size: number, output: string) => ({ project: 'plate', text: recipe(size), files: {}, output });
const folder = mkdtempSync(join(tmpdir(), 'outputs-'));
const pool = new MeshPool(join(folder, 'outputs'));
const content = async (running: { result: Promise<Output> }) => takeOutput(await running.result);

afterAll(() => pool.close());

describe('the worker pool', () => {
	it('gives the figures of a recipe, and progress on the way', async () => {
		const shares: number[] = [];
		const output = await content(pool.run(task(1, 'report'), (share) => shares.push(share)));
		expect(JSON.parse(new TextDecoder().decode(output))).toMatchObject({ quads: 0, findings: expect.any(Array) });
		expect(shares.length).toBeGreaterThan(3);
		expect(shares.every((s, k) => k === 0 || s >= shares[k - 1]!)).toBe(true);
	});

	it('stops a long task at once, and goes on with the next', async () => {
		let stop = () => {};
		const running = pool.run(task(0.008, 'vtu'), () => stop());
		stop = running.stop;
		await expect(running.result).rejects.toBeInstanceOf(StoppedError);
		expect((await content(pool.run(task(2, 'picture')))).length).toBeGreaterThan(100);
	});

	it('does one task after another in the same thread, each as if it were the first', async () => {
		const [first, other, again] = [
			await content(pool.run(task(1, 'vtu'))),
			await content(pool.run(task(2, 'vtu'))),
			await content(pool.run(task(1, 'vtu')))
		];
		expect(again).toEqual(first);
		expect(other).not.toEqual(first);
		const many = await Promise.all([1, 2, 1, 2].map((size) => content(pool.run(task(size, 'vtu')))));
		expect(many).toEqual([first, other, first, other]);
	});

	it('takes values of parameters and options of the format', async () => {
		const plate = {
			project: 'p',
			text: 'recipe 1\nlet n = 4\nrectangle b = (0, 0) to (10, 10)\nregion r at (1, 1)\ndivide b into n\nfill r structured\n',
			files: {}
		};
		const report = async (settings: Record<string, string>) =>
			JSON.parse((await content(pool.run({ ...plate, output: 'report', settings }))).toString()) as { quads: number };
		expect([(await report({})).quads, (await report({ n: '2*5' })).quads, (await report({})).quads]).toEqual([16, 100, 16]);
		await expect(pool.run({ ...plate, output: 'report', settings: { n: '2*' } }).result).rejects.toThrow(
			/^n=2\*: the line ends too early/
		);
		await expect(pool.run({ ...plate, output: 'vtu', options: { units: 'ell' } }).result).rejects.toThrow(/`drawn` or `m`/);
	});

	it('leaves no file behind of what was stopped or failed', async () => {
		const before = readdirSync(join(folder, 'outputs')).length;
		const running = pool.run(task(0.008, 'vtu'));
		running.stop();
		await expect(running.result).rejects.toBeInstanceOf(StoppedError);
		await expect(pool.run({ project: 'empty', text: 'recipe 1\n', files: {}, output: 'cgns' }).result).rejects.toThrow();
		expect(readdirSync(join(folder, 'outputs'))).toHaveLength(before);
	});

	it('draws of a very large mesh only the outline, and says how large it is', async () => {
		const svg = new TextDecoder().decode(await content(pool.run(task(0.01, 'picture'))));
		expect(svg).toMatch(/about 2,300,000 elements/);
		expect(svg.length).toBeLessThan(5000);
	});

	it('passes on why a mesh cannot be delivered', async () => {
		const empty = { project: 'empty', text: 'recipe 1\n', files: {}, output: 'cgns' };
		await expect(pool.run(empty).result).rejects.toThrow(/there is no mesh to deliver: no region is filled/);
	});
});

describe('jobs', () => {
	const ended = (jobs: Jobs, id: string) =>
		new Promise<Job[]>((done) => {
			const seen: Job[] = [];
			jobs.watch(id, (job) => {
				seen.push(job);
				if (job.state !== 'running') done(seen);
			});
		});

	it('run, tell every change, and keep their file', async () => {
		const jobs = new Jobs(pool);
		const { id, state } = jobs.start(task(1, 'vtu'), 'text/xml', 'a.vtu');
		expect(state).toBe('running');
		expect(() => jobs.file(id)).toThrow(/the job is running, so it has no file/);
		const seen = await ended(jobs, id);
		expect(seen.at(-1)).toMatchObject({ id, state: 'done', progress: 1 });
		expect(jobs.file(id)).toMatchObject({ mediaType: 'text/xml', fileName: 'a.vtu' });
	});

	it('can be stopped, and say why they failed', async () => {
		const jobs = new Jobs(pool);
		const long = jobs.start(task(0.008, 'vtu'), 'text/xml', 'a.vtu');
		jobs.stop(long.id);
		expect((await ended(jobs, long.id)).at(-1)!.state).toBe('stopped');
		const empty = jobs.start({ project: 'empty', text: 'recipe 1\n', files: {}, output: 'vtu' }, 'text/xml', 'b.vtu');
		expect((await ended(jobs, empty.id)).at(-1)).toMatchObject({
			state: 'failed',
			message: expect.stringMatching(/no mesh to deliver/)
		});
		expect(() => jobs.file(empty.id)).toThrow(/no mesh to deliver/);
		expect(() => jobs.get('nobody')).toThrow(/there is no job nobody/);
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

	it('say which part of a body is wrong', async () => {
		await expect(readBody(post('{'), NewRevision)).rejects.toThrow('the body is not JSON');
		await expect(readBody(post('{"text": 3, "files": {}, "label": ""}'), NewRevision)).rejects.toThrow(/^text: /);
		await expect(readBody(post('{"text": "", "files": {"a": "xyz"}, "label": ""}'), NewRevision)).rejects.toThrow(
			/files.a: a hash is 64 hexadecimal digits/
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
