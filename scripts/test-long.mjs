// The unit tests with other cases and many more of them; without names of files, the running server is attacked too, as it is built.
import { execFileSync } from 'node:child_process';

const names = process.argv.slice(2);
const run = (program, args, env = {}) => execFileSync(program, args, { stdio: 'inherit', env: { ...process.env, ...env } });
try {
	run('npx', ['vitest', 'run', '--testTimeout=3000000', ...names], { LONG: '1' });
	if (names.length === 0) {
		run('node', ['scripts/build.mjs']);
		run('node', ['scripts/attack.mjs']);
	}
} catch (error) {
	// Whatever failed has said so.
	process.exit(error.status ?? 1);
}
