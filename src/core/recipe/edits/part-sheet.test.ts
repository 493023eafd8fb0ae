import { describe, expect, it } from 'vitest';
import { addStatements } from './intents.ts';
import { keptInPart, sheetOf } from './part-sheet.ts';
import { parseRecipe } from '../language/parse.ts';
import { evaluateRecipe } from '../model/evaluate.ts';

const recipe = parseRecipe(`recipe 1
title "plate"
units cm

part rib
  line l = (0, 0) to (1, 0)
end

part pin with r = 4.5, tail = 2 * 6   # as cast
  # the head
  circle head = around (0, 0) radius r
  let gap = 2
  place foot = rib at (0, gap)

  region body at (0, 0)
end

place p = pin at (30, 5)   with r = 5
`);

const sheet = sheetOf(recipe, 'pin')!;

describe('a part as a sheet of its own', () => {
	it('is a recipe that holds by itself, its parameters with the values that they have by themselves', () => {
		expect(sheet).toBe(`recipe 1
units cm
part rib
  line l = (0, 0) to (1, 0)
end

let r = 4.5
let tail = 2 * 6
# The part pin. What stands above are its parameters.
# the head
circle head = around (0, 0) radius r
let gap = 2
place foot = rib at (0, gap)

region body at (0, 0)
`);
		const model = evaluateRecipe(parseRecipe(sheet), {});
		expect(model.findings).toEqual([]);
		expect(model.parameters.map(({ name }) => name)).toEqual(['r', 'tail', 'gap']);
	});

	it('changes nothing of the recipe as long as nothing of it is changed', () => {
		expect(keptInPart(recipe, 'pin', sheet)).toBe(recipe.text);
		expect(sheetOf(recipe, 'rib')).toBeDefined();
		expect(keptInPart(recipe, 'rib', sheetOf(recipe, 'rib')!)).toBe(recipe.text);
	});

	it('takes back what is drawn, wherever the desk puts it, and leaves all else alone', () => {
		for (const source of ['line m = (3, 3) to (4, 4)', 'point q = (7, 8)', 'fill body triangles size 0.7', 'let more = 12']) {
			const kept = keptInPart(recipe, 'pin', addStatements(parseRecipe(sheet), [source]));
			expect(kept).toContain(source.replace(/^let more/, 'more'));
			expect(kept.startsWith(recipe.text.slice(0, recipe.text.indexOf('part pin')))).toBe(true);
			expect(kept.endsWith(recipe.text.slice(recipe.text.indexOf('end\n\nplace p')))).toBe(true);
			expect(evaluateRecipe(parseRecipe(kept), {}).findings).toEqual([]);
		}
	});

	it('has its parameters where they are said, changed, added and taken out', () => {
		const changed = sheet.replace('let r = 4.5', 'let r = 4.75\nlet s = r / 2').replace('let tail = 2 * 6\n', '');
		expect(keptInPart(recipe, 'pin', changed)).toContain('part pin with r = 4.75, s = r / 2   # as cast\n');
		const kept = keptInPart(recipe, 'pin', sheet.replace(/^let (r|tail).*\n/gm, ''));
		expect(kept).toContain('part pin   # as cast\n');
	});

	it('keeps a number with a range, or one that needs a place, in the part itself', () => {
		const changed = sheet.replace('let tail = 2 * 6', 'let tail = 12 range 10 to 20');
		const kept = keptInPart(recipe, 'pin', changed);
		expect(kept).toContain('part pin with r = 4.5   # as cast\n  let tail = 12 range 10 to 20\n');
		expect(evaluateRecipe(parseRecipe(kept), {}).findings).toEqual([]);
	});

	it('takes other parts and units that are changed in it back to their places', () => {
		const changed = sheet.replace('to (1, 0)', 'to (2, 0)').replace('units cm', 'units mm');
		const kept = keptInPart(recipe, 'pin', changed);
		expect(kept).toContain('part rib\n  line l = (0, 0) to (2, 0)\nend');
		expect(kept).toContain('units mm');
	});

	it('keeps what is remarked beside its parameters', () => {
		const changed = sheet.replace('let r = 4.5', '# of the catalogue\nlet r = 4.5   # or 5');
		expect(keptInPart(recipe, 'pin', changed)).toContain('# as cast\n  # of the catalogue\n  # or 5\n  # the head\n');
	});

	it('does not need its mark', () => {
		const kept = keptInPart(recipe, 'pin', sheet.replace(/^# The part.*\n/m, ''));
		expect(kept).toContain('part pin with r = 4.5, tail = 2 * 6   # as cast\n');
		expect(kept).toContain('  circle head = around (0, 0) radius r\n');
		expect(evaluateRecipe(parseRecipe(kept), {}).findings).toEqual([]);
	});

	it('is none of a part from a file, nor of what is no part', () => {
		expect(sheetOf(parseRecipe('part vane from "vane.tessellon"\n'), 'vane')).toBeUndefined();
		expect(sheetOf(recipe, 'p')).toBeUndefined();
	});

	it('of an empty part takes the first curve', () => {
		const empty = parseRecipe('recipe 1\npart new_part\nend\n');
		const drawn = addStatements(parseRecipe(sheetOf(empty, 'new_part')!), ['circle c = around (0, 0) radius 2']);
		expect(keptInPart(empty, 'new_part', drawn)).toBe('recipe 1\npart new_part\n  circle c = around (0, 0) radius 2\nend\n');
	});
});
