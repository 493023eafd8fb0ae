import fc from 'fast-check';
import { language } from './language.ts';
import { describe, expect, it } from 'vitest';
import { expectedNext, parseExpression, parseRecipe, parseStatement, placesIn, printRecipe, syntaxFindings } from './parse.ts';

const messageOf = (line: string) => parseRecipe(line).lines[0]!.error?.message ?? 'no error';

describe('reading a recipe', () => {
	it('gives the text back byte for byte, whatever it is', () => {
		fc.assert(fc.property(fc.string({ unit: 'grapheme' }), (text) => printRecipe(parseRecipe(text)) === text));
	});

	it('never throws, and cuts any text into statements inside its bounds', () => {
		fc.assert(
			fc.property(
				fc.array(fc.constantFrom('line', ' a', ' = ', '(', ')', '[', '1', ' to ', '"', '#', '\n', ',', 'divide', ' bias 3')),
				(parts) => {
					const text = parts.join('');
					for (const { from, to, statement, error } of parseRecipe(text).lines) {
						expect(from >= 0 && to <= text.length && from < to).toBe(true);
						expect(statement === undefined).toBe(error !== undefined);
					}
				}
			)
		);
	});

	it('reads a line on while a bracket is open', () => {
		const { lines } = parseRecipe('point a = (1,\n  2)\nline b = a to a');
		expect(lines.map((l) => l.statement?.kind)).toEqual(['point', 'line']);
		expect(lines[1]!.number).toBe(3);
	});

	it('does not let a bracket left open swallow the next statement', () => {
		const { lines } = parseRecipe('point a = (1,\nline b = a to a');
		expect(lines[0]!.error?.message).toMatch(/ends too early/);
		expect(lines[1]!.statement?.kind).toBe('line');
	});

	it('takes a # inside quotes as text and elsewhere as a comment', () => {
		const { lines } = parseRecipe('title "no. #4" # the fourth');
		expect(lines[0]!.statement).toMatchObject({ kind: 'title', title: 'no. #4' });
	});

	it('names what could stand at the place of the error', () => {
		expect(messageOf('divide inlet')).toMatch(/ends too early; expected .*“into”.*“bias”/);
		expect(messageOf('circle c = around (0, 0) radius 3 4')).toMatch(/“4” does not stand here/);
		expect(messageOf('line size = a to b')).toBe('no error');
		expect(messageOf('point p = (3 mn, 0)')).toMatch(/found “mn”.*did you mean “mm”/);
	});

	it('refuses an unknown statement, with the nearest known one', () => {
		expect(messageOf('lime a = p to q')).toBe('“lime” starts no statement; did you mean “line”?');
		expect(messageOf('extrude everything')).toMatch(/starts no statement; a line starts with one of recipe, title/);
	});

	it('says line and column of an error', () => {
		const text = 'recipe 1\ntitle "x"\n\n  circle c = around (0, 0) radius';
		const [finding] = syntaxFindings(parseRecipe(text));
		expect(placesIn(text)(finding!.span!.from)).toEqual({ line: 4, column: text.split('\n')[3]!.length + 1 });
	});

	it('keeps reading behind signs that have no meaning', () => {
		const { lines } = parseRecipe('point a = (1; 2)\npoint b = (1, 2)');
		expect(lines[0]!.error?.message).toBe('a comma parts x from y');
		expect(lines[1]!.statement?.kind).toBe('point');
	});

	it('reads a unit only behind a number, so that m and in may be names', () => {
		expect(parseExpression('2*m').expression).toMatchObject({ right: { kind: 'name', name: 'm' } });
		expect(parseExpression('0.4 in').expression).toMatchObject({ kind: 'number', value: 0.4, unit: 'in' });
	});

	it('gives power a tighter hold than minus and product, and lets it nest to the right', () => {
		expect(parseExpression('-2^2').expression).toMatchObject({ kind: 'negate' });
		expect(parseExpression('2^3^2').expression).toMatchObject({ operator: '^', right: { operator: '^' } });
	});

	it('tells completion what may follow', () => {
		expect(expectedNext('fill water ')).toEqual(expect.arrayContaining(['“structured”', '“triangles”', '“none”']));
		expect(expectedNext('group a = wall as ')).toEqual(['a name']);
	});
});

describe('words', () => {
	it('are names where a name is expected, every one of them', () => {
		for (const word of language().words) {
			for (const statement of [
				`let ${word} = 5`,
				`region ${word} at (0, 0)`,
				`group ${word} = wall as wall`,
				`line ${word} = ${word} to (1, 0)`,
				`circle c = around ${word} radius ${word}`,
				`divide ${word} into 5`,
				`layers on wall in ${word} first 0.1 growth 1.2 count 3`
			])
				expect(parseStatement(statement).error?.message, statement).toBeUndefined();
		}
	});

	it('are offered only where they were not said already', () => {
		expect(expectedNext('polygon h = around (0, 0) radius 3 ')).not.toContain('“radius”');
		expect(expectedNext('polygon h = around (0, 0) radius 3 ')).toContain('“sides”');
		expect(expectedNext('size 1 near c within 2 ')).toContain('“fade”');
		expect(expectedNext('size 1 near c within 2 ')).not.toContain('“within”');
		expect(expectedNext('divide a as one ')).not.toContain('“as”');
	});
});

