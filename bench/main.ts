import { writeFileSync } from 'node:fs';
import {
	fillAgainstTriangulation,
	gradedAgainstTriangulation,
	holesAgainstTriangulation,
	smoothingAgainstStencil,
	structuredAgainstCopy,
	zoneAgainstTriangulation
} from './fill-square.ts';
import { layoutRows } from './layouts.ts';

const ratios = [
	fillAgainstTriangulation(),
	zoneAgainstTriangulation(),
	holesAgainstTriangulation(),
	gradedAgainstTriangulation(),
	structuredAgainstCopy(),
	smoothingAgainstStencil()
];
const rows = ratios.map(
	(r) => `| ${r.what} | ${r.against} | **${r.median.toFixed(2)}** | ${r.low.toFixed(2)} … ${r.high.toFixed(2)} | ${r.wanted} |`
);
const text = [
	'# Benchmarks',
	'',
	'Written by `npm run bench`. Every figure is a ratio of two times taken in turn in one run: the median of seven pairs, and their lowest and highest.',
	'',
	'| what | against | ratio | range | wanted |',
	'|---|---|---|---|---|',
	...rows,
	'',
	'## Structured layouts',
	'',
	'No cell folds. Angles at the corners of the quadrilaterals:',
	'',
	'| layout | quads | smallest angle | farthest from a right angle |',
	'|---|---|---|---|',
	...layoutRows(),
	'',
	`Node ${process.version}.`,
	''
].join('\n');
writeFileSync('docs/benchmarks.md', text);
process.stdout.write(text);
