// Bundles and runs the benchmarks; they write docs/benchmarks.md.
import { spawnSync } from 'node:child_process';
import { build } from 'esbuild';

await build({
	entryPoints: ['bench/main.ts'],
	outfile: 'dist/bench.js',
	bundle: true,
	platform: 'node',
	target: 'node20',
	format: 'esm',
	logLevel: 'warning',
	banner: { js: "import { createRequire } from 'node:module';\nconst require = createRequire(import.meta.url);" }
});
process.exit(spawnSync('node', ['dist/bench.js'], { stdio: 'inherit' }).status ?? 1);
