// Bundles what runs in Node outside SvelteKit: the command, the worker threads of the server, and those that help either.
import { existsSync, readdirSync, rmSync } from 'node:fs';
import { build } from 'esbuild';
import { esbuildBytes } from './bytes.mjs';

export function buildNode() {
	for (const file of existsSync('dist') ? readdirSync('dist') : []) if (file.startsWith('part-')) rmSync(`dist/${file}`);
	return build({
		entryPoints: {
			tessellon: 'src/cli/tessellon.ts',
			'mesh-worker': 'src/server/mesh-worker.ts',
			'fill-helper': 'src/platform/threads/fill-helper.ts',
			serve: 'src/platform/serve.ts'
		},
		outdir: 'dist',
		bundle: true,
		platform: 'node',
		target: 'node20',
		format: 'esm',
		// What is asked for only when it is needed stands in files of its own, in the same folder: reading all of it would be half of
		// what a short command takes.
		splitting: true,
		chunkNames: 'part-[name]-[hash]',
		// It has a part that is compiled for the machine, which it looks for beside itself.
		external: ['better-sqlite3'],
		metafile: true,
		logLevel: 'warning',
		plugins: [esbuildBytes],
		banner: { js: "import { createRequire as requireOf } from 'node:module';\nconst require = requireOf(import.meta.url);" }
	});
}
