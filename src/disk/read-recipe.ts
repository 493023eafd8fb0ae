import { readFileSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { CoordinateFile, CoordinateFiles } from '../core/recipe/model.ts';
import { mentionedFiles } from '../core/recipe/mentioned-files.ts';
import { parseRecipe } from '../core/recipe/parse.ts';
import { coordinateFileLimit } from '../formats/coordinates.ts';
import { readFileOfRecipe } from '../formats/read-file.ts';
import { UserError } from '../core/text/user-error.ts';

/** Recipes above this are refused: coordinates belong in files beside them. */
const recipeLimit = 20_000_000;

/** Reads a recipe's text; throws an Error with a sentence for a file that is no recipe. */
export function readRecipe(path: string): string {
	const bytes = readFileSync(path);
	if (bytes.length === 0) throw new UserError(`${path} is empty; a recipe starts with the line \`recipe 1\``);
	if (bytes.length > recipeLimit)
		throw new UserError(
			`${path} has ${Math.round(bytes.length / 1e6)} MB, above the limit of ${recipeLimit / 1e6} MB; keep long coordinate lists in files beside the recipe`
		);
	if (bytes.includes(0)) throw new UserError(`${path} is no text file (it holds zero bytes); a recipe is UTF-8 text`);
	try {
		return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
	} catch {
		throw new UserError(`${path} is not UTF-8 text; save it as UTF-8`);
	}
}

/** Reads the coordinate files that a recipe mentions and that stand beside it. */
export async function readMentionedFiles(recipePath: string, text: string): Promise<CoordinateFiles> {
	const files: CoordinateFiles = {};
	for (const name of mentionedFiles(parseRecipe(text))) {
		if (basename(name) !== name) {
			files[name] = { error: 'a coordinate file stands beside the recipe and is named without a folder' };
			continue;
		}
		const file = await readFileBeside(join(dirname(recipePath), name));
		if (file) files[name] = file;
	}
	return files;
}

/** Reads a file of coordinates, a drawing or a mesh; undefined when there is none. */
export async function readFileBeside(path: string): Promise<CoordinateFile | undefined> {
	const size = statSync(path, { throwIfNoEntry: false })?.size;
	if (size === undefined) return undefined;
	// A file above the limit is refused by its size; there is no need to read it all.
	return readFileOfRecipe(size > coordinateFileLimit ? new Uint8Array(size) : readFileSync(path));
}
