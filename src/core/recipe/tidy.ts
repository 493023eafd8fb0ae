import type { TextEdit } from '../text/edit.ts';
import type { Recipe } from './recipe.ts';

/**
 * Edits that make a recipe tidy: one space between words and after commas, none at the ends of lines, no more than one empty line
 * in a row, a line break at the end. Comments, texts in quotes and what cannot be read stay as they are.
 */
export function tidied({ text, lines }: Recipe): TextEdit[] {
	const edits: TextEdit[] = [];
	const replace = (from: number, to: number, insert: string) => {
		if (text.slice(from, to) !== insert) edits.push({ from, to, insert });
	};
	for (const { from, to, statement } of lines) {
		if (!statement) continue;
		const source = text.slice(from, to);
		// Blanks within a line of the statement, outside of quotes.
		for (const { index, 0: found } of source.matchAll(/"[^"\n]*"|[ \t]*,[ \t]*|(?<=\S)[ \t]+(?=[^\s#])/g)) {
			if (found.startsWith('"')) continue;
			const isLast = /^\s*(#|\n|$)/.test(source.slice(index + found.length));
			replace(from + index, from + index + found.length, found.includes(',') ? (isLast ? ',' : ', ') : ' ');
		}
		const start = text.lastIndexOf('\n', from - 1) + 1;
		if (text.slice(start, from).trim() === '') replace(start, from, '');
	}
	for (const { index, 0: found } of text.matchAll(/[ \t]+(?=\r?\n|$)/g)) {
		const end = index + found.length;
		if (!edits.some((edit) => edit.from < end && edit.to > index)) replace(index, end, '');
	}
	for (const { index, 0: found } of text.matchAll(/\n(?:[ \t]*\n){2,}/g)) {
		const [from, to] = [index, index + found.length];
		for (let k = edits.length - 1; k >= 0; k--) if (edits[k]!.from >= from && edits[k]!.to <= to) edits.splice(k, 1);
		replace(from, to, '\n\n');
	}
	if (text !== '' && !text.endsWith('\n')) edits.push({ from: text.length, to: text.length, insert: '\n' });
	return edits;
}
