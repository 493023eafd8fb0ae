import { describe, expect, it } from 'vitest';
import type { TextEdit } from '../../core/text/edit.ts';
import { Naming } from './naming.ts';

const before = 'line a = (0, 0) to (9, 0)\ndivide a[2] into 4\n';
const crossed = `${before}line b = (1, -1) to (1, 1)\n`;

function set() {
	const asked: { before: string; after: string; answer: (edits: TextEdit[]) => void; fail: () => void }[] = [];
	const done: [string, number, string][] = [];
	const naming = new Naming(
		(before, after) =>
			new Promise((answer, fail) => asked.push({ before, after, answer, fail: () => fail(new Error('no worker')) })),
		(text, edits, label) => done.push([text, edits.length, label])
	);
	return { naming, asked, done };
}
const edit: TextEdit = { from: 0, to: 0, insert: '' };

describe('names of pieces', () => {
	it('are no matter where the drawing stays, or nothing counts pieces', () => {
		const { naming, asked, done } = set();
		naming.edit(before, before.replace('into 4', 'into 5'), 'count');
		naming.edit('line a = (0, 0) to (9, 0)\n', crossed, 'cut');
		expect(asked).toEqual([]);
		expect(done.map(([, , label]) => label)).toEqual(['count', 'cut']);
	});

	it('follow an edit of the drawing before it is done', async () => {
		const { naming, asked, done } = set();
		naming.edit(before, crossed, 'cut');
		expect(naming.waits).toBe(true);
		expect(done).toEqual([]);
		asked[0]!.answer([edit]);
		await naming.finished;
		expect(done).toEqual([[crossed, 1, 'cut']]);
		expect(naming.waits).toBe(false);
	});

	it('of the first text are kept through edits that follow one another', async () => {
		const { naming, asked, done } = set();
		const twice = `${crossed}line c = (2, -1) to (2, 1)\n`;
		naming.edit(before, crossed, 'one');
		naming.edit(crossed, twice, 'two');
		expect(asked.map((a) => [a.before, a.after])).toEqual([
			[before, crossed],
			[before, twice]
		]);
		asked[0]!.answer([edit]);
		asked[1]!.answer([edit, edit]);
		await naming.finished;
		expect(done).toEqual([[twice, 2, 'two']]);
	});

	it('stay as they are where nothing can tell them', async () => {
		const { naming, asked, done } = set();
		naming.edit(before, crossed, 'cut');
		asked[0]!.fail();
		await naming.finished;
		expect(done).toEqual([[crossed, 0, 'cut']]);
	});
});
