import { renameSync, rmSync, writeFileSync } from 'node:fs';
import { UsageError } from './errors.ts';

/** Writes under another name first, so that no half-written file is ever left behind. */
export function writeWhole(file: string, bytes: Uint8Array): void {
	const partial = `${file}.${process.pid}.partial`;
	try {
		writeFileSync(partial, bytes);
		renameSync(partial, file);
	} catch (error) {
		rmSync(partial, { force: true });
		throw new UsageError(`${file} could not be written: ${(error as Error).message}`);
	}
}
