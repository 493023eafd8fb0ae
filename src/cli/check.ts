import { conclude, type RunOptions, runRecipe, runsRecipe } from './run-recipe.ts';
import type { Subcommand } from './subcommand.ts';

/** `tessellon check`: says what is wrong or doubtful, and writes nothing. */
export const check: Subcommand = (program) =>
	void runsRecipe(program.command('check').description('say what is wrong or doubtful, and write nothing')).action(
		async (path: string, options: RunOptions) => conclude(path, (await runRecipe(path, options)).result, options)
	);
