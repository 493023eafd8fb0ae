import { describe, expect, it } from 'vitest';
import { finish, giveUp } from '../numeric/work.ts';
import { Pipeline, type Result } from '../pipeline.ts';
import { Filler, type FillSource, type RemoteFiller, ThreadHelpers } from './helpers.ts';

const text = `recipe 1
rectangle a = (0, 0) to (20, 10)
rectangle b = (30, 0) to (40, 10)
rectangle c = (50, 0) to (60, 10)
rectangle d = (70, 0) to (80, 10)
spline s = from "wall.csv"
region one at (1, 1)
region two at (31, 1)
region three at (51, 1)
region four at (71, 1)
size 0.5
fill one triangles
fill two quads
fill three triangles size 1e-9
fill four structured`;
const files: FillSource['files'] = {
	'wall.csv': { outlines: [{ x: Float64Array.of(100, 101, 102, 103), y: Float64Array.of(0, 1, 0, 1) }] }
};

/** Another side in this thread: what is sent is cloned, as between threads. */
function remote(log: string[] = []): RemoteFiller {
	const pipeline = new Pipeline(() => 0);
	const filler = new Filler(
		(source, regions) => pipeline.someFills(source, regions),
		() => Promise.resolve(),
		() => performance.now()
	);
	return {
		fill: async (source, names, regions) => {
			log.push(`fill ${regions.map(([name]) => name).join(' ')}, files ${Object.keys(source.files).join(' ')}`);
			return structuredClone(await filler.fill(structuredClone(source), names, regions));
		},
		stop: () => {
			log.push('stop');
			return filler.stop();
		},
		end: () => void log.push('end')
	};
}

async function shared(pipeline: Pipeline, source: FillSource): Promise<Result> {
	const work = pipeline.run(source);
	for (;;) {
		const step = work.next();
		if (step.done) return step.value;
		if (pipeline.waiting) await pipeline.waiting;
	}
}
const meshOf = ({ mesh, findings, predicted, refilled }: Result) => ({ mesh, findings, predicted, refilled });
const alone = finish(new Pipeline(() => 0).run({ text, files }));

describe('fills that are shared with other threads', () => {
	it.each([1, 2, 3])('are the same as without, with %i of them, refusals and all', async (count) => {
		const log: string[] = [];
		const helpers = new ThreadHelpers(count, () => remote(log), 1);
		const result = await shared(new Pipeline(() => 0, helpers), { text, files });
		expect(meshOf(result)).toEqual(meshOf(alone));
		expect(result.findings.map(({ code }) => code)).toContain('too-many');
		expect(log.filter((line) => line.startsWith('fill'))).toHaveLength(count);
	});

	it('send a file once, and ask only for what changed', async () => {
		const log: string[] = [];
		const pipeline = new Pipeline(() => 0, new ThreadHelpers(1, () => remote(log), 1));
		await shared(pipeline, { text, files });
		const before = log.length;
		const finer = { text: text.replace('size 0.5', 'size 0.45'), files };
		expect(meshOf(await shared(pipeline, finer)).mesh).toEqual(finish(new Pipeline(() => 0).run(finer)).mesh);
		expect(log[0]).toContain('files wall.csv');
		expect(log.slice(before)).toHaveLength(1);
		expect(log[before]).not.toContain('wall.csv');
		await shared(pipeline, finer);
		expect(log).toHaveLength(before + 1);
	});

	it('are made here where the other side fails, which is started again for the next', async () => {
		let started = 0;
		const failing = (): RemoteFiller => {
			started++;
			return { ...remote(), fill: () => Promise.reject(new Error('gone')) };
		};
		const pipeline = new Pipeline(() => 0, new ThreadHelpers(1, failing, 1));
		expect(meshOf(await shared(pipeline, { text, files }))).toEqual(meshOf(alone));
		await shared(pipeline, { text: text.replace('size 0.5', 'size 0.6'), files });
		expect(started).toBe(2);
	});

	it('are not made here or elsewhere any more once a run is given up, and the next run comes out well', async () => {
		const log: string[] = [];
		const pipeline = new Pipeline(() => 0, new ThreadHelpers(1, () => remote(log), 1));
		const work = pipeline.run({ text, files });
		while (!pipeline.waiting) expect(work.next().done).toBe(false);
		giveUp(work);
		expect(log.at(-1)).toBe('stop');
		expect(pipeline.waiting).toBeUndefined();
		expect(meshOf(await shared(pipeline, { text, files }))).toEqual(meshOf(alone));
	});

	it('stay here where they are small', async () => {
		const log: string[] = [];
		const result = await shared(new Pipeline(() => 0, new ThreadHelpers(1, () => remote(log))), { text, files });
		expect(meshOf(result)).toEqual(meshOf(alone));
		expect(log).toEqual([]);
	});
});
