import { Command, CommanderError } from 'commander';
import { complain, RecipeError } from './errors.ts';
import { subcommands } from './subcommands.ts';

/** Runs the command; returns its exit status. */
export async function main(argv: string[]): Promise<number> {
	const program = new Command('tessellon')
		.description('Turns a recipe of a 2D domain into a simulation mesh.')
		.exitOverride()
		.configureOutput({ writeErr: (text) => process.stderr.write(text) });
	for (const add of subcommands) add(program);
	try {
		await program.parseAsync(argv, { from: 'user' });
		return 0;
	} catch (error) {
		if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
		if (error instanceof RecipeError) {
			if (error.message) complain(error.message);
			return 1;
		}
		complain(error instanceof Error ? error.message : String(error));
		return 2;
	}
}
