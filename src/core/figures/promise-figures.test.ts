import { expect, test } from 'vitest';
import type { PromiseCheck } from '../promises/check.ts';
import { missedIn, missedOn, promiseFigures, promiseText } from './promise-figures.ts';

const check = (changes: Partial<PromiseCheck>): PromiseCheck => ({
	...{ line: 3, asks: 'first cell', what: 'first cell of “wall”', asked: 0.05, got: 0.05, unit: 'length', isKept: true },
	...changes
});
const checks = [
	check({ pieces: [1] }),
	check({ got: 0.084123456, isKept: false, pieces: [1, 2] }),
	check({ line: 4, isKept: false })
];

test('what is missed is found by piece and by statement', () => {
	expect(promiseFigures(checks)).toMatchObject({ measured: 3, missed: [{ got: 0.084123456 }, { line: 4 }] });
	expect(missedOn(checks, 2)).toEqual([checks[1]]);
	expect(missedOn(checks, 3)).toEqual([]);
	expect(missedIn(checks, 4)).toEqual([checks[2]]);
});

test('lengths have their unit, counts none', () => {
	expect(promiseText(checks[1]!, 'mm')).toBe('first cell of “wall”: 0.05 mm asked, 0.0841235 mm came');
	expect(promiseText(check({ what: 'divisions of “a”', asked: 10, got: 12, unit: 'count', more: 2 }), 'mm')).toBe(
		'divisions of “a”: 10 asked, 12 came, and at 2 more places it is missed'
	);
});
