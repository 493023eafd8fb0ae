import { applyEdits } from '../../text/edit.ts';
import { renameEverywhere, scopedNames } from './edits.ts';
import { language } from '../language/language.ts';
import type { NameSpace } from '../language/names.ts';
import { parseRecipe } from '../language/parse.ts';
import type { Recipe } from '../language/recipe.ts';

/**
 * Renames a thing with all its uses, or says in a sentence why the name cannot be taken.
 *
 * @param scope the part in which it stands; outside of parts an empty text
 */
export function rename(
	recipe: Recipe,
	space: NameSpace,
	from: string,
	to: string,
	scope = ''
): { text: string } | { error: string } {
	if (from === to) return { text: recipe.text };
	const error = whyNoName(recipe, space, to, scope);
	if (error) return { error };
	const text = applyEdits(recipe.text, renameEverywhere(recipe, space, from, to, scope));
	// A few words mean something else where a name may stand: then what used the name is read no more.
	const broken = parseRecipe(text).lines.find((line, k) => !line.statement && recipe.lines[k]?.statement);
	return broken ? { error: `“${to}” is a word of the language and cannot be a name here; try “${to}_1”` } : { text };
}

/** Why a name cannot be given to a new thing, as a sentence; undefined where it can. */
export function whyNoName(recipe: Recipe, space: NameSpace, name: string, scope = ''): string | undefined {
	if (!/^[\p{L}_][\p{L}\p{N}_]*$/u.test(name))
		return `“${name}” is no name: names have letters, digits and _, and start with no digit, like “${suggestion(name)}”`;
	if (space === 'value' && name === 'pi') return '“pi” has its value already and cannot be given another';
	const taken = scopedNames(recipe).find(
		(one) => one.isDefinition && one.scope === scope && one.use.space === space && one.use.name === name
	);
	const owner = taken && recipe.lines.find(({ from, to }) => from <= taken.at && taken.at < to);
	if (owner)
		return `there is a ${language().recordOf(owner.statement!).title.toLowerCase()} “${name}” already, on line ${owner.number}`;
	return undefined;
}

/** The nearest text to what was typed that is a name. */
function suggestion(typed: string): string {
	const name = typed
		.trim()
		.replaceAll(/[^\p{L}\p{N}_]+/gu, '_')
		.replaceAll(/^_+|_+$/g, '');
	return name === '' ? 'wall_2' : /^\p{N}/u.test(name) ? `n${name}` : name;
}

/** A number that is given a name where it is typed, `D = 80` or `D = 80 range 40 to 100`: the name, and its statement. */
export function namedNumber(typed: string): { name: string; statement: string } | undefined {
	const [, name, value] = /^\s*(?:let\s+)?([\p{L}_][\p{L}\p{N}_]*)\s*=\s*(\S.*?)\s*$/su.exec(typed) ?? [];
	return name && value ? { name, statement: `let ${name} = ${value}` } : undefined;
}
