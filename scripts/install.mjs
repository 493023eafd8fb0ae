// Makes a fresh machine ready: dependencies, and with --browser what the browser tests need.
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { dirname } from 'node:path';

const run = (command, ...args) => execFileSync(command, args, { stdio: 'inherit' });

// Native packages build against the headers that came with this Node, where they are there.
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
if (!isCurrent()) run('npm', 'ci', '--no-audit', '--no-fund');

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
