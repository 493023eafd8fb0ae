import { basename } from 'node:path';
import type { CoordinateFiles } from '../core/recipe/model/model.ts';
import { recipeOfFiles } from '../formats/recipe-of-files.ts';
import { RecipeError } from './errors.ts';
import { readDrawingFile } from '../platform/read-recipe.ts';
import type { Subcommand } from './subcommand.ts';
import { refuseInputs, writeWhole } from '../platform/write-whole.ts';

/** `tessellon import`: makes a recipe of drawings and coordinate files. */
export const importFiles: Subcommand = (program) =>
	void program
		.command('import')
		.argument('<file...>', 'files of coordinates, DXF, SVG, or a mesh in CGNS or VTK XML')
		.description('write a recipe that takes the curves of files, makes every closed outline a region and fills it with triangles')
		.option('--out <recipe>', 'the recipe to write; it goes to standard output without')
		.action(importThem);

async function importThem(paths: string[], { out }: { out?: string }): Promise<void> {
	if (out !== undefined) refuseInputs([out], paths);
	const files: CoordinateFiles = {};
	for (const path of paths) {
		const file = await readDrawingFile(path);
		if ('error' in file) throw new RecipeError(`${path}: ${file.error}`);
		files[basename(path)] = file;
	}
	const text = recipeOfFiles(files);
	if (out === undefined) process.stdout.write(text);
	else writeWhole(out, new TextEncoder().encode(text));
}
