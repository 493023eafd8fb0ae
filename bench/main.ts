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
	qualityAgainstFill,
	textAgainstTables
} from './pipeline.ts';
import { arrangementAgainstSearch, coastAgainstTriangulation, splineAgainstPolyline } from './geometry.ts';
import { languageSession } from './language.ts';
import { coldPlateAgainstBare, layersAgainstCopy } from './layers.ts';
import { fillPlate, quadsAgainstTriangles } from './quads.ts';
import { stepRows } from './steps.ts';
import { twoRegionsAgainstOneThread } from './parallel.ts';
import { layoutRows } from './layouts.ts';
import { profileOf } from './ratio.ts';

// Peak memory is that of a process of its own: `memory idle` starts and does nothing, `memory fill` fills.
if (process.argv[2] === 'memory') {
	const elements = process.argv[3] === 'fill' ? fillMillion() : process.argv[3] === 'quads' ? fillPlate() : 0;
	process.stdout.write(`${elements} ${process.resourceUsage().maxRSS}`);
	process.exit();
}
// So are the steps of a run: what other measurements leave behind would make for longer pauses of the garbage collector.
if (process.argv[2] === 'steps') {
	process.stdout.write(stepRows().join('\n'));
	process.exit();
}
const peak = (what: 'idle' | 'fill' | 'quads') =>
	execFileSync(process.execPath, [process.argv[1]!, 'memory', what], { encoding: 'utf8' }).split(' ').map(Number) as [
		number,
		number
	];
const [, idle] = peak('idle');
const [triangles, busy] = peak('fill');
const [quads, busier] = peak('quads');

const ratios = [
	fillAgainstTriangulation(),
	zoneAgainstTriangulation(),
	holesAgainstTriangulation(),
	gradedAgainstTriangulation(),
	coastAgainstTriangulation(),
	fourAgainstOne(),
	structuredAgainstCopy(),
	smoothingAgainstStencil(),
	layersAgainstCopy(),
	coldPlateAgainstBare(),
	quadsAgainstTriangles(),
	await twoRegionsAgainstOneThread(),
	countsAgainstSorting(),
	arrangementAgainstSearch(),
	splineAgainstPolyline(),
	labelAgainstFirstRun(),
	divisionsAgainstFill(),
	movedCircleAgainstFirstRun(),
	qualityAgainstFill(),
	...(await filesAgainstPlainWrites()),
	...(await textAgainstTables()),
	await languageSession()
];
const rows = ratios.map(
	(r) => `| ${r.what} | ${r.against} | **${r.median.toFixed(2)}** | ${r.low.toFixed(2)} … ${r.high.toFixed(2)} | ${r.wanted} |`
);
/** Where the time of what misses its bound goes: one line each. */
const profiles = ratios.flatMap(({ what, median, wanted, run }) => {
	const bound = Number(wanted.replace(/^≤ /, ''));
	if (!run || !(median > bound)) return [];
	const parts = profileOf(run)
		.slice(0, 8)
		.map(({ name, share }) => `\`${name}\` ${Math.round(100 * share)} %`);
	return [`- ${what}: ${parts.join(', ')}`];
});
const text = [
	'# Benchmarks',
	'',
	'Written by `npm run bench`. Every figure is a ratio of two times taken in turn in one run: the median of seven pairs (three for the largest meshes), and their lowest and highest.',
	'',
	'| what | against | ratio | range | wanted |',
	'|---|---|---|---|---|',
	...rows,
	'',
	`Peak memory of a fill with ${triangles} graded triangles above that of the idle process: **${Math.round((1024 * (busy - idle)) / triangles)} bytes a triangle** (wanted: at most 100).`,
	`Of one with ${quads} quadrilaterals: **${Math.round((1024 * (busier - idle)) / quads)} bytes a quadrilateral** (wanted: at most 300).`,
	'',
	'## Where the time goes',
	'',
	'Of the lines that miss what is wanted, the functions with the largest shares of the time, each without what it calls:',
	'',
	...profiles,
	'',
	'## Stopping and progress',
	'',
	'A run listens between its steps. The longest step is how long it goes on when it is stopped at the worst moment (wanted: at most 50 ms);',
	'progress is off by so much, at the most, from a line that rises evenly with time (wanted: at most 20 %):',
	'',
	'| mesh | elements | longest step | progress off |',
	'|---|---|---|---|',
	execFileSync(process.execPath, [process.argv[1]!, 'steps'], { encoding: 'utf8' }),
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
