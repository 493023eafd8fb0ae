import { tryStatement } from '../../core/recipe/evaluate.ts';
import type { Model } from '../../core/recipe/model.ts';

/** What is wrong with a statement that a cell would write, after all others; nothing where it can stand. */
export function wrongWith(model: Model | undefined, source: string): string | undefined {
	// Until the first result there is nothing to check names against; the recipe says what is wrong then.
	if (!model) return undefined;
	const tried = tryStatement(model, source);
	if (!('error' in tried)) return undefined;
	const { error } = tried;
	return `${error[0]!.toUpperCase()}${error.slice(1)}${/[.?!]$/.test(error) ? '' : '.'}`;
}
