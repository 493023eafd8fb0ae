// Bundles what runs in Node outside SvelteKit: the command, and the worker threads of the server.
import { build } from 'esbuild';
import { esbuildBytes } from './bytes.mjs';

export const buildNode = () =>
	build({
		entryPoints: { tessellon: 'src/cli/tessellon.ts', 'mesh-worker': 'src/server/mesh-worker.ts' },
		outdir: 'dist',
		bundle: true,
		platform: 'node',
		target: 'node20',
		format: 'esm',
		logLevel: 'warning',
		plugins: [esbuildBytes],
		banner: { js: "import { createRequire as requireOf } from 'node:module';\nconst require = requireOf(import.meta.url);" }
	});
