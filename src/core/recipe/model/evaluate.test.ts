import { describe, expect, it } from 'vitest';
import { curveLength } from '../../geometry/curve.ts';
import { broughtUpToDate, evaluateRecipe, tryStatement } from './evaluate.ts';
import type { CoordinateFiles } from './model.ts';
import { parseExpression, parseRecipe } from '../language/parse.ts';

const run = (text: string, files: CoordinateFiles = {}, set: Record<string, string> = {}) =>
	evaluateRecipe(parseRecipe(text), files, new Map(Object.entries(set).map(([k, v]) => [k, parseExpression(v).expression!])));
const parameter = (text: string, name: string) => run(text).parameters.find((p) => p.name === name)!.value;
const complaint = (text: string) =>
	run(text)
		.findings.map((f) => f.message)
		.join('\n');
const rows = (...list: [number, number][]) => ({
	outlines: [{ x: Float64Array.from(list, (r) => r[0]), y: Float64Array.from(list, (r) => r[1]) }]
});

describe('expressions', () => {
	it('turn units into those of the recipe', () => {
		expect(parameter('units mm\nlet a = 1 in + 2 cm', 'a')).toBeCloseTo(45.4, 12);
		expect(parameter('units m\nlet a = 250 mm', 'a')).toBe(0.25);
		expect(parameter('let a = 180 deg', 'a')).toBe(Math.PI);
	});

	it('take units that are stated below them', () => {
		expect(parameter('let a = 1 m\nunits cm', 'a')).toBe(100);
	});

	it('keep lengths and angles apart', () => {
		expect(complaint('let a = 3 mm + 5 deg')).toBe('a length and an angle do not add');
		expect(complaint('let a = sin(3 mm)')).toMatch(/“sin” takes an angle, not a length/);
		expect(complaint('circle c = around (0, 0) radius 5 deg')).toMatch(/an angle stands where a length is needed/);
		expect(parameter('let a = (6 mm)*(2 mm)/(3 mm)', 'a')).toBe(4);
	});

	it('add, subtract and scale points', () => {
		const { points } = run('point p = (1, 2)\npoint q = 2*p + (0, p.x) - (1, 1)/2');
		expect(points[1]).toMatchObject({ x: 1.5, y: 4.5 });
	});

	it('know the usual functions, lengths of curves and distances', () => {
		expect(
			parameter('point p = (0, 0)\nline l = p to (3, 4)\nlet a = length(l) + distance(p, (0, 2)) + max(1, 2, 3) + sqrt(16)', 'a')
		).toBe(14);
		expect(parameter('rectangle b = (0, 0) to (4, 3)\nlet a = length(b) + length(b.left)', 'a')).toBe(17);
		expect(parameter('let a = atan2(1, 1)/pi', 'a')).toBe(0.25);
	});

	it('refuse what has no value', () => {
		expect(complaint('let a = 1/0')).toMatch(/zero, and nothing divides by zero/);
		expect(complaint('let a = sqrt(-1)')).toMatch(/no square root/);
		expect(complaint('let a = 10^400')).toMatch(/no finite value/);
	});
});

describe('names', () => {
	it('are defined before they are used', () => {
		expect(complaint('let a = b\nlet b = 1')).toMatch(/“b” is defined only later, on line 2/);
		expect(complaint('let a = alpha\nlet alpha1 = 1')).toMatch(/nothing is named “alpha”/);
		expect(complaint('let beta = 1\nlet a = bta')).toMatch(/did you mean “beta”/);
	});

	it('may not go in circles', () => {
		expect(complaint('let a = b\nlet b = a')).toMatch(/“a” and “b” are each defined by the other \(lines 1 and 2\)/);
		expect(complaint('let a = a + 1')).toMatch(/“a” is defined by itself/);
	});

	it('are given once', () => {
		expect(complaint('let a = 1\npoint a = (0, 0)')).toMatch(/“a” is defined already on line 1/);
	});

	it('that failed are the cause, which is told once', () => {
		const { findings } = run(
			'let a = 1/0\nlet b = a\nlet c = b + a\nline l = (a, 0) to (1, b)\nregion r bounded by l\nfill r triangles'
		);
		expect(findings.map((f) => f.message)).toEqual([expect.stringContaining('nothing divides by zero')]);
		expect(run('let a = = 1\nlet b = a').findings).toEqual([]);
	});
});

