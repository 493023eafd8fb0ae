import { plateWithHoles } from './pipeline.ts';
import { Pipeline, type Result } from '../src/core/pipeline.ts';

/** Large meshes of each kind. */
const recipes: Record<string, string> = {
	'triangles of one size': 'rectangle a = (0, 0) to (50, 50)\nregion r at (1, 1)\nsize 0.075\nfill r triangles',
	'triangles, graded':
		'rectangle a = (0, 0) to (50, 50)\nregion r at (1, 1)\nsize 3 growth 1.05\nsize 0.0025 near a.left\nfill r triangles',
	'triangles around 900 holes': plateWithHoles,
	quadrilaterals:
		'rectangle a = (0, 0) to (50, 50)\ncircle c = around (20, 22) radius 7\nregion r at (1, 1)\nsize 0.05 growth 1.2\nfill r quads',
	'triangles behind layers':
		'rectangle a = (0, 0) to (50, 50)\ncircle c = around (20, 22) radius 7\nregion r at (1, 1)\nsize 0.075 growth 1.2\nlayers on c first 0.001 growth 1.2 count 10\nfill r triangles',
	'structured, smoothed': 'rectangle a = (0, 0) to (50, 50)\nregion r at (1, 1)\nsize 0.05\nfill r structured smooth'
};

/** Runs a recipe as the desk does, and looks at the time between one chance to stop and the next, and at the progress told. */
function steps(text: string): { result: Result; longest: number; offLinear: number } {
	const work = new Pipeline(() => performance.now()).run({ text: `recipe 1\n${text}`, files: {} });
	const start = performance.now();
	const found: [time: number, progress: number][] = [];
	let longest = 0;
	for (let last = start; ;) {
		const step = work.next();
		const now = performance.now();
		longest = Math.max(longest, now - last);
		last = now;
		if (step.done) {
			const offLinear = found.reduce((most, [time, progress]) => Math.max(most, Math.abs(progress - time / (now - start))), 0);
			return { result: step.value, longest, offLinear };
		}
		found.push([now - start, step.value]);
	}
}

/** For each of them, of three runs the last: how long it goes on when it is stopped at the worst moment, and how far progress is off. */
export const stepRows = (): string[] =>
	Object.entries(recipes).map(([name, text]) => {
		steps(text);
		steps(text);
		const { result, longest, offLinear } = steps(text);
		const { triangles, quads } = result.mesh;
		const elements = (triangles.length / 3 + quads.length / 4).toLocaleString('en');
		return `| ${name} | ${elements} | ${longest.toFixed(0)} ms | ${Math.round(100 * offLinear)} % |`;
	});
