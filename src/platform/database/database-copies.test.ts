import { mkdirSync, mkdtempSync, openSync, readdirSync, readFileSync, writeFileSync, writeSync, closeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import Sqlite from 'better-sqlite3';
import { Projects } from '../../server/projects.ts';
import { backup, databaseOf, rescue, restore } from './database-copies.ts';
import { type Database, openDatabase } from './database.ts';

let folder: string;
let database: Database;
let projects: Projects;
const recipe = (title: string) => `recipe 1\ntitle "${title}"\n`;
const edit = (project: { id: string; etag: string }, title: string) =>
	projects.edit(project.id, project.etag, { text: recipe(title), files: {}, label: title });
const titles = async (path: string) => {
	const copy = await openDatabase(path);
	const list = await new Projects(copy).list();
	await copy.destroy();
	return list.map(({ title }) => title).sort();
};

beforeEach(async () => {
	folder = mkdtempSync(join(tmpdir(), 'copies-'));
	database = await openDatabase(databaseOf(folder));
	projects = new Projects(database);
});

describe('a backup', () => {
	it('is the database as it is, while a server works on it, and overwrites nothing', async () => {
		await projects.create(recipe('One'), {}, 'New');
		const copy = join(folder, 'copy.db');
		const [, second] = await Promise.all([backup(folder, copy), projects.create(recipe('Two'), {}, 'New')]);
		expect(await titles(copy)).toContain('One');
		expect((await projects.get(second.id)).title).toBe('Two');
		await expect(backup(folder, copy)).rejects.toThrow(/is there already, and stays as it is/);
		await expect(backup(join(folder, 'nowhere'), join(folder, 'b.db'))).rejects.toThrow(/there is no database/);
		await expect(backup(folder, join(folder, 'no/such/folder.db'))).rejects.toThrow(/cannot be written/);
		expect(readdirSync(folder).filter((name) => name.endsWith('.partial'))).toEqual([]);
	});

	it('comes back while the server runs: what was there is copied first, and no old ETag fits a new state', async () => {
		let one = await projects.create(recipe('One'), {}, 'New');
		const copy = join(folder, 'copy.db');
		await backup(folder, copy);
		for (let k = 0; k < 5; k++) one = await edit(one, `One, later ${k}`);
		const stale = one.etag;
		await projects.create(recipe('Two'), {}, 'New');
		const saved = join(folder, 'saved.db');
		expect(await restore(folder, copy, saved)).toEqual({ projects: 1 });
		// The connection that was open all the time sees it.
		expect((await projects.list()).map(({ title }) => title)).toEqual(['One']);
		expect(await titles(saved)).toEqual(['One, later 4', 'Two']);
		let now = await projects.get(one.id);
		expect(now).toMatchObject({ text: recipe('One'), revision: 1 });
		await expect(edit({ id: one.id, etag: stale }, 'from a page that knows nothing of it')).rejects.toMatchObject({
			status: 412
		});
		for (let k = 0; k < 8; k++) {
			now = await edit(now, `Anew ${k}`);
			expect(Number(now.etag.replaceAll('"', ''))).toBeGreaterThan(Number(stale.replaceAll('"', '')));
		}
	});

	it('that is none changes nothing', async () => {
		await projects.create(recipe('One'), {}, 'New');
		const saved = join(folder, 'saved.db');
		writeFileSync(join(folder, 'text.db'), 'no database at all, but some text that is long enough to look at');
		const other = new Sqlite(join(folder, 'other.db'));
		other.exec('CREATE TABLE things (x)');
		other.close();
		await expect(restore(folder, join(folder, 'text.db'), saved)).rejects.toThrow(/is no database, or is damaged/);
		await expect(restore(folder, join(folder, 'other.db'), saved)).rejects.toThrow(/none of Tessellon/);
		await expect(restore(folder, join(folder, 'gone.db'), saved)).rejects.toThrow(/there is no database/);
		expect((await projects.list()).map(({ title }) => title)).toEqual(['One']);
		expect(readdirSync(folder)).not.toContain('saved.db');
	});

	it('goes into an empty folder as well', async () => {
		await projects.create(recipe('One'), {}, 'New');
		const copy = join(folder, 'copy.db');
		await backup(folder, copy);
		const empty = join(folder, 'empty');
		mkdirSync(empty);
		await restore(empty, copy, join(empty, 'saved.db'));
		expect(await titles(databaseOf(empty))).toEqual(['One']);
	});
});

it('of a damaged database what can be read is got out, and how much that is', async () => {
	for (let k = 0; k < 300; k++) await projects.create(`${recipe(`Number ${k}`)}# ${'x'.repeat(3000)}\n`, {}, 'New');
	await database.destroy();
	const path = databaseOf(folder);
	const size = readFileSync(path).length;
	const file = openSync(path, 'r+');
	// A few pages in the middle are overwritten, as by a failing disk.
	for (const share of [0.4, 0.6, 0.8])
		writeSync(file, Buffer.alloc(4096, 0xff), 0, 4096, Math.floor((share * size) / 4096) * 4096);
	closeSync(file);
	const copy = join(folder, 'rescued.db');
	const rescued = await rescue(folder, copy);
	expect(rescued.revisions!.read).toBeGreaterThan(200);
	expect(rescued.revisions!.read).toBeLessThan(300);
	const found = new Sqlite(copy, { readonly: true });
	expect(found.pragma('integrity_check', { simple: true })).toBe('ok');
	const { count } = found.prepare("SELECT count(*) AS count FROM revisions WHERE text LIKE '%title \"Number%'").get() as {
		count: number;
	};
	expect(count).toBe(rescued.revisions!.read);
	expect(found.pragma('foreign_key_check')).toEqual([]);
	expect(await titles(copy)).toHaveLength(count);
	found.close();
	writeFileSync(path, Buffer.alloc(8192, 0xff));
	await expect(rescue(folder, join(folder, 'nothing.db'))).rejects.toThrow(/is no database, or is damaged/);
});
