import { describe, expect, it } from 'vitest';
import { evaluateRecipe, tryStatement } from '../../../core/recipe/model/evaluate.ts';
import { parseRecipe } from '../../../core/recipe/language/parse.ts';
import { curveLength } from '../../../core/geometry/curve.ts';
import { readGeometryFile } from '../../../formats/geometry-file.ts';
import { picture } from '../file-picture.ts';
import { movePoint, whyLocked } from '../moving.ts';
import { changingTools, drawingTools, toolNamed, tools } from './table.ts';
import { answerOf, type ToolAnswer, type Bench, type Place } from './tool.ts';

const at = (x: number, y: number, more: Partial<Place> = {}): ToolAnswer => ({
	kind: 'place',
	place: { x, y, snap: 'grid', source: `(${x}, ${y})`, ...more }
});
const curves = (...names: string[]): ToolAnswer => ({ kind: 'curves', curves: names });
const number = (source: string): ToolAnswer => ({ kind: 'number', source, value: Number(source) });
const on = (curve: string, x: number, y: number): ToolAnswer => ({ kind: 'curve', curve, x, y });
const text = `point p = (0, 0)
line a = p to (40, 0)
line b = (40, 0) to (40, 30)
line c = (0, 30) to (60, 30)
circle hole = around (20, 15) radius 5`;
const model = evaluateRecipe(parseRecipe(text), {});
const bench: Bench = {
	cursor: undefined,
	part: undefined,
	selected: [],
	curves: model.curves,
	tryOut: (source) => {
		const tried = tryStatement(model, source);
		return 'curves' in tried ? tried.curves : undefined;
	}
};
const make = (tool: string, ...answers: ToolAnswer[]) => toolNamed(tool).make!('n', answers, bench);
const drawn = (source: string | undefined) => {
	const tried = tryStatement(model, source!);
	if ('error' in tried) throw new Error(`${source}: ${tried.error}`);
	return tried.curves.reduce((sum, curve) => sum + curveLength(curve), 0);
};

describe('the tools', () => {
	it('have names, keys and hints of their own', () => {
		const keys = tools.flatMap((t) => t.key ?? []);
		expect(new Set(keys).size).toBe(keys.length);
		expect(new Set(tools.map((t) => t.title)).size).toBe(tools.length);
		expect([...drawingTools, ...changingTools]).toEqual([...tools]);
		for (const tool of tools) expect(tool.hint.length).toBeGreaterThan(10);
		// F fits, T turns the ledger, W walks, the digits change the station: no tool may take them.
		for (const taken of ['F', 'T', 'W', '1']) expect(keys).not.toContain(taken);
	});

	it.each([
		['line', 'line n = (0, 0) to (30, 40)', 50, [at(0, 0), at(30, 40)]],
		['circle', 'circle n = around (1, 1) radius 5', 10 * Math.PI, [at(1, 1), at(4, 5)]],
		['circle', 'circle n = around (1, 1) radius 2', 4 * Math.PI, [at(1, 1), number('2')]],
		['arc', 'arc n = (0, 0) to (10, 0) radius 5', 5 * Math.PI, [at(0, 0), at(10, 0), number('5')]],
		['arc', 'arc n = (0, 0) to (10, 0) through (5, 5)', 5 * Math.PI, [at(0, 0), at(10, 0), at(5, 5)]],
		['arc-around', 'arc n = (5, 0) to (0, 5) around (0, 0)', 2.5 * Math.PI, [at(0, 0), at(5, 0), at(0, 9)]],
		['arc-around', 'arc n = (0, 5) to (3, 4) around (0, 0) clockwise', undefined, [at(0, 0), at(0, 5), at(3, 4)]],
		['rectangle', 'rectangle n = (0, 0) to (4, 3)', 14, [at(0, 0), at(4, 3)]],
		['ellipse', 'ellipse n = around (0, 0) radii 5, 2 turned 90 deg', undefined, [at(0, 0), at(0, 5), at(2, 1)]],
		['polygon', 'polygon n = around (0, 0) sides 6 radius 2', 12, [at(0, 0), at(2, 0), number('6')]],
		[
			'spline',
			'spline n = (0, 0) to (3, 4)',
			5,
			[{ kind: 'places', places: [at(0, 0), at(3, 4)].map((a) => answerOf('place', a).place) }]
		],
		[
			'fillet',
			'fillet n = a with b near (40, 0) radius 3',
			undefined,
			[{ kind: 'corner', first: 'a', second: 'b', x: 40, y: 0 }, number('3')]
		],
		[
			'chamfer',
			'chamfer n = a with b near (40, 0) lengths 3, 4',
			undefined,
			[{ kind: 'corner', first: 'a', second: 'b', x: 40, y: 0 }, number('3, 4')]
		],
		['trim', 'trim hole to a keep (1, 2)', undefined, [on('a', 5, 0), on('hole', 1, 2)]],
		['extend', 'extend b to c', undefined, [on('b', 40, 20), on('c', 50, 30)]],
		['split', 'split a at 0.25', 40, [at(10, 0, { on: { curve: 'a', share: 0.25 }, snap: 'on curve' })]],
		['cut', 'cut n = a at 0.25 to c', 30, [at(10, 0, { on: { curve: 'a', share: 0.25 }, snap: 'on curve' }), on('c', 10, 30)]],
		['cut', 'cut n = p to c', 30, [at(0, 0, { point: 'p', source: 'p', snap: 'point' }), on('c', 10, 30)]],
		['join', 'join n = a, b', 70, [curves('a', 'b')]],
		['mirror', 'copy n = a, b mirrored across c', 70, [curves('a', 'b'), { kind: 'mirror', source: 'c' }]],
		['move', 'move a by (5, 5)', 40, [curves('a'), at(1, 1), at(6, 6)]],
		['move', 'move a by (5, 5) - p', 40, [curves('a'), at(0, 0, { point: 'p', source: 'p' }), at(5, 5)]],
		['turn', 'turn a by 30 deg about (0, 0)', 40, [curves('a'), at(0, 0), number('30')]],
		['scale', 'scale a by 2 about (0, 0)', 80, [curves('a'), at(0, 0), number('2')]],
		['repeat', 'repeat n = hole by (20, 0) count 3', 20 * Math.PI, [curves('hole'), at(0, 0), at(20, 0), number('3')]],
		['ring', 'repeat n = hole about (0, 0) count 4', 30 * Math.PI, [curves('hole'), at(0, 0), number('4')]],
		['offset', 'offset n = a by 2 left', 40, [curves('a'), number('2'), at(10, 9)]],
		['offset', 'offset n = a by 2 right', 40, [curves('a'), number('2'), at(10, -1)]],
		['far', 'far n = box around hole by 10', 800, [curves('hole'), number('10')]],
		['far-circle', 'far n = circle around hole by 10', undefined, [curves('hole'), number('10')]],
		['far-wake', 'far n = wake around hole by 10', undefined, [curves('hole'), number('10')]]
	] as [string, string, number | undefined, ToolAnswer[]][])('%s writes “%s”', (tool, statement, length, answers) => {
		expect(make(tool, ...answers)).toBe(statement);
		if (length !== undefined) expect(drawn(statement)).toBeCloseTo(length, 6);
		else if (tool !== 'trim' && tool !== 'extend') expect(drawn(statement)).toBeGreaterThan(0);
	});
});