describe('statements', () => {
	it('with errors leave the sound ones standing', () => {
		const model = run('point a = (0, 0)\nline broken = a to nowhere\ncircle c = around a radius 2');
		expect(model.curves.map((c) => c.name)).toEqual(['c']);
		expect(model.findings).toHaveLength(1);
	});

	it('of lines and arcs that have no extent are refused with their place', () => {
		expect(complaint('line l = (1, 1) to (1, 1)')).toMatch(/ends where it starts, at \(1, 1\)/);
		expect(complaint('arc a = (1, 0) to (0, 2) around (0, 0)')).toMatch(/start is 1 from this centre and the end 2/);
		expect(complaint('arc a = (0, 0) to (2, 0) through (1, 0)')).toMatch(/lies on the straight line/);
		expect(complaint('circle c = around (0, 0) radius -1')).toMatch(/a radius is above zero, found -1/);
	});

	it('of an arc go counter-clockwise unless they say clockwise, and through a point either way', () => {
		const length = (s: string) => curveLength(run(`arc a = ${s}`).curves[0]!);
		expect(length('(1, 0) to (0, 1) around (0, 0)')).toBeCloseTo(Math.PI / 2, 14);
		expect(length('(1, 0) to (0, 1) around (0, 0) clockwise')).toBeCloseTo((3 * Math.PI) / 2, 14);
		expect(length('(-1, 0) to (1, 0) through (0, 1)')).toBeCloseTo(Math.PI, 12);
		expect(length('(-1, 0) to (1, 0) through (0, -1)')).toBeCloseTo(Math.PI, 12);
	});

	it('of a rectangle give four named sides, whichever corners are named', () => {
		const model = run('rectangle b = (4, 3) to (0, 0)');
		expect(model.curves.map((c) => c.name)).toEqual(['b.bottom', 'b.right', 'b.top', 'b.left']);
		expect([...model.curves[0]!.data.slice(0, 4)]).toEqual([0, 0, 4, 0]);
		expect(model.curvesByName.get('b')).toEqual([0, 1, 2, 3]);
	});

	it('take a range, and doubt a value outside it', () => {
		expect(run('let b = 0.9 range 0.4 to 0.75').findings[0]).toMatchObject({ severity: 'warning', code: 'range' });
		expect(complaint('let b = 0.5 range 1 to 0')).toMatch(/not below its end/);
	});

	it('refuse numbers out of reach', () => {
		const base = 'line l = (0, 0) to (1, 0)\n';
		expect(complaint(`${base}divide l into 2.5`)).toMatch(/2.5 is no count of divisions/);
		expect(complaint(`${base}divide l into 4 bias 0.5 toward both`)).toMatch(/name that end after “toward”/);
		expect(complaint(`${base}size 0`)).toMatch(/an element size is above zero/);
		expect(complaint(`${base}size 1 growth 0.9`)).toMatch(/growth of 0.9/);
	});

	it('refuse unknown kinds and colours with the known ones', () => {
		expect(complaint('line l = (0, 0) to (1, 0)\ngroup g = l as inflw')).toMatch(/did you mean “inflow”/);
		expect(complaint('line l = (0, 0) to (1, 0)\ngroup g = l as wall colour pink')).toMatch(
			/no colour of a group; there are blue/
		);
	});

	it('stand once where one rules the whole recipe', () => {
		expect(complaint('units mm\nunits cm')).toMatch(/“units” is already defined on line 1/);
		expect(complaint('units furlong')).toMatch(/no unit of length; there are um, mm/);
		expect(complaint('recipe 2')).toMatch(/reads “recipe 1”/);
	});
});

describe('curves from files', () => {
	const files = { 'a.csv': rows([0, 0], [1, 2], [4, 1]) };

	it('stand as written, or are moved to start on a point', () => {
		expect(run('polyline p = from "a.csv"', files).curves[0]!.data[0]).toBe(0);
		const { data } = run('polyline p = from "a.csv" start (10, 10)', files).curves[0]!;
		expect([data[0], data[1]]).toEqual([10, 10]);
		expect([data[9 + 2], data[9 + 3]]).toEqual([14, 11]);
	});

	it('are stretched along each axis between two points, which they meet exactly', () => {
		const { data } = run('polyline p = from "a.csv" start (1, 0) end (9, 0.3)', files).curves[0]!;
		expect([data[9 + 2], data[9 + 3]]).toEqual([9, 0.3]);
		expect(data[2]).toBe(3);
	});

	it('name a missing file, an unreadable one, a missing outline', () => {
		expect(run('polyline p = from "b.csv"', files).findings[0]!.message).toMatch(
			/no file “b.csv” beside this recipe; did you mean “a.csv”/
		);
		expect(run('polyline p = from "c"', { c: { error: 'line 3: what' } }).findings[0]!.message).toBe('“c”: line 3: what');
		expect(run('polyline p = from "a.csv" outline 2', files).findings[0]!.message).toMatch(
			/holds 1 outline; there is no outline 2/
		);
	});

	it('that come back to their start are closed', () => {
		const { curves } = run('polyline p = from "r"', { r: rows([0, 0], [1, 0], [1, 1], [0, 0]) });
		expect(curves[0]!.closed).toBe(true);
		expect(curves[0]!.kinds).toHaveLength(3);
	});
});

describe('values set from outside', () => {
	it('replace those of let statements, and everything follows', () => {
		const model = run('let d = 2\nlet e = 2*d', {}, { d: '5 mm' });
		expect(model.parameters.map((p) => p.value)).toEqual([5, 10]);
	});

	it('need a let statement', () => {
		expect(() => run('let diameter = 2', {}, { diametre: '3' })).toThrow(
			/no “let” statement defines “diametre”; did you mean “diameter”/
		);
	});
});

describe('a model that is brought up to date', () => {
	const before = evaluateRecipe(parseRecipe('let w = 4\npoint a = (0, 0)\nline l = a to (w, 0)\n'), {});

	it('has what newer statements draw, one upon the other', () => {
		const text = 'let w = 4\npoint a = (0, 0)\npoint b = a + (0, w)\nline l = a to (w, 0)\nline m = a to b\n';
		const after = broughtUpToDate(before, parseRecipe(text));
		expect(after.curves.map((c) => c.name)).toEqual(['l', 'm']);
		expect(after.points.map((p) => [p.name, p.x, p.y])).toContainEqual(['b', 0, 4]);
		expect(tryStatement(after, 'line n = b to (9, 9)')).toMatchObject({ curves: [{ name: 'n' }] });
	});

	it('is the same where nothing is new, and leaves out what is wrong', () => {
		expect(broughtUpToDate(before, parseRecipe('let w = 4\n'))).toBe(before);
		expect(broughtUpToDate(before, parseRecipe('line m = nowhere to (1, 1)\n')).curves).toHaveLength(1);
		expect(before.curves).toHaveLength(1);
	});
});
