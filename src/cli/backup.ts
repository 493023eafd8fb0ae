import { counted } from '../core/text/sentences.ts';
import { resolve } from 'node:path';
import type { Subcommand } from './subcommand.ts';

interface DataOptions {
	data: string;
	rescue?: boolean;
}

const dataOption = ['--data <folder>', 'the data folder of the server', process.env.TESSELLON_DATA ?? 'data'] as const;

/** `tessellon backup`: copies the database of a server while it runs. */
export const backup: Subcommand = (program) =>
	void program
		.command('backup')
		.argument('<copy>', 'the file to write; it must not be there yet')
		.description('copy the database of the server, with all projects and their history, while it runs')
		.option(...dataOption)
		.option('--rescue', 'copy what can be read of a damaged database')
		.action(async (copy: string, { data, rescue }: DataOptions) => {
			const copies = await import('../platform/database/database-copies.ts');
			if (!rescue) {
				await copies.backup(resolve(data), copy);
				process.stdout.write(`${copy} holds the database as it is now\n`);
				return;
			}
			const rescued = await copies.rescue(resolve(data), copy);
			const rows = Object.entries(rescued).map(
				([table, { read, lost }]) => `${table.replace('_', ' ')}: ${read} read${lost > 0 ? `, ${lost} lost` : ''}`
			);
			process.stdout.write(`${copy} holds what could be read\n${rows.join('\n')}\n`);
		});

/** `tessellon restore`: puts the projects of a copy in the place of those that are there. */
export const restore: Subcommand = (program) =>
	void program
		.command('restore')
		.argument('<copy>', 'a file that “tessellon backup” wrote')
		.description(
			'put the projects of a copy in the place of those that are there, also while the server runs; these are copied first'
		)
		.option(...dataOption)
		.action(async (copy: string, { data }: DataOptions) => {
			const copies = await import('../platform/database/database-copies.ts');
			const saved = resolve(data, `before-restore-${new Date().toISOString().replace(/[:.]/g, '-')}.db`);
			const { projects } = await copies.restore(resolve(data), copy, saved);
			process.stdout.write(`${counted(projects, 'project')} of ${copy}; what was there before is in ${saved}\n`);
		});
