import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { NewestRuns } from './newest-runs.ts';

/** Runs that take a while each; starting one overtakes the one before, as in the worker. */
class Work {
	readonly started: string[] = [];
	private overtake: () => void = () => {};

	start(name: string, milliseconds: number): Promise<string | undefined> {
		this.started.push(name);
		this.overtake();
		return new Promise((resolve) => {
			this.overtake = () => resolve(undefined);
			setTimeout(() => resolve(name), milliseconds);
		});
	}
}

describe('runs that follow what is typed', () => {
	let work: Work;
	let runs: NewestRuns;
	const shown: string[] = [];
	const ask = (name: string, milliseconds = 100) =>
		void runs
			.run(
				() => Promise.resolve(),
				() => work.start(name, milliseconds)
			)
			.then((done) => done && shown.push(done.result));

	beforeEach(() => {
		vi.useFakeTimers();
		work = new Work();
		runs = new NewestRuns(500, () => Date.now());
		shown.length = 0;
	});
	afterEach(() => void vi.useRealTimers());

	it('start at once when nothing goes on', async () => {
		ask('first');
		await vi.advanceTimersByTimeAsync(100);
		expect(shown).toEqual(['first']);
	});

	it('let a short one finish, and go on with the newest of those that came meanwhile', async () => {
		ask('a');
		await vi.advanceTimersByTimeAsync(10);
		for (const name of ['b', 'c', 'd']) ask(name);
		await vi.advanceTimersByTimeAsync(90);
		expect(shown).toEqual(['a']);
		await vi.advanceTimersByTimeAsync(100);
		expect(shown).toEqual(['a', 'd']);
		expect(work.started).toEqual(['a', 'd']);
	});

	it('show something all the while that there is always a newer one', async () => {
		for (let k = 0; k < 60; k++) {
			ask(`step ${k}`);
			await vi.advanceTimersByTimeAsync(16);
		}
		await vi.advanceTimersByTimeAsync(200);
		// Nearly a second of steps, a run of a tenth each: about ten are seen, in order, and the last is the last.
		expect(shown.length).toBeGreaterThan(6);
		expect(shown.at(-1)).toBe('step 59');
		const numbers = shown.map((name) => Number(name.slice(5)));
		expect([...numbers].sort((p, q) => p - q)).toEqual(numbers);
	});

	it('give a long one up after its grace, for the newest', async () => {
		ask('endless', 10_000);
		await vi.advanceTimersByTimeAsync(200);
		ask('next');
		await vi.advanceTimersByTimeAsync(299);
		expect(work.started).toEqual(['endless']);
		await vi.advanceTimersByTimeAsync(2);
		expect(work.started).toEqual(['endless', 'next']);
		await vi.advanceTimersByTimeAsync(100);
		expect(shown).toEqual(['next']);
	});

	it('give a long one up at once when its grace is over already', async () => {
		ask('endless', 10_000);
		await vi.advanceTimersByTimeAsync(800);
		ask('next');
		await vi.advanceTimersByTimeAsync(100);
		expect(shown).toEqual(['next']);
	});

	it('show nothing that was stopped, and start again when asked', async () => {
		ask('stopped');
		await vi.advanceTimersByTimeAsync(10);
		ask('waiting');
		runs.stop();
		await vi.advanceTimersByTimeAsync(1000);
		expect(shown).toEqual([]);
		expect(work.started).toEqual(['stopped']);
		ask('again');
		await vi.advanceTimersByTimeAsync(100);
		expect(shown).toEqual(['again']);
	});

	it('are not held up by one that fails', async () => {
		const failed = runs
			.run(
				() => Promise.resolve(),
				() => Promise.reject(new Error('the worker died'))
			)
			.catch((error: Error) => error.message);
		await vi.advanceTimersByTimeAsync(1);
		ask('next');
		await vi.advanceTimersByTimeAsync(200);
		expect(await failed).toBe('the worker died');
		expect(shown).toEqual(['next']);
	});
});
