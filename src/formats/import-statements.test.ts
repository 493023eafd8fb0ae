import { describe, expect, test } from 'vitest';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import { evaluateRecipe } from '../core/recipe/model/evaluate.ts';
import { readFileOfRecipe } from './read-file.ts';
import {
	placingClauses,
	regionsOfDrawing,
	withDrawing,
	withOutlines,
	withSizesFrom,
	type DrawingImport
} from './import-statements.ts';

const empty = parseRecipe('recipe 1\nunits mm\n');
const unplaced = { scaled: '', turned: '', moved: '' };
const rows = { columns: [1, 2], corners: '', within: '', ...unplaced };
const added = (text: string) => text.split('\n').slice(2).filter(Boolean);

const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20">
	<g id="inlet"><path d="M0 0h20v20h-20z" fill="black"/></g><g id="other"><path d="M25 5h10v10h-10z" fill="none" stroke="black"/></g>
</svg>`;
async function drawn(changes: Partial<DrawingImport> = {}): Promise<DrawingImport> {
	const file = await readFileOfRecipe(new TextEncoder().encode(svg));
	if (!('drawing' in file)) throw new Error('no drawing');
	const layers = [...new Set(file.drawing.curves.map((c) => c.layer))];
	return {
		...{ file: 'plate.svg', drawing: file.drawing, layers, material: 'all', withGroups: true, units: 'mm', ...unplaced },
		...changes
	};
}

describe('the statements of an import', () => {
	test('angles are in degrees where no unit is typed, pairs get their brackets', () => {
		expect(placingClauses({ scaled: ' 2 ', turned: '-1.5e1', moved: '3, w/2' })).toBe(
			' scaled 2 turned -1.5e1 deg moved (3, w/2)'
		);
		expect(placingClauses({ scaled: '', turned: '0.2 rad', moved: 'origin' })).toBe(' turned 0.2 rad moved origin');
		expect(placingClauses(unplaced)).toBe('');
	});

	test('each outline of a file gets a curve of a free name', () => {
		const recipe = parseRecipe('recipe 1\nunits mm\npolyline outline_1 = (0, 0) to (1, 0)\n');
		const text = withOutlines(recipe, 'a.csv', 2, { ...rows, kind: 'spline', columns: [1, 3], corners: '60', within: '0.1' });
		expect(added(text).slice(1)).toEqual([
			'spline outline_2 = from "a.csv" outline 1 columns 1, 3 thinned within 0.1 corners above 60 deg',
			'spline outline_3 = from "a.csv" outline 2 columns 1, 3 thinned within 0.1 corners above 60 deg'
		]);
		expect(added(withOutlines(empty, 'a.csv', 1, { ...rows, kind: 'polyline' }))).toEqual(['polyline outline_1 = from "a.csv"']);
	});

	test('a drawing comes with regions, fills and groups that its own curves bear out', async () => {
		const wanted = await drawn();
		const text = withDrawing(empty, wanted);
		const model = evaluateRecipe(parseRecipe(text), { 'plate.svg': { drawing: wanted.drawing } });
		expect(model.findings).toEqual([]);
		expect(regionsOfDrawing(empty, wanted)).toMatchObject({ outlines: 2, filled: 2 });
		expect(text).toMatch(/^group inlet = part1\.inlet as inflow$/m);
		expect(text).toMatch(/^group other = part1\.other as wall$/m);
	});

	test('only the chosen layers come, without groups where none are wanted; a group of a taken name gets another', async () => {
		const wanted = await drawn({ layers: ['inlet'], withGroups: false, material: 'none' });
		expect(added(withDrawing(empty, wanted))).toEqual(['drawing part1 = from "plate.svg" only "inlet"']);
		const recipe = parseRecipe('recipe 1\nunits mm\nline a = (0, 0) to (1, 0)\ngroup inlet = a\n');
		expect(withDrawing(recipe, { ...wanted, withGroups: true })).toMatch(/^group part1_inlet = part1\.inlet as inflow$/m);
	});

	test('a field whose name is no word stands in quotes', () => {
		expect(added(withSizesFrom(empty, 'r.vtu', 'wall shear', 2.5))).toEqual(['size from "r.vtu" field "wall shear" error 0.025']);
		expect(added(withSizesFrom(empty, 'r.csv', undefined, 1))).toEqual(['size from "r.csv" error 0.01']);
	});
});
