import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import { describe, expect, it } from 'vitest';

/** What each folder beside the core may import besides itself. */
const mayImport: Record<string, string[]> = {
	core: [],
	formats: ['core'],
	platform: ['core', 'formats'],
	api: ['core', 'formats'],
	lib: ['core', 'formats', 'api'],
	server: ['core', 'formats', 'platform', 'api'],
	cli: ['core', 'formats', 'platform', 'api'],
	routes: ['core', 'formats', 'api', 'lib', 'server']
};

/** The folders of the core in the order in which docs/architecture.md has them: a folder imports only from those above it. */
const order = [...readFileSync('docs/architecture.md', 'utf8').matchAll(/^ {4}([\w-]+)\/ /gm)].map(([, name]) => name!);

const sources = readdirSync('src', { recursive: true, encoding: 'utf8' })
	.map((path) => join('src', path))
	.filter((path) => /\.(ts|svelte)$/.test(path) && !/\.test\.ts$|\.d\.ts$|\.as\.ts$/.test(path));

/** The file of ours that an import names; undefined for packages and for what the build makes. */
function target(from: string, specifier: string): string | undefined {
	const path = specifier.startsWith('$lib/')
		? `src/lib/${specifier.slice(5)}`
		: specifier.startsWith('.')
			? normalize(join(dirname(from), specifier))
			: undefined;
	if (!path?.startsWith('src/')) return undefined;
	return [path, `${path}.ts`, path.replace(/\.js$/, '.ts')].find((p) => existsSync(p) && statSync(p).isFile());
}

const imports = new Map(
	sources.map((path) => {
		const text = readFileSync(path, 'utf8');
		const named = [
			...text.matchAll(/^\s*(?:import|export)\s[^;]*?from\s+'([^']+)'|import\(\s*'([^']+)'\)|^\s*import '([^']+)'/gm)
		];
		return [path, named.flatMap(([, a, b, c]) => target(path, (a ?? b ?? c)!) ?? [])];
	})
);

it('reads the imports', () => expect([...imports.values()].flat().length).toBeGreaterThan(2000));

const folderOf = (path: string): string => path.split('/')[1]!;
const coreFolderOf = (path: string): string | undefined => (path.split('/').length > 3 ? path.split('/')[2] : undefined);

describe('the folders', () => {
	it('are all in docs/architecture.md', () => {
		const folders = readdirSync('src/core', { withFileTypes: true }).filter((entry) => entry.isDirectory());
		expect(folders.map(({ name }) => name).sort()).toEqual([...order].sort());
		expect(
			readdirSync('src', { withFileTypes: true })
				.filter((entry) => entry.isDirectory())
				.map(({ name }) => name)
				.sort()
		).toEqual(Object.keys(mayImport).sort());
	});

	it('import one way', () => {
		const wrong: string[] = [];
		for (const [path, targets] of imports) {
			const from = folderOf(path);
			if (!(from in mayImport)) continue;
			for (const to of targets)
				if (folderOf(to) !== from && !mayImport[from]!.includes(folderOf(to))) wrong.push(`${path} → ${to}`);
		}
		expect(wrong).toEqual([]);
	});

	it('of the core import only from those above them', () => {
		const wrong: string[] = [];
		for (const [path, targets] of imports) {
			const from = folderOf(path) === 'core' ? coreFolderOf(path) : undefined;
			if (from === undefined) continue;
			for (const to of targets) {
				const at = coreFolderOf(to);
				if (at === undefined || order.indexOf(at) > order.indexOf(from)) wrong.push(`${path} → ${to}`);
			}
		}
		expect(wrong).toEqual([]);
	});

	it('hold no circle of files', () => {
		const state = new Map<string, 'open' | 'done'>();
		const circles: string[] = [];
		const visit = (path: string, trail: string[]): void => {
			if (state.get(path) === 'done') return;
			if (state.get(path) === 'open') return void circles.push([...trail.slice(trail.indexOf(path)), path].join(' → '));
			state.set(path, 'open');
			for (const next of imports.get(path) ?? []) visit(next, [...trail, path]);
			state.set(path, 'done');
		};
		for (const path of imports.keys()) visit(path, []);
		expect(circles).toEqual([]);
	});
});

it('docs name files and folders that are there', () => {
	const missing: string[] = [];
	for (const page of ['algorithms', 'architecture'])
		for (const [, path] of readFileSync(`docs/${page}.md`, 'utf8').matchAll(/`((?:[a-z-]+\/)+(?:[a-z-]+(?:\.svelte)?\.ts)?)`/g))
			if (!['', 'src/', 'src/core/', 'src/lib/'].some((root) => existsSync(root + path!)) && path !== 'outputs/')
				missing.push(`${page}: ${path}`);
	expect(missing).toEqual([]);
});
