/**
 * A cell of a table that no spreadsheet takes for a formula: one that begins with `=`, `+`, `-` or `@` (or a sign that
 * spreadsheets pass over before these) and is no number stands behind an apostrophe, which they take for the mark of a text.
 */
export function safeCell(text: string): string {
	const isNumber = /^[+-]?(\d+[.,]?\d*|[.,]\d+)([eE][+-]?\d+)?$/.test(text);
	return /^[\s\p{Cc}]*[=+\-@＝＋－＠]/u.test(text) && !isNumber ? `'${text}` : text;
}
