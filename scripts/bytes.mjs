// A file that is imported with `?bytes` behind its name is a Uint8Array of its content, the same in the browser and in Node;
// of one in AssemblyScript (`*.as.ts`) it is the WebAssembly that it is compiled to.
import { readFileSync, statSync } from 'node:fs';
import { dirname, basename } from 'node:path';

/** The WebAssembly of a file in AssemblyScript: it imports its memory, keeps nothing there itself, and has vectors. */
async function compiled(path) {
	const { default: asc } = await import('assemblyscript/asc');
	let binary;
	const { error, stderr } = await asc.main(
		[
			basename(path),
			'--baseDir',
			dirname(path),
			'-O3',
			'--noAssert',
			'--runtime',
			'stub',
			'--enable',
			'simd',
			'--importMemory',
			'-o',
			'out'
		],
		{
			writeFile: (_name, content) => {
				binary = content;
			}
		}
	);
	if (error) throw new Error(`${path}: ${stderr.toString()}`);
	return Buffer.from(binary);
}

/** What was compiled already: the application, its workers and its server are built one after the other. */
const kept = new Map();

function content(path) {
	if (!path.endsWith('.as.ts')) return readFileSync(path);
	const { mtimeMs } = statSync(path);
	let before = kept.get(path);
	if (before?.mtimeMs !== mtimeMs) kept.set(path, (before = { mtimeMs, wasm: compiled(path) }));
	return before.wasm;
}

const module = async (path) =>
	`const text = atob("${(await content(path)).toString('base64')}");\nexport default Uint8Array.from(text, (c) => c.charCodeAt(0));`;

/** What such a module is called: by no path, so that nobody takes it for a file. */
const mark = '\0bytes:';

/** For Vite: the application, its workers and the tests. */
export const viteBytes = () => ({
	name: 'bytes',
	enforce: 'pre',
	async resolveId(source, importer) {
		if (!source.endsWith('?bytes')) return undefined;
		const found = await this.resolve(source.slice(0, -'?bytes'.length), importer, { skipSelf: true });
		return found && `${mark}${found.id.split('?')[0]}`;
	},
	load(id) {
		if (!id.startsWith(mark)) return undefined;
		const path = id.slice(mark.length);
		this.addWatchFile(path);
		return module(path);
	}
});

/** For esbuild: the command and the server's worker. */
export const esbuildBytes = {
	name: 'bytes',
	setup(build) {
		build.onResolve({ filter: /\?bytes$/ }, async ({ path, resolveDir, kind }) => {
			const found = await build.resolve(path.replace(/\?bytes$/, ''), { resolveDir, kind });
			return { ...found, namespace: 'bytes' };
		});
		build.onLoad({ filter: /./, namespace: 'bytes' }, async ({ path }) => ({
			contents: await module(path),
			loader: 'js',
			watchFiles: [path]
		}));
	}
};
