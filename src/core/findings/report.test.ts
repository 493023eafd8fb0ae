import { describe, expect, it } from 'vitest';
import { Report } from './report.ts';
import { findings, findingsPage } from './table.ts';

describe('a report', () => {
	const lines = [
		{ from: 0, to: 10 },
		{ from: 12, to: 40 }
	];

	it('takes severity and sentence from the record, and the place from the statement at hand', () => {
		const report = new Report(lines);
		report.about(1).add('value', { message: 'it is wrong' }, { within: { from: 3, to: 8 } });
		report.about(0).add('inner-edge', { curve: 'c', at: { x: 1, y: 2 } }, { at: { x: 1, y: 2 }, pieces: [4] });
		report.about(-1).add('no-header', {}, { mend: [{ from: 0, to: 0, insert: 'recipe 1\n' }] });
		expect(report.findings).toMatchObject([
			{ severity: 'error', code: 'value', message: 'it is wrong', span: { from: 15, to: 20 } },
			{ severity: 'note', code: 'inner-edge', at: { x: 1, y: 2 }, span: { from: 0, to: 10 }, pieces: [4] },
			{ severity: 'warning', code: 'no-header', mend: { label: 'Add it' } }
		]);
		expect(report.findings[1]!.message).toContain('“c” ends at (1, 2)');
		expect(report.findings[2]).not.toHaveProperty('span');
	});

	it('lists a few of a code one by one, and many as one with all their pieces', () => {
		const report = new Report(lines);
		const list = (count: number) =>
			Array.from({ length: count }, (_, k) =>
				report.finding('open-end', { curve: `c${k}`, at: { x: k, y: 0 } }, { pieces: [k, k + 1], at: { x: k, y: 0 } })
			);
		report.addAll(list(12));
		expect(report.findings.map((f) => f.message.slice(0, 5))).toEqual(
			Array.from({ length: 12 }, (_, k) => `“c${k}” e`.slice(0, 5))
		);
		report.findings.length = 0;
		report.addAll([...list(13), report.finding('spur', { curve: 's', at: { x: 0, y: 0 }, lines: '' })]);
		expect(report.findings).toHaveLength(2);
		expect(report.findings[0]).toMatchObject({ message: '13 ends meet no other curve', at: { x: 0, y: 0 } });
		expect(report.findings[0]!.pieces).toEqual(Array.from({ length: 14 }, (_, k) => k));
	});
});

describe('the findings', () => {
	it('are in docs/findings.md', async () => {
		await expect(findingsPage()).toMatchFileSnapshot('../../../docs/findings.md');
	});

	it.each(Object.entries(findings))('%s says what it means, in plain text', (code, { about, mend }) => {
		expect(code).toMatch(/^[a-z]+(-[a-z]+)*$/);
		expect(about).toMatch(/^[A-Z].*\.$/);
		expect(`${about}${mend ?? ''}`).not.toMatch(/`/);
	});
});
