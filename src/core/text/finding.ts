import type { TextEdit } from './edit.ts';

/** How much a finding matters: an error stops a part of the work, a warning is doubtful, a note only informs. */
export type Severity = 'error' | 'warning' | 'note';

/** A part of the recipe text, `from` inclusive and `to` exclusive, in UTF-16 code units. */
export interface Span {
	from: number;
	to: number;
}

/** An edit of the recipe that settles a finding, with the words for its button. */
export interface Mend {
	label: string;
	edits: TextEdit[];
}

/** The edits that would settle a finding, the likeliest first. */
export const mendsOf = ({ mend, otherMends = [] }: Pick<Finding, 'mend' | 'otherMends'>): Mend[] =>
	mend ? [mend, ...otherMends] : otherMends;

/**
 * Something wrong or doubtful, for the person who can mend it: what it is, where in the text and
 * in the drawing, and — where safe — an edit of the recipe that settles it.
 */
export interface Finding {
	severity: Severity;
	/** A stable word for programs, like `open-end`. */
	code: string;
	/** A sentence: what is wrong, where, what would be right. */
	message: string;
	/** The place in the drawing, in recipe units. */
	at?: { x: number; y: number };
	/** The place in the recipe text. */
	span?: Span;
	/** Pieces concerned, as indices into the arrangement. */
	pieces?: number[];
	/** An edit that settles the finding, with the words for its button. */
	mend?: Mend;
	/** Others that would, where what is meant is not known. */
	otherMends?: Mend[];
}
