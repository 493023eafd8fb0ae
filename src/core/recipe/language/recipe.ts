import type { Mend } from '../../text/finding.ts';
import type { Statement } from './syntax.ts';

/** One statement with its place: `text.slice(from, to)` is exactly what was written, comment and indentation aside. */
export interface Line {
	from: number;
	to: number;
	/** Line of the file, from 1, on which the statement starts. */
	number: number;
	/** The parsed statement, or undefined where `error` says why not. */
	statement?: Statement;
	error?: SyntaxError;
	/** The name that an unreadable statement would define, where its start shows one. */
	defines?: string;
}

/** What is wrong with a statement, at an offset from its start. */
export interface SyntaxError {
	message: string;
	from: number;
	to: number;
	/** Edits of the statement that settle it, by offsets from its start, the likeliest first. */
	mends?: Mend[];
}

/**
 * A recipe: its text and what the text says. A value: an edit makes a new one. `text` is kept as
 * it was given, so printing a recipe gives the file back byte for byte.
 */
export interface Recipe {
	text: string;
	lines: Line[];
}
