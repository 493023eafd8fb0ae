// The unit tests with other cases and many more of them; without names of files, the running server is attacked too, as it is built.
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';

const names = process.argv.slice(2);
const run = (program, args, env = {}) => execFileSync(program, args, { stdio: 'inherit', env: { ...process.env, ...env } });
// Drawings that no other test needs; their scripts are not run.
const outlines = 'node_modules/.cache/outlines';
try {
	mkdirSync(outlines, { recursive: true });
	if (!existsSync(`${outlines}/node_modules/remixicon`))
		run('npm', [
			'install',
			'--prefix',
			outlines,
			'--ignore-scripts',
			'--no-audit',
			'--no-fund',
			'remixicon@4',
			'@carbon/icons@11'
		]);
	run('npx', ['vitest', 'run', '--testTimeout=3000000', ...names], { LONG: '1' });
	if (names.length === 0) {
		run('node', ['scripts/build.mjs']);
		run('node', ['scripts/attack.mjs']);
	}
} catch (error) {
	// Whatever failed has said so.
	process.exit(error.status ?? 1);
}
