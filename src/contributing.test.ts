import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';

/** The diffs of CONTRIBUTING.md, each with the heading above it. */
const diffs = [...readFileSync('CONTRIBUTING.md', 'utf8').matchAll(/### ([^\n]+)\n[^]*?```diff\n([^]*?)```/g)].map(
	([, title, text]) => ({ title: title!, text: text! })
);

/** What a diff leaves in a file: for every hunk the lines of the new side, in stretches between `…`. */
function stretches(hunk: string): string[] {
	return hunk
		.split('\n')
		.filter((line) => /^[+ ]/.test(line))
		.map((line) => line.slice(1))
		.join('\n')
		.split(/^\s*…$/m)
		.map((part) => part.replace(/^\n|\n$/g, ''))
		.filter((part) => part !== '');
}

describe('CONTRIBUTING.md', () => {
	it('shows a statement, a measure, a law, a format, a fill, a tool, a command and a finding', () => {
		expect(diffs.map(({ title }) => title)).toEqual([
			...[
				'A statement',
				'A measure of quality',
				'A law of spacing',
				'A format',
				'A way to fill',
				'A tool',
				'A command',
				'A finding'
			]
		]);
	});

	it.each(diffs.map(({ title, text }) => [title, text] as const))('%s: its diff is in the sources', (_, text) => {
		const files = text.split(/^diff --git /m).slice(1);
		expect(files.length).toBeGreaterThan(0);
		for (const file of files) {
			const path = /^\+\+\+ b\/(.*)$/m.exec(file)![1]!;
			const source = readFileSync(path, 'utf8');
			const isNew = file.includes('new file');
			for (const hunk of file.split(/^@@.*@@$/m).slice(1)) {
				let at = 0;
				for (const [k, stretch] of stretches(hunk).entries()) {
					const found = source.indexOf(stretch, at);
					expect(found, `${path}:\n${stretch}`).toBeGreaterThanOrEqual(0);
					if (isNew && k === 0) expect(found).toBe(0);
					at = found + stretch.length;
				}
			}
		}
	});
});
