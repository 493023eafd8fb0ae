// Bundles and runs the benchmarks: those of the computation, which write docs/benchmarks.md, or with `desk` those of the desk.
import { spawnSync } from 'node:child_process';
import { build } from 'esbuild';
import { buildNode } from './build-node.mjs';
import { esbuildBytes } from './bytes.mjs';

const which = process.argv[2] === 'desk' ? 'desk' : 'main';
await build({
	entryPoints: [`bench/${which}.ts`],
	outfile: `dist/bench-${which}.js`,
	bundle: true,
	platform: 'node',
	target: 'node20',
	format: 'esm',
	logLevel: 'warning',
	plugins: [esbuildBytes],
	external: ['@playwright/test', 'esbuild'],
	banner: { js: "import { createRequire as requireOf } from 'node:module';\nconst require = requireOf(import.meta.url);" }
});
await buildNode();
process.exit(
	spawnSync('node', [`dist/bench-${which}.js`, ...process.argv.slice(which === 'desk' ? 3 : 2)], { stdio: 'inherit' }).status ?? 1
);
