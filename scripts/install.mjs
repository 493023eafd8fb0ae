// Makes a fresh machine ready: packages; with --browser what the browser tests need, with --build the built application.
import { execFileSync, spawn } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { dirname } from 'node:path';

process.chdir(dirname(import.meta.dirname));
const run = (command, ...args) => execFileSync(command, args, { stdio: 'inherit' });
/** Runs a command beside this one; resolves when it has ended well. */
const beside = (command, ...args) =>
	new Promise((resolve, reject) => {
		const failed = () => reject(new Error(`${command} ${args.join(' ')} failed`));
		spawn(command, args, { stdio: 'inherit' })
			.on('error', failed)
			.on('close', (code) => (code === 0 ? resolve() : failed()));
	});

// SQLite builds against the headers that came with this Node, where they are there.
const prefix = dirname(dirname(process.execPath));
if (existsSync(`${prefix}/include/node/node.h`)) process.env.npm_config_nodedir ??= prefix;

const installed = 'node_modules/.package-lock.json';
const isCurrent = () => {
	if (!existsSync(installed)) return false;
	const wanted = JSON.parse(readFileSync('package-lock.json', 'utf8')).packages;
	const present = JSON.parse(readFileSync(installed, 'utf8')).packages;
	return Object.entries(wanted).every(
		([path, { version, optional }]) => path === '' || optional || present[path]?.version === version
	);
};
if (!isCurrent()) run('npm', 'ci', '--ignore-scripts', '--no-audit', '--no-fund');

// SQLite is compiled while the application is built: each takes a processor for a minute or two.
const tasks = [];
if (!existsSync('node_modules/better-sqlite3/build/Release/better_sqlite3.node'))
	tasks.push(beside('npm', 'rebuild', 'better-sqlite3'));
const { isStale } = await import('./stale.mjs');
if (process.argv.includes('--build') && isStale()) tasks.push(beside('node', 'scripts/build.mjs'));
await Promise.all(tasks);

if (process.argv.includes('--browser')) {
	const missing = [
		['/usr/bin/chromium', 'chromium'],
		['/usr/bin/curl', 'curl'],
		['/usr/bin/cgnscheck', 'cgns-convert'],
		['/usr/lib/python3/dist-packages/vtkmodules', 'python3-vtk9'],
		['/usr/sbin/slurmctld', 'slurm-wlm'],
		['/usr/sbin/munged', 'munge']
	].filter(([file]) => !existsSync(file));
	if (missing.length > 0) {
		const apt = process.getuid?.() === 0 ? ['apt-get'] : ['sudo', 'apt-get'];
		run(...apt, 'update');
		run(...apt, 'install', '-y', '--no-install-recommends', ...missing.map(([, name]) => name));
	}
}
