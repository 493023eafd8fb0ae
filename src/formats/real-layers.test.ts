import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { extent } from '../core/geometry/curve.ts';
import { finish } from '../core/numeric/work.ts';
import { Pipeline, type Result } from '../core/pipeline.ts';
import { leastAngleBehind, wrongInMesh } from './mesh-oracle.test-support.ts';
import { recipeOfFiles } from './recipe-of-files.ts';
import { readSvg } from './svg.ts';

/** Some outlines in every run, all in the long one. */
const every = process.env.LONG === undefined ? 44 : 4;
const folder = 'node_modules/@primer/octicons/build/svg';
const icons = readdirSync(folder)
	.filter((name) => name.endsWith('.svg'))
	.sort()
	.filter((_, k) => k % every === 0)
	.map((name) => ({ name, source: readFileSync(join(folder, name), 'utf8') }));
const map = readFileSync('node_modules/@svg-maps/world/world.svg', 'utf8');
const coasts = [...map.matchAll(/<path[^>]*?\sd="([^"]*)"[^>]*>/g)]
	.map(([, d], k) => ({ name: `country ${k}`, source: `<svg><path d="${d}"/></svg>` }))
	.filter(({ source }, k) => k % (2 * every) === 0 && source.length < 2500);

/** A body in a box three times its size, or a cavity, without its layers and with them. */
interface Job {
	name: string;
	plain: Result;
	layered: Result;
	count: number;
}

/** Heights over the extent of the domain. */
const stacks = [
	{ over: 200, growth: 1.2, count: 8 },
	{ over: 2000, growth: 1.3, count: 15 }
];

function jobs(isBody: boolean, { over, growth, count }: (typeof stacks)[number]): Job[] {
	return [...icons, ...coasts].flatMap(({ name, source }): Job[] => {
		const file = readSvg(source);
		if (!('drawing' in file)) return [];
		const [x0, y0, x1, y1] = extent(file.drawing.curves.map(({ curve }) => curve))!;
		const size = Math.max(x1 - x0, y1 - y0);
		const [x, y, box] = [(x0 + x1) / 2, (y0 + y1) / 2, isBody ? 3 * size : size];
		const outlines = recipeOfFiles({ 'a.svg': file });
		const curves = outlines.replaceAll(/^(region|fill).*\n/gm, '');
		const text = isBody
			? `${curves}rectangle far = (${x - box / 2}, ${y - box / 2}) to (${x + box / 2}, ${y + box / 2})
region air at (${x - 0.49 * box}, ${y - 0.49 * box})
fill air triangles
size ${box / 25} growth 1.2
size ${box / 90} near part1 within ${box / 60}
`
			: `${outlines}size ${box / 40} growth 1.2\n`;
		const run = (recipe: string) => finish(new Pipeline(() => 0).run({ text: recipe, files: { 'a.svg': file } }));
		const layers = `layers on part1${isBody ? ' in air' : ''} first ${box / over} growth ${growth} count ${count}\n`;
		return [{ name, plain: run(text), layered: run(text + layers), count }];
	});
}

describe.each([
	['bodies in a box', true],
	['cavities', false]
] as const)('layers on real outlines: %s', (_, isBody) => {
	it.each(stacks)('are a sound mesh, and behind them no element is thin: $count cells', (stack) => {
		const wrong: string[] = [];
		const least: number[] = [];
		let [whole, complete, besides] = [0, 0, 0];
		for (const { name, plain, layered, count } of jobs(isBody, stack)) {
			wrong.push(...wrongInMesh(layered).map((sentence) => `${name}: ${sentence}`));
			// Never lost where it fills without.
			for (const region of layered.unfilled) if (!plain.unfilled.includes(region)) wrong.push(`${name}: ${region} is lost`);
			const profiles = layered.layerFigures.flatMap((figures) => figures.profiles);
			const isShort = profiles.some((profile) => profile.count.some((n) => n < count));
			const isLow = profiles.some(({ first, firstAsked, growth, count: cells }) =>
				cells.some((n, k) => n === count && (first[k]! < 0.95 * firstAsked[k]! || growth[k]! < 0.999 * stack.growth))
			);
			const codes = layered.findings.map(({ code }) => code);
			if (isShort && !codes.includes('layers-reduced')) wrong.push(`${name}: cells are left out unsaid`);
			if (isLow && !codes.includes('layers-squeezed')) wrong.push(`${name}: cells are lower unsaid`);
			for (const { count: cells, runs, along } of profiles)
				for (let k = 1; k < cells.length; k++) {
					if (runs.includes(k)) continue;
					const length = along[k]! - along[k - 1]!;
					whole += length;
					if (Math.min(cells[k]!, cells[k - 1]!) >= count) complete += length;
					if (Math.abs(cells[k]! - cells[k - 1]!) > 1 && Math.min(cells[k]!, cells[k - 1]!) > 0) besides++;
				}
			if (leastAngleBehind(plain) > 30) least.push(leastAngleBehind(layered));
		}
		expect(wrong).toEqual([]);
		least.sort((a, b) => a - b);
		expect(least.length).toBeGreaterThan(10);
		// One in forty may be below 10°, one in eight below 20°.
		expect(least.filter((angle) => angle < 10).length).toBeLessThanOrEqual(Math.ceil(least.length / 40));
		expect(least.filter((angle) => angle < 20).length).toBeLessThanOrEqual(Math.ceil(least.length / 8));
		expect(complete / whole).toBeGreaterThan(isBody && stack.count === 8 ? 0.65 : 0.8);
		expect(besides).toBeLessThan(5);
	});
});
