import fc from 'fast-check';
import { expect, it } from 'vitest';
import { safeCell } from './safe-cell.ts';

it('leaves numbers and plain words as they are', () => {
	for (const text of ['', 'inlet', '-1.5', '+2', '-1e-3', '.5', '-,5', 'a=b', 'x-1']) expect(safeCell(text)).toBe(text);
});

it('puts an apostrophe before what a spreadsheet runs, hidden behind blanks and tabs too', () => {
	for (const text of ['=1+1', '+cmd', '-2+3', '@sum', '\t=1', ' =1', '\r=1', '＝1', '--1'])
		expect(safeCell(text)).toBe(`'${text}`);
});

it('never lets a cell begin a formula, and changes nothing else', () => {
	fc.assert(
		fc.property(fc.string({ unit: fc.constantFrom('=', '+', '-', '@', '1', '.', 'e', 'a', ' ', '\t') }), (text) => {
			const cell = safeCell(text);
			expect(cell.replace(/^'/, '')).toBe(text);
			if (/^\s*[=@]/.test(text)) expect(cell[0]).toBe("'");
		})
	);
});
