import { shortened } from './shortened.ts';

/** The `name` of every error whose message is a sentence for the user; it survives the way from one thread or process to another. */
const userErrorName = 'UserError';

/**
 * An error whose message is a sentence for the person who can mend the thing: what is wrong, where, what would be right. Only
 * such messages are shown; see {@link sentenceOf}.
 */
export class UserError extends Error {
	override name = userErrorName;

	constructor(message: string, options?: ErrorOptions) {
		super(shortened(message), options);
	}
}

/** Whether an error, of this thread or sent by another, carries a sentence for the user. */
export const isUserError = (error: unknown): error is Error => error instanceof Error && error.name === userErrorName;

/** What the engine says when something does not fit into memory. */
const outOfMemory =
	/call stack|invalid string length|invalid array length|invalid typed array length|allocation failed|out of memory/i;

/**
 * The one gate through which every error reaches a user: the sentence of a {@link UserError}, and for all other errors a
 * sentence that names no machinery.
 *
 * @param what what was under way, to begin the sentence with, like `the delivery`
 */
export function sentenceOf(error: unknown, what = 'the computation'): string {
	if (isUserError(error)) return error.message;
	const { name, message } = error instanceof Error ? error : { name: '', message: '' };
	if (name === 'RangeError' && outOfMemory.test(message))
		return `${what} needs more memory than there is; make the mesh, the file or the expression smaller`;
	return `${what} failed inside Tessellon; nothing of yours was changed. Please report it, with the recipe`;
}
