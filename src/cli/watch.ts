import { watch as watchFolder } from 'node:fs';
import { basename, dirname } from 'node:path';
import { mentionedFiles } from '../core/recipe/model/mentioned-files.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import { sentenceOf } from '../core/text/user-error.ts';
import { complain } from './errors.ts';
import { readRecipe } from '../platform/read-recipe.ts';
import { run, type MeshOptions } from './mesh.ts';
import { collect, type Subcommand } from './subcommand.ts';

/** So long, in milliseconds, a save may take in several steps. */
const rest = 150;

/** `tessellon watch`: meshes again at every save of the recipe, or of a file beside it that it reads. */
export const watch: Subcommand = (program) =>
	void program
		.command('watch')
		.argument('<recipe>', 'a .tessellon file')
		.description('mesh again at every save of the recipe, or of a file that it reads')
		.option('--out <file>', 'file to write, its format by its ending; may be repeated', collect)
		.option('--set <name=value>', 'value of a “let” parameter; may be repeated', collect)
		.option('--deliver', 'write all that the recipe asks for with “deliver”')
		.option('--to <folder>', 'where --deliver writes; the present folder without')
		.action(follow);

async function follow(path: string, options: MeshOptions): Promise<void> {
	let names = new Set<string>();
	const once = async () => {
		try {
			names = new Set([basename(path), ...mentionedFiles(parseRecipe(readRecipe(path)))]);
			await run(path, options);
		} catch (error) {
			// The next save may mend it.
			const sentence = sentenceOf(error, 'the mesh');
			if (sentence) complain(sentence);
		}
		process.stdout.write(
			`${new Date().toTimeString().slice(0, 8)} waiting for the next save of ${[...names].join(', ') || basename(path)}\n`
		);
	};
	await once();
	let timer: ReturnType<typeof setTimeout> | undefined;
	let busy: Promise<void> = Promise.resolve();
	// Editors save by renaming, which a watch of the file itself would lose.
	const watcher = watchFolder(dirname(path) || '.', (_, name) => {
		if (!name || !(names.has(name) || name === basename(path))) return;
		clearTimeout(timer);
		timer = setTimeout(() => (busy = busy.then(once)), rest);
	});
	await new Promise<void>((end) => {
		for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => (watcher.close(), end()));
	});
}
