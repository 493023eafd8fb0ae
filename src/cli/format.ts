import { realpathSync } from 'node:fs';
import { formatted } from '../core/recipe/language/format.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import { applyEdits } from '../core/text/edit.ts';
import { counted } from '../core/text/sentences.ts';
import { readRecipe } from '../platform/read-recipe.ts';
import { writeWhole } from '../platform/write-whole.ts';
import { RecipeError } from './errors.ts';
import type { Subcommand } from './subcommand.ts';

/** `tessellon format`: writes recipes in their one form, in place. */
export const format: Subcommand = (program) =>
	void program
		.command('format')
		.description('write recipes in their one form; what cannot be read stays as it is')
		.argument('<recipe...>', 'recipe files, changed in place')
		.option('--check', 'change nothing, and end with 1 where a recipe is not in that form')
		.action((paths: string[], { check = false }: { check?: boolean }) => {
			let changed = 0;
			for (const path of paths) {
				const text = readRecipe(path);
				const recipe = parseRecipe(text);
				const edits = formatted(recipe);
				const after = applyEdits(text, edits);
				const unreadable = parseRecipe(after).lines.filter(({ error }) => error).length;
				if (unreadable > 0)
					process.stderr.write(
						`${path}: ${counted(unreadable, 'statement')} cannot be read and ${unreadable === 1 ? 'stays' : 'stay'} as written\n`
					);
				if (edits.length === 0) continue;
				changed++;
				if (!check) writeWhole(realpathSync(path), new TextEncoder().encode(after));
				process.stdout.write(`${path}${check ? ' is not in its one form' : ''}\n`);
			}
			if (check && changed > 0) throw new RecipeError('');
		});
