import { describe, expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { pieceNames } from '../../core/domain/references.ts';
import { pieceRow, short, spacingClause, targetsOf } from './rows.ts';

const text = `recipe 1
point p = (0, 0)
point q = (10, 0)
line a = p to q
line b = q to (30, 0)
line c = q to (10, 5)
divide a into 2*5 bias 4 toward q
divide b into 10 first 0.5 at q
divide c by size 1
`;
const result = finish(new Pipeline(() => 0).run({ text, files: {} }));
const names = pieceNames(result.arrangement);
const row = (name: string) => pieceRow(result, names, names.indexOf(name));

describe('a row of Divide', () => {
	it('shows the count and the spacing as they are written', () => {
		expect(row('a')).toMatchObject({ countSource: '2*5', spacing: 'bias 4', toward: 'q' });
		expect(row('b')).toMatchObject({ countSource: '10', spacing: 'first 0.5', toward: 'q' });
		expect(row('c')).toMatchObject({ countSource: 'by size 1', spacing: '', toward: '' });
		expect(row('a').division.count).toBe(10);
		expect(row('c').division.count).toBe(5);
	});

	it('names what lies at one end and not at the other', () => {
		expect(targetsOf(result, names.indexOf('a')).start).toEqual(['p']);
		expect(targetsOf(result, names.indexOf('a')).end.sort()).toEqual(['b', 'c', 'q']);
		expect(targetsOf(result, names.indexOf('c')).end).toEqual([]);
	});

	it('shows the jump to the piece that goes on from it, not to one that turns off', () => {
		// The last cell of a is the smallest: (r − 1)/(r¹⁰ − 1) of 10 with r = 4^(1/9).
		const r = 4 ** (1 / 9);
		const last = (10 * (r - 1)) / (r ** 10 - 1);
		expect(row('a').jump).toBeCloseTo(Math.max(last / 0.5, 0.5 / last), 9);
		expect(row('a').jump).toBe(row('b').jump);
		expect(row('c').jump).toBeUndefined();
	});
});

describe('what is typed into a row', () => {
	it('becomes a spacing: a bare number is a bias, and an end is added where none is given', () => {
		expect(spacingClause('12', 'wall')).toBe('bias 12 toward wall');
		expect(spacingClause('(2*n)', 'wall')).toBe('bias (2*n) toward wall');
		expect(spacingClause('first 0.1', 'wall')).toBe('first 0.1 at wall');
		expect(spacingClause('growth 1.2', 'both')).toBe('growth 1.2 toward both');
		expect(spacingClause('first 0.1 growth 1.2 largest 2', 'wall')).toBe('first 0.1 growth 1.2 largest 2 at wall');
		expect(spacingClause('first 0.1 at other', 'wall')).toBe('first 0.1 at other');
		expect(spacingClause('like gate', 'wall')).toBe('like gate');
		expect(spacingClause('positions 0.1, 0.4', 'wall')).toBe('positions 0.1, 0.4 from wall');
	});

	it('is shown with three digits where it is a figure', () => {
		expect([0, 12.3456, 0.000123456, 1e-7, 123456, NaN].map(short)).toEqual(['0', '12.3', '1.23e-4', '1.00e-7', '1.23e5', '–']);
	});
});
