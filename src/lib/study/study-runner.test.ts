import type * as Comlink from 'comlink';
import { describe, expect, it, vi } from 'vitest';
import type { StudyResult } from '../../api/schemas.ts';
import { type StudyKeeper, StudyRunner } from './study-runner.svelte.ts';

vi.mock('../desk/new-worker.ts', () => ({ newMeshWorker: () => undefined }));

const figures = (elements: number) => ({ elements }) as unknown as StudyResult['figures'];
/** Cases of which two have the name of a third: their numbers keep them apart. */
const cases = [1, 2, 3].map((a, number) => ({ number, name: number < 2 ? 'a' : 'a_2', settings: { a: String(a) }, refine: 1 }));

class MemoryKeeper implements StudyKeeper {
	results: StudyResult[] = [];
	isAway = false;
	load = () => Promise.resolve(this.results);
	keep = (results: StudyResult[]) => {
		if (this.isAway) return Promise.reject(new Error('no server'));
		this.results.push(...results);
		return Promise.resolve();
	};
}

/** A worker that answers each case with its value as figure; the last of them never, where it hangs. */
function workerOf(ran: string[], hangsAt?: string) {
	const terminated = vi.fn();
	const runCase = (_: string, __: object, { settings }: { settings: Record<string, string> }) => {
		ran.push(settings.a!);
		if (settings.a === hangsAt) return new Promise<never>(() => {});
		return Promise.resolve({ ok: true, message: '', figures: figures(Number(settings.a)), picture: '<svg/>' });
	};
	const runs = { runCase, hasFile: () => Promise.resolve(true), putFile: () => Promise.resolve() } as unknown;
	return {
		terminated,
		start: () => ({ worker: { terminate: terminated } as unknown as Worker, runs: runs as Comlink.Remote<never> })
	};
}

const figuresOf = ({ done }: StudyRunner) =>
	done.map((outcome) => (outcome?.figures as { elements: number } | undefined)?.elements);

describe('a study at the desk', () => {
	it('gives each case its own figures, whatever the names, and keeps them', async () => {
		const keeper = new MemoryKeeper();
		const { start } = workerOf([]);
		const runner = new StudyRunner(cases, 'recipe 1', {}, keeper, start);
		await runner.go();
		expect(figuresOf(runner)).toEqual([1, 2, 3]);
		expect(runner.count).toBe(3);
		expect(keeper.results.map(({ settings }) => settings.a)).toEqual(['1', '2', '3']);
	});

	it('takes up what is kept, and runs only what is missing', async () => {
		const keeper = new MemoryKeeper();
		keeper.results = [{ settings: { a: '2' }, refine: 1, ok: true, message: '', figures: figures(20), picture: '' }];
		const ran: string[] = [];
		const runner = new StudyRunner(cases, 'recipe 1', {}, keeper, workerOf(ran).start);
		await runner.load();
		expect(figuresOf(runner)[1]).toBe(20);
		await runner.go();
		expect(ran).toEqual(['1', '3']);
		expect(figuresOf(runner)).toEqual([1, 20, 3]);
	});

	it('stops at once, ends its worker, and goes on where it was', async () => {
		const keeper = new MemoryKeeper();
		const ran: string[] = [];
		const hanging = workerOf(ran, '2');
		const after = workerOf(ran);
		let start = hanging.start;
		const runner = new StudyRunner(cases, 'recipe 1', {}, keeper, () => start());
		void runner.go();
		await vi.waitFor(() => expect(ran).toEqual(['1', '2']));
		runner.stop();
		expect(hanging.terminated).toHaveBeenCalled();
		expect(runner.running).toBe(false);
		await vi.waitFor(() => expect(keeper.results).toHaveLength(1));
		start = after.start;
		await runner.load();
		await runner.go();
		expect(ran).toEqual(['1', '2', '2', '3']);
		expect(figuresOf(runner)).toEqual([1, 2, 3]);
	});

	it('says what could not be kept, and keeps it with the next', async () => {
		const keeper = new MemoryKeeper();
		keeper.isAway = true;
		const runner = new StudyRunner(cases.slice(0, 2), 'recipe 1', {}, keeper, workerOf([]).start);
		await runner.go();
		expect(runner.problem).toMatch(/stays on this page alone/);
		expect(figuresOf(runner)).toEqual([1, 2]);
		keeper.isAway = false;
		runner.stop();
		await vi.waitFor(() => expect(keeper.results).toHaveLength(2));
	});
});
