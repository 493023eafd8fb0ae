import { createServer } from 'node:net';
import { homedir } from 'node:os';
import { extname, join, resolve } from 'node:path';
import { UsageError } from './errors.ts';
import { startChild } from '../platform/threads/child-process.ts';
import { programFolder } from '../platform/program-folder.ts';
import { readRecipe } from '../platform/read-recipe.ts';
import { FileError } from '../platform/system-error.ts';
import type { Subcommand } from './subcommand.ts';

/** `tessellon desk`: opens a recipe file in the desk; the file stays the document. */
export const desk: Subcommand = (program) =>
	void program
		.command('desk')
		.argument('<recipe>', 'a .tessellon file; made where there is none')
		.description('open a recipe file in the desk: changes there are written to it, and changes of any editor show there')
		.option('--port <n>', 'port of the desk; a free one without')
		.action(open);

async function open(path: string, { port }: { port?: string }): Promise<void> {
	if (extname(path) !== '.tessellon') throw new UsageError(`${path} is no recipe: its name ends in .tessellon`);
	try {
		readRecipe(path);
	} catch (error) {
		if (!(error instanceof FileError && error.code === 'ENOENT')) throw error;
	}
	const portNumber = port === undefined ? await freePort() : Number(port);
	if (!(Number.isInteger(portNumber) && portNumber > 0 && portNumber < 65536))
		throw new UsageError(`--port ${port} is no port; it is from 1 to 65535`);
	const server = startChild([join(programFolder, 'dist/tessellon.js'), 'serve'], {
		env: {
			PORT: String(portNumber),
			HOST: '127.0.0.1',
			TESSELLON_DOCUMENT: resolve(path),
			TESSELLON_DATA: process.env.TESSELLON_DATA ? resolve(process.env.TESSELLON_DATA) : join(homedir(), '.local/share/tessellon')
		}
	});
	const ended = new Promise<number>((end) => server.once('exit', (code) => end(code ?? 0)));
	const address = `http://127.0.0.1:${portNumber}/document`;
	const isUp = await Promise.race([answers(address), ended.then(() => false)]);
	if (isUp) process.stdout.write(`${path} is open at ${address} until Ctrl+C\n`);
	const code = await ended;
	if (!isUp || code !== 0) process.exitCode = code || 2;
}

/** Waits until the desk answers. */
async function answers(address: string): Promise<boolean> {
	for (;;) {
		const found = await fetch(address, { redirect: 'manual' }).then(
			({ status }) => status === 303,
			() => false
		);
		if (found) return true;
		await new Promise((resume) => setTimeout(resume, 150));
	}
}

function freePort(): Promise<number> {
	return new Promise((found, failed) => {
		const server = createServer().once('error', failed);
		server.listen(0, '127.0.0.1', () => {
			const { port } = server.address() as { port: number };
			server.close(() => found(port));
		});
	});
}
