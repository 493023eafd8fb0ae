import { mkdtempSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Validator } from '@seriousme/openapi-schema-validator';
import { beforeEach, describe, expect, it } from 'vitest';
import { openDatabase, type Database } from '../platform/database/database.ts';
import { seedDemo } from './demo.ts';
import { openApiDocument, operations } from './openapi.ts';
import { sql } from 'kysely';
import { StoppedError } from './stopped.ts';
import { type ProblemError, storageTrouble } from './problem.ts';
import { Projects } from './projects.ts';
import { StoredFiles } from './stored-files.ts';
import { TaskError } from './workers.ts';

let database: Database;
let projects: Projects;
let files: StoredFiles;

beforeEach(async () => {
	database = await openDatabase(':memory:');
	projects = new Projects(database);
	files = new StoredFiles(database, mkdtempSync(join(tmpdir(), 'tessellon-files-')));
});

const text = (n: number) => `recipe 1\ntitle "Number ${n}"\n`;
const revision = (n: number) => ({ text: text(n), files: {}, label: `Step ${n}` });
const refused = (promise: Promise<unknown>) =>
	promise.then(
		() => undefined,
		(error: ProblemError) => error
	);

describe('revisions', () => {
	it('are taken back together where one goes on with what another left half done', async () => {
		const first = await projects.create('recipe 1\n', {}, 'New');
		const half = await projects.edit(first.id, first.etag, { text: 'recipe 1\nli', files: {}, label: 'Edit the recipe' });
		const whole = await projects.edit(first.id, half.etag, {
			text: 'recipe 1\nline a = (0, 0) to (1, 0)',
			files: {},
			label: 'Edit the recipe',
			goesOn: true
		});
		const back = await projects.undo(first.id, whole.etag);
		expect(back.text).toBe('recipe 1\n');
		expect((await projects.redo(first.id, back.etag)).text).toBe(whole.text);
		// What was half done is in the history all the same.
		expect((await projects.history(first.id)).map((r) => r.number)).toEqual([3, 2, 1]);
	});

	it('are added one after another, under the ETag of the one before', async () => {
		const first = await projects.create(text(0), {}, 'New');
		const second = await projects.edit(first.id, first.etag, revision(1));
		expect(second).toMatchObject({ revision: 2, title: 'Number 1', canUndo: true, canRedo: false });
		expect(second.etag).not.toBe(first.etag);
	});

	it('refuse an old ETag with 412, give the present state, and lose nothing', async () => {
		const first = await projects.create(text(0), {}, 'New');
		await projects.edit(first.id, first.etag, revision(1));
		const error = await refused(projects.edit(first.id, first.etag, revision(2)));
		expect(error).toMatchObject({ status: 412, extra: { current: { text: text(1), revision: 2 } } });
		expect(await error!.toResponse().json()).toMatchObject({ status: 412, title: 'Changed elsewhere', current: { revision: 2 } });
		expect(await refused(projects.edit(first.id, null, revision(2)))).toMatchObject({ status: 428 });
	});

	it('are undone and redone, step by step, and an edit ends redoing', async () => {
		let p = await projects.create(text(0), {}, 'New');
		for (const n of [1, 2, 3]) p = await projects.edit(p.id, p.etag, revision(n));
		p = await projects.undo(p.id, p.etag);
		p = await projects.undo(p.id, p.etag);
		expect(p).toMatchObject({ text: text(1), canRedo: true });
		p = await projects.redo(p.id, p.etag);
		expect(p).toMatchObject({ text: text(2), canRedo: true });
		p = await projects.redo(p.id, p.etag);
		expect(p).toMatchObject({ text: text(3), canRedo: false });
		p = await projects.undo(p.id, p.etag);
		p = await projects.edit(p.id, p.etag, revision(9));
		expect(p).toMatchObject({ revision: 5, canRedo: false });
		expect(await refused(projects.redo(p.id, p.etag))).toMatchObject({ status: 409 });
		p = await projects.undo(p.id, p.etag);
		expect(p.text).toBe(text(2));
	});

	it('stay in the history, whatever is undone, and can be made current again', async () => {
		let p = await projects.create(text(0), {}, 'New');
		p = await projects.edit(p.id, p.etag, revision(1));
		p = await projects.undo(p.id, p.etag);
		expect((await projects.history(p.id)).map((r) => [r.number, r.current])).toEqual([
			[2, false],
			[1, true]
		]);
		p = await projects.restore(p.id, p.etag, 2);
		expect(p).toMatchObject({ revision: 3, text: text(1), canUndo: true });
		expect(await refused(projects.restore(p.id, p.etag, 99))).toMatchObject({ status: 404 });
	});

	it('need their coordinate files to be there', async () => {
		const content = new TextEncoder().encode('0 0\n1 1\n');
		const { hash } = await files.put(content);
		expect(await files.put(content)).toEqual({ hash, size: 8 });
		const p = await projects.create(text(0), { 'a.csv': hash }, 'New');
		const { path } = (await files.laidOut(p.files))['a.csv']!;
		expect(readFileSync(path)).toEqual(Buffer.from(content));
		expect(await refused(projects.edit(p.id, p.etag, { ...revision(1), files: { 'b.csv': '0'.repeat(64) } }))).toMatchObject({
			status: 400,
			detail: expect.stringMatching(/“b.csv” has not been stored/)
		});
		expect(await refused(files.put(new Uint8Array(20_000_001)))).toMatchObject({ status: 413 });
	});
});

