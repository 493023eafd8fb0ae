import type { TextEdit } from '../../text/edit.ts';
import type { Recipe } from './recipe.ts';

/** Blanks of a line, as the lexer takes them. */
const blank = '[ \\t\\r\\u00a0\\ufeff]';
/** A text in quotes, blanks, a comma, or a run of anything else. */
const chunks = new RegExp(`"[^"]*"|${blank}+|,|(?:(?!${blank})[^",])+`, 'g');
const trailingBlanks = new RegExp(`${blank}+$`);

/** What a line belongs to: it starts a statement, goes on with one, stands in one that cannot be read, or in none. */
type Role = 'start' | 'rest' | 'unreadable' | 'none';

/**
 * Edits that make a recipe tidy: one space between words and after commas, none at the ends of lines, no more than one empty line
 * in a row, a line break at the end. Comments, texts in quotes and what cannot be read stay as they are; so does what the recipe
 * says. What is tidy is not changed again.
 */
export function tidied({ text, lines }: Recipe): TextEdit[] {
	const starts = lineStarts(text);
	const roles = rolesOf({ text, lines }, starts);
	const edits: TextEdit[] = [];
	let empty = 0;
	for (const [k, from] of starts.entries()) {
		// The line without its break; a carriage return before that is part of the break.
		const end = k + 1 < starts.length ? starts[k + 1]! - 1 : text.length;
		const to = end > from && text[end - 1] === '\r' && end < text.length ? end - 1 : end;
		const line = text.slice(from, to);
		const role = roles[k]!;
		const tidy = role === 'unreadable' ? line : tidyLine(line, role);
		empty = tidy === '' && role !== 'unreadable' ? empty + 1 : 0;
		// The third line break in a row goes, with its line; the end of the text has no break of its own.
		if (empty > 1 && end < text.length) edits.push({ from, to: end + 1, insert: '' });
		else if (tidy !== line) edits.push({ from, to, insert: tidy });
	}
	const last = text.slice(starts.at(-1));
	if (last.replace(trailingBlanks, '') !== '')
		edits.push({ from: text.length, to: text.length, insert: /\r\n/.test(text) ? '\r\n' : '\n' });
	return edits;
}

function lineStarts(text: string): number[] {
	const starts = [0];
	for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) starts.push(at + 1);
	return starts;
}

function rolesOf({ lines }: Recipe, starts: readonly number[]): Role[] {
	const roles = starts.map((): Role => 'none');
	let k = 0;
	for (const { from, to, statement } of lines) {
		while (k + 1 < starts.length && starts[k + 1]! <= from) k++;
		for (let j = k; j < starts.length && starts[j]! < to; j++) roles[j] = !statement ? 'unreadable' : j === k ? 'start' : 'rest';
	}
	return roles;
}

/** A line of a readable statement, or of none, with its blanks in order. */
function tidyLine(line: string, role: Role): string {
	if (role === 'none') return line.replace(trailingBlanks, '');
	const code = line.slice(0, commentAt(line));
	const comment = line.slice(code.length).replace(trailingBlanks, '');
	const gap = comment === '' ? '' : (trailingBlanks.exec(code)?.[0] ?? '');
	const indent = role === 'rest' ? /^\s*/.exec(code)![0] : '';
	let tidy = '';
	let isApart = false;
	for (const [chunk] of code.matchAll(chunks)) {
		if (chunk === ',') {
			tidy += ',';
			isApart = true;
		} else if (chunk.trim() === '') isApart = true;
		else {
			tidy += isApart && tidy !== '' ? ` ${chunk}` : chunk;
			isApart = false;
		}
	}
	// Nothing but a comment: it stays where it is.
	return tidy === '' ? (comment === '' ? '' : line.replace(trailingBlanks, '')) : indent + tidy + gap + comment;
}

/** Where the comment of a line begins; its length without one. */
function commentAt(line: string): number {
	let isQuoted = false;
	for (let k = 0; k < line.length; k++) {
		if (line[k] === '"') isQuoted = !isQuoted;
		else if (line[k] === '#' && !isQuoted) return k;
	}
	return line.length;
}
