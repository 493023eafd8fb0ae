import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addStatement, moveStatement, removeStatement, renameEverywhere, setClause } from './edits.ts';
import { applyEdits } from '../../text/edit.ts';
import {
	deleteThings,
	freeName,
	labelPieces,
	setCoordinate,
	setDivision,
	setFill,
	setGroupColour,
	setParameter,
	setSize,
	unlabelPieces
} from './intents.ts';
import { parseRecipe } from '../language/parse.ts';

const text = `recipe 1
# a duct
units mm
let D = 80   # bore
point a = (0, D/2)
line inlet = a to (10, 0)   # west
line outlet = (20, 0) to (20, 40)

divide inlet, outlet into 40 bias 12 toward a
fill water structured
group inlet = inlet as inflow
`;
const recipe = parseRecipe(text);
const names = ['inlet', 'outlet'];

describe('minimal edits', () => {
	it('replace one clause and leave every other byte', () => {
		const line = recipe.lines.find((l) => l.statement?.kind === 'divide')!;
		const after = applyEdits(text, setClause(line, 'count', 'into 60'));
		expect(after).toBe(text.replace('into 40', 'into 60'));
		expect(applyEdits(text, setClause(line, 'spacing', null))).toBe(text.replace(' bias 12 toward a', ''));
	});

	it('put a missing clause where it belongs', () => {
		const source = 'group g = a colour sky  # end';
		const after = applyEdits(source, setClause(parseRecipe(source).lines[0]!, 'kind', 'as wall'));
		expect(after).toBe('group g = a as wall colour sky  # end');
	});

	it('add a statement behind its kind, keeping comments with their lines', () => {
		expect(applyEdits(text, addStatement(recipe, 'let n = 3'))).toBe(text.replace('# bore\n', '# bore\nlet n = 3\n'));
		expect(applyEdits(text, addStatement(recipe, 'size 2'))).toContain('fill water structured\nsize 2\n');
		expect(applyEdits('recipe 1', addStatement(parseRecipe('recipe 1'), 'size 2'))).toBe('recipe 1\n\nsize 2\n');
		expect(applyEdits('', addStatement(parseRecipe(''), 'size 2'))).toBe('size 2\n');
	});

	it('remove a statement with its line, but not with its comment', () => {
		const index = (kind: string) => recipe.lines.findIndex((l) => l.statement?.kind === kind);
		expect(applyEdits(text, removeStatement(recipe, index('units')))).toBe(text.replace('units mm\n', ''));
		expect(applyEdits(text, removeStatement(recipe, index('let')))).toContain('\n   # bore\n');
	});

	it('move a statement up and down', () => {
		const three = 'let a = 1\nlet b = 2\nlet c = 3';
		const parsed = parseRecipe(three);
		expect(applyEdits(three, moveStatement(parsed, 0, 3))).toBe('let b = 2\nlet c = 3\nlet a = 1\n');
		expect(applyEdits(three, moveStatement(parsed, 2, 0))).toBe('let c = 3\nlet a = 1\nlet b = 2\n');
		expect(moveStatement(parsed, 1, 2)).toEqual([]);
	});

	it('rename a thing with all its uses, each in its own space of names', () => {
		expect(applyEdits(text, renameEverywhere(recipe, 'value', 'inlet', 'west'))).toBe(
			text.replace('line inlet', 'line west').replace('divide inlet', 'divide west').replace('= inlet as', '= west as')
		);
		expect(applyEdits(text, renameEverywhere(recipe, 'group', 'inlet', 'west'))).toBe(text.replace('group inlet', 'group west'));
		expect(applyEdits(text, renameEverywhere(recipe, 'value', 'D', 'bore'))).toBe(
			text.replace('let D', 'let bore').replace('D/2', 'bore/2')
		);
	});

	it('refuse to overlap', () => {
		expect(() =>
			applyEdits('abcdef', [
				{ from: 0, to: 3, insert: '' },
				{ from: 2, to: 4, insert: '' }
			])
		).toThrow(/overlap/);
	});

	it('leave comments and blank lines alone, whatever count is set', () => {
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 1e6 }), (n) => {
				const after = setDivision(recipe, names, 'count', `into ${n}`, names);
				expect(after.replace(`into ${n}`, 'into 40')).toBe(text);
			})
		);
	});
});

