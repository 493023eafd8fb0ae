import { mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Project } from '../api/schemas.ts';
import { type Database, openDatabase } from '../platform/database/database.ts';
import { RecipeDocument } from './document.ts';
import type { ProblemError } from './problem.ts';
import { emptyRecipe } from '../core/recipe/empty.ts';
import { Projects } from './projects.ts';
import { StoredFiles } from './stored-files.ts';

let folder: string;
let path: string;
let database: Database;
let projects: Projects;
let files: StoredFiles;
let document: RecipeDocument;

const open = async () => {
	projects = new Projects(database);
	document = await RecipeDocument.open(path, database, projects, files);
};
const onDisk = () => readFileSync(path, 'utf8');
const current = () => projects.get(document.project);
const edit = (project: Project, text: string) =>
	projects.edit(project.id, project.etag, { text, files: project.files, label: 'Edit' });
/** The next change of the project, whoever makes it. */
const changed = () =>
	new Promise<Project>((resume) => {
		const end = document.listen((project) => (end(), resume(project)));
	});

beforeEach(async () => {
	folder = mkdtempSync(join(tmpdir(), 'tessellon-document-'));
	path = join(folder, 'plate.tessellon');
	database = await openDatabase(':memory:');
	files = new StoredFiles(database, join(folder, 'laid-out'));
});

afterEach(async () => {
	document?.close();
	await database.destroy();
	rmSync(folder, { recursive: true });
});

describe('a recipe file as a document', () => {
	it('is made where there is none, and has its project again the next time', async () => {
		await open();
		expect(onDisk()).toBe(emptyRecipe());
		const first = document.project;
		expect(await current()).toMatchObject({ document: 'plate.tessellon', text: emptyRecipe() });
		document.close();
		writeFileSync(path, 'recipe 1\ntitle "Meanwhile"\n');
		await open();
		expect(document.project).toBe(first);
		expect(await current()).toMatchObject({ title: 'Meanwhile', canUndo: true });
	});

	it('is written at every change of the desk, undo and redo among them', async () => {
		await open();
		let project = await edit(await current(), 'recipe 1\ntitle "A"\n');
		expect(onDisk()).toBe('recipe 1\ntitle "A"\n');
		project = await projects.undo(project.id, project.etag);
		expect(onDisk()).toBe(emptyRecipe());
		await projects.redo(project.id, project.etag);
		expect(onDisk()).toBe('recipe 1\ntitle "A"\n');
	});

	it('becomes a revision when another editor saves it, by writing or by renaming', async () => {
		await open();
		let next = changed();
		writeFileSync(path, 'recipe 1\ntitle "Written"\n');
		expect(await next).toMatchObject({ title: 'Written' });
		next = changed();
		writeFileSync(`${path}~`, 'recipe 1\ntitle "Renamed"\n');
		renameSync(`${path}~`, path);
		expect(await next).toMatchObject({ title: 'Renamed' });
		expect((await projects.history(document.project)).map((r) => r.label)).toContain('Saved in plate.tessellon');
	});

	it('and a change of the desk that meet lose nothing: the desk is told, and both are revisions', async () => {
		await open();
		const before = await current();
		writeFileSync(path, 'recipe 1\ntitle "Theirs"\n');
		const refusal = await edit(before, 'recipe 1\ntitle "Ours"\n').catch((error: ProblemError) => error);
		expect(refusal).toMatchObject({ status: 412, extra: { current: { title: 'Theirs' } } });
		expect(onDisk()).toContain('Theirs');
		// On top of what is there it goes.
		await edit(await current(), 'recipe 1\ntitle "Ours"\n');
		expect(onDisk()).toContain('Ours');
		expect((await projects.history(document.project)).length).toBe(3);
	});

	it('brings the files that it reads, and gets those that the desk adds; none that changed meanwhile is overwritten', async () => {
		writeFileSync(path, 'recipe 1\npolyline a = from "a.csv"\n');
		writeFileSync(join(folder, 'a.csv'), '0 0\n1 0\n1 1\n');
		await open();
		const { files: table } = await current();
		expect(new TextDecoder().decode(await files.get(table['a.csv']!))).toBe('0 0\n1 0\n1 1\n');
		const next = changed();
		writeFileSync(join(folder, 'a.csv'), '0 0\n2 0\n2 2\n');
		const followed = await next;
		expect(followed.files['a.csv']).not.toBe(table['a.csv']);
		const { hash } = await files.put(new TextEncoder().encode('5 5\n6 6\n'));
		await projects.edit(followed.id, followed.etag, {
			text: `${followed.text}polyline b = from "b.csv"\n`,
			files: { ...followed.files, 'b.csv': hash },
			label: 'Import'
		});
		expect(readFileSync(join(folder, 'b.csv'), 'utf8')).toBe('5 5\n6 6\n');
		expect(readFileSync(join(folder, 'a.csv'), 'utf8')).toBe('0 0\n2 0\n2 2\n');
	});

	it('that is no text is told in a sentence, and nothing is written over it', async () => {
		await open();
		const before = await current();
		writeFileSync(path, Uint8Array.of(0, 1, 2));
		const refusal = await edit(before, 'recipe 1\n').catch((error: ProblemError) => error);
		expect((refusal as Error).message).toContain('no text file');
		expect([...readFileSync(path)]).toEqual([0, 1, 2]);
	});
});
