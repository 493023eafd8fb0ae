import type { FileTable, Project } from '../../api/schemas.ts';
import { coordinateFileLimit } from '../../formats/coordinates.ts';
import * as api from '../api/client.ts';
import { UserError } from '../../core/text/user-error.ts';

/**
 * Makes a project from a `.tessellon` file and the coordinate files chosen with it. Throws an
 * Error with a sentence when there is no recipe among them, or it is no text.
 */
export async function openRecipe(files: readonly File[]): Promise<Project> {
	const recipe = files.find((f) => f.name.endsWith('.tessellon'));
	if (!recipe)
		throw new UserError(
			'There is no .tessellon file among these; choose a recipe, together with the coordinate files that it mentions.'
		);
	if (recipe.size === 0) throw new UserError(`${recipe.name} is empty; a recipe starts with the line “recipe 1”.`);
	const bytes = new Uint8Array(await recipe.arrayBuffer());
	if (bytes.includes(0)) throw new UserError(`${recipe.name} is no text file (it holds zero bytes); a recipe is UTF-8 text.`);
	let text: string;
	try {
		text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
	} catch {
		throw new UserError(`${recipe.name} is not UTF-8 text; save it as UTF-8.`);
	}
	const table: FileTable = {};
	for (const file of files) {
		if (file === recipe) continue;
		if (file.size > coordinateFileLimit)
			throw new UserError(
				`${file.name} has ${Math.round(file.size / 1e6)} MB, above the limit of ${coordinateFileLimit / 1e6} MB.`
			);
		table[file.name] = (await api.storeFile(new Uint8Array(await file.arrayBuffer()))).hash;
	}
	return api.createProject(text, table);
}