describe('edits in the words of the desk', () => {
	it('overrule a shared statement for one piece by a later one', () => {
		const after = setDivision(recipe, ['outlet'], 'count', 'into 50', names);
		expect(after).toContain('divide inlet, outlet into 40 bias 12 toward a\ndivide outlet into 50\n');
		expect(setDivision(parseRecipe(after), ['outlet'], 'count', 'into 55', names)).toContain('\ndivide outlet into 55\n');
	});

	it('take a whole statement away with its last clause', () => {
		const after = setDivision(recipe, ['outlet'], 'count', 'into 50', names);
		expect(setDivision(parseRecipe(after), ['outlet'], 'count', null, names)).toBe(text);
	});

	it('change a statement about a whole curve only when all of its pieces are meant', () => {
		const source = 'divide wall into 10\n';
		const all = ['wall[1]', 'wall[2]'];
		expect(setDivision(parseRecipe(source), all, 'count', 'into 20', all)).toBe('divide wall into 20\n');
		expect(setDivision(parseRecipe(source), ['wall[2]'], 'count', 'into 20', all)).toBe(
			'divide wall into 10\ndivide wall[2] into 20\n'
		);
	});

	it('make one piece even where others stay biased', () => {
		expect(setDivision(recipe, ['outlet'], 'spacing', null, names)).toContain('divide outlet bias 1 toward both');
		expect(setDivision(recipe, names, 'spacing', null, names)).toContain('divide inlet, outlet into 40\n');
	});

	it('change the fill of a region in place', () => {
		expect(setFill(recipe, ['water'], 'triangles', 'size 2')).toBe(
			text.replace('fill water structured', 'fill water triangles size 2')
		);
		const rounded = setFill(recipe, ['water'], 'structured', 'into 8 smooth');
		expect(rounded).toBe(text.replace('fill water structured', 'fill water structured into 8 smooth'));
		expect(setFill(parseRecipe(rounded), ['water'], 'structured')).toBe(text);
		expect(setFill(recipe, ['steel'], 'triangles')).toContain('fill water structured\nfill steel triangles\n');
	});

	it('set sizes, parameters and coordinates', () => {
		expect(setSize(parseRecipe('size 3 growth 1.2\n'), 'growth', null)).toBe('size 3\n');
		expect(setSize(recipe, 'size', '4')).toContain('\nsize 4\n');
		expect(setParameter(recipe, 'D', '90')).toBe(text.replace('D = 80', 'D = 90'));
		expect(setCoordinate(recipe, 'a', 'x', '5')).toBe(text.replace('(0, D/2)', '(5, D/2)'));
	});

	it('keep an edge in one group', () => {
		const after = labelPieces(recipe, 'west', ['inlet'], 'wall');
		expect(after).not.toContain('group inlet');
		expect(after).toContain('group west = inlet as wall');
		const both = labelPieces(parseRecipe(after), 'west', ['outlet']);
		expect(both).toContain('group west = inlet, outlet as wall');
		expect(unlabelPieces(parseRecipe(both), 'west', ['inlet'])).toContain('group west = outlet as wall');
		expect(setGroupColour(parseRecipe(both), ['west'], 'sky')).toContain('as wall colour sky');
	});

	it('delete a curve with what lists say of it', () => {
		const after = deleteThings(recipe, { values: ['inlet'] });
		expect(after).not.toContain('line inlet');
		expect(after).toContain('divide outlet into 40');
		expect(after).not.toContain('group inlet');
	});

	it('find a free name', () => {
		expect(freeName(parseRecipe('point p1 = (0, 0)\npoint p3 = (1, 0)'), 'p')).toBe('p2');
	});

	it('add nothing inside a part, and delete what a placement brings with it', () => {
		const parts = parseRecipe(
			'recipe 1\nregion r at (1, 1)\npart pin\n  circle c = around (0, 0) radius 1\n  region body at (0, 0)\n  fill body triangles\nend\nplace row = pin at (5, 5) by (5, 0) count 2\ndivide row_2.c into 9\ngroup g = region r, row_1.body\n'
		);
		const added = applyEdits(parts.text, addStatement(parts, 'fill r triangles'));
		expect(added).toContain('  fill body triangles\nend\n');
		expect(added).toContain('divide row_2.c into 9\n\nfill r triangles\n');
		expect(applyEdits(parts.text, addStatement(parts, 'guide line l = (0, 0) to (1, 0)'))).toContain('count 2\nguide line l');
		const after = deleteThings(parts, { values: ['row'] });
		expect(after).not.toContain('row');
		expect(after).toContain('group g = region r\n');
	});

	it('keep the names of a part and those outside it apart', () => {
		const text =
			'recipe 1\nlet r = 2\npart pin with r = 4\n  circle head = around (0, 0) radius r\nend\nplace p = pin at (r, 0) with r = r\nplace row = pin at (0, 9) by (9, 0) count 2\ndivide p.head, row_2.head, pin.head into 9\n';
		const parts = parseRecipe(text);
		expect(applyEdits(text, renameEverywhere(parts, 'value', 'r', 'rad'))).toBe(
			text.replace('let r', 'let rad').replace('(r, 0) with r = r', '(rad, 0) with r = rad')
		);
		expect(applyEdits(text, renameEverywhere(parts, 'value', 'r', 'rad', 'pin'))).toBe(
			text.replace('with r = 4', 'with rad = 4').replace('radius r', 'radius rad').replace('with r = r', 'with rad = r')
		);
		expect(applyEdits(text, renameEverywhere(parts, 'value', 'head', 'rim', 'pin'))).toBe(text.replaceAll('head', 'rim'));
		expect(deleteThings(parts, { values: ['r'] })).toContain('circle head = around (0, 0) radius r');
	});
});