describe('dragging a point', () => {
	const recipe = parseRecipe('let w = 4\npoint a = (1, 2)  # corner\npoint b = (w, 2)\npoint c = a + (1, 1)\npoint d = (w, 2*w)');

	it('rewrites only coordinates that are numbers', () => {
		expect(movePoint(recipe, 'a', 5, 6)).toContain('point a = (5, 6)  # corner');
		expect(movePoint(recipe, 'b', 5, 6)).toContain('point b = (w, 6)');
		expect(movePoint(recipe, 'c', 5, 6)).toBe(recipe.text);
	});

	it('says why a point stays', () => {
		expect(whyLocked(recipe, 'a')).toBeUndefined();
		expect(whyLocked(recipe, 'b')).toBeUndefined();
		expect(whyLocked(recipe, 'c')).toContain('follows another point');
		expect(whyLocked(recipe, 'd')).toContain('both coordinates of d are formulas');
	});
});

describe('the picture of a file', () => {
	const read = (content: string) => readGeometryFile(new TextEncoder().encode(content));

	it('shows the columns that are chosen', () => {
		const file = read('1 10 5\n2 20 5\n3 20 9\n');
		if (!('outlines' in file)) throw new Error('no outlines');
		expect(picture(file.outlines, [1, 2], undefined, {})!.box).toEqual([1, 10, 3, 20]);
		expect(picture(file.outlines, [2, 3], undefined, {})!.box).toEqual([10, 5, 20, 9]);
	});

	it('shows only the layers that are wanted', () => {
		const file = read(
			'<svg viewBox="0 0 10 10"><g id="a"><rect width="4" height="4"/></g><g id="b"><circle cx="5" cy="5" r="2"/></g></svg>'
		);
		if (!('drawing' in file)) throw new Error('no drawing');
		expect(picture([], [1, 2], file.drawing, { a: true, b: true })!.paths).toHaveLength(2);
		expect(picture([], [1, 2], file.drawing, { a: false, b: true })!.box).toEqual([3, 3, 7, 7]);
		expect(picture([], [1, 2], file.drawing, { a: false, b: false })).toBeUndefined();
	});
});