describe('projects', () => {
	it('are listed, the last changed first, until they are removed', async () => {
		const a = await projects.create(text(1), {}, 'New');
		const b = await projects.create(text(2), {}, 'New');
		await projects.edit(a.id, a.etag, revision(3));
		expect((await projects.list()).map((p) => p.title)).toEqual(['Number 3', 'Number 2']);
		await projects.remove(b.id, b.etag);
		expect((await projects.list()).map((p) => p.title)).toEqual(['Number 3']);
		expect(await refused(projects.get(b.id))).toMatchObject({ status: 404 });
	});

	it('that were removed can be brought back for thirty days, with all their revisions', async () => {
		const a = await projects.create(text(1), {}, 'New');
		const b = await projects.edit(a.id, a.etag, revision(2));
		await projects.remove(a.id, b.etag);
		expect((await projects.removed()).map(({ id, title }) => ({ id, title }))).toEqual([{ id: a.id, title: 'Number 2' }]);
		expect(await projects.bringBack(a.id)).toMatchObject({ id: a.id, revision: 2, canUndo: true });
		expect(await projects.removed()).toEqual([]);
		expect((await projects.list()).map(({ id }) => id)).toEqual([a.id]);
		expect(await refused(projects.bringBack(a.id))).toMatchObject({ status: 404 });

		await projects.remove(a.id, b.etag);
		const long = new Date(Date.now() - 31 * 86_400_000).toISOString();
		await database.updateTable('projects').set({ removed_at: long }).where('id', '=', a.id).execute();
		expect(await projects.removed()).toEqual([]);
		expect(await refused(projects.bringBack(a.id))).toMatchObject({ status: 404 });
	});

	it('begin with the demo', async () => {
		await seedDemo(projects, files);
		expect((await projects.list()).map((p) => p.title)).toEqual([
			'Venturi tube',
			'Cold plate',
			'Splitter elbow',
			'Relief valve',
			'Gasket groove'
		]);
	});

	it('have a picture of every revision, drawn once, however many ask for it at the same time', async () => {
		const { id } = await projects.create(text(0), {}, 'New');
		let drawn = 0;
		const draw = (svg: string) => async () => {
			drawn++;
			await new Promise((resume) => setTimeout(resume));
			return svg;
		};
		expect(await Promise.all([1, 2, 3].map(() => projects.picture(id, 1, draw('<svg/>'))))).toEqual([
			'<svg/>',
			'<svg/>',
			'<svg/>'
		]);
		expect(await projects.picture(id, 1, draw('another'))).toBe('<svg/>');
		expect(drawn).toBe(1);
		expect(await projects.picture(id, 2, draw('<svg>2</svg>'))).toBe('<svg>2</svg>');
	});

	it('whose picture failed are not tried again until they change', async () => {
		const project = await projects.create(text(0), {}, 'New');
		let tries = 0;
		const failing = () => {
			tries++;
			return Promise.reject(new TaskError('took too long'));
		};
		expect((await refused(projects.picture(project.id, 1, failing)))?.message).toBe('took too long');
		expect((await refused(projects.picture(project.id, 1, failing)))?.status).toBe(422);
		expect(tries).toBe(1);
		const changed = await projects.edit(project.id, project.etag, revision(1));
		expect(await projects.picture(project.id, changed.revision, () => Promise.resolve('<svg/>'))).toBe('<svg/>');
		// One that was only stopped, or that the database would not take just then, is asked for again.
		const again = await projects.edit(project.id, changed.etag, revision(2));
		const held = Object.assign(new Error('database is locked'), { code: 'SQLITE_BUSY' });
		for (const reason of [new StoppedError('stopped'), held])
			await refused(projects.picture(project.id, again.revision, () => Promise.reject(reason)));
		expect(await projects.picture(project.id, again.revision, () => Promise.resolve('<svg/>'))).toBe('<svg/>');
	});

	it('are listed whatever their text is', async () => {
		for (const hostile of [
			'('.repeat(5000),
			`let a = ${'('.repeat(300)}1`,
			`let a = ${'-'.repeat(50_000)}1`,
			'\u0000',
			`title ${'"'.repeat(999)}`
		]) {
			const project = await projects.create(hostile, {}, 'New');
			expect((await projects.get(project.id)).text).toBe(hostile);
		}
		expect(await projects.list()).toHaveLength(5);
	});

	it('are taken off the list only in the state that was seen', async () => {
		const first = await projects.create(text(0), {}, 'New');
		await projects.edit(first.id, first.etag, revision(1));
		expect((await refused(projects.remove(first.id, first.etag)))?.status).toBe(412);
		expect((await refused(projects.remove(first.id, null)))?.status).toBe(428);
		const [listed] = await projects.list();
		await projects.remove(first.id, listed!.etag);
		expect(await projects.list()).toEqual([]);
	});

	it('say that the disk is full when a write ends so, and nothing is stored', async () => {
		const first = await projects.create(text(0), {}, 'New');
		// What SQLite does when it has no page left: the statement fails, and the transaction is rolled back by itself.
		await sql`PRAGMA max_page_count = 1`.execute(database);
		const error = await refused(projects.edit(first.id, first.etag, { ...revision(1), text: 'x'.repeat(4_000_000) }));
		expect(storageTrouble(error)?.status).toBe(507);
		await sql`PRAGMA max_page_count = 1000000`.execute(database);
		expect((await projects.get(first.id)).revision).toBe(1);
	});

	it('outlive the process that wrote them', async () => {
		const path = join(mkdtempSync(join(tmpdir(), 'store-')), 'deep', 'test.db');
		const first = new Projects(await openDatabase(path));
		const p = await first.create(text(7), {}, 'New');
		// A second connection sees what was acknowledged, although the first was never closed.
		expect((await new Projects(await openDatabase(path)).get(p.id)).text).toBe(text(7));
	});
});

