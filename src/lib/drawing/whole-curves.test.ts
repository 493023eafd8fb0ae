import { expect, it } from 'vitest';
import { wholeCurves } from './whole-curves.ts';

it('curves are named by what draws them all, and each once', () => {
	const names = new Map([
		['b', [0, 1]],
		['b.left', [0]],
		['b.right', [1]],
		['c', [2]]
	]);
	expect(wholeCurves(['b.left', 'c', 'b.right', 'c'], names)).toEqual(['b', 'c']);
	expect(wholeCurves(['b.left'], names)).toEqual(['b.left']);
	expect(wholeCurves([], names)).toEqual([]);
});
