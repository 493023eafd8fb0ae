import { existsSync, mkdirSync, statSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { FileError, fileError, isSystemError } from './system-error.ts';

/**
 * Makes a folder and those above it that are missing. Throws a {@link FileError}. Made one by one: asked for all at once, some
 * systems never come to an end where no folder can be made.
 */
export function makeFolder(path: string): void {
	const missing: string[] = [];
	let above = resolve(path);
	for (; !existsSync(above) && dirname(above) !== above; above = dirname(above)) missing.unshift(above);
	try {
		if (!statSync(above).isDirectory()) throw new FileError(`${above} is no folder`, 'ENOTDIR');
		for (const folder of missing)
			try {
				mkdirSync(folder);
			} catch (error) {
				// Another process may make it at the same time.
				if (!(isSystemError(error) && error.code === 'EEXIST' && statSync(folder).isDirectory())) throw error;
			}
	} catch (error) {
		if (isSystemError(error) && error.code === 'ENOENT')
			throw new FileError(`the folder ${path} cannot be made: ${above} takes none`, 'ENOENT', { cause: error });
		throw fileError(path, error);
	}
}
