import { Command, CommanderError } from 'commander';
import { isUserError, sentenceOf } from '../core/text/user-error.ts';
import { complain, RecipeError } from './errors.ts';
import { subcommands } from './subcommands.ts';
import { ContentError } from '../platform/system-error.ts';
import { version } from '../api/version.ts';

/** Runs the command; returns its exit status. */
export async function main(argv: string[]): Promise<number> {
	const program = new Command('tessellon')
		.description('Turns a recipe of a 2D domain into a simulation mesh.')
		.version(version)
		.exitOverride()
		.configureOutput({ writeErr: (text) => process.stderr.write(text) });
	for (const add of subcommands) add(program);
	try {
		await program.parseAsync(argv, { from: 'user' });
		return 0;
	} catch (error) {
		if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
		const sentence = sentenceOf(error, 'the command');
		if (sentence) complain(sentence);
		// Whoever reports what failed inside wants to see where.
		if (!isUserError(error) && process.env.TESSELLON_LOG === 'debug') console.error(error);
		return error instanceof RecipeError || error instanceof ContentError || !isUserError(error) ? 1 : 2;
	}
}
