import type { Subcommand } from './subcommand.ts';

/** `tessellon language-server`: speaks the Language Server Protocol over standard input and output. */
export const languageServer: Subcommand = (program) =>
	void program
		.command('language-server')
		.description('speak the Language Server Protocol over standard input and output, for any editor')
		.option('--stdio', 'as editors call it; there is no other way')
		.action(async () => {
			const { serve } = await import('./language-service.ts');
			await serve();
		});
