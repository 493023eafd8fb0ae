import { existsSync, readdirSync, readFileSync, renameSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { caseFolder, type StudyCase } from '../core/study/cases.ts';
import { UserError } from '../core/text/user-error.ts';
import { checkPartNames, type Part } from '../formats/parts.ts';
import type { CaseRecord } from '../formats/study.ts';
import {
	asJson,
	caseName,
	manifestName,
	type StoredCase,
	storedManifest,
	type StoredManifest
} from '../formats/study-archive.ts';
import { studyFiles, type StudyManifest } from '../formats/study-page.ts';
import { makeFolder } from './make-folder.ts';
import { FileError, fileError, isSystemError } from './system-error.ts';
import { writeParts, writeWhole } from './write-whole.ts';

/** How many cases there are of each kind. */
export interface CaseCounts {
	done: number;
	failed: number;
	missing: number;
}

/** What is written first in a new folder, by whoever comes first: another process may see it. */
const isManifest = (name: string) => name === manifestName || /^study\.json\.\d+\.partial$/.test(name);

/**
 * The folder of a study: `study.json`, the table and the page, and below `cases/` a folder to each case. Nothing is ever removed
 * or overwritten that was not written here: a folder that is not a study's is refused, a case's folder has a name that is made
 * from its number, and beside each case stands which files are ours.
 */
export class StudyFolder {
	private constructor(
		readonly path: string,
		readonly manifest: StudyManifest
	) {}

	/** Makes the folder of a study, or goes on with it. Throws a {@link UserError} for a folder that holds anything else. */
	static make(path: string, manifest: StudyManifest): StudyFolder {
		const names = namesIn(path);
		const isOurs = names.some(isManifest);
		if (names.length > 0 && !isOurs)
			throw new UserError(
				`${path} holds other files (${names.slice(0, 3).join(', ')}${names.length > 3 ? ', …' : ''}) and no study; name a new or an empty folder`
			);
		const before = isOurs && existsSync(join(path, manifestName)) ? readManifest(path) : undefined;
		if (before && before.study !== manifest.study)
			throw new UserError(`${path} holds the study ${before.study}; name another folder for the study ${manifest.study}`);
		makeFolder(path);
		writeWhole(join(path, manifestName), asJson(storedManifest(manifest)));
		const folder = new StudyFolder(path, manifest);
		if (before) folder.takeOverMoved(before);
		// Table and page are there from the start, so that what has their names is ours.
		else folder.collect();
		return folder;
	}

	/** Opens the folder of a study that is there. Throws a {@link UserError} where it is none. */
	static open(path: string): StudyFolder {
		if (!existsSync(join(path, manifestName)))
			throw new UserError(`${path} holds no study; it is made by “tessellon study RECIPE --out ${path}”`);
		return new StudyFolder(path, readManifest(path));
	}

	/** What came of a case; undefined where it has not been run to its end. */
	record(one: StudyCase): CaseRecord | undefined {
		const stored = this.stored(one);
		if (!stored || stored.unfinished) return undefined;
		const { files, ...record } = stored;
		return record;
	}

	/** Writes what came of a case, and its files; the files of an earlier run go. */
	write(one: StudyCase, record: CaseRecord, parts: readonly Part[]): void {
		checkPartNames([...parts, { name: caseName, bytes: new Uint8Array() }]);
		const folder = this.folderOf(one);
		makeFolder(folder);
		const before = this.stored(one)?.files ?? [];
		const now = parts.map(({ name }) => name);
		const foreign = [...now, caseName].find((name) => !before.includes(name) && this.isForeign(folder, name));
		if (foreign !== undefined)
			throw new UserError(
				`${join(folder, foreign)} was not written by this study, and stays; move it away, and run the case again`
			);
		const write = (stored: StoredCase) => writeWhole(join(folder, caseName), asJson(stored));
		write({ ...record, files: [...new Set([...before, ...now])], unfinished: true });
		for (const name of before) if (!now.includes(name)) rmSync(join(folder, name), { force: true });
		writeParts(folder, parts);
		write({ ...record, files: now });
	}

	/** Makes the table and the page of what is there. */
	collect(): CaseCounts {
		const records = new Map<number, CaseRecord>();
		for (const one of this.manifest.cases) {
			const record = this.record(one);
			if (record) records.set(one.number, record);
		}
		writeParts(this.path, studyFiles(this.manifest, records));
		const all = [...records.values()];
		return {
			done: all.filter((r) => r.ok).length,
			failed: all.filter((r) => !r.ok).length,
			missing: this.manifest.cases.length - all.length
		};
	}

	/** The table as JSON. */
	get table(): string {
		return readFileSync(join(this.path, 'table.json'), 'utf8');
	}

	private folderOf(one: StudyCase): string {
		return join(this.path, 'cases', caseFolder(one));
	}

	private stored(one: StudyCase): StoredCase | undefined {
		return readCase(this.folderOf(one));
	}

	/** Whether a file is there that no run of this case has written. */
	private isForeign(folder: string, name: string): boolean {
		const path = join(folder, name);
		if (!existsSync(path)) return false;
		return name !== caseName || readCase(folder) === undefined;
	}

	/** A case that stood at another place of the study before is not done again: its folder gets the new name. */
	private takeOverMoved(before: StudyManifest): void {
		const key = ({ settings, refine }: StudyCase) => JSON.stringify([Object.entries(settings).sort(), refine]);
		const current = new Set(this.manifest.cases.map(caseFolder));
		const moved = new Map(before.cases.filter((one) => !current.has(caseFolder(one))).map((one) => [key(one), one]));
		for (const one of moved.size > 0 ? this.manifest.cases : []) {
			const from = moved.get(key(one));
			if (!from || existsSync(this.folderOf(one))) continue;
			moved.delete(key(one));
			const stored = this.stored(from);
			if (!stored) continue;
			try {
				renameSync(this.folderOf(from), this.folderOf(one));
				writeWhole(join(this.folderOf(one), caseName), asJson({ ...stored, number: one.number, case: one.name }));
			} catch (error) {
				// Another process was faster; then the case is simply run.
				if (!isSystemError(error) && !(error instanceof FileError)) throw error;
			}
		}
	}
}

function namesIn(path: string): string[] {
	try {
		if (!statSync(path, { throwIfNoEntry: false })) return [];
		return readdirSync(path);
	} catch (error) {
		throw fileError(path, error);
	}
}

function readManifest(path: string): StudyManifest {
	const file = join(path, manifestName);
	let found: Partial<StoredManifest> | undefined;
	try {
		found = JSON.parse(readFileSync(file, 'utf8')) as Partial<StoredManifest>;
	} catch (error) {
		if (isSystemError(error)) throw fileError(file, error);
	}
	if (found?.tessellon !== 'study' || !Array.isArray(found.cases) || typeof found.study !== 'string')
		throw new UserError(`${file} is not of a study that was made here; name another folder`);
	const { title = '', study, cases } = found;
	return { title, study, cases };
}

function readCase(folder: string): StoredCase | undefined {
	try {
		const stored = JSON.parse(readFileSync(join(folder, caseName), 'utf8')) as StoredCase;
		return typeof stored.hash === 'string' && Array.isArray(stored.files) ? stored : undefined;
	} catch {
		return undefined;
	}
}
