// Builds when the sources are newer than the build, and serves on 127.0.0.1 unless HOST says otherwise; from any folder.
import { execFileSync } from 'node:child_process';
import { dirname } from 'node:path';
import { isStale } from './stale.mjs';

process.chdir(dirname(import.meta.dirname));
if (isStale()) execFileSync('node', ['scripts/build.mjs'], { stdio: 'inherit' });
try {
	const { serve } = await import('../dist/serve.js');
	await serve();
} catch (error) {
	// Other errors are for whoever mends the program.
	const isSentence = error.name === 'UserError';
	if (!isSentence) console.error(error);
	console.error(
		`Tessellon cannot start: ${isSentence ? error.message : 'it failed before it could answer; please report the lines above'}`
	);
	process.exit(1);
}
