import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { applyEdits } from '../../text/edit.ts';
import { parseRecipe } from './parse.ts';
import { formatted } from './format.ts';

const format = (text: string) => applyEdits(text, formatted(parseRecipe(text)));

/** What a recipe says, without the places where it says it. */
const said = (text: string) =>
	JSON.stringify(
		parseRecipe(text).lines.map(({ statement, error, from, to }) =>
			error ? text.slice(from, to).replace(/\s*\n\s*/g, '\n') : statement
		),
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

describe('a recipe in its one form', () => {
	it('has one blank between words and after commas, none at the ends, and single empty lines', () => {
		expect(format('recipe   1\n\n\n\npoint p =(0,0)   # here  \nline a = p to\t( 1 ,2 )  \n# end')).toBe(
			'recipe 1\n\npoint p = (0, 0)  # here\nline a = p to (1, 2)\n# end\n'
		);
		expect(format('polyline c = (0,0) to (\n    1,0)\n')).toBe('polyline c = (0, 0) to (1, 0)\n');
		expect(format('recipe 1\r\npoint p = (0,0)\r\n\r\n\r\nlet a = 1')).toBe('recipe 1\r\npoint p = (0, 0)\r\n\r\nlet a = 1\r\n');
	});

	it('has values and comments of lines that follow one another in one column', () => {
		expect(format('let D=80 # bore\nlet beta = .6 range .4 to .75 # ratio\nlet d=beta*D\n\nlet x = 3.5mm')).toBe(
			'let D    = 80                  # bore\nlet beta = .6 range .4 to .75  # ratio\nlet d    = beta*D\n\nlet x = 3.5 mm\n'
		);
	});

	it('breaks what is too long behind commas and before “to”, and joins what fits', () => {
		const names = Array.from({ length: 30 }, (_, k) => `wall_${k}`).join(', ');
		const text = `line wall_0 = (0, 0) to (1, 1)\ngroup all = ${names} as wall\ngroup two = wall_0,\n    wall_1 as wall\n`;
		const once = format(text);
		expect(once.split('\n').every((line) => line.length <= 100)).toBe(true);
		expect(once).toMatch(/group all = wall_0.*,\n {4}wall_/);
		expect(once).toContain('group two = wall_0, wall_1 as wall\n');
		expect(said(once)).toBe(said(text));
	});

	it('writes earlier forms anew, and keeps comments between lines', () => {
		const text = 'spline s = through (0, 0) to (1, 1) to (2, 0)\nmirror m = s across x  # below\nmove up = s by (0, 3)\nfrob 3\n';
		expect(format(text)).toBe(
			'spline s = (0, 0) to (1, 1) to (2, 0)\ncopy m = s mirrored across x  # below\ncopy up = s moved (0, 3)\nfrob 3\n'
		);
		const apart = 'polyline c = (0, 0)\n    to (1, 0)  # along\n    to (1, 1)\n';
		expect(format(apart)).toBe(apart);
	});

	it('is not changed again, says the same, and keeps what cannot be read', () => {
		fc.assert(
			fc.property(messy, (text) => {
				const once = format(text);
				expect(format(once)).toBe(once);
				// Earlier forms apart, which none of these are, it says the same.
				expect(said(once)).toBe(said(text));
			}),
			{ numRuns: 2000 }
		);
	});

	it('is each of the demos', () => {
		for (const name of readdirSync('demo').filter((n) => n.endsWith('.tessellon'))) {
			const text = readFileSync(`demo/${name}`, 'utf8');
			expect(said(format(text))).toBe(said(text));
			expect(format(format(text))).toBe(format(text));
		}
	});
});
