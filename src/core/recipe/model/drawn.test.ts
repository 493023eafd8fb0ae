import { describe, expect, it } from 'vitest';
import { evaluateRecipe } from './evaluate.ts';
import { parseRecipe } from '../language/parse.ts';

const drawn = (text: string) => evaluateRecipe(parseRecipe(`recipe 1\n${text}`), {}).curves;

describe('a curve that is drawn again', () => {
	it('is the same object where its statement and its numbers are, and another where a value that it uses is another', () => {
		const text = 'let r = 2\ncircle a = around (0, 0) radius r\ncircle b = around (5, 0) radius 1\nline c = (0, 0) to (r, 9)';
		const [a, b, c] = drawn(text);
		expect(drawn(text)).toEqual([a, b, c]);
		const changed = drawn(text.replace('let r = 2', 'let r = 3'));
		expect(changed[0]!.data[6]).toBe(3);
		expect(changed[1]).toEqual(b);
		expect(changed[2]!.data[2]).toBe(3);
		expect(a!.data[6]).toBe(2);
		const recipe = parseRecipe(`recipe 1\n${text}`);
		const [first, again] = [evaluateRecipe(recipe, {}), evaluateRecipe(recipe, {})];
		expect(again.curves.every((curve, k) => curve === first.curves[k])).toBe(true);
	});
});