describe('the OpenAPI document', () => {
	it('lists exactly the routes that there are', () => {
		const found: string[] = [];
		const walk = (folder: string, path: string) => {
			for (const name of readdirSync(folder)) {
				const full = join(folder, name);
				if (statSync(full).isDirectory()) walk(full, `${path}/${name.replace(/^\[(.*)\]$/, '{$1}')}`);
				else
					for (const [, verb] of readFileSync(full, 'utf8').matchAll(/export const (GET|POST|DELETE|PUT|PATCH)/g))
						found.push(`${verb!.toLowerCase()} ${path}`);
			}
		};
		walk('src/routes/api', '/api');
		expect(operations.map((o) => `${o.method} ${o.path}`).sort()).toEqual(found.sort());
	});

	it('is what a validator of OpenAPI accepts, with a name, a group and a description for every operation', async () => {
		const document = openApiDocument() as {
			paths: Record<string, Record<string, Record<string, string>>>;
			tags: { name: string }[];
		};
		const { valid, errors } = await new Validator().validate(structuredClone(document));
		expect(errors).toBeUndefined();
		expect(valid).toBe(true);
		const all = Object.values(document.paths).flatMap((operations) => Object.values(operations));
		expect(new Set(all.map((o) => o.operationId)).size).toBe(all.length);
		for (const { description, tags, summary } of all) {
			expect(description!.length).toBeGreaterThan(5);
			expect(summary!.length).toBeGreaterThan(5);
			expect(document.tags.map((t) => t.name)).toContain(tags![0]);
		}
	});

	it('describes bodies, answers and refusals', () => {
		const document = openApiDocument() as {
			paths: Record<
				string,
				Record<string, { parameters?: { name: string }[]; requestBody?: unknown; responses: Record<string, unknown> }>
			>;
		};
		const post = document.paths['/api/projects/{id}/revisions']!.post!;
		expect(post.parameters!.map((p) => p.name)).toEqual(['id', 'If-Match']);
		expect(JSON.stringify(post.requestBody)).toContain('"label"');
		expect(Object.keys(post.responses)).toEqual(['201', 'default']);
	});
});
