import { tryStatement } from '../../core/recipe/model/evaluate.ts';
import type { Model } from '../../core/recipe/model/model.ts';
import type { NameSpace } from '../../core/recipe/language/names.ts';
import { rename } from '../../core/recipe/edits/naming.ts';
import type { Recipe } from '../../core/recipe/language/recipe.ts';

/** What is wrong with a statement that a cell would write, after all others; nothing where it can stand. */
export function wrongWith(model: Model | undefined, source: string): string | undefined {
	// Until the first result there is nothing to check names against; the recipe says what is wrong then.
	if (!model) return undefined;
	const tried = tryStatement(model, source);
	if (!('error' in tried)) return undefined;
	return asSentence(tried.error);
}

/** A complaint as a sentence of its own. */
export const asSentence = (error: string): string =>
	`${error[0]!.toUpperCase()}${error.slice(1)}${/[.?!]$/.test(error) ? '' : '.'}`;

/** Why a thing cannot have another name, or nothing where it can. */
export function wrongName(recipe: Recipe, space: NameSpace, from: string, to: string): string | undefined {
	const done = rename(recipe, space, from, to);
	return 'error' in done ? asSentence(done.error) : undefined;
}
