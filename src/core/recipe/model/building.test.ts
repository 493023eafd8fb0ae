import { describe, expect, it } from 'vitest';
import { curveLength, pointAt, segmentCount, type Curve } from '../../geometry/curve.ts';
import { evaluateRecipe, tryStatement } from './evaluate.ts';
import type { CoordinateFiles } from './model.ts';
import { parseRecipe } from '../language/parse.ts';

const model = (text: string, files: CoordinateFiles = {}) => evaluateRecipe(parseRecipe(text), files);
const problems = (text: string, files: CoordinateFiles = {}) => {
	const recipe = parseRecipe(text);
	return [
		...recipe.lines.flatMap((l) => (l.error ? [l.error.message] : [])),
		...evaluateRecipe(recipe, files).findings.map((f) => f.message)
	];
};
const curve = (text: string, name: string, files: CoordinateFiles = {}): Curve => {
	const m = model(text, files);
	expect(m.findings.map((f) => f.message)).toEqual([]);
	const list = m.curvesByName.get(name);
	if (list?.length !== 1) throw new Error(`${name} names ${list?.length ?? 0} curves`);
	return m.curves[list[0]!]!;
};
const length = (text: string, name: string) => curveLength(curve(text, name));
const end = (c: Curve) => pointAt(c, segmentCount(c));

describe('curve statements', () => {
	it('draw arcs by radius on either side, short or long, and tangent to what they go on from', () => {
		expect(length('arc a = (0, 0) to (10, 0) radius 5', 'a')).toBeCloseTo(5 * Math.PI, 10);
		const short = length('arc a = (0, 0) to (10, 0) radius 6', 'a');
		const long = length('arc a = (0, 0) to (10, 0) radius 6 long', 'a');
		expect(short + long).toBeCloseTo(12 * Math.PI, 10);
		// A counter-clockwise arc from left to right bulges down.
		expect(pointAt(curve('arc a = (0, 0) to (10, 0) radius 6', 'a'), 0.5).y).toBeLessThan(0);
		expect(pointAt(curve('arc a = (0, 0) to (10, 0) radius 6 clockwise', 'a'), 0.5).y).toBeGreaterThan(0);
		// A quarter circle goes on from a line: from (10, 0) going right to (15, 5).
		expect(length('line l = (0, 0) to (10, 0)\narc a = (10, 0) to (15, 5) tangent l', 'a')).toBeCloseTo(2.5 * Math.PI, 10);
	});

	it('draw polygons, turned and three-point rectangles, formulas', () => {
		expect(length('polygon p = around (3, 3) sides 6 radius 2', 'p')).toBeCloseTo(12, 12);
		const m = model('rectangle r = (0, 0) to (4, 3) to (0, 10)');
		const sides = ['bottom', 'right'].map((s) => curveLength(m.curves[m.curvesByName.get(`r.${s}`)![0]!]!));
		expect(sides).toEqual([5, expect.closeTo(8, 12)]);
		expect(length('curve c = (t - sin(t), 1 - cos(t)) for t from 0 to 2*pi', 'c')).toBeCloseTo(8, 10);
		expect(length('let n = 3\ncurve c = (t, n*t^2/6) for t from 0 to 2', 'c')).toBeCloseTo(Math.sqrt(5) + Math.asinh(2) / 2, 9);
	});

	it('give points of curves to expressions', () => {
		const text = 'line a = (0, 0) to (10, 0)\ncircle c = around (4, 0) radius 2\npoint p = ';
		const at = (expression: string) => {
			const { points } = model(text + expression);
			return [points[0]!.x, points[0]!.y].map((v) => Number(v.toFixed(9)) + 0);
		};
		expect(at('end(a)')).toEqual([10, 0]);
		expect(at('middle(a)')).toEqual([5, 0]);
		expect(at('along(a, 0.3) + (0, 1)')).toEqual([3, 1]);
		expect(at('centre(c)')).toEqual([4, 0]);
		expect(at('crossing(a, c)')).toEqual([2, 0]);
		expect(at('nearest(c, (4, 9))')).toEqual([4, 2]);
		expect(problems(text + 'centre(a)')[0]).toContain('is no arc or circle');
		expect(problems(text + 'along(a, 2)')[0]).toContain('between 0 and 1');
		expect(problems(text + 'crossing(a, b)')[0]).toContain('nothing is named “b”');
	});

	it.each([
		['arc a = (0, 0) to (10, 0) radius 4', 'the radius is at least 5, found 4'],
		['line l = (0, 0) to (10, 0)\narc a = (10, 0) to (20, 0) tangent l', 'lies straight ahead of “l”'],
		['line l = (0, 0) to (10, 0)\narc a = (3, 3) to (20, 0) tangent l', '“l” has no end at the start of the arc'],
		['polygon p = around (0, 0) sides 2 radius 1', '3 to 10000 sides'],
		['bezier b = (0, 0) to (1, 1)', 'has 3 to 6 points'],
		['bspline b = (0, 0) to (1, 1) degree 3', 'degree 3 needs at least 4 control points'],
		['rectangle r = (0, 0) to (4, 0) to (8, 0)', 'lie on one line'],
		['curve c = (t, 1/t) for t from -1 to 3', 'no value at t = 0'],
		['curve c = (t, floor(t)) for t from 0 to 3', '“floor” cannot follow the parameter “t”'],
		['curve c = (t, u) for t from 0 to 3', 'nothing is named “u”'],
		['ellipse e = around (0, 0) radii 0, 1', 'a radius is above zero'],
		['spline s = (0, 0) to (1, 1) to (2, 0) closed ends natural', 'has no ends']
	])('refuse %s', (text, message) => {
		expect(problems(text).join('\n')).toContain(message);
	});

	it('lets names be what is a word of the language only elsewhere', () => {
		const text =
			'line left = (0, 0) to (1, 0)\nrectangle box = (2, 0) to (3, 1)\npoint inside = (5, 5)\nlet count = 3\ngroup ends = left, box.top as wall';
		expect(problems(text)).toEqual([]);
	});
});

