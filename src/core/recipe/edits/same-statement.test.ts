import { describe, expect, it } from 'vitest';
import { lineIn } from './same-statement.ts';
import { parseRecipe } from '../language/parse.ts';

const before = parseRecipe(
	'recipe 1\nsize 2\nlayers on a first 0.1 growth 1.2 count 8\nlayers on b first 0.1 growth 1.2 count 8\nsize 3 near a\n'
);
const after = (from: string | RegExp, to: string) => parseRecipe(before.text.replace(from, to));
const found = (now: ReturnType<typeof parseRecipe>) => before.lines.map((_, line) => lineIn(now, before, line));

describe('a statement in a newer text', () => {
	it('is where it was as long as statements only change, several of them too', () => {
		expect(found(before)).toEqual([0, 1, 2, 3, 4]);
		const changed = after('b first 0.1', 'b first 0.3');
		expect(found(changed)).toEqual([0, 1, 2, 3, 4]);
		expect(found(parseRecipe(changed.text.replace('size 2', 'size 2.5').replace('count 8', 'count 9')))).toEqual([0, 1, 2, 3, 4]);
	});

	it('moves with what is added and taken out before it', () => {
		expect(found(after('size 2\n', 'size 2\nlet r = 3\n'))).toEqual([0, 1, 3, 4, 5]);
		expect(found(after('size 2\n', ''))).toEqual([0, -1, 1, 2, 3]);
		expect(found(after(/^layers on a.*\n/m, ''))).toEqual([0, 1, -1, 2, 3]);
	});

	it('is gone where it changed beside what was added', () => {
		expect(found(after('layers on a first 0.1', 'let r = 1\nlayers on a first 0.2'))).toEqual([0, 1, -1, 4, 5]);
	});
});
