import { execFileSync, spawn } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';

const folder = mkdtempSync(join(tmpdir(), 'installed-'));
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

const run = (command: string, ...words: string[]): string =>
	execFileSync(command, words, { cwd: folder, encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });

/** The compiled part of SQLite is copied from the sources: compiling it takes minutes and is not what is tested. */
function install(): void {
	const packed = execFileSync('npm', ['pack', '--ignore-scripts', '--pack-destination', folder], { encoding: 'utf8' })
		.trim()
		.split('\n')
		.at(-1)!;
	writeFileSync(join(folder, 'package.json'), '{ "private": true }');
	run('npm', 'install', '--ignore-scripts', '--no-audit', '--no-fund', `./${packed}`);
	const compiled = 'node_modules/better-sqlite3/build/Release/better_sqlite3.node';
	mkdirSync(join(folder, 'node_modules/better-sqlite3/build/Release'), { recursive: true });
	cpSync(compiled, join(folder, compiled));
}

test('the package installs in an empty folder, meshes and serves there', async () => {
	test.setTimeout(180_000);
	install();
	const installed = join(folder, 'node_modules/tessellon');
	expect(readdirSync(installed).sort()).toEqual(
		['CHANGELOG.md', 'LICENSE', 'README.md', 'bin', 'build', 'demo', 'dist', 'docs', 'package.json'].sort()
	);
	for (const tool of ['vite', 'typescript', 'esbuild', 'svelte'])
		expect(existsSync(join(folder, 'node_modules', tool))).toBe(false);

	expect(run('npx', 'tessellon', '--version')).toMatch(/^\d+\.\d+\.\d+/);
	writeFileSync(
		join(folder, 'plate.tessellon'),
		'recipe 1\nrectangle p = (0, 0) to (2, 1)\nregion r bounded by p\ndivide p into 8\nfill r structured\n'
	);
	run('npx', 'tessellon', 'mesh', 'plate.tessellon', '--out', 'plate.vtu');
	expect(existsSync(join(folder, 'plate.vtu'))).toBe(true);

	const port = 4797;
	const { TESSELLON_DATA: _, PORT: __, TESSELLON_TOKEN: ___, ...environment } = process.env;
	const server = spawn('node', ['node_modules/.bin/tessellon', 'serve', '--port', String(port), '--data', 'kept'], {
		cwd: folder,
		env: environment
	});
	try {
		const get = (path: string) => fetch(`http://127.0.0.1:${port}${path}`).catch(() => undefined);
		await expect.poll(async () => (await get('/api/health'))?.status, { timeout: 60_000 }).toBe(200);
		const projects = (await (await get('/api/projects'))!.json()) as { projects?: unknown[] } | unknown[];
		expect(Array.isArray(projects) ? projects.length : projects.projects!.length).toBeGreaterThanOrEqual(5);
		expect(existsSync(join(folder, 'kept/tessellon.db'))).toBe(true);
	} finally {
		const gone = new Promise((done) => server.once('close', done));
		server.kill('SIGTERM');
		await gone;
	}
});
