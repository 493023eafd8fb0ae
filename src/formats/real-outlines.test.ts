import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { secondOrder } from '../core/assembly/second-order.ts';
import { extent } from '../core/geometry/curve.ts';
import { finish } from '../core/numeric/work.ts';
import { Pipeline, type Result } from '../core/pipeline.ts';
import { leastAngle, wrongInMesh, wrongOfSecondOrder } from './mesh-oracle.test-support.ts';
import { recipeOfFiles } from './recipe-of-files.ts';
import { readSvg } from './svg.ts';

/** Some of the outlines in every run; all of them, and the sets that `npm run test:long` fetches, in the long one. */
const isLong = process.env.LONG !== undefined;
const sets = ['node_modules/@primer/octicons/build/svg', ...(isLong ? ['remixicon/icons', '@carbon/icons/svg/32'] : [])].map(
	(folder, k) => (k === 0 ? folder : join('node_modules/.cache/outlines/node_modules', folder))
);

const drawingsIn = (folder: string): string[] =>
	readdirSync(folder, { withFileTypes: true, recursive: true })
		.filter((entry) => entry.isFile() && entry.name.endsWith('.svg'))
		.map((entry) => join(entry.parentPath, entry.name))
		.sort();

/** Codes that say of an outline itself that it allows no better angles. */
const sayWhy = new Set([
	'sharp-corner',
	'narrow-gap',
	'short-piece',
	'layers-behind',
	'layers-short',
	'triangles-left',
	'poor-elements'
]);

interface Drawing {
	name: string;
	source: string;
}

/** Every country of a map of the world, as a drawing of its own. */
function countries(): Drawing[] {
	const map = readFileSync('node_modules/@svg-maps/world/world.svg', 'utf8');
	return [...map.matchAll(/<path[^>]*?\sd="([^"]*)"[^>]*>/g)].map(([, d], k) => {
		return { name: `country ${k + 1}`, source: `<svg><path d="${d}"/></svg>` };
	});
}

/** Meshes a drawing, and returns what is wrong with it. */
function meshed(
	{ source }: Drawing,
	divisor: number,
	change: (text: string) => string
): { wrong: string[]; result: Result | undefined } {
	const file = readSvg(source);
	if (!('drawing' in file)) return { wrong: [], result: undefined };
	const [minX, minY, maxX, maxY] = extent(file.drawing.curves.map(({ curve }) => curve))!;
	const size = Number((Math.max(maxX - minX, maxY - minY) / divisor).toPrecision(3));
	const text = change(`${recipeOfFiles({ 'a.svg': file })}size ${size}\n`);
	const result = finish(new Pipeline(() => 0).run({ text, files: { 'a.svg': file } }));
	const wrong = wrongInMesh(result, text.includes('layers on') ? undefined : { size, growth: 1.3 });
	const { findings, unfilled } = result;
	for (const name of unfilled)
		if (!findings.some(({ at, message }) => at && message.includes(`“${name}”`)))
			wrong.push(`${name} is not filled, and nothing says where`);
	for (const { code, message } of findings) if (code === 'internal') wrong.push(message);
	return { wrong, result };
}

describe('real outlines', () => {
	const every = isLong ? 1 : 20;
	const drawings = sets.flatMap((folder) => {
		if (!existsSync(folder)) throw new Error(`${folder} is not there: npm ci, or npm run test:long, brings it`);
		return drawingsIn(folder)
			.filter((_, k) => k % every === 0)
			.map((path) => ({ name: path, source: readFileSync(path, 'utf8') }));
	});
	// Coasts have thousands of lines: of the shorter ones some.
	drawings.push(...countries().filter(({ source }, k) => isLong || (k % 32 === 0 && source.length < 4000)));
	const allWrong = (divisor: number, change: (text: string) => string, more: (result: Result) => string[] = () => []) =>
		drawings.flatMap((drawing) => {
			const { wrong, result } = meshed(drawing, divisor, change);
			return [...wrong, ...(result ? more(result) : [])].map((sentence) => `${drawing.name}: ${sentence}`);
		});
	const isFilled = ({ unfilled }: Result) => (unfilled.length === 0 ? [] : [`${unfilled.join(', ')} not filled`]);

	it('are enough', () => {
		expect(drawings.length).toBeGreaterThan(isLong ? 2000 : 35);
	});

	it.each(isLong ? [12, 48, 160] : [12, 48])(
		'fill with triangles of a %sth of their extent, wholly, with angles above 20° or a reason',
		(divisor) => {
			expect(
				allWrong(
					divisor,
					(text) => text,
					(result) => [
						...isFilled(result),
						...(leastAngle(result) < 20 && !result.findings.some(({ code }) => sayWhy.has(code))
							? [`an angle of ${leastAngle(result)}° without a reason`]
							: [])
					]
				)
			).toEqual([]);
		}
	);

	it('fill with quadrilaterals', () => {
		expect(allWrong(48, (text) => text.replaceAll(' triangles', ' quads'), isFilled)).toEqual([]);
	});

	it('fill with elements of second order, none of them folded', () => {
		expect(
			allWrong(
				48,
				(text) => `${text}order 2\n`,
				(result) => wrongOfSecondOrder(result, secondOrder(result.mesh, result.arrangement))
			)
		).toEqual([]);
	});

	it('are parts that are placed more than once, turned and side by side', () => {
		const asPart = (text: string) => {
			const lines = text.split('\n').filter((line) => line !== '');
			const isHeader = (line: string) => /^(recipe|title|units|frame|size) /.test(line);
			const inside = lines.filter((line) => !isHeader(line)).map((line) => `  ${line}`);
			const places = ['place a = icon at (0, 0)', 'place b = icon at (1e4, 0) turned 30 deg by (0, 1e4) count 2'];
			return [...lines.filter(isHeader), 'part icon', ...inside, 'end', ...places, ''].join('\n');
		};
		expect(
			allWrong(12, asPart, (result) => [
				...isFilled(result),
				...(result.regions.length % 3 === 0 && result.regions.length > 0
					? []
					: [`${result.regions.length} regions of three copies`])
			])
		).toEqual([]);
	});

	it('take layers along their first outline, or say where they do not', () => {
		expect(
			allWrong(48, (text) => {
				const size = Number(/^size (\S+)$/m.exec(text)![1]);
				return `${text}layers on part1 first ${size / 20} growth 1.2 count 4\n`;
			})
		).toEqual([]);
	});
});