describe('clauses', () => {
	it.each([
		['fillet f = a with b radius 2 near (1, 2)', 'fillet f = a with b near (1, 2) radius 2'],
		['chamfer f = a with b lengths 2, 3 near p', 'chamfer f = a with b near p lengths 2, 3'],
		[
			'ellipse e = around (0, 0) radii 2, 1 from 0 to 90 deg turned 5 deg',
			'ellipse e = around (0, 0) radii 2, 1 turned 5 deg from 0 to 90 deg'
		],
		[
			'spline s = p to q to r corners above 60 deg closed parameter centripetal',
			'spline s = p to q to r closed parameter centripetal corners above 60 deg'
		],
		['polygon p = around (0, 0) sides 5 radius 2 turned 3 deg', 'polygon p = around (0, 0) turned 3 deg radius 2 sides 5'],
		['rectangle r = around (0, 0) size 4, 3 turned 5 deg', 'rectangle r = around (0, 0) turned 5 deg size 4, 3'],
		['arc a = p to q radius 5 clockwise long', 'arc a = p to q radius 5 long clockwise'],
		['bspline b = p to q to r degree 2 knots 0, 1 weights 1, 2', 'bspline b = p to q to r weights 1, 2 degree 2 knots 0, 1'],
		['repeat r = a about (0, 0) by 9 deg count 5', 'repeat r = a count 5 by 9 deg about (0, 0)'],
		['repeat r = a by (1, 0) count 5', 'repeat r = a count 5 by (1, 0)'],
		['offset o = a, b by 2 left mitred', 'offset o = a, b mitred left by 2'],
		['turn a by 30 deg about (1, 2)', 'turn a about (1, 2) by 30 deg'],
		['copy s = a scaled 2 about p', 'copy s = a scaled 2 about p'],
		['boundary from "a.vtu" only "b" scaled 2 moved (1, 2)', 'boundary from "a.vtu" moved (1, 2) only "b" scaled 2'],
		['drawing d = from "a.dxf" only "b", "c" turned 2 deg', 'drawing d = from "a.dxf" turned 2 deg only "b", "c"'],
		[
			'polyline p = from "a.csv" outline 2 columns 1, 3 without 4, 5 to 9 moving 8 to (1, -2), 10 to (0.5, 1e-3) swapping 6 with 7 start p end q scaled 2 thinned within 1',
			'polyline p = from "a.csv" scaled 2 end q swapping 6 with 7 thinned within 1 columns 1, 3 start p moving 8 to (1, -2), 10 to (0.5, 1e-3) without 4, 5 to 9 outline 2'
		],
		['baffle b = a as wall sides l, r colour teal', 'baffle b = a colour teal sides l, r as wall'],
		['group g = a, b as inlet colour teal', 'group g = a, b colour teal as inlet'],
		['divide a into 9 bias 3 toward p', 'divide a bias 3 toward p into 9'],
		['divide a as one by size 2 first 0.1 at p', 'divide a as one first 0.1 at p by size 2'],
		['fill r structured smooth 20 corners p, q', 'fill r structured corners p, q smooth 20'],
		['fill r structured first 0.1 toward hole into 20', 'fill r structured into 20 first 0.1 toward hole']
	])('come in any order: %s', (one, other) => {
		const plain = (source: string) => {
			const { statement, error } = parseStatement(source);
			expect(error).toBeUndefined();
			// The same but for where things stand.
			const shape = (value: unknown): unknown => {
				if (Array.isArray(value)) return value.map(shape);
				if (typeof value !== 'object' || value === null) return value;
				return Object.fromEntries(
					Object.entries(value)
						.filter(([key, v]) => !['from', 'to', 'clauses'].includes(key) || (typeof v === 'object' && key !== 'clauses'))
						.map(([key, v]) => [key, shape(v)])
				);
			};
			return shape(statement);
		};
		expect(plain(one)).toEqual(plain(other));
	});

	it('stand once', () => {
		expect(parseStatement('ellipse e = around (0, 0) radii 2, 1 turned 5 deg turned 6 deg').error).toBeDefined();
		expect(parseStatement('group g = a colour teal as wall colour red').error).toBeDefined();
	});

	it.each([
		['polygon p = around (0, 0) sides 5', 'radius'],
		['rectangle r = around (0, 0) turned 5 deg', 'size'],
		['bspline b = p to q to r knots 0, 1', 'degree'],
		['repeat r = a count 5', 'by'],
		['repeat r = a by (1, 0)', 'count'],
		['turn a about p', 'by'],
		['offset o = a left', 'by']
	])('are told where one is missing: %s', (source, missing) => {
		expect(parseStatement(source).error?.message).toContain(`“${missing}”`);
	});

	it('take a written place where they take a point', () => {
		expect(parseStatement('divide a into 5 bias 3 toward (1, 2 + 3)').error).toBeUndefined();
	});
});
