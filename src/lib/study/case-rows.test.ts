import { describe, expect, test } from 'vitest';
import type { CaseFigures } from '../../formats/study.ts';
import { filtered, numericColumns, sorted, textOf, valueOf, worstOf, type CaseRow } from './case-rows.ts';

const figures = (minJacobian: number, elements = 100): CaseFigures => ({
	...{ nodes: 80, elements, triangles: 0, quads: elements, area: 1, boundary: 30, irregular: 0 },
	...{ minJacobian, meanJacobian: 0.9, minAngle: 30, maxAngle: 120, maxAspect: 2 },
	...{ firstHeight: 0.1, wallMean: 0.1, errors: 0, warnings: 0 }
});
const row = (number: number, gap: string, jacobian?: number, message = ''): CaseRow => ({
	one: { number, name: `gap=${gap}`, settings: { gap }, refine: 1 },
	outcome:
		jacobian === undefined
			? message === ''
				? undefined
				: { ok: false, message, figures: null, picture: '', milliseconds: 12.4 }
			: { ok: true, message: '', figures: figures(jacobian), picture: '', milliseconds: 80 }
});
const rows = [row(1, '10', 0.8), row(2, '2', 0.3), row(3, '4'), row(4, '6', undefined, 'Nothing was filled')];
const numbers = (list: readonly CaseRow[]) => list.map(({ one }) => one.number);

describe('the rows of a study', () => {
	test('sort by number, and cases without a value come last both ways', () => {
		expect(numbers(sorted(rows, 'gap', false))).toEqual([2, 3, 4, 1]);
		expect(numbers(sorted(rows, 'gap', true))).toEqual([1, 4, 3, 2]);
		expect(numbers(sorted(rows, 'minJacobian', false))).toEqual([2, 1, 3, 4]);
		expect(numbers(sorted(rows, 'minJacobian', true))).toEqual([1, 2, 3, 4]);
	});

	test('names sort by the numbers in them', () => expect(numbers(sorted(rows, 'case', false))).toEqual([2, 3, 4, 1]));

	test('are found by status, by words of the message, by all words at once', () => {
		expect(numbers(filtered(rows, 'waiting', {}))).toEqual([3]);
		expect(numbers(filtered(rows, 'FAILED nothing', {}))).toEqual([4]);
		expect(numbers(filtered(rows, 'failed done', {}))).toEqual([]);
	});

	test('a limit leaves out what has no value', () => {
		expect(numbers(filtered(rows, '', { minJacobian: [0, 0.5] }))).toEqual([2]);
		expect(numbers(filtered(rows, '', { gap: [3, 7], minJacobian: undefined }))).toEqual([3, 4]);
	});

	test('the worst is the least scaled Jacobian; none where nothing is done', () => {
		expect(worstOf(rows)?.one.number).toBe(2);
		expect(worstOf(rows.slice(2))).toBeUndefined();
	});

	test('settings that are words stay words; what is missing is a dash', () => {
		expect(valueOf(row(1, 'wide'), 'gap')).toBe('wide');
		expect(textOf(rows[2]!, 'elements')).toBe('–');
		expect(textOf(rows[3]!, 'time')).toBe('12 ms');
		expect(textOf(rows[0]!, 'gap')).toBe('10');
	});

	test('refinement has a column where it varies', () => {
		expect(numericColumns(rows.map(({ one }) => one))).not.toContain('refine');
		expect(numericColumns([rows[0]!.one, { ...rows[0]!.one, refine: 2 }])).toContain('refine');
	});
});
