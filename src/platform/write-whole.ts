import { realpathSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { UserError } from '../core/text/user-error.ts';
import { checkPartNames, type Part } from '../formats/parts.ts';
import { makeFolder } from './make-folder.ts';
import { FileError, fileError, isSystemError } from './system-error.ts';

/** Writes under another name first, so that no half-written file is ever left behind. Throws a {@link FileError}. */
export function writeWhole(file: string, bytes: Uint8Array): void {
	const partial = `${file}.${process.pid}.partial`;
	try {
		writeFileSync(partial, bytes);
		renameSync(partial, file);
	} catch (error) {
		rmSync(partial, { force: true });
		if (!isSystemError(error)) throw error;
		if (error.code === 'ENOENT')
			throw new FileError(`${file} cannot be written: there is no folder ${dirname(file)}`, 'ENOENT', { cause: error });
		throw fileError(file, error);
	}
}

/** Writes files by their names below a folder, which is made where it is missing; returns their paths. */
export function writeParts(folder: string, parts: readonly Part[]): string[] {
	checkPartNames(parts);
	return parts.map(({ name, bytes }) => {
		const file = join(folder, name);
		makeFolder(dirname(file));
		writeWhole(file, bytes);
		return file;
	});
}

/** Which file of the disk a path names, whatever the way to it; by its whole path where there is none. */
function identity(path: string): string {
	const found = statSync(path, { bigint: true, throwIfNoEntry: false });
	if (found) return `${found.dev} ${found.ino}`;
	try {
		return join(realpathSync(dirname(path)), path.slice(dirname(path).length));
	} catch {
		return resolve(path);
	}
}

/** Throws a {@link UserError} where a file that is to be written is one of those that are read. */
export function refuseInputs(outputs: readonly string[], inputs: readonly string[]): void {
	const read = new Map(inputs.map((path) => [identity(path), path]));
	for (const path of outputs) {
		const input = read.get(identity(path));
		if (input !== undefined)
			throw new UserError(
				`${path} would overwrite ${input === path ? 'the file' : input} that this reads; write to another file`
			);
	}
}
