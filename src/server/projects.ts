import { randomUUID } from 'node:crypto';
import type { Transaction } from 'kysely';
import type { FileTable, NewRevision, Project, ProjectSummary, Revision } from '../api/schemas.ts';
import { linesOf } from '../core/recipe/language/statement.ts';
import { title } from '../core/recipe/statements/title.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import type { Database, MoveKind, Tables } from '../platform/database/database.ts';
import { log } from './log.ts';
import { notFound, ProblemError } from './problem.ts';
import { TaskError } from './workers.ts';

/** A file on disk that is the document of a project. */
interface Follower {
	readonly project: string;
	readonly name: string;
	change(run: () => Promise<Project>): Promise<Project>;
}

type Store = Database | Transaction<Tables>;

/** For how long a project that was removed can be brought back, in milliseconds: thirty days. */
const removedKept = 30 * 86_400_000;
/** Projects that were removed before this can no longer be brought back. */
const keptSince = () => new Date(Date.now() - removedKept).toISOString();

/** Projects and their revisions. Nothing is overwritten: an edit adds a revision, undo adds a move back to an older one. */
export class Projects {
	/** Pictures that are being drawn, by project and revision. */
	private readonly drawings = new Map<string, Promise<string>>();
	/** Revisions whose picture could not be drawn: it is not tried again until the recipe changes. */
	private readonly undrawable = new Set<string>();

	/** The project whose document is a file on disk, where there is one. */
	private document: Follower | undefined;

	constructor(private readonly database: Database) {}

	/** From now on every change of the project of a document goes through it. */
	follow(document: Follower): void {
		this.document = document;
	}

	/** The projects, the last changed first. */
	list(): Promise<ProjectSummary[]> {
		return this.summaries((query) => query.where('projects.removed_at', 'is', null).orderBy('moves.seq', 'desc'));
	}

	/** The projects that were taken off the list lately and can be brought back, the last removed first. */
	removed(): Promise<ProjectSummary[]> {
		return this.summaries((query) =>
			query.where('projects.removed_at', '>=', keptSince()).orderBy('projects.removed_at', 'desc')
		);
	}

	/** Puts a project that was taken off the list back on it. */
	async bringBack(id: string): Promise<Project> {
		const { numUpdatedRows } = await this.database
			.updateTable('projects')
			.set({ removed_at: null })
			.where('id', '=', id)
			.where('removed_at', '>=', keptSince())
			.executeTakeFirstOrThrow();
		if (numUpdatedRows === 0n) throw notFound(`project ${id} among those that were removed in the last thirty days`);
		return read(this.database, id);
	}

	private async summaries(narrowed: (query: ReturnType<typeof currentRevisions>) => ReturnType<typeof currentRevisions>) {
		const rows = await narrowed(currentRevisions(this.database)).execute();
		return rows.map((row): ProjectSummary => ({
			id: row.id,
			title: titleOf(row.text),
			revision: row.revision,
			etag: `"${row.seq}"`,
			changedAt: row.created_at
		}));
	}

	async create(text: string, files: FileTable, label: string): Promise<Project> {
		const id = randomUUID();
		return this.transaction(async (store) => {
			await this.checkFiles(store, files);
			await store.insertInto('projects').values({ id, created_at: now(), removed_at: null }).execute();
			await addRevision(store, id, 1, null, { text, files, label });
			await addMove(store, id, 1, 'edit', null);
			return read(store, id);
		});
	}

	async get(id: string): Promise<Project> {
		return this.announce(await read(this.database, id));
	}

	/** Adds a revision on top of whatever is current, past the document. */
	async editDirectly(id: string, revision: NewRevision): Promise<Project> {
		return this.transaction(async (store) => {
			const { revision: current } = await currentMove(store, id);
			await this.checkFiles(store, revision.files);
			await addOnTop(store, id, current, revision, 'edit');
			return this.announce(await read(store, id));
		});
	}

	/** Adds a revision on top of the current one, or, where it goes on with that, on top of what that was made from. */
	async edit(id: string, ifMatch: string | null, revision: NewRevision): Promise<Project> {
		return this.change(id, ifMatch, async (store, current) => {
			await this.checkFiles(store, revision.files);
			const before = revision.goesOn ? (await revisionRow(store, id, current.revision)).parent : null;
			await addOnTop(store, id, before ?? current.revision, revision, 'edit');
		});
	}

	/** Goes back to the revision that the current one was made from. */
	async undo(id: string, ifMatch: string | null): Promise<Project> {
		return this.change(id, ifMatch, async (store, current) => {
			const { parent } = await revisionRow(store, id, current.revision);
			if (parent === null) throw new ProblemError(409, 'Nothing to undo', 'this is the first revision');
			await addMove(store, id, parent, 'undo', current.revision);
		});
	}

