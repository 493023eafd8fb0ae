import { expect, test } from 'vitest';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { checkFile } from './check-file.ts';
import { deliver, formatByEnding } from './delivery.ts';
import { readMeshFile } from './read-file.ts';

const recipe = (first: string) => `recipe 1
units mm
rectangle duct = (0, 0) to (30, 20)
circle pin = around (12, 10) radius 3
region r bounded by duct
region h bounded by pin
size 2
divide duct.left into 10 bias 3 toward both
layers on pin first ${first} growth 1.2 count 4
group west = duct.left as inflow
fill h none
fill r triangles
`;
const run = (text: string) => finish(new Pipeline(() => 0).run({ text, files: {} }));

test.each(['cgns', 'vtu'])(
	'a file that is read back, %s, has what its recipe asks, and not what another does',
	async (ending) => {
		const made = run(recipe('0.1'));
		const bytes = await deliver(made, formatByEnding(ending)!, {});
		const file = await readMeshFile(bytes);
		const kept = checkFile(file, made);
		expect(kept.length).toBeGreaterThan(5);
		expect(kept.filter(({ isKept }) => !isKept)).toEqual([]);
		expect(kept.find(({ asks }) => asks === 'first height')!.got).toBeCloseTo(0.1, 6);
		// Held against a recipe with another first height, the file is found out.
		const missed = checkFile(file, run(recipe('0.2'))).filter(({ isKept }) => !isKept);
		expect(missed.map(({ asks }) => asks)).toEqual(['first height']);
	}
);
