import { existsSync, readdirSync, statSync } from 'node:fs';

/** Whether something that the build is made from is newer than the build. */
export function isStale() {
	if (!existsSync('build/index.js') || !existsSync('dist/tessellon.js')) return true;
	const built = statSync('build/index.js').mtimeMs;
	const newest = (path) => {
		const { mtimeMs } = statSync(path);
		if (!statSync(path).isDirectory()) return mtimeMs;
		return Math.max(...readdirSync(path).map((name) => newest(`${path}/${name}`)), 0);
	};
	return ['src', 'static', 'package-lock.json', 'vite.config.ts', 'svelte.config.js', 'scripts'].some(
		(path) => newest(path) > built
	);
}
