import { createHash } from 'node:crypto';
import { mentionedFiles } from '../core/recipe/model/mentioned-files.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import type { StudyCase } from '../core/study/cases.ts';

/** Changes when the same case comes out otherwise. */
const version = 2;

const sha256 = () => createHash('sha256');

/** The hash of the content of a file, by which the server keeps it too. */
export const contentHash = (content: Uint8Array | undefined): string | undefined =>
	content && sha256().update(content).digest('hex');

/**
 * The hash of what all cases of a study depend on: the recipe without its studies, and the files that it names.
 *
 * @param hashOf the hash of the content of a file beside the recipe; undefined where there is none
 */
export function groundOf(text: string, hashOf: (name: string) => string | undefined): string {
	const recipe = parseRecipe(text);
	const lines = recipe.lines.map(({ statement, from, to }) => (statement?.kind === 'study' ? '' : text.slice(from, to)));
	const files = mentionedFiles(recipe).map((name) => [name, hashOf(name) ?? '']);
	return sha256()
		.update(JSON.stringify([lines, files]))
		.digest('hex');
}

/** The hash of all that a case depends on: that, and its own values. */
export const caseHash = (
	ground: string,
	{ settings, refine }: Pick<StudyCase, 'settings' | 'refine'>,
	delivers: boolean
): string =>
	sha256()
		.update(JSON.stringify([version, ground, settings, refine, delivers]))
		.digest('hex')
		.slice(0, 32);
