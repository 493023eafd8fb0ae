import { readFileSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { CoordinateFile, CoordinateFiles } from '../core/recipe/model/model.ts';
import { mentionedFiles } from '../core/recipe/model/mentioned-files.ts';
import { recipeLimit } from '../core/recipe/language/limits.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import { UserError } from '../core/text/user-error.ts';
import { coordinateFileLimit } from '../formats/coordinates.ts';
import { readFileOfRecipe } from '../formats/read-file.ts';
import { ContentError, FileError, fileError } from './system-error.ts';

/** Meshes that are looked at may be this large, in bytes. */
export const meshFileLimit = 2_000_000_000;

const megabytes = (bytes: number) => Math.round(bytes / 1e6);

/**
 * Reads a whole file. Throws a {@link FileError} for what cannot be read, and for what is no plain file: reading a device or a
 * pipe might never end.
 *
 * @param limit bytes from which it is refused
 * @param remedy what to do with a larger one
 * @param named what sentences call it
 */
export function readWhole(path: string, limit: number, remedy: string, named = path): Uint8Array {
	try {
		const found = statSync(path);
		if (found.isDirectory()) throw new FileError(`${named} is a folder, and a file is wanted`, 'EISDIR');
		if (!found.isFile()) throw new FileError(`${named} is no plain file`, 'EINVAL');
		if (found.size > limit)
			throw new ContentError(`${named} has ${megabytes(found.size)} MB, above the limit of ${megabytes(limit)} MB; ${remedy}`);
		return readFileSync(path);
	} catch (error) {
		throw fileError(named, error);
	}
}

/** Reads a recipe's text. Throws a {@link FileError} for what cannot be read, a {@link ContentError} for a file that is no recipe. */
export function readRecipe(path: string): string {
	const bytes = readWhole(path, recipeLimit, 'keep long coordinate lists in files beside the recipe');
	if (bytes.length === 0) throw new ContentError(`${path} is empty; a recipe starts with the line “recipe 1”`);
	if (bytes.includes(0)) throw new ContentError(`${path} is no text file (it holds zero bytes); a recipe is UTF-8 text`);
	try {
		return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
	} catch {
		throw new ContentError(`${path} is not UTF-8 text; save it as UTF-8`);
	}
}

/**
 * Where a file stands that a recipe names: beside it, and nowhere else. The one rule for every file that a recipe names; throws
 * a {@link UserError} where the name leads out of its folder.
 */
export function pathBeside(recipePath: string, name: string): string {
	if (name === '' || name === '.' || name === '..' || basename(name) !== name || /[\\\0]/.test(name))
		throw new UserError(`“${name}” leads out of its folder; a file stands beside the recipe and is named without a folder`);
	return join(dirname(recipePath), name);
}

/** The content of a file that a recipe names; undefined where there is none. Throws as {@link pathBeside} and {@link readWhole} do. */
export function contentBeside(recipePath: string, name: string): Uint8Array | undefined {
	try {
		return readWhole(pathBeside(recipePath, name), coordinateFileLimit, 'thin it out or split it', 'the file');
	} catch (error) {
		if (error instanceof FileError && error.code === 'ENOENT') return undefined;
		throw error;
	}
}

/** Reads the files that a recipe names; one that cannot be read stands there with the reason. */
export async function readMentionedFiles(recipePath: string, text: string): Promise<CoordinateFiles> {
	const files: CoordinateFiles = {};
	for (const name of mentionedFiles(parseRecipe(text))) {
		try {
			const content = contentBeside(recipePath, name);
			if (content) files[name] = await readFileOfRecipe(content);
		} catch (error) {
			if (!(error instanceof UserError)) throw error;
			files[name] = { error: error.message };
		}
	}
	return files;
}

/** Reads a file of coordinates, a drawing or a mesh. Throws a {@link FileError} for what cannot be read. */
export const readDrawingFile = (path: string): Promise<CoordinateFile> =>
	readFileOfRecipe(readWhole(path, coordinateFileLimit, 'thin it out or split it'));
