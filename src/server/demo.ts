import { readFile } from 'node:fs/promises';
import { resolve } from 'node:path';
import { parseRecipe } from '../core/recipe/parse.ts';
import type { Projects } from './projects.ts';
import type { StoredFiles } from './stored-files.ts';

/** The demo recipes, last one on top of the list. */
const demos = ['relief-valve', 'splitter-elbow', 'cold-plate', 'venturi'];

/** Puts the demo projects into an empty database. */
export async function seedDemo(projects: Projects, files: StoredFiles, folder = resolve('demo')): Promise<void> {
	for (const name of demos) {
		const text = await readFile(`${folder}/${name}.tessellon`, 'utf8');
		const table: Record<string, string> = {};
		for (const { statement } of parseRecipe(text).lines)
			if ((statement?.kind === 'spline' || statement?.kind === 'polyline') && statement.file)
				table[statement.file.text] = (await files.put(await readFile(`${folder}/${statement.file.text}`))).hash;
		await projects.create(text, table, 'Demo project');
	}
}
