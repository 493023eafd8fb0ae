import { writeFileSync } from 'node:fs';
import { fillAgainstTriangulation, structuredAgainstCopy } from './fill-square.ts';

const ratios = [fillAgainstTriangulation(), structuredAgainstCopy()];
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
	`Node ${process.version}.`,
	''
].join('\n');
writeFileSync('docs/benchmarks.md', text);
process.stdout.write(text);
