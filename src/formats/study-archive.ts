import { Zip, ZipDeflate } from 'fflate';
import { caseFolder, type StudyCase } from '../core/study/cases.ts';
import { always, checkPartNames, type Part } from './parts.ts';
import { checkPartName } from './part-name.ts';
import type { CaseRecord } from './study.ts';
import { studyFiles, type StudyManifest } from './study-page.ts';

/** What stands in `study.json`: the mark by which a folder is known as that of a study, and the study. */
export interface StoredManifest extends StudyManifest {
	tessellon: 'study';
}

/** What stands in `case.json`: what came of the case, and the files that were written with it. */
export interface StoredCase extends CaseRecord {
	/** Names of the files beside it that are ours. What else lies there is the user's. */
	files: string[];
	/** Set while files are written: what is killed then is done again. */
	unfinished?: true;
}

export const [manifestName, caseName] = ['study.json', 'case.json'];
export const asJson = (value: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(value, undefined, '\t') + '\n');
/** What `study.json` holds of a study. */
export const storedManifest = (manifest: StudyManifest): StoredManifest => ({ tessellon: 'study', ...manifest });

/** The folder of a study as a ZIP archive that is written case by case: only what is compressed is held. */
export class StudyArchive {
	private readonly zip: Zip;
	private readonly records = new Map<number, CaseRecord>();

	/** @param take gets the archive, stretch by stretch */
	constructor(
		private readonly manifest: StudyManifest,
		take: (bytes: Uint8Array) => void
	) {
		this.zip = new Zip((error, bytes) => {
			if (error) throw error;
			take(bytes);
		});
		this.write({ name: manifestName, bytes: asJson(storedManifest(manifest)) });
	}

	/** Writes what came of a case, and its files. Throws a {@link UserError} for a name that no file may have. */
	add(one: StudyCase, record: CaseRecord, parts: readonly Part[]): void {
		const stored: StoredCase = { ...record, files: parts.map(({ name }) => name) };
		const all = [{ name: caseName, bytes: asJson(stored) }, ...parts];
		checkPartNames(all);
		this.records.set(one.number, record);
		for (const { name, bytes } of all) this.write({ name: `cases/${caseFolder(one)}/${name}`, bytes });
	}

	/** Writes the table and the page of what is there, and ends the archive. */
	finish(): void {
		for (const part of studyFiles(this.manifest, this.records)) this.write(part);
		this.zip.end();
	}

	private write({ name, bytes }: Part): void {
		checkPartName(name);
		const file = new ZipDeflate(name, { level: 6 });
		file.mtime = always;
		this.zip.add(file);
		file.push(bytes, true);
	}
}
