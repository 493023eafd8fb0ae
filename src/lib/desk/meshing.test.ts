import { beforeEach, describe, expect, it } from 'vitest';
import type { MeasureResult } from '../../core/quality/quality.ts';
import { Meshing, type Runner } from './meshing.svelte.ts';
import type { DeskResult } from './snapshot.ts';
import { UserError } from '../../core/text/user-error.ts';

const taken: MeasureResult = { values: new Float32Array(0), min: 0, mean: 0, max: 0, worst: -1 };
const resultOf = (text: string, key = 'scaledJacobian') =>
	({ recipe: { text, lines: [] }, measure: { key, taken } }) as unknown as DeskResult;

interface Run {
	text: string;
	askAbove: number;
	progress: (share: number) => void;
	answer: (done: { id: number; result: DeskResult } | undefined) => void;
	fail: (error: Error) => void;
}

describe('meshing', () => {
	let runs: Run[];
	let clock: number;
	let meshing: Meshing;
	const runner: Runner = {
		run: (text, _, { askAbove }, progress) =>
			new Promise((answer, fail) => runs.push({ text, askAbove, progress, answer, fail })),
		measure: (_, key) => Promise.resolve({ ...taken, mean: key.length }),
		stop: () => {}
	};
	const settle = () => new Promise((resume) => setTimeout(resume, 0));

	beforeEach(() => {
		runs = [];
		clock = 0;
		meshing = new Meshing(runner, 1000, () => clock);
	});

	it('shows progress only of what takes longer than a moment, and none when it is done', async () => {
		const done = meshing.run('a', {});
		clock = 100;
		runs[0]!.progress(0.2);
		expect(meshing.progress).toBeUndefined();
		clock = 400;
		runs[0]!.progress(0.5);
		expect(meshing.progress).toBe(0.5);
		runs[0]!.answer({ id: 1, result: resultOf('a') });
		await done;
		expect(meshing.progress).toBeUndefined();
		expect(meshing.result!.recipe.text).toBe('a');
	});

	it('shows as running what is running, in whatever order answers come', async () => {
		void meshing.run('a', {});
		void meshing.run('b', {});
		clock = 400;
		runs[0]!.progress(0.9);
		expect(meshing.progress).toBeUndefined();
		runs[1]!.progress(0.3);
		expect(meshing.progress).toBe(0.3);
		runs[1]!.answer({ id: 2, result: resultOf('b') });
		await settle();
		runs[0]!.progress(0.93);
		runs[0]!.answer({ id: 1, result: resultOf('a') });
		await settle();
		expect(meshing.progress).toBeUndefined();
		expect(meshing.result!.recipe.text).toBe('b');
	});

	it('says why a run gave nothing, until one gives something', async () => {
		const done = meshing.run('a', {});
		runs[0]!.fail(new UserError('the worker ended'));
		await done;
		expect(meshing.failure).toBe('the worker ended');
		const next = meshing.run('b', {});
		runs[1]!.answer({ id: 2, result: resultOf('b') });
		await next;
		expect(meshing.failure).toBe('');
	});

	it('asks for the measure that is looked at, once', async () => {
		const done = meshing.run('a', {});
		runs[0]!.answer({ id: 1, result: resultOf('a') });
		await done;
		await meshing.look('skewness');
		expect(meshing.result!.measure).toMatchObject({ key: 'skewness', taken: { mean: 8 } });
	});

	it('makes as many elements as were agreed to, until there is a new limit', () => {
		meshing.agree(5000);
		void meshing.run('a', {});
		meshing.setLimit(2000);
		void meshing.run('a', {});
		expect(runs.map((r) => r.askAbove)).toEqual([5000, 2000]);
	});

	it('shows nothing of a run after it was stopped', () => {
		void meshing.run('a', {});
		meshing.stop();
		clock = 400;
		runs[0]!.progress(0.5);
		expect([meshing.progress, meshing.stopped]).toEqual([undefined, true]);
	});
});
