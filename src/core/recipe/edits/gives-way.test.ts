import { describe, expect, it } from 'vitest';
import { labelPieces, otherGroups, setLayers } from './intents.ts';
import { parseRecipe } from '../language/parse.ts';
import { evaluateRecipe } from '../model/evaluate.ts';

describe('a fourth number of layers', () => {
	const recipe = parseRecipe('recipe 1\nline a = (0, 0) to (1, 0)\nlayers on a first 0.1 growth 1.2 count 8\n');
	const layers = (text: string) => text.split('\n')[2];

	it('takes the place of the one that follows best', () => {
		expect(layers(setLayers(recipe, 2, 'thickness', '0.5'))).toBe('layers on a first 0.1 growth 1.2 thickness 0.5');
		expect(layers(setLayers(recipe, 2, 'growth', '1.3'))).toBe('layers on a first 0.1 growth 1.3 count 8');
	});

	it('takes the place of the one that is chosen: any three can be said', () => {
		const text = setLayers(recipe, 2, 'thickness', '3', 'first');
		expect(layers(text)).toBe('layers on a growth 1.2 count 8 thickness 3');
		expect(evaluateRecipe(parseRecipe(text), {}).findings).toEqual([]);
		// One that is not there cannot give way.
		expect(layers(setLayers(recipe, 2, 'thickness', '0.5', 'last'))).toBe('layers on a first 0.1 growth 1.2 thickness 0.5');
	});
});

describe('a label that is given', () => {
	const recipe = parseRecipe('recipe 1\ngroup a = p, q as wall\ngroup b = r as symmetry\nbaffle c = s as wall\n');

	it('says from which groups it takes pieces, and which are left with none', () => {
		expect(otherGroups(recipe, labelPieces(recipe, 'd', ['p', 'r']), 'd')).toEqual({ gone: ['b'], less: ['a'] });
		expect(otherGroups(recipe, labelPieces(recipe, 'd', ['s']), 'd')).toEqual({ gone: ['c'], less: [] });
		expect(otherGroups(recipe, labelPieces(recipe, 'a', ['t']), 'a')).toEqual({ gone: [], less: [] });
	});
});
