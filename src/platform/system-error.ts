import { UserError } from '../core/text/user-error.ts';

/** A file that cannot be read or written, named wrongly or not allowed: the sentence says which and why. */
export class FileError extends UserError {
	constructor(
		message: string,
		/** The system's own word for it, like `ENOENT`. */
		readonly code: string,
		options?: ErrorOptions
	) {
		super(message, options);
	}
}

/** A file that can be read and holds something else than what is wanted. */
export class ContentError extends UserError {}

/** What the words of the system mean, about a file that is named before. */
const reasons: Record<string, string> = {
	EISDIR: 'is a folder, and a file is wanted',
	ENOTDIR: 'lies in something that is no folder',
	EACCES: 'may not be used by this user; ask for the right, or name another',
	EPERM: 'may not be used by this user; ask for the right, or name another',
	EROFS: 'lies on a disk that cannot be written',
	ENOSPC: 'does not fit: the disk is full',
	EDQUOT: 'does not fit: the share of this user of the disk is full',
	EFBIG: 'is larger than the disk allows',
	EMFILE: 'cannot be opened: too many files are open',
	ENFILE: 'cannot be opened: too many files are open',
	ENAMETOOLONG: 'has a name that is too long for the disk',
	ELOOP: 'leads round in a circle of links',
	EIO: 'cannot be read or written: the disk reports an error',
	EBUSY: 'is in use by another program',
	EEXIST: 'is there already',
	ENOTEMPTY: 'is not empty'
};

/** The word that the system or the database has for an error, like `ENOENT`; empty where it has none. */
export const codeOf = (error: unknown): string =>
	typeof error === 'object' && error !== null && 'code' in error && typeof error.code === 'string' ? error.code : '';

/** Whether an error is one of the system's, with a word for it. */
export const isSystemError = (error: unknown): error is NodeJS.ErrnoException =>
	error instanceof Error && codeOf(error) !== '' && 'syscall' in error;

/**
 * A sentence for what the system refused about a file; other errors stay as they are.
 */
export function fileError(named: string, error: unknown): unknown {
	if (!isSystemError(error)) return error;
	const { code = '' } = error;
	if (code === 'ENOENT') return new FileError(`there is no file ${named}`, code, { cause: error });
	return new FileError(`${named} ${reasons[code] ?? `cannot be used (${code})`}`, code, { cause: error });
}
