import { serve as start, type ServeOptions } from '../platform/serve.ts';
import type { Subcommand } from './subcommand.ts';

/** `tessellon serve`: serves the application. */
export const serve: Subcommand = (program) =>
	void program
		.command('serve')
		.description('serve the application, with the demo projects where there are none yet')
		.option('--port <n>', 'where it listens', process.env.PORT ?? '4710')
		.option('--host <address>', 'address of this machine that it listens on', process.env.HOST ?? '127.0.0.1')
		.option('--data <folder>', 'folder of the database and its files', process.env.TESSELLON_DATA ?? 'data')
		.action((options: ServeOptions) => start(options));
