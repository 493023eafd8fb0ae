import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { afterAll, describe, expect, it } from 'vitest';
import { StoppedError } from './stopped.ts';
import type { TaskRecipe } from './tasks.ts';
import { TaskError, Workers } from './workers.ts';

const folder = mkdtempSync(join(tmpdir(), 'workers-'));
const workers = new Workers(2);
const plate = (size: number): TaskRecipe => ({
	project: 'plate',
	text: `recipe 1\nrectangle b = (0, 0) to (10, 10)\nregion r at (1, 1)\nfill r triangles size ${size}\n`,
	files: {}
});
let count = 0;
const deliver = async (recipe: TaskRecipe, format: string, options?: Record<string, string>) => {
	const path = join(folder, String(++count));
	const { result } = workers.run('deliver', [recipe, { format, ...(options ? { options } : {}) }, path]);
	const { size, problems } = await result;
	const bytes = readFileSync(path);
	expect(bytes.length).toBe(size);
	return { bytes, problems };
};

afterAll(() => workers.close());

describe('worker processes', () => {
	it('give the figures of a recipe, and progress on the way', async () => {
		const shares: number[] = [];
		const figures = await workers.run('figures', [plate(1)], (share) => shares.push(share)).result;
		expect(JSON.parse(figures)).toMatchObject({ quads: 0, findings: expect.any(Array) });
		expect(shares.length).toBeGreaterThan(3);
		expect(shares.every((s, k) => k === 0 || s >= shares[k - 1]!)).toBe(true);
	});

	it('stop a long task at once, and go on with the next', async () => {
		let stop = () => {};
		const running = workers.run('deliver', [plate(0.008), { format: 'vtu' }, join(folder, 'long')], () => stop());
		stop = running.stop;
		await expect(running.result).rejects.toBeInstanceOf(StoppedError);
		expect((await workers.run('picture', [plate(2)]).result).length).toBeGreaterThan(100);
	});

	it('do one task after another in the same process, each as if it were the first', async () => {
		const [first, other, again] = [
			await deliver(plate(1), 'vtu'),
			await deliver(plate(2), 'vtu'),
			await deliver(plate(1), 'vtu')
		];
		expect(again.bytes).toEqual(first.bytes);
		expect(other.bytes).not.toEqual(first.bytes);
		const many = await Promise.all([1, 2, 1, 2].map((size) => deliver(plate(size), 'vtu')));
		expect(many.map(({ bytes }) => bytes)).toEqual([first, other, first, other].map(({ bytes }) => bytes));
	});

	it('take values of parameters, options of the format, and files by their path', async () => {
		const rows = (settings: Record<string, string>): TaskRecipe => ({
			project: 'p',
			text: 'recipe 1\nlet n = 4\nrectangle b = (0, 0) to (10, 10)\nregion r at (1, 1)\ndivide b into n\nfill r structured\n',
			files: {},
			settings
		});
		const quads = async (settings: Record<string, string>) =>
			(JSON.parse(await workers.run('figures', [rows(settings)]).result) as { quads: number }).quads;
		expect([await quads({}), await quads({ n: '2*5' }), await quads({})]).toEqual([16, 100, 16]);
		await expect(workers.run('figures', [rows({ n: '2*' })]).result).rejects.toThrow(/^n=2\*: the line ends too early/);
		await expect(deliver(rows({}), 'vtu', { units: 'ell' })).rejects.toThrow(/“drawn” or “m”/);
		const path = join(folder, 'wall.csv');
		writeFileSync(path, '0 0\n4 0\n4 3\n');
		const drawn = {
			project: 'drawn',
			text: 'recipe 1\npolyline w = from "wall.csv" closed\nregion r at (3, 1)\nsize 1\nfill r triangles\n',
			files: { 'wall.csv': { path, hash: 'one' } }
		};
		const { regions } = JSON.parse(await workers.run('figures', [drawn]).result) as { regions: { area: number }[] };
		expect(regions[0]!.area).toBeCloseTo(6, 10);
	});

	it('draw of a very large mesh only the outline, and say how large it is', async () => {
		const svg = await workers.run('picture', [plate(0.01)]).result;
		expect(svg).toMatch(/about 2,300,000 elements/);
		expect(svg.length).toBeLessThan(5000);
	});

	it('pass on in a sentence why a mesh cannot be delivered, and what a template does wrong', async () => {
		const empty = { project: 'empty', text: 'recipe 1\n', files: {} };
		await expect(deliver(empty, 'cgns')).rejects.toThrow(/there is no mesh to deliver: no region is filled/);
		const path = join(folder, 'd.liquid');
		writeFileSync(path, '{% for i in (1..1000000000) %}x{% endfor %}');
		const deck = { ...plate(2), text: `${plate(2).text}deliver deck "d.liquid"\n`, files: { 'd.liquid': { path, hash: 'd' } } };
		await expect(deliver(deck, 'all')).rejects.toThrow(/d\.liquid, line 1: it makes longer texts or lists than a deck may/);
	});

	it('that end themselves take nothing else along: the task says so, the next one runs', async () => {
		const script = join(folder, 'crash.mjs');
		writeFileSync(
			script,
			`import { createRequire } from 'node:module';
const { worker } = createRequire(${JSON.stringify(join(process.cwd(), 'package.json'))})('workerpool');
worker({ figures: async ({ text }) => (text === 'crash' ? process.abort() : text), picture: async () => 'p' });`
		);
		const frail = new Workers(1, script);
		const recipe = (text: string) => ({ project: 'p', text, files: {} });
		const died = await frail.run('figures', [recipe('crash')]).result.catch((error: unknown) => error);
		expect(died).toBeInstanceOf(TaskError);
		expect((died as Error).message).toMatch(/ended the process that was at it/);
		expect(await frail.run('figures', [recipe('well')]).result).toBe('well');
		await frail.close();
	});
});

describe('a process in which the program failed', () => {
	it('does what waits for it, gets nothing more, and is replaced', async () => {
		const script = join(folder, 'spoilt.mjs');
		const library = pathToFileURL(resolve('node_modules/workerpool/dist/workerpool.js')).href;
		// Each picture says which process made it.
		writeFileSync(
			script,
			`import workerpool from '${library}';
workerpool.worker({
	picture: ({ text }) => {
		if (text === 'fail') workerpool.workerEmit('spoilt');
		return text + ' ' + process.pid;
	}
});
`
		);
		const own = new Workers(1, script);
		try {
			const shares: unknown[] = [];
			const picture = (text: string) =>
				own.run('picture', [{ project: 'p', text, files: {} }], (share) => shares.push(share)).result as Promise<string>;
			const together = await Promise.all(['fail', 'second', 'third'].map(picture));
			expect(together.map((answer) => answer.split(' ')[0])).toEqual(['fail', 'second', 'third']);
			expect(new Set(together.map((answer) => answer.split(' ')[1])).size).toBe(1);
			expect((await picture('next')).split(' ')[1]).not.toBe(together[0]!.split(' ')[1]);
			// It is no progress.
			expect(shares).toEqual([]);
		} finally {
			await own.close();
		}
	});
});
