import { describe, expect, it } from 'vitest';
import { deletion, labelRegions } from './intents.ts';
import { namedNumber, rename, whyNoName } from './naming.ts';
import { parseRecipe } from '../language/parse.ts';

const recipe = parseRecipe(`let D = 10
point p = (D, 0)
line a = p to (20, 0)
line b = (20, 0) to (20, 5)
region r at (1, 1)
divide a into 10 first D/100 at p
divide a, b into 5
size 0.1 near a within 2
group low = a as wall
group all = a, b as wall
`);

describe('names', () => {
	it('change with all their uses', () => {
		expect(rename(recipe, 'value', 'D', 'width')).toMatchObject({
			text: expect.stringMatching(/let width = 10\npoint p = \(width, 0\)[\s\S]*first width\/100 at p/)
		});
		expect(rename(recipe, 'value', 'p', 'q')).toMatchObject({ text: expect.stringContaining('at q') });
		// Groups have a space of their own.
		expect(rename(recipe, 'group', 'low', 'a')).toMatchObject({ text: expect.stringContaining('group a = a as wall') });
	});

	it('are refused with a sentence where they cannot be', () => {
		expect(rename(recipe, 'value', 'a', 'b')).toEqual({ error: 'there is a line “b” already, on line 4' });
		expect(whyNoName(recipe, 'value', '2 walls')).toContain('like “n2_walls”');
		expect(rename(recipe, 'value', 'a', 'pi')).toMatchObject({ error: expect.stringContaining('“pi”') });
		// No word of the language is reserved.
		expect(rename(recipe, 'value', 'a', 'line')).toMatchObject({ text: expect.stringContaining('line line = p') });
		expect(whyNoName(recipe, 'region', 'a')).toBeUndefined();
	});

	it('are given to numbers where they are typed', () => {
		expect(namedNumber('R = 12 range 10 to 20')).toEqual({ name: 'R', statement: 'let R = 12 range 10 to 20' });
		expect(namedNumber('2*R')).toBeUndefined();
		expect(namedNumber('= 3')).toBeUndefined();
	});
});

describe('what goes with a thing that is deleted', () => {
	it('is told', () => {
		expect(deletion(recipe, { values: ['a'] }).also).toEqual([
			'division of a',
			'division of a, b (shortened)',
			'size of a',
			'group low',
			'group all (shortened)'
		]);
		expect(deletion(recipe, { groups: ['low'] }).also).toEqual([]);
	});
});

describe('material groups', () => {
	it('take regions, and more of them', () => {
		const first = labelRegions(recipe, 'steel', ['r']);
		expect(first).toContain('group steel = region r\n');
		expect(labelRegions(parseRecipe(first), 'steel', ['r', 's'])).toContain('group steel = region r, s\n');
	});
});