	/** Goes forward again to the revision that the last undo left. */
	async redo(id: string, ifMatch: string | null): Promise<Project> {
		return this.change(id, ifMatch, async (store, current) => {
			const target = await redoTarget(store, id, current.revision);
			if (target === undefined) throw new ProblemError(409, 'Nothing to redo', 'no undone revision follows this one');
			await addMove(store, id, target, 'redo', null);
		});
	}

	/** Makes an older revision current, as a new revision, so that it can be undone like any edit. */
	async restore(id: string, ifMatch: string | null, number: number): Promise<Project> {
		return this.change(id, ifMatch, async (store, current) => {
			const row = await revisionRow(store, id, number);
			const revision = { text: row.text, files: JSON.parse(row.files), label: `Back to revision ${number}` };
			await addOnTop(store, id, current.revision, revision, 'restore');
		});
	}

	/** The recipe of a revision, with its files. */
	async revision(id: string, number: number): Promise<{ text: string; files: FileTable }> {
		await currentMove(this.database, id);
		const { text, files } = await revisionRow(this.database, id, number);
		return { text, files: JSON.parse(files) as FileTable };
	}

	async history(id: string): Promise<Revision[]> {
		const { revision } = await currentMove(this.database, id);
		const rows = await this.database
			.selectFrom('revisions')
			.where('project_id', '=', id)
			.select(['number', 'label', 'created_at'])
			.orderBy('number', 'desc')
			.limit(500)
			.execute();
		return rows.map((row) => ({
			number: row.number,
			label: row.label,
			createdAt: row.created_at,
			current: row.number === revision
		}));
	}

	/** Takes a project off the list; its revisions stay in the database, and it can be brought back. */
	async remove(id: string, ifMatch: string | null): Promise<void> {
		await this.transaction(async (store) => {
			matchOrRefuse(ifMatch, await read(store, id));
			await store.updateTable('projects').set({ removed_at: now() }).where('id', '=', id).execute();
		});
	}

	/** The picture of a revision; drawn when it is first asked for, once, however many ask. */
	async picture(id: string, revision: number, draw: () => Promise<string>): Promise<string> {
		const row = await this.database
			.selectFrom('pictures')
			.where('project_id', '=', id)
			.where('revision', '=', revision)
			.select('svg')
			.executeTakeFirst();
		if (row) return row.svg;
		const key = `${id} ${revision}`;
		if (this.undrawable.has(key))
			throw new ProblemError(422, 'No picture', 'this recipe could not be drawn in the time that a picture has');
		const drawing =
			this.drawings.get(key) ??
			draw()
				.then(async (svg) => {
					const values = { project_id: id, revision, svg };
					await this.database
						.insertInto('pictures')
						.values(values)
						.onConflict((c) => c.doNothing())
						.execute();
					return svg;
				})
				.catch((error: unknown) => {
					// What was stopped, or could not be stored just now, may be asked for again.
					if (error instanceof TaskError) this.undrawable.add(key);
					throw error;
				})
				.finally(() => this.drawings.delete(key));
		this.drawings.set(key, drawing);
		return drawing;
	}

	/** Runs in one transaction. What is thrown is the first error: after a full disk there is nothing left to roll back, and that must not hide it. */
	private async transaction<T>(run: (store: Transaction<Tables>) => Promise<T>): Promise<T> {
		let first: unknown;
		try {
			return await this.database.transaction().execute(async (store) => {
				try {
					return await run(store);
				} catch (error) {
					first = error;
					throw error;
				}
			});
		} catch (error) {
			if (first !== undefined) throw first;
			// The end of a transaction that fails is followed by a rollback of nothing.
			if (/cannot rollback/.test((error as Error).message))
				throw Object.assign(new Error('the end of a transaction failed'), { code: 'SQLITE_FULL' });
			throw error;
		}
	}

	private async change(
		id: string,
		ifMatch: string | null,
		run: (store: Transaction<Tables>, current: Project) => Promise<void>
	): Promise<Project> {
		const changed = () =>
			this.transaction(async (store) => {
				const current = this.announce(await read(store, id));
				matchOrRefuse(ifMatch, current);
				await run(store, current);
				return this.announce(await read(store, id));
			});
		return this.document?.project === id ? this.document.change(changed) : changed();
	}

	/** A project with the name of its document. */
	private announce(project: Project): Project {
		return this.document?.project === project.id ? { ...project, document: this.document.name } : project;
	}

	private async checkFiles(store: Store, files: FileTable): Promise<void> {
		for (const [name, hash] of Object.entries(files)) {
			const row = await store.selectFrom('files').where('hash', '=', hash).select('hash').executeTakeFirst();
			if (!row)
				throw new ProblemError(
					400,
					'Bad request',
					`the file “${name}” has not been stored; send its content to /api/files first`
				);
		}
	}
}

