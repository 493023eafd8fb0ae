import { UserError } from '../core/text/user-error.ts';

/** Longest name of a file or folder, in bytes: what common file systems take. */
const longestName = 200;

/** Control signs, and those that turn the direction of what follows. */
const invisible = /[\p{Cc}\u2028\u2029\u202a-\u202e\u2066-\u2069]/u;

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
		throw new UserError(`a file cannot be named \`${name.replace(new RegExp(invisible, 'gu'), '·')}\`: ${why}`);
	};
	if (name === '') refuse('a name is wanted');
	if (invisible.test(name)) refuse('it holds control signs');
	if (special.test(name)) refuse('it holds one of the signs \\ : * ? " < > |, which some systems do not take');
	for (const part of name.split('/')) {
		if (part === '') refuse('it starts or ends with a slash, or has two in a row');
		if (part === '.' || part === '..') refuse('it leads out of its folder');
		if (/[. ]$/.test(part)) refuse('it ends with a dot or a blank, which some systems do not take');
		if (new TextEncoder().encode(part).length > longestName) refuse(`it is longer than ${longestName} bytes`);
	}
}

/** A text without what no title, name or label may hold: control signs but for blanks. */
export const hasControlSigns = (text: string): boolean => invisible.test(text);
