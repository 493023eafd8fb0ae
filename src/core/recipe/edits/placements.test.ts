import { describe, expect, it } from 'vitest';
import { applyEdits } from '../../text/edit.ts';
import { parseRecipe } from '../language/parse.ts';
import { evaluateRecipe } from '../model/evaluate.ts';
import { dimensionsOf } from './grips-of.ts';
import { partsOf } from './placements.ts';

const pin =
	'recipe 1\npart pin with r = 2, tail = 3 * 2\n  circle head = around (0, 0) radius r\n  line l = (r, 0) to (r + tail, 0)\nend\n';

function dimensions(text: string) {
	const recipe = parseRecipe(text);
	const model = evaluateRecipe(recipe, {});
	expect(model.findings).toEqual([]);
	return dimensionsOf(model, recipe.lines.length - 1);
}

/** The last line after a dimension is set, or cleared. */
function after(place: string, label: string, source: string | null): string {
	const text = `${pin}${place}`;
	const one = dimensions(text).find((d) => d.label === label)!;
	const changed = applyEdits(text, source === null ? one.clear!() : one.set(source));
	expect(evaluateRecipe(parseRecipe(changed), {}).findings).toEqual([]);
	return changed.slice(pin.length).trimEnd();
}

describe('the numbers of a placement', () => {
	it('are its turn, its count, and every parameter of its part with what it is by itself', () => {
		const list = dimensions(`${pin}place p = pin at (1, 2) turned 30 deg by (9, 0) count 2 with r = 4`);
		expect(list.map(({ label, value, source }) => [label, value, source])).toEqual([
			['turned °', expect.closeTo(30, 12), '30 deg'],
			['count', 2, '2'],
			['r', 4, '4'],
			['tail', 6, '3 * 2']
		]);
		expect(list.map(({ clear }) => clear !== undefined)).toEqual([true, false, true, false]);
	});

	it.each([
		['place p = pin at (1, 2)', 'r', '5', 'place p = pin at (1, 2) with r = 5'],
		['place p = pin at (1, 2) with r = 4', 'tail', '7', 'place p = pin at (1, 2) with r = 4, tail = 7'],
		['place p = pin at (1, 2) with r = (1 + 2)', 'tail', '7', 'place p = pin at (1, 2) with r = (1 + 2), tail = 7'],
		['place p = pin at (1, 2) with r = (1 + 2), tail = 4', 'r', '5', 'place p = pin at (1, 2) with r = 5, tail = 4'],
		['place p = pin at (1, 2) with r = 4, tail = (2)', 'tail', null, 'place p = pin at (1, 2) with r = 4'],
		['place p = pin at (1, 2) with r = (4), tail = 2', 'r', null, 'place p = pin at (1, 2) with tail = 2'],
		['place p = pin at (1, 2) with r = 4', 'r', null, 'place p = pin at (1, 2)'],
		['place p = pin at (1, 2) with r = 4 own groups', 'tail', '1', 'place p = pin at (1, 2) with r = 4, tail = 1 own groups'],
		['place p = pin at (1, 2) own groups', 'turned °', '-15', 'place p = pin at (1, 2) turned -15 deg own groups'],
		['place p = pin at (1, 2) turned 15 deg', 'turned °', null, 'place p = pin at (1, 2)'],
		['place p = pin at (1, 2) by (9, 0) count 2', 'count', '0', 'place p = pin at (1, 2) by (9, 0) count 0']
	])('%s: %s becomes %s', (place, label, source, expected) => {
		expect(after(place, label, source)).toBe(expected);
	});
});

it('the parts of a recipe are listed with their parameters and how often they are placed', () => {
	const recipe = parseRecipe(
		`${pin}part vane from "vane.tessellon" with chord = 30\nplace a = pin at (0, 0)\nplace b = pin at (9, 0)`
	);
	expect(partsOf(recipe)).toEqual([
		{
			name: 'pin',
			line: 1,
			parameters: [
				{ name: 'r', source: '2' },
				{ name: 'tail', source: '3 * 2' }
			],
			placements: 2
		},
		{ name: 'vane', line: 5, file: 'vane.tessellon', parameters: [{ name: 'chord', source: '30' }], placements: 0 }
	]);
});
