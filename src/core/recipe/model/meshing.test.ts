import { stated } from '../language/statement.ts';
import { divide } from '../statements/divide.ts';
import { fill } from '../statements/fill.ts';
import { globalSizes, zonesOf } from '../statements/size.ts';
import { describe, expect, it } from 'vitest';
import { evaluateRecipe } from './evaluate.ts';
import { parseRecipe } from '../language/parse.ts';

const drawing = `recipe 1
point a = (0, 0)
rectangle box = a to (40, 30)
guide circle eye = around (20, 15) radius 5
line stub = (50, 0) to (60, 0)
region r at (1, 1)
`;
/** The model of the drawing with one more statement, and what is wrong with it: the text of each place with its sentence. */
function evaluated(statement: string) {
	const text = drawing + statement;
	const model = evaluateRecipe(parseRecipe(text), {});
	const errors = model.findings
		.filter((f) => f.severity === 'error')
		.map((f) => ({ message: f.message, place: text.slice(f.span!.from, f.span!.to) }));
	return { model, errors };
}

describe('statements about divisions, fills and sizes', () => {
	it.each([
		['divide box into 0', '0', /0 is no count of divisions; it is a whole number from 1/],
		['divide box into 2.5', '2.5', /2.5 is no count of divisions/],
		['divide box into 2000000', '2000000', /2000000 divisions are too many here; the limit is 1000000/],
		['divide box by size 0', '0', /a division size is above zero, found 0/],
		['divide box by size 3 deg', '3 deg', /an angle stands where a length is needed/],
		['divide eye by turn 2', '2', /2 divisions in a full turn do not work: the number must be from 3 to 100000/],
		['divide eye by chord -1', '-1', /a chord error is above zero, found -1/],
		['divide box.left into 9 bias 0.5 toward a', '0.5', /a bias of 0.5 does not work.*name that end after “toward”/],
		['divide box.left growth 0 toward a', '0', /a growth of 0 does not work/],
		['divide box.left first 0 at a', '0', /a first cell is above zero, found 0/],
		[
			'divide box.left into 9 first 1 growth 1.2 at a',
			'first 1 growth 1.2 at a',
			/with a count there is room for one of first and growth/
		],
		['divide box.left first 1 last 2 growth 1.2 at a', 'first 1 last 2 growth 1.2 at a', /say more than a spacing has room for/],
		['divide box.left into 9 first 1 last 2 at both', 'first 1 last 2 at both', /need to know which end is first/],
		['divide box.left positions 0.2, 0.1 from a', '0.1', /0.1 does not follow; positions are fractions of the length that rise/],
		['divide box.left positions 0.2, 0.4 from both', 'positions 0.2, 0.4 from both', /counted from one end/],
		['divide box.left growth 1.2 largest 3 toward a', 'growth 1.2 largest 3 toward a', /“largest” ends a growth/],
		[
			'divide box.left into 9 first 1 growth 1.2 largest 3 at a',
			'first 1 growth 1.2 largest 3 at a',
			/give the count; leave the count out/
		],
		[
			'divide box.left first 1 growth 1 largest 3 at a',
			'first 1 growth 1 largest 3 at a',
			/never reach a largest one; use a growth above 1/
		],
		[
			'divide box.left first 4 growth 1.2 largest 3 at a',
			'first 4 growth 1.2 largest 3 at a',
			/largest cell, 3, is smaller than the first, 4/
		],
		[
			'divide box.left first 1 growth 1.2 largest 3 at middle',
			'first 1 growth 1.2 largest 3 at middle',
			/start at an end, or at “both”/
		],
		['fill r structured corners a, (40, 0)', 'a, (40, 0)', /at least three corners, found 2/],
		['fill r structured smooth 1.5', '1.5', /1.5 is no number of smoothing sweeps; it is a whole number from 0 to 1000/],
		[
			'fill r structured into 8 first 0.1 growth 1.2 at eye',
			'first 0.1 growth 1.2 at eye',
			/take one of bias, first, last and growth/
		],
		['fill r structured into 8 largest 2 at eye', 'largest 2 at eye', /take one of bias, first, last and growth/],
		['fill r structured into 20000', '20000', /the limit is 10000/],
		['fill r triangles size -2', '-2', /an element size is above zero, found -2/],
		['size 0', '0', /an element size is above zero, found 0/],
		['size 2 growth 1', '1', /a growth of 1 does not work: it must be above 1 and at most 3/],
		['size 2 growth 9', '9', /a growth of 9 does not work/],
		['size 0.5 inside circle around a radius 0', '0', /a radius is above zero, found 0/],
		['size 0.5 inside stub', 'stub', /“stub” is open; a zone is the inside of a closed curve/],
		[
			'size 0.5 inside polyline a to (1, 1)',
			'inside polyline a to (1, 1)',
			/at least three corners, found 2; a band along a line is “near polyline/
		],
		['size 0.5 near polyline a to (9, 9) within 0', '0', /a distance is above zero, found 0/],
		['size 0.5 near eye within 0', '0', /a distance is above zero, found 0/],
		['size 0.5 behind eye length 10 widening 90 deg', '90 deg', /a wake widens by an angle from 0 to 80 degrees/],
		['size 0.5 at (1, 1) fade 0', '0', /a fade is above zero, found 0/],
		['size by turn 2', '2', /2 elements in a full turn do not work/],
		['size by gap 0', '0', /0 elements across a gap do not work/]
	])('%s is told apart at its place', (statement, place, message) => {
		const { errors } = evaluated(statement);
		expect(errors).toHaveLength(1);
		expect(errors[0]!.message).toMatch(message);
		expect(errors[0]!.place).toBe(place);
	});

	it('carry their numbers, expressions worked out, in the recipe’s units', () => {
		const { model, errors } = evaluated(
			'let n = 4\ndivide box.left first 1 mm growth 1 + 0.2 largest n/2 at a\nfill r triangles even size 2*n\nsize n growth 1.3\nsize 0.1 cm near polyline a to (10, 0) to (10, 5) within n\nsize 0.5 inside polyline a to (4, 0) to (0, n)'
		);
		expect(errors).toEqual([]);
		expect(stated(model, divide)).toMatchObject([{ numbers: { first: 1, growth: 1.2, largest: 2 }, toward: { name: 'a' } }]);
		expect(stated(model, fill)).toMatchObject([{ regions: ['r'], fill: 'triangles', even: true, size: 8 }]);
		expect(globalSizes(model)).toMatchObject([{ size: 4, growth: 1.3 }]);
		expect(zonesOf(model).map(({ size, zone }) => ({ size, zone }))).toEqual([
			{ size: 1, zone: { kind: 'line', points: Float64Array.of(0, 0, 10, 0, 10, 5), within: 4 } },
			{ size: 0.5, zone: { kind: 'polygon', outline: Float64Array.of(0, 0, 4, 0, 0, 4) } }
		]);
	});

	it('take a guide that shapes a zone out of the domain', () => {
		const { model, errors } = evaluated('size 0.5 inside eye\ndivide eye into 9\nregion hole bounded by eye');
		expect(errors).toEqual([]);
		expect(model.curvesByName.has('eye')).toBe(false);
		expect(zonesOf(model)[0]!.zone.kind).toBe('polygon');
		// A fine polygon of the circle: its area is within a hundredth of π r².
		const { outline } = zonesOf(model)[0]!.zone as { outline: Float64Array };
		let area = 0;
		for (let k = 0; k < outline.length; k += 2) {
			const n = (k + 2) % outline.length;
			area += (outline[k]! * outline[n + 1]! - outline[n]! * outline[k + 1]!) / 2;
		}
		expect(area / (25 * Math.PI)).toBeCloseTo(1, 2);
	});
});
