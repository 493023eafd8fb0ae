import { describe, expect, it } from 'vitest';
import { parseRecipe } from '../../core/recipe/language/parse.ts';
import type { Recipe } from '../../core/recipe/language/recipe.ts';
import { evaluateRecipe } from '../../core/recipe/model/evaluate.ts';
import type { Model } from '../../core/recipe/model/model.ts';
import type { Desk } from '../desk/desk.svelte.ts';
import { Drafting } from './drafting.svelte.ts';
import type { Place } from './tools/tool.ts';

/** As much of a desk as drawing needs: a text, what it makes, a tool, and a notice. */
class TextDesk {
	tool = 'line';
	notice = '';
	result = {};
	recipe: Recipe;
	newest: Model;
	selection = { clear: () => {} };
	readonly labels: string[] = [];

	constructor(text: string) {
		this.recipe = parseRecipe(text);
		this.newest = evaluateRecipe(this.recipe, {});
	}

	edit(text: string, label: string): void {
		this.recipe = parseRecipe(text);
		this.newest = evaluateRecipe(this.recipe, {});
		this.labels.push(label);
	}

	select(): void {}
	selected = (): string[] => [];
}

function drafting(text = 'recipe 1\n', tool = 'line') {
	const desk = new TextDesk(text);
	desk.tool = tool;
	return { desk, draft: new Drafting(desk as unknown as Desk) };
}
const at = (x: number, y: number): Place => ({ x, y, snap: 'grid', source: `(${x}, ${y})` });
const statements = ({ recipe }: TextDesk) => recipe.text.split('\n').filter((line) => /^(point|line|circle|polyline)/.test(line));

describe('drawing a chain of lines', () => {
	it('makes a point of every place, goes on from each end, and ends where it began', () => {
		const { desk, draft } = drafting();
		for (const [x, y] of [
			[0, 0],
			[10, 0],
			[10, 5],
			[0, 0]
		] as const)
			draft.click(at(x, y), undefined);
		expect(statements(desk).filter((line) => line.startsWith('point'))).toHaveLength(3);
		expect(statements(desk).filter((line) => line.startsWith('line'))).toHaveLength(3);
		expect(desk.newest.curves).toHaveLength(3);
		expect([desk.tool, draft.answers.length]).toEqual(['select', 0]);
	});

	it('takes what is typed: a place, a step, a length with an angle', () => {
		const { desk, draft } = drafting();
		expect(draft.modes).toEqual(['at']);
		expect(draft.type('at', '2', '1')).toBeUndefined();
		expect(draft.modes).toEqual(['at', 'step', 'polar']);
		expect(draft.type('step', '8', '0')).toBeUndefined();
		expect(draft.type('polar', '5', '90')).toBeUndefined();
		const { curves } = desk.newest;
		expect(curves.map((c) => [...c.data.subarray(0, 4)].map((v) => Math.round(v * 1e9) / 1e9))).toEqual([
			[2, 1, 10, 1],
			[10, 1, 10, 6]
		]);
	});

	it('uses the point that stands at typed coordinates, and makes no second one', () => {
		const { desk, draft } = drafting('recipe 1\npoint a = (2, 1)\npoint b = (10, 1)\n');
		draft.type('at', '2', '1');
		draft.type('at', '10.0', '1');
		expect(statements(desk)).toEqual(['point a = (2, 1)', 'point b = (10, 1)', expect.stringMatching(/^line \w+ = a to b$/)]);
	});

	it('keeps a formula, and says what is wrong with one', () => {
		const { desk, draft } = drafting('recipe 1\nlet w = 10\npoint b = (10, 1)\n');
		draft.type('at', '0', '1');
		expect(draft.type('at', 'w/', '1')).toMatch(/expected/);
		expect(draft.type('at', 'wide', '1')).toMatch(/wide/);
		expect(draft.type('at', '', '1')).toBe('a value is missing');
		expect(draft.type('at', 'w', '1')).toBeUndefined();
		expect(desk.recipe.text).toContain('(w, 1)');
	});

	it('is left by escape, and makes no line of no length', () => {
		const { desk, draft } = drafting();
		expect(draft.cancel()).toBe(false);
		draft.click(at(0, 0), undefined);
		draft.click(at(0, 0), undefined);
		expect(draft.answers).toHaveLength(1);
		expect(draft.cancel()).toBe(true);
		expect([statements(desk), draft.answers.length]).toEqual([[], 0]);
	});
});

describe('drawing a circle', () => {
	it('takes a typed radius, and refuses one that is none', () => {
		const { desk, draft } = drafting('recipe 1\n', 'circle');
		draft.click(at(4, 3), undefined);
		expect(draft.modes).toContain('number');
		expect(draft.type('number', '-2', '')).toMatch(/above zero/);
		expect(draft.type('number', '2', '')).toBeUndefined();
		expect(desk.newest.curves).toHaveLength(1);
		expect(desk.newest.curves[0]!.lengths.at(-1)).toBeCloseTo(4 * Math.PI, 9);
	});
});

describe('a curve that is wanted', () => {
	it('is said to be missing where there is none', () => {
		const { desk, draft } = drafting('recipe 1\nline a = (0, 0) to (4, 0)\n', 'split');
		draft.click(at(9, 9), undefined);
		expect(desk.notice).toMatch(/curve/);
		expect(statements(desk)).toHaveLength(1);
	});
});
