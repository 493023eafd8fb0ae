import { createHash } from 'node:crypto';
import { mentionedFiles } from '../core/recipe/mentioned-files.ts';
import { parseRecipe } from '../core/recipe/parse.ts';
import type { StudyCase } from '../core/study/cases.ts';

/** Changes when the same case comes out otherwise. */
const version = 1;

/**
 * The hash of what all cases of a study depend on: the recipe without its studies, and the files that it names.
 *
 * @param fileOf the content of a file beside the recipe; undefined where there is none
 */
export function groundOf(text: string, fileOf: (name: string) => Uint8Array | undefined): string {
	const hash = createHash('sha256');
	const recipe = parseRecipe(text);
	hash.update(
		recipe.lines.map(({ statement, from, to }) => (statement?.kind === 'study' ? '' : text.slice(from, to))).join('\n')
	);
	for (const name of mentionedFiles(recipe)) {
		hash.update(`\n${name}\n`);
		const content = fileOf(name);
		if (content) hash.update(content);
	}
	return hash.digest('hex');
}

/** The hash of all that a case depends on: that, and its own values. */
export const caseHash = (ground: string, { settings, refine }: StudyCase, delivers: boolean): string =>
	createHash('sha256')
		.update(JSON.stringify([version, ground, settings, refine, delivers]))
		.digest('hex')
		.slice(0, 32);