describe('building statements', () => {
	it('mirror across a line, two points, or an axis', () => {
		const base = 'line a = (1, 1) to (3, 2)\nline m = (0, 0) to (1, 1)\n';
		expect(end(curve(`${base}copy b = a mirrored across m`, 'b'))).toEqual({
			x: expect.closeTo(2, 12),
			y: expect.closeTo(3, 12)
		});
		expect(end(curve(`${base}copy b = a mirrored across x`, 'b'))).toEqual({ x: 3, y: -2 });
		expect(end(curve(`${base}copy b = a mirrored across (0, 5) to (1, 5)`, 'b'))).toEqual({ x: 3, y: 8 });
		expect(end(curve(`frame axisymmetric about y\n${base}copy b = a mirrored across axis`, 'b'))).toEqual({ x: -3, y: 2 });
		expect(problems(`${base}copy b = a mirrored across axis`)[0]).toContain('a planar recipe has no axis');
	});

	it('name copies after what they copy', () => {
		const m = model(
			'rectangle r = (0, 0) to (4, 3)\ncircle c = around (1, 1) radius 0.5\nrepeat row = r, c by (10, 0) count 3\ncopy up = r mirrored across x'
		);
		expect([...m.curvesByName.keys()]).toEqual(
			expect.arrayContaining(['row', 'row.r_bottom_2', 'row.c_3', 'up', 'up.bottom', 'up.left'])
		);
		expect(m.curvesByName.get('row')).toHaveLength(10);
	});

	it('move, turn and scale in place, or a copy', () => {
		expect(end(curve('line a = (0, 0) to (1, 0)\nmove a by (2, 3)', 'a'))).toEqual({ x: 3, y: 3 });
		expect(end(curve('line a = (0, 0) to (1, 0)\nturn a by 90 deg about (1, 1)', 'a'))).toEqual({ x: 2, y: 1 });
		expect(end(curve('line a = (0, 0) to (1, 0)\ncopy b = a scaled 3', 'b'))).toEqual({ x: 3, y: 0 });
		expect(end(curve('line a = (0, 0) to (1, 0)\ncopy b = a scaled 3', 'a'))).toEqual({ x: 1, y: 0 });
	});

	it('trim, extend, split, join', () => {
		expect(length('line a = (0, 0) to (10, 0)\nline k = (4, -1) to (4, 1)\ntrim a to k keep (8, 0)', 'a')).toBe(6);
		expect(length('circle a = around (0, 0) radius 2\nline k = (0, -5) to (0, 5)\ntrim a to k keep (2, 0)', 'a')).toBeCloseTo(
			2 * Math.PI,
			11
		);
		expect(length('line a = (0, 0) to (4, 3)\nline k = (8, -9) to (8, 9)\nextend a to k', 'a')).toBeCloseTo(10, 11);
		expect(length('arc a = (1, 0) to (0, 1) around (0, 0)\nline k = (-9, 0) to (0, 0)\nextend a to k', 'a')).toBeCloseTo(
			Math.PI,
			9
		);
		expect(curve('circle a = around (0, 0) radius 2\nsplit a into 4', 'a').corners).toHaveLength(4);
		expect(curve('line a = (0, 0) to (10, 0)\nsplit a at 0.25, (5, 0)', 'a').corners).toHaveLength(2);
		expect(length('line a = (0, 0) to (3, 0)\nline b = (7, 3) to (3, 0)\nline c = (7, 3) to (7, 9)\njoin j = c, a, b', 'j')).toBe(
			14
		);
	});

	it('cut a domain square to a curve, or at an angle', () => {
		const base = 'line a = (0, 0) to (10, 0)\nline b = (0, 6) to (10, 6)\n';
		expect(length(`${base}cut c = a at 0.3 to b`, 'c')).toBeCloseTo(6, 11);
		expect(end(curve(`${base}cut c = (2, 1) to b`, 'c'))).toEqual({ x: expect.closeTo(2, 12), y: expect.closeTo(6, 12) });
		expect(end(curve(`${base}cut c = (2, 0) to b heading 45 deg`, 'c'))).toEqual({
			x: expect.closeTo(8, 10),
			y: expect.closeTo(6, 10)
		});
		expect(end(curve(`${base}cut c = (2, 1) to b turned -45 deg`, 'c')).x).toBeCloseTo(7, 10);
		expect(problems(`${base}cut c = (2, 0) to b heading -45 deg`)[0]).toContain('does not meet this curve');
	});

	it('draw the far boundary in lengths of the body', () => {
		const base = 'ellipse foil = around (1, 0) radii 1, 0.2\n';
		expect(length(`${base}far f = circle around foil by 10`, 'f')).toBeCloseTo(40 * Math.PI, 9);
		expect(length(`${base}far f = box around foil by 10`, 'f.top')).toBeCloseTo(40, 10);
		expect(length(`${base}far f = wake around foil by 10`, 'f.left')).toBeCloseTo(20 * Math.PI, 9);
	});

	it.each([
		['line a = (0, 0) to (1, 0)\nline b = (0, 5) to (1, 5)\njoin j = a, b', '“b” does not meet the chain of the others'],
		[
			'line a = (0, 0) to (1, 0)\nline b = (1, 0) to (1, 5)\njoin j = a, b\nline c = end(a) to (9, 9)',
			'this curve was joined into “j”'
		],
		['rectangle r = (0, 0) to (4, 3)\nsplit r into 2', '“r” names 4 curves; take one of them, like “r.bottom”'],
		['rectangle r = (0, 0) to (4, 3)\nfillet f = r.bottom[1] with r.right radius 1', 'takes whole curves'],
		['rectangle r = (0, 0) to (4, 3)\noffset o = r.bottom by 1 inside', 'the chain is open'],
		['line a = (0, 0) to (1, 0)\nrepeat r = a by (1, 0) count 1.5', 'whole number from 2 to 10000'],
		['line a = (0, 0) to (1, 0)\nscale a by 0', 'a scale of zero'],
		['line a = (0, 0) to (1, 0)\nsplit a at (0.5, 3)', 'is 3 away from “a”'],
		['circle a = around (0, 0) radius 1\nline b = (0, 0) to (0, 5)\ntrim a to b keep (1, 0)', 'only once'],
		['circle a = around (0, 0) radius 1\nline b = (3, 0) to (3, 5)\nextend a to b', 'has no end to extend'],
		['line a = (0, 0) to (1, 0)\nmove b by (1, 0)', 'nothing is named “b”']
	])('refuse %s', (text, message) => {
		expect(problems(text).join('\n')).toContain(message);
	});
});

