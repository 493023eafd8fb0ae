import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { mentionedFiles } from '../core/recipe/model/mentioned-files.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import { programFolder } from '../platform/program-folder.ts';
import type { Projects } from './projects.ts';
import type { StoredFiles } from './stored-files.ts';

/** The demo recipes, last one on top of the list. */
const demos = ['gasket-groove', 'relief-valve', 'splitter-elbow', 'cold-plate', 'venturi'];

/** Puts the demo projects into an empty database. */
export async function seedDemo(projects: Projects, files: StoredFiles, folder = join(programFolder, 'demo')): Promise<void> {
	for (const demo of demos) {
		const text = await readFile(`${folder}/${demo}.tessellon`, 'utf8');
		const table: Record<string, string> = {};
		for (const name of mentionedFiles(parseRecipe(text)))
			table[name] = (await files.put(await readFile(`${folder}/${name}`))).hash;
		await projects.create(text, table, 'Demo project');
	}
}
