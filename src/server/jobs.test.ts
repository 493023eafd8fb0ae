import { beforeAll, describe, expect, it } from 'vitest';
import { buildNode } from '../../scripts/build-node.mjs';
import { type Job, NewRevision } from '../api/schemas.ts';
import { answering, notFound, ProblemError, readBody } from './problem.ts';
import { Jobs } from './jobs.ts';
import { MeshPool, StoppedError } from './pool.ts';

const recipe = (size: number) =>
	`recipe 1\nrectangle b = (0, 0) to (10, 10)\nregion r at (1, 1)\nfill r triangles size ${size}\n`;
const task = (size: number, output: string) => ({ text: recipe(size), files: {}, output });

beforeAll(() => buildNode().then(() => undefined), 120_000);

describe('the worker pool', () => {
	it('gives the figures of a recipe, and progress on the way', async () => {
		const shares: number[] = [];
		const output = await new MeshPool().run(task(1, 'report'), (share) => shares.push(share)).result;
		expect(JSON.parse(new TextDecoder().decode(output))).toMatchObject({ quads: 0, findings: expect.any(Array) });
		expect(shares.length).toBeGreaterThan(3);
		expect(shares.every((s, k) => k === 0 || s >= shares[k - 1]!)).toBe(true);
	});

	it('stops a long task at once, and goes on with the next', async () => {
		const pool = new MeshPool();
		let stop = () => {};
		const running = pool.run(task(0.008, 'vtu'), () => stop());
		stop = running.stop;
		await expect(running.result).rejects.toBeInstanceOf(StoppedError);
		expect((await pool.run(task(2, 'picture')).result).length).toBeGreaterThan(100);
	});

	it('does one task after another in the same thread, each as if it were the first', async () => {
		const pool = new MeshPool();
		const [first, other, again] = [
			await pool.run(task(1, 'vtu')).result,
			await pool.run(task(2, 'vtu')).result,
			await pool.run(task(1, 'vtu')).result
		];
		expect(again).toEqual(first);
		expect(other).not.toEqual(first);
		const many = await Promise.all([1, 2, 1, 2].map((size) => pool.run(task(size, 'vtu')).result));
		expect(many).toEqual([first, other, first, other]);
	});

	it('draws of a very large mesh only the outline, and says how large it is', async () => {
		const svg = new TextDecoder().decode(await new MeshPool().run(task(0.01, 'picture')).result);
		expect(svg).toMatch(/about 2,300,000 elements/);
		expect(svg.length).toBeLessThan(5000);
	});

	it('passes on why a mesh cannot be delivered', async () => {
		const empty = { text: 'recipe 1\n', files: {}, output: 'cgns' };
		await expect(new MeshPool().run(empty).result).rejects.toThrow(/there is no mesh to deliver: no region is filled/);
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
		const jobs = new Jobs(new MeshPool());
		const { id, state } = jobs.start(task(1, 'vtu'), 'text/xml', 'a.vtu');
		expect(state).toBe('running');
		expect(() => jobs.file(id)).toThrow(/the job is running, so it has no file/);
		const seen = await ended(jobs, id);
		expect(seen.at(-1)).toMatchObject({ id, state: 'done', progress: 1 });
		expect(jobs.file(id)).toMatchObject({ mediaType: 'text/xml', fileName: 'a.vtu' });
	});

	it('can be stopped, and say why they failed', async () => {
		const jobs = new Jobs(new MeshPool());
		const long = jobs.start(task(0.008, 'vtu'), 'text/xml', 'a.vtu');
		jobs.stop(long.id);
		expect((await ended(jobs, long.id)).at(-1)!.state).toBe('stopped');
		const empty = jobs.start({ text: 'recipe 1\n', files: {}, output: 'vtu' }, 'text/xml', 'b.vtu');
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
		const complaint = console.error;
		console.error = () => {};
		try {
			const response = await answering(() => Promise.reject(new Error('secret')));
			expect(response.status).toBe(500);
			expect(await response.text()).not.toContain('secret');
		} finally {
			console.error = complaint;
		}
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
