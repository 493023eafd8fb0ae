// Everything that must hold before a change lands: types, lint, unit tests, and the built application in a browser.
import { spawnSync } from 'node:child_process';

const steps = [
	['types', 'npm', 'run', 'check'],
	['lint', 'npm', 'run', 'lint'],
	['unit tests', 'npx', 'vitest', 'run'],
	['build', 'node', 'scripts/build.mjs'],
	['browser tests', 'npx', 'playwright', 'test']
];
let failed = 0;
for (const [title, command, ...args] of steps) {
	console.log(`\n── ${title}`);
	const { status } = spawnSync(command, args, { stdio: 'inherit' });
	if (status !== 0) {
		failed++;
		console.error(`\n${title}: failed`);
	}
}
console.log(`\nsteps: ${steps.length - failed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
