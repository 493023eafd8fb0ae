import { controlSign, withoutControlSigns } from '../core/text/control-signs.ts';
import { UserError } from '../core/text/user-error.ts';

/** Longest name of a file or folder, in bytes: what common file systems take. */
const longestName = 200;

/** What stands for a folder, a drive or a device on some system. */
const special = /[\\:*?"<>|]/;

/**
 * The one check of the name of every file that is written by name: of a deck, a delivery, a study, an entry of an archive.
 * Throws a {@link UserError} unless it is relative, stays below its folder, and is a name on every file system.
 *
 * @param name names joined by `/`, the last one of a file
 */
export function checkPartName(name: string): void {
	const refuse = (why: string): never => {
		throw new UserError(`a file cannot be named “${withoutControlSigns(name)}”: ${why}`);
	};
	if (name === '') refuse('a name is wanted');
	if (controlSign(name)) refuse('it holds control signs');
	if (special.test(name)) refuse('it holds one of the signs \\ : * ? " < > |, which some systems do not take');
	for (const part of name.split('/')) {
		if (part === '') refuse('it starts or ends with a slash, or has two in a row');
		if (part === '.' || part === '..') refuse('it leads out of its folder');
		if (/[. ]$/.test(part)) refuse('it ends with a dot or a blank, which some systems do not take');
		if (new TextEncoder().encode(part).length > longestName) refuse(`it is longer than ${longestName} bytes`);
	}
}
