import { parseRecipe } from '../core/recipe/language/parse.ts';
import { linesOf } from '../core/recipe/language/statement.ts';
import { study } from '../core/recipe/statements/study.ts';
import { sentenceOf } from '../core/text/user-error.ts';
import { studyAmong } from '../formats/study.ts';
import { ProblemError } from './problem.ts';

/** One of the studies of a recipe by its name, the only one without. Throws a {@link ProblemError} where there is none. */
export function studyOf(text: string, name: string | undefined): string {
	const names = linesOf(parseRecipe(text).lines, study).map(({ statement }) => statement.name.text);
	try {
		return studyAmong(names, name, '“name”');
	} catch (error) {
		throw new ProblemError(400, 'Bad request', sentenceOf(error));
	}
}
