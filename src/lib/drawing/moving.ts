import { linesOf } from '../../core/recipe/language/statement.ts';
import { point } from '../../core/recipe/statements/point.ts';
import { formatNumber, isLiteral } from '../../core/recipe/language/literals.ts';
import { setCoordinate } from '../../core/recipe/edits/intents.ts';
import { parseRecipe } from '../../core/recipe/language/parse.ts';
import type { Recipe } from '../../core/recipe/language/recipe.ts';

function pairOf(recipe: Recipe, name: string) {
	for (const { statement } of linesOf(recipe.lines, point))
		if (statement.name.text === name) return statement.at.kind === 'pair' ? statement.at : undefined;
	return undefined;
}

/** Why a point cannot be dragged: a coordinate that is a formula is changed where it is written. Undefined when it can. */
export function whyLocked(recipe: Recipe, name: string): string | undefined {
	const pair = pairOf(recipe, name);
	if (!pair) return `${name} follows another point; change it in the ledger or the recipe`;
	if (!isLiteral(pair.x) && !isLiteral(pair.y)) return `both coordinates of ${name} are formulas; change them in the ledger`;
	return undefined;
}

/** The recipe with a point at another place; a coordinate that is a formula stays. */
export function movePoint(recipe: Recipe, name: string, x: number, y: number): string {
	let current = recipe;
	for (const [axis, value] of [
		['x', x],
		['y', y]
	] as const) {
		const pair = pairOf(current, name);
		if (pair && isLiteral(pair[axis])) current = parseRecipe(setCoordinate(current, name, axis, formatNumber(value)));
	}
	return current.text;
}
