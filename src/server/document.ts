import { watch } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { FileTable, Project } from '../api/schemas.ts';
import { codeOf, fileError } from '../platform/system-error.ts';
import { sentenceOf } from '../core/text/user-error.ts';
import { readRecipe } from '../platform/read-recipe.ts';
import { writeWhole } from '../platform/write-whole.ts';
import { mentionedFiles } from '../core/recipe/model/mentioned-files.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import { coordinateFileLimit } from '../formats/coordinates.ts';
import type { Database } from '../platform/database/database.ts';
import { log } from './log.ts';
import { ProblemError } from './problem.ts';
import { emptyRecipe } from '../core/recipe/empty.ts';
import type { Projects } from './projects.ts';
import type { StoredFiles } from './stored-files.ts';

/** So long, in milliseconds, a save of an editor may take in several steps. */
const rest = 120;

/**
 * A recipe file on disk that is the document of a project. What is saved to it by any editor becomes a revision at once; what
 * is changed in the desk is written to it. Before a change of the desk is taken the file is looked at: was it changed, that
 * becomes a revision first, and the change meets a project that was changed elsewhere, so that neither is lost.
 */
export class RecipeDocument {
	private last: Promise<unknown> = Promise.resolve();
	/** The files beside the recipe as they were when last read or written, by the hash of their content. */
	private fileTable: FileTable = {};
	/** What files beside it were when they were last read, by size and time. */
	private readonly read = new Map<string, { mark: string; hash: string }>();
	private readonly listeners = new Set<(project: Project) => void>();
	private timer: ReturnType<typeof setTimeout> | undefined;
	private stopWatching = () => {};

	private constructor(
		readonly path: string,
		readonly project: string,
		private readonly projects: Projects,
		private readonly files: StoredFiles
	) {}

	/** Opens a file, made empty where there is none, in the project that it had before, or in a new one. Throws an Error with a sentence. */
	static async open(path: string, database: Database, projects: Projects, files: StoredFiles): Promise<RecipeDocument> {
		const text = readText(path) ?? emptyRecipe();
		const row = await database.selectFrom('documents').where('path', '=', path).select('project_id').executeTakeFirst();
		const project = row && (await projects.get(row.project_id).catch(() => undefined));
		const id = project?.id ?? (await projects.create(text, {}, `Open ${basename(path)}`)).id;
		const values = { path, project_id: id };
		await database
			.insertInto('documents')
			.values(values)
			.onConflict((c) => c.column('path').doUpdateSet({ project_id: id }))
			.execute();
		const document = new RecipeDocument(path, id, projects, files);
		if (readText(path) === undefined) writeWhole(path, new TextEncoder().encode(text));
		await document.inTurn(() => document.pull());
		document.watch();
		projects.follow(document);
		return document;
	}

	get name(): string {
		return basename(this.path);
	}

	/** A change of the project: after what is on disk, and then written there. */
	change(run: () => Promise<Project>): Promise<Project> {
		return this.inTurn(async () => {
			await this.pull();
			const project = await run();
			await this.push(project);
			for (const listener of this.listeners) listener(project);
			return project;
		});
	}

	/** Calls back with the project after every change; returns what ends that. */
	listen(listener: (project: Project) => void): () => void {
		this.listeners.add(listener);
		return () => this.listeners.delete(listener);
	}

	close(): void {
		clearTimeout(this.timer);
		this.stopWatching();
		this.listeners.clear();
	}

	/** One after the other: what is read is never half written. */
	private inTurn<T>(run: () => Promise<T>): Promise<T> {
		const done = this.last.then(run);
		this.last = done.catch(() => {});
		return done;
	}

	/** Takes what is on disk as a revision, where it is not what the project has. */
	private async pull(): Promise<void> {
		const text = readText(this.path);
		if (text === undefined) return;
		const current = await this.projects.get(this.project);
		const files = await this.filesOf(text, current.files);
		this.fileTable = files;
		const same = (name: string) => current.files[name] === files[name];
		if (text === current.text && Object.keys(files).every(same)) return;
		const label = text === current.text ? 'Files beside it changed' : `Saved in ${this.name}`;
		const project = await this.projects.editDirectly(this.project, { text, files: { ...current.files, ...files }, label });
		for (const listener of this.listeners) listener(project);
	}

	/** The files that a recipe names and that stand beside it, stored. */
	private async filesOf(text: string, before: FileTable): Promise<FileTable> {
		const table: FileTable = {};
		for (const name of mentionedFiles(parseRecipe(text))) {
			if (basename(name) !== name) continue;
			const file = join(dirname(this.path), name);
			const found = await stat(file, { bigint: true }).catch(() => undefined);
			// What is too large to be kept is told by the recipe, which lacks it.
			if (!found?.isFile() || found.size > coordinateFileLimit) continue;
			// A file is read again only where it changed: this happens at every change in the desk.
			const mark = `${found.ino} ${found.size} ${found.mtimeNs}`;
			const last = this.read.get(name);
			if (last?.mark === mark && before[name] === last.hash) table[name] = last.hash;
			else {
				const content = await readFile(file).catch(() => undefined);
				if (!content) continue;
				const { hash } = await this.files.put(content);
				this.read.set(name, { mark, hash });
				table[name] = hash;
			}
		}
		return table;
	}

	/** Writes a project to the disk: its text, and the files that are new. */
	private async push({ text, files }: Project): Promise<void> {
		for (const name of mentionedFiles(parseRecipe(text))) {
			const hash = files[name];
			if (hash === undefined || hash === this.fileTable[name] || basename(name) !== name) continue;
			writeWhole(join(dirname(this.path), name), await this.files.get(hash));
			this.fileTable[name] = hash;
		}
		if (readText(this.path) !== text) writeWhole(this.path, new TextEncoder().encode(text));
	}

	/** Follows the folder: editors save by renaming, which a watch of the file itself would lose. */
	private watch(): void {
		const watcher = watch(dirname(this.path), (_, name) => {
			if (name !== this.name && !(name !== null && name in this.fileTable)) return;
			clearTimeout(this.timer);
			this.timer = setTimeout(() => {
				this.inTurn(() => this.pull()).catch((error: Error) => log.warn({ reason: error.message }, `${this.name} was not read`));
			}, rest);
		});
		watcher.on('error', (error) => log.warn({ reason: error.message }, `${this.name} is no longer followed`));
		this.stopWatching = () => watcher.close();
	}
}

/** The text of a recipe file; undefined where there is none. Throws a {@link ProblemError} for one that is no text. */
function readText(path: string): string | undefined {
	try {
		return readRecipe(path);
	} catch (error) {
		if (codeOf(error) === 'ENOENT') return undefined;
		const sentence = sentenceOf(fileError(path, error), `reading ${path}`);
		throw new ProblemError(409, 'The file on disk is no recipe', sentence);
	}
}
