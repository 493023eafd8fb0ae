import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { applyEdits } from '../core/text/edit.ts';
import type { Finding } from '../core/text/finding.ts';
import { checkDeliveries } from './check-deliveries.ts';

const head = 'recipe 1\nrectangle box = (0, 0) to (10, 10)\nregion r bounded by box\nfill r triangles\n';
const mistakes = readFileSync('src/core/recipe/language/mistakes.txt', 'utf8')
	.split('\n')
	.filter((line) => line !== '' && !line.startsWith('# '));

/** What is said of the last line of a recipe. */
function told(line: string): Finding[] {
	const { findings, model } = finish(new Pipeline(() => 0).run({ text: head + line, files: {} }));
	return [...findings, ...checkDeliveries(model)].filter(
		({ severity, code }) => severity === 'error' || (severity === 'warning' && code !== 'unlabelled')
	);
}

/** One for the right line, one for a sentence that says what would be right, one for a mend that settles it. */
function scored(line: string): { place: boolean; says: boolean; mends: boolean; message: string; mended: string } {
	const [first] = told(line);
	const message = first?.message ?? '';
	const place = first?.span !== undefined && first.span.from >= head.length;
	const right = [...message.matchAll(/“([^”]+)”/g)].some(([, quoted]) => !line.includes(quoted!));
	// A sentence that gives the bound of a number says what would be right as well.
	const bound =
		/\b(from|above|at least|at most|at one distance|between|whole number|opposite corners|of order 2|in brackets|ends where it starts|outline is open|three of)\b/;
	const mended = first?.mend ? applyEdits(head + line, first.mend.edits).slice(head.length) : '';
	const isSettled = () => !told(mended).some(({ span }) => span !== undefined && span.from >= head.length);
	const mends = first?.mend !== undefined && isSettled();
	return { place, says: right || mends || bound.test(message), mends, message, mended };
}

describe('what is said of typical mistakes', () => {
	const all = mistakes.map((line) => [line, scored(line)] as const);

	it('names the place, what would be right, and mends it: 2.6 of 3 in the mean', () => {
		const sum = all.reduce((sum, [, { place, says, mends }]) => sum + Number(place) + Number(says) + Number(mends), 0);
		expect(sum / all.length).toBeGreaterThan(2.6);
	});

	it('stands at the mistake, nearly always', () => {
		expect(all.filter(([, { place }]) => !place).map(([line]) => line)).toEqual([]);
	});

	it('is in docs/mistakes.md, line by line', async () => {
		const cell = (text: string) => text.replaceAll('|', '\\|');
		const rows = all.map(
			([line, { message, mended }]) => `| \`${cell(line)}\` | ${cell(message)} | ${mended ? `\`${cell(mended)}\`` : ''} |`
		);
		const page = `# What is said of typical mistakes\n\nEvery line stands behind a recipe with a rectangle \`box\` and a region \`r\`. The last column is what the first mend writes. Made by \`src/formats/mistakes.test.ts\` from \`src/core/recipe/language/mistakes.txt\`; \`npx vitest run src/formats/mistakes.test.ts -u\` writes it again.\n\n| written | said | mended |\n|---|---|---|\n${rows.join('\n')}\n`;
		await expect(page).toMatchFileSnapshot('../../docs/mistakes.md');
	});
});
