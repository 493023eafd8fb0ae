import { renameSync, rmSync, writeFileSync } from 'node:fs';
import { UserError } from '../core/text/user-error.ts';

/** A file that cannot be written; its message says which and why. */
export class WriteError extends UserError {}

/** Writes under another name first, so that no half-written file is ever left behind. */
export function writeWhole(file: string, bytes: Uint8Array): void {
	const partial = `${file}.${process.pid}.partial`;
	try {
		writeFileSync(partial, bytes);
		renameSync(partial, file);
	} catch (error) {
		rmSync(partial, { force: true });
		throw new WriteError(`${file} could not be written: ${(error as Error).message}`);
	}
}
