// Everything that must hold before a change lands: types, lint, unit tests, and the built application in a browser.
import { spawn } from 'node:child_process';

/** Steps that run at the same time stand in one row; what the second says comes after what the first says. */
const rows = [
	[
		['types', 'npm', 'run', 'check'],
		['lint', 'npm', 'run', 'lint']
	],
	[['unit tests', 'npx', 'vitest', 'run']],
	[['build', 'node', 'scripts/build.mjs']],
	[['browser tests', 'npx', 'playwright', 'test']]
];

/** Runs a step; its output goes through at once, or is kept until it may. */
function run([title, command, ...args], isFirst) {
	const kept = [];
	const child = spawn(command, args, { stdio: isFirst ? 'inherit' : ['ignore', 'pipe', 'pipe'] });
	for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => kept.push(chunk));
	return new Promise((resolve) => {
		child.on('error', () => resolve({ title, status: 1, kept }));
		child.on('close', (status) => resolve({ title, status, kept }));
	});
}

let [passed, failed] = [0, 0];
for (const row of rows) {
	console.log(`\n── ${row[0][0]}`);
	const running = row.map((step, k) => run(step, k === 0));
	for (const [k, step] of running.entries()) {
		const { title, status, kept } = await step;
		if (k > 0) console.log(`\n── ${title}\n${Buffer.concat(kept).toString()}`);
		if (status === 0) passed++;
		else {
			failed++;
			console.error(`\n${title}: failed`);
		}
	}
}
console.log(`\nsteps: ${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