describe('a statement tried out', () => {
	it('shows what it would draw, or why it cannot, and leaves the model alone', () => {
		const m = model('rectangle r = (0, 0) to (40, 20)');
		const before = m.curves.map((c) => curveLength(c));
		const tried = tryStatement(m, 'fillet f = r.bottom with r.right radius 5');
		expect('curves' in tried && tried.curves.map((c) => Number(curveLength(c).toFixed(6)))).toEqual([35, 15, 7.853982]);
		expect(m.curves.map((c) => curveLength(c))).toEqual(before);
		expect(tryStatement(m, 'fillet f = r.bottom with r.right radius 50')).toEqual({
			error: expect.stringContaining('does not fit')
		});
		expect(tryStatement(m, 'fillet f = r.bottom')).toEqual({ error: expect.stringContaining('too early') });
	});
});

describe('outlines from files', () => {
	const lines = Uint32Array.of(2, 3, 4, 5);
	const outline = {
		x: Float64Array.of(0, 1, 2, 3),
		y: Float64Array.of(0, 5, 0, 0),
		lines,
		columns: [0, 1, 2].map((k) => Float64Array.of(k, k + 1, k + 2, k + 3))
	};
	const files = { 'w.csv': { outlines: [outline] } };

	it('leave rows out, choose columns, and are placed', () => {
		expect(curveLength(curve('polyline p = from "w.csv" without 3', 'p', files))).toBe(3);
		expect(pointAt(curve('polyline p = from "w.csv" columns 2, 3', 'p', files), 0)).toEqual({ x: 1, y: 2 });
		expect(end(curve('polyline p = from "w.csv" scaled 2 turned 90 deg moved (1, 1)', 'p', files))).toEqual({ x: 1, y: 7 });
		expect(problems('polyline p = from "w.csv" without 9', files)[0]).toContain('line 9 of “w.csv” holds no point');
		expect(problems('polyline p = from "w.csv" columns 2, 7', files)[0]).toContain(
			'has 3 columns of numbers; there is no column 7'
		);
		expect(problems('drawing d = from "w.csv"', files)[0]).toContain('holds coordinates');
	});
});
