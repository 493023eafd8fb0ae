import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { applyEdits } from '../../text/edit.ts';
import { parseRecipe } from './parse.ts';
import { tidied } from './tidy.ts';

const tidy = (text: string) => applyEdits(text, tidied(parseRecipe(text)));

/** What a recipe says, without the places where it says it. */
const said = (text: string) =>
	JSON.stringify(
		parseRecipe(text).lines.map(({ statement, error, from, to }) => (error ? text.slice(from, to) : statement)),
		(key, value: unknown) => (key === 'from' || key === 'to' ? undefined : value)
	);

/** Pieces of recipes and of what is none, with blanks of every kind between them. */
const piece = fc.constantFrom(
	...[
		'recipe 1',
		'title "a ,  b # c"',
		'point p = (0,0)',
		'line a =(0,  0)  to\t(1,\u00a01)',
		'polyline c = (0, 0) to (',
		'1, 0) to (1, 1)'
	],
	...[
		'# a comment ,  with  blanks  ',
		'size 2 near a , b',
		'frob  nicate ,',
		'let x = (1 +',
		'2)',
		'title "open',
		'fill ',
		'divide',
		')',
		'((',
		','
	],
	...['let y = 3 # why', 'group g = a ,b,  c as wall', 'units  mm', '"', '"#"', '']
);
const ends = fc.constantFrom('\n', '\n', '\n\n\n\n', '\r\n', '\r\n\r\n\r\n', '  \n', '\t\n \n \n', ' ', '\r', '\n  ');
const messy = fc
	.array(fc.tuple(fc.constantFrom('', '  ', '\t', '\ufeff'), piece, ends), { maxLength: 12 })
	.map((list) => list.map((parts) => parts.join('')).join(''));

describe('a tidy recipe', () => {
	it('has one space between words and after commas, none at the ends, and single empty lines', () => {
		expect(tidy('recipe   1\n\n\n\n  point p =(0,0)   # here  \nline a = p to\t( 1 ,2 )  \n# end')).toBe(
			'recipe 1\n\npoint p =(0, 0)   # here\nline a = p to ( 1, 2 )\n# end\n'
		);
		expect(tidy('polyline c = (0,0) to (\n    1,0)\n')).toBe('polyline c = (0, 0) to (\n    1, 0)\n');
		expect(tidy('recipe 1\r\npoint p = (0,0)\r\n\r\n\r\nlet a = 1')).toBe('recipe 1\r\npoint p = (0, 0)\r\n\r\nlet a = 1\r\n');
	});

	it('is not changed again, says the same, and keeps what cannot be read', () => {
		fc.assert(
			fc.property(messy, (text) => {
				const once = tidy(text);
				expect(tidy(once)).toBe(once);
				expect(said(once)).toBe(said(text));
			}),
			{ numRuns: 2000 }
		);
	});

	it('is each of the demos', () => {
		for (const name of readdirSync('demo').filter((n) => n.endsWith('.tessellon'))) {
			const text = readFileSync(`demo/${name}`, 'utf8');
			expect(said(tidy(text))).toBe(said(text));
			expect(tidy(tidy(text))).toBe(tidy(text));
		}
	});
});
