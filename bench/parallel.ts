import { resolve } from 'node:path';
import { finish } from '../src/core/numeric/work.ts';
import { Pipeline } from '../src/core/pipeline.ts';
import type { FillHelpers } from '../src/core/stages/helpers.ts';
import { fillHelpers, finishShared } from '../src/platform/threads/fill-helpers.ts';
import { summarised, type Ratio } from './ratio.ts';

/** Two regions of a quarter of a million triangles each, whose sizes grow from one of their sides. */
const recipe = (finest: number) => `recipe 1
rectangle a = (0, 0) to (50, 50)
rectangle b = (60, 0) to (110, 50)
region r at (1, 1)
region q at (61, 1)
size 3 growth 1.05
size ${finest} near a.left, b.left
fill r triangles
fill q triangles`;

/** The fill stage of two regions in two threads, against one after the other. */
export async function twoRegionsAgainstOneThread(): Promise<Ratio> {
	const clock = () => performance.now();
	const helpers = fillHelpers(resolve('dist/fill-helper.js'), 1);
	if (!helpers) throw new Error('the script of the other thread is not built');
	let requests = 0;
	const counted: FillHelpers = {
		count: helpers.count,
		worthwhile: helpers.worthwhile,
		ask: (...question) => {
			requests++;
			return helpers.ask(...question);
		}
	};
	const ratios: number[] = [];
	let triangles = 0;
	for (let k = 0; k < 20; k++) {
		const input = { text: recipe(0.009 * (1 + 1e-3 * k)), files: {} };
		globalThis.gc?.();
		const alone = finish(new Pipeline(clock).run(input));
		globalThis.gc?.();
		const pipeline = new Pipeline(clock, counted);
		const both = await finishShared(pipeline, pipeline.run(input));
		triangles = both.mesh.triangles.length / 3;
		// The first runs find the code cold, in either thread.
		if (k > 8) ratios.push(both.timings.fill! / alone.timings.fill!);
	}
	helpers.end();
	if (requests === 0) throw new Error('nothing was filled in the other thread');
	return {
		what: `two regions with ${triangles} triangles together, on two cores`,
		against: 'one after the other',
		...summarised(ratios),
		wanted: '≤ 0.6'
	};
}
