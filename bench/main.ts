import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import {
	fillAgainstTriangulation,
	fillMillion,
	fourAgainstOne,
	gradedAgainstTriangulation,
	holesAgainstTriangulation,
	countsAgainstSorting,
	smoothingAgainstStencil,
	structuredAgainstCopy,
	zoneAgainstTriangulation
} from './fill-square.ts';
import {
	divisionsAgainstFill,
	filesAgainstPlainWrites,
	labelAgainstFirstRun,
	movedCircleAgainstFirstRun,
	promisesAgainstRun,
	qualityAgainstFill,
	textAgainstTables
} from './pipeline.ts';
import { arrangementAgainstSearch, coastAgainstTriangulation, splineAgainstPolyline } from './geometry.ts';
import { languageSession, partsAgainstWritten } from './language.ts';
import { coldPlateAgainstBare, layersAgainstCopy } from './layers.ts';
import { fillPlate, quadsAgainstTriangles } from './quads.ts';
import { stepRows } from './steps.ts';
import { twoRegionsAgainstOneThread } from './parallel.ts';
import { layoutRows } from './layouts.ts';
import { profileOf, type Ratio } from './ratio.ts';

/** What is measured, by name: each in a process of its own, so that none finds the heap or the compiled code of another. */
const lines: Record<string, () => Ratio | Ratio[] | Promise<Ratio | Ratio[]>> = {
	fill: fillAgainstTriangulation,
	zone: zoneAgainstTriangulation,
	holes: holesAgainstTriangulation,
	graded: gradedAgainstTriangulation,
	coast: coastAgainstTriangulation,
	four: fourAgainstOne,
	structured: structuredAgainstCopy,
	smoothing: smoothingAgainstStencil,
	layers: layersAgainstCopy,
	plate: coldPlateAgainstBare,
	quads: quadsAgainstTriangles,
	cores: twoRegionsAgainstOneThread,
	counts: countsAgainstSorting,
	arrangement: arrangementAgainstSearch,
	spline: splineAgainstPolyline,
	label: labelAgainstFirstRun,
	divisions: divisionsAgainstFill,
	circle: movedCircleAgainstFirstRun,
	promises: promisesAgainstRun,
	quality: qualityAgainstFill,
	files: filesAgainstPlainWrites,
	text: textAgainstTables,
	parts: partsAgainstWritten,
	editor: languageSession
};

/** A row of the table, and where the time goes if it misses its bound. */
function shown(ratio: Ratio): Shown {
	const { what, against, median, low, high, wanted, run } = ratio;
	const row = `| ${what} | ${against} | **${median.toFixed(2)}** | ${low.toFixed(2)} … ${high.toFixed(2)} | ${wanted} |`;
	if (!run || !(median > Number(wanted.replace(/^≤ /, '')))) return { row };
	const parts = profileOf(run)
		.slice(0, 8)
		.map(({ name, share }) => `“${name}” ${Math.round(100 * share)} %`);
	return { row, profile: `- ${what}: ${parts.join(', ')}` };
}

interface Shown {
	row: string;
	profile?: string;
}

const memory = { idle: () => 0, fill: fillMillion, quads: fillPlate };

// Runs in a process; peak memory is given for one that does nothing, and for one that fills.
const [, , task, name = ''] = process.argv;
if (task === 'line') {
	process.stdout.write(JSON.stringify([await lines[name]!()].flat().map(shown)));
	process.exit();
}
if (task === 'memory') {
	process.stdout.write(`${memory[name as keyof typeof memory]()} ${process.resourceUsage().maxRSS}`);
	process.exit();
}
if (task === 'steps') {
	process.stdout.write(stepRows().join('\n'));
	process.exit();
}

/** What a process of its own answers. The collector is there to be called between the runs that are timed. */
const asked = (...args: string[]): string =>
	execFileSync(process.execPath, ['--expose-gc', process.argv[1]!, ...args], { encoding: 'utf8' });
// `npm run bench -- coast arrangement` measures these lines alone, and writes nothing.
const only = process.argv.slice(2);
const unknown = only.find((line) => !(line in lines));
if (unknown) {
	console.error(`there is no line “${unknown}”; the lines are ${Object.keys(lines).join(', ')}`);
	process.exit(1);
}
const all = Object.keys(lines)
	.filter((line) => only.length === 0 || only.includes(line))
	.flatMap((line) => {
		const answer = JSON.parse(asked('line', line)) as Shown[];
		for (const { row, profile } of answer) console.error(profile ? `${row}\n${profile}` : row);
		return answer;
	});
if (only.length > 0) process.exit();

const peak = (what: keyof typeof memory) => asked('memory', what).split(' ').map(Number) as [number, number];
const [, idle] = peak('idle');
const [triangles, busy] = peak('fill');
const [quads, busier] = peak('quads');
const text = [
	'# Benchmarks',
	'',
	'Written by “npm run bench”. Every figure is a ratio of two times taken in turn in one run: the median of seven pairs (three for the largest meshes), and their lowest and highest. Each line has a process of its own, and what one run leaves behind is collected before the next is timed.',
	'',
	'| what | against | ratio | range | wanted |',
	'|---|---|---|---|---|',
	...all.map(({ row }) => row),
	'',
	`Peak memory of a fill with ${triangles} graded triangles above that of the idle process: **${Math.round((1024 * (busy - idle)) / triangles)} bytes a triangle** (wanted: at most 100).`,
	`Of one with ${quads} quadrilaterals: **${Math.round((1024 * (busier - idle)) / quads)} bytes a quadrilateral** (wanted: at most 300).`,
	'',
	'## Where the time goes',
	'',
	'Of the lines that miss what is wanted, the functions with the largest shares of the time, each without what it calls:',
	'',
	...all.flatMap(({ profile }) => profile ?? []),
	'',
	'## Stopping and progress',
	'',
	'A run listens between its steps. The longest step is how long it goes on when it is stopped at the worst moment (wanted: at most 50 ms);',
	'progress is off by so much, at the most, from a line that rises evenly with time (wanted: at most 20 %):',
	'',
	'| mesh | elements | longest step | progress off |',
	'|---|---|---|---|',
	asked('steps'),
	'',
	'## Structured layouts',
	'',
	'No cell folds. As filled → with 40 sweeps of smoothing; at walls with a first height, the heights of cells over what is',
	'asked, and how far their lines lean off the normal in the mean:',
	'',
	'| layout | quads | smallest angle | largest growth | wall heights | lean |',
	'|---|---|---|---|---|---|',
	...layoutRows(),
	'',
	`Node ${process.version}.`,
	''
].join('\n');
writeFileSync('docs/benchmarks.md', text);
process.stdout.write(text);
