// Bundles what runs in Node outside SvelteKit: the command, the worker threads of the server, and those that help either.
import { build } from 'esbuild';
import { esbuildBytes } from './bytes.mjs';

export const buildNode = () =>
	build({
		entryPoints: {
			tessellon: 'src/cli/tessellon.ts',
			'mesh-worker': 'src/server/mesh-worker.ts',
			'fill-helper': 'src/disk/fill-helper.ts'
		},
		outdir: 'dist',
		bundle: true,
		platform: 'node',
		target: 'node20',
		format: 'esm',
		logLevel: 'warning',
		plugins: [esbuildBytes],
		banner: { js: "import { createRequire as requireOf } from 'node:module';\nconst require = requireOf(import.meta.url);" }
	});
