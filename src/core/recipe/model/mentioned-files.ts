import { language } from '../language/language.ts';
import type { Recipe } from '../language/recipe.ts';

/** The names of the files that a recipe reads, each once, in the order in which they are mentioned. */
export function mentionedFiles({ lines }: Recipe): string[] {
	const { recordOf } = language();
	return [...new Set(lines.flatMap(({ statement }) => (statement && recordOf(statement).file?.(statement)?.text) ?? []))];
}