/** Refuses a change of anything but the present state. */
function matchOrRefuse(ifMatch: string | null, current: Project): void {
	if (ifMatch === null)
		throw new ProblemError(428, 'Precondition required', 'send the ETag of the revision that you changed in “If-Match”');
	if (ifMatch !== current.etag)
		throw new ProblemError(
			412,
			'Changed elsewhere',
			`the project was changed elsewhere and is at revision ${current.revision} now; nothing of yours was overwritten`,
			{ current }
		);
}

/** Every project at the revision that is current. */
const currentRevisions = (database: Database) =>
	database
		.selectFrom('projects')
		.innerJoin('moves', 'moves.project_id', 'projects.id')
		.innerJoin('revisions', (join) =>
			join.onRef('revisions.project_id', '=', 'projects.id').onRef('revisions.number', '=', 'moves.revision')
		)
		.where('moves.seq', 'in', (q) =>
			q
				.selectFrom('moves')
				.select((e) => e.fn.max('seq').as('seq'))
				.groupBy('project_id')
		)
		.select(['projects.id', 'moves.seq', 'moves.revision', 'moves.created_at', 'revisions.text']);

const now = () => new Date().toISOString();

function titleOf(text: string): string {
	// The title stands near the top; the rest need not be read. No text may keep a list of projects from being shown.
	try {
		return linesOf(parseRecipe(text.slice(0, 2000)).lines, title)[0]?.statement.title ?? 'Untitled';
	} catch (error) {
		log.error(error);
		return 'Untitled';
	}
}

async function currentMove(store: Store, id: string) {
	const move = await store
		.selectFrom('moves')
		.innerJoin('projects', 'projects.id', 'moves.project_id')
		.where('moves.project_id', '=', id)
		.where('projects.removed_at', 'is', null)
		.select(['moves.seq', 'moves.revision', 'moves.created_at'])
		.orderBy('moves.seq', 'desc')
		.limit(1)
		.executeTakeFirst();
	if (!move) throw notFound(`project ${id}`);
	return move;
}

async function read(store: Store, id: string): Promise<Project> {
	const move = await currentMove(store, id);
	const row = await revisionRow(store, id, move.revision);
	return {
		id,
		title: titleOf(row.text),
		revision: move.revision,
		etag: `"${move.seq}"`,
		text: row.text,
		files: JSON.parse(row.files),
		canUndo: row.parent !== null,
		canRedo: (await redoTarget(store, id, move.revision)) !== undefined,
		changedAt: move.created_at
	};
}

async function lastNumber(store: Store, id: string): Promise<number> {
	const { last } = await store
		.selectFrom('revisions')
		.where('project_id', '=', id)
		.select((e) => e.fn.max('number').as('last'))
		.executeTakeFirstOrThrow();
	return Number(last);
}

async function revisionRow(store: Store, id: string, number: number) {
	const row = await store
		.selectFrom('revisions')
		.where('project_id', '=', id)
		.where('number', '=', number)
		.selectAll()
		.executeTakeFirst();
	if (!row) throw notFound(`revision ${number} of this project`);
	return row;
}

/** Where redo leads: the revision that the latest undo to this one left, unless an edit came since. */
async function redoTarget(store: Store, id: string, revision: number): Promise<number | undefined> {
	const edit = await store
		.selectFrom('moves')
		.where('project_id', '=', id)
		.where('kind', 'in', ['edit', 'restore'])
		.select((e) => e.fn.max('seq').as('seq'))
		.executeTakeFirst();
	const undo = await store
		.selectFrom('moves')
		.where('project_id', '=', id)
		.where('kind', '=', 'undo')
		.where('revision', '=', revision)
		.where('seq', '>', Number(edit?.seq ?? 0))
		.select('redo')
		.orderBy('seq', 'desc')
		.limit(1)
		.executeTakeFirst();
	return undo?.redo ?? undefined;
}

/** Adds a revision under the next number and makes it current. */
async function addOnTop(store: Store, id: string, parent: number, revision: NewRevision, kind: MoveKind): Promise<void> {
	const number = (await lastNumber(store, id)) + 1;
	await addRevision(store, id, number, parent, revision);
	await addMove(store, id, number, kind, null);
}

async function addRevision(
	store: Store,
	id: string,
	number: number,
	parent: number | null,
	{ text, files, label }: NewRevision
): Promise<void> {
	await store
		.insertInto('revisions')
		.values({ project_id: id, number, parent, text, files: JSON.stringify(files), label, created_at: now() })
		.execute();
}

async function addMove(store: Store, id: string, revision: number, kind: MoveKind, redo: number | null): Promise<void> {
	await store.insertInto('moves').values({ project_id: id, revision, kind, redo, created_at: now() }).execute();
}
