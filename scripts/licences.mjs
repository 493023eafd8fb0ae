// Writes the licences of all that is shipped: packages in the bundles, and those that the server loads.
import { appendFileSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';

/** The folder of the package that a module belongs to, below node_modules; undefined for modules of our own. */
const packageOf = (id) => /^(?:.*\/)?(node_modules\/(?:(?:@[^/]+\/)?[^/]+\/node_modules\/)*(?:@[^/]+\/)?[^/]+)\//.exec(id)?.[1];

/** Where the packages of a build are noted: its parts are built one after another, each by a configuration read anew. */
const noted = '.svelte-kit/packages.txt';

/** Notes the packages that modules are of. */
export function notePackages(modules) {
	const folders = new Set(modules.map((id) => packageOf(id.replace(/^\0+/, ''))).filter(Boolean));
	mkdirSync('.svelte-kit', { recursive: true });
	appendFileSync(noted, [...folders].map((folder) => `${folder}\n`).join(''));
}

/** A plugin that notes the packages of every module in a bundle. */
export const packagesNoted = () => ({
	name: 'packages-noted',
	generateBundle(_, bundle) {
		notePackages(Object.values(bundle).flatMap((chunk) => Object.keys(chunk.modules ?? {})));
	}
});

/** Forgets what an earlier build noted. */
export const forgetPackages = () => rmSync(noted, { force: true });

/** Packages that are there when nothing for developers is installed. */
const loaded = () =>
	Object.entries(JSON.parse(readFileSync('package-lock.json', 'utf8')).packages)
		.filter(([path, { dev, optional }]) => path !== '' && !dev && !optional)
		.map(([path]) => path);

/** The notice at the head of the file with the elementary functions. */
const fdlibm = () => ({
	names: ['fdlibm and Cephes (elementary functions)'],
	text: /^\/\*([^]*?)\*\//
		.exec(readFileSync('src/core/numeric/fdlibm.ts', 'utf8'))[1]
		.replace(/^ \* ?/gm, '')
		.trim()
});
const font = () => ({
	names: ['DejaVu Sans (font of pictures)'],
	text: readFileSync('src/formats/fonts/LICENSE', 'utf8').trim()
});

/** The licences of packages, each text once with all that are under it. */
export function licences() {
	const byText = new Map();
	const seen = readFileSync(noted, 'utf8').split('\n').filter(Boolean);
	for (const folder of [...new Set([...seen, ...loaded()])].sort()) {
		let description;
		try {
			description = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'));
		} catch {
			continue;
		}
		const { name, version, license, author } = description;
		const files = readdirSync(folder).filter((file) => /^(licen[cs]e|copying|notice)/i.test(file));
		const text = files.map((file) => readFileSync(join(folder, file), 'utf8').trim()).join('\n\n');
		const who = typeof author === 'string' ? author : author?.name;
		const key = text || `Under ${license ?? 'an unnamed licence'}${who ? `, by ${who}` : ''}; the package has no text of it.`;
		byText.set(key, [...(byText.get(key) ?? []), `${name} ${version} (${license ?? 'see below'})`]);
	}
	for (const { names, text } of [fdlibm(), font()]) byText.set(text, names);
	const rule = `\n\n${'-'.repeat(100)}\n\n`;
	const head = 'Tessellon is under the Apache License 2.0, which stands in LICENSE. It is shipped with these packages:';
	return [head, ...[...byText].map(([text, names]) => `${names.join('\n')}\n\n${text}`)].join(rule) + '\n';
}
