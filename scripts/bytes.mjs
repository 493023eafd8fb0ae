// A file that is imported with `?bytes` behind its name is a Uint8Array of its content, the same in the browser and in Node.
import { readFileSync } from 'node:fs';

const module = (path) =>
	`const text = atob("${readFileSync(path).toString('base64')}");\nexport default Uint8Array.from(text, (c) => c.charCodeAt(0));`;

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
	load: (id) => (id.startsWith(mark) ? module(id.slice(mark.length)) : undefined)
});

/** For esbuild: the command and the server's worker. */
export const esbuildBytes = {
	name: 'bytes',
	setup(build) {
		build.onResolve({ filter: /\?bytes$/ }, async ({ path, resolveDir, kind }) => {
			const found = await build.resolve(path.replace(/\?bytes$/, ''), { resolveDir, kind });
			return { ...found, namespace: 'bytes' };
		});
		build.onLoad({ filter: /./, namespace: 'bytes' }, ({ path }) => ({ contents: module(path), loader: 'js' }));
	}
};
