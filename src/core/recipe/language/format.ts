import type { IToken } from 'chevrotain';
import type { TextEdit } from '../../text/edit.ts';
import { functionNames } from './functions.ts';
import { language } from './language.ts';
import { editBetween } from './mending.ts';
import { parseStatement } from './parse.ts';
import type { Line, Recipe } from './recipe.ts';
import { inPresentForm } from './slips.ts';
import type { Statement } from './syntax.ts';
import { NumberLiteral } from './tokens.ts';

/** The longest line that is not broken, and the indentation of the lines that it goes on with. */
const [widest, indentation] = [100, 4];
/** What a part holds stands this much farther in than the part. */
const partIndentation = 2;
/** The least number of blanks between a statement and the comment behind it. */
const beforeComment = 2;

/** What stands on one or several lines of the text: a statement with the comment behind it, a comment alone, an empty line, or what is kept as it is. */
type Item =
	| { kind: 'statement'; code: string; comment: string; depth: number }
	| { kind: 'comment'; text: string; depth: number }
	| { kind: 'kept'; lines: readonly string[] }
	| { kind: 'empty' };

/**
 * Edits that write a recipe in its one form: one blank between words and after commas, “=” and comments of lines that follow one another
 * in one column, one empty line at most, lines of more than 100 signs broken at commas, and what is in a part indented. A statement in an
 * earlier form of the language is written in the present one. Order, comments and what cannot be read stay as they are; so does what
 * the recipe says. What is in this form is not changed again.
 */
export function formatted(recipe: Recipe): TextEdit[] {
	const { text } = recipe;
	const end = text.includes('\r\n') ? '\r\n' : '\n';
	const mark = text.startsWith('\ufeff') ? '\ufeff' : '';
	const lines = written(itemsOf(recipe));
	const after = lines.length === 0 ? mark : `${mark}${lines.join(end)}${end}`;
	return after === text ? [] : [editBetween(text, after)];
}

/** The text of a recipe, its items one after the other. */
function itemsOf({ text, lines }: Recipe): Item[] {
	const physical = text.replace(/^\ufeff/, '').split(/\r?\n|\r$/);
	const items: Item[] = [];
	let depth = 0;
	let next = 0;
	for (let k = 0; k < physical.length; k++) {
		const line = lines[next];
		if (line && line.number === k + 1) {
			next++;
			const count = linesOf(text, line);
			const own = physical.slice(k, k + count);
			k += count - 1;
			const item = statementItem(text, line, own, depth);
			const word = /^\s*([a-z]+)/.exec(own[0]!)?.[1];
			if (item.kind === 'statement' && word === 'end') item.depth = depth = Math.max(0, depth - 1);
			if (item.kind === 'statement' && word === 'part' && line.statement && !('file' in line.statement)) depth++;
			items.push(item);
			continue;
		}
		const bare = trimmed(physical[k]!);
		items.push(bare === '' ? { kind: 'empty' } : { kind: 'comment', text: bare, depth });
	}
	return items;
}

/** How many lines of the text a statement stands on. */
function linesOf(text: string, { from, to }: Line): number {
	let count = 1;
	for (let at = text.indexOf('\n', from); at >= 0 && at < to; at = text.indexOf('\n', at + 1)) count++;
	return count;
}

const blanks = '[ \\t\\r\\u00a0\\ufeff]*';
const trimmed = (line: string) => line.replace(new RegExp(`^${blanks}|${blanks}$`, 'g'), '');

function statementItem(text: string, line: Line, own: readonly string[], depth: number): Item {
	const source = text.slice(line.from, line.to);
	const last = own.at(-1)!;
	const comment = trimmed(last.slice(commentAt(last)));
	// A comment between the lines of a statement keeps them apart.
	const isApart = own.slice(0, -1).some((one) => commentAt(one) < one.length);
	const present = line.statement ? source : inPresentForm(source);
	const read = line.statement ?? parseStatement(present).statement;
	const code = read && !isApart ? spaced(present) : undefined;
	if (code === undefined || !saysTheSame(read!, code)) return { kind: 'kept', lines: shifted(own, depth) };
	return { kind: 'statement', code, comment, depth };
}

/** Lines that stay as they are, all as much farther in or out as puts the first of them in its place. */
function shifted(own: readonly string[], depth: number): string[] {
	const [lead] = new RegExp(`^${blanks}`).exec(own[0]!)!;
	const indent = ' '.repeat(partIndentation * depth);
	return own.map((line, k) => (k === 0 || line.startsWith(lead) ? indent + line.slice(lead.length) : line));
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

function saysTheSame(statement: Statement, code: string): boolean {
	const other = parseStatement(code).statement;
	return other !== undefined && withoutPlaces(other) === withoutPlaces(statement);
}

const withoutPlaces = (statement: Statement) =>
	JSON.stringify(statement, (key, value: unknown) => (key === 'from' || key === 'to' ? undefined : value));

/** A statement on one line, its words parted by one blank. */
function spaced(source: string): string {
	const { tokens } = language().lexer.tokenize(source);
	let code = '';
	tokens.forEach((token, k) => {
		const before = tokens[k - 1];
		code += (before ? gap(before, token) : '') + token.image;
	});
	return code;
}

/** What stands between two tokens: around an operator what the writer chose, a blank or none. */
function gap(a: IToken, b: IToken): '' | ' ' {
	const asWritten = a.startOffset + a.image.length < b.startOffset ? ' ' : '';
	if (',)].['.includes(b.image) || '([.'.includes(a.image)) return '';
	if (a.image === ',' || a.image === '=' || b.image === '=') return ' ';
	if (a.tokenType === NumberLiteral && /^[\p{L}_]/u.test(b.image)) return ' ';
	if ('+-*/^'.includes(a.image) || '+-*/^'.includes(b.image)) return asWritten;
	if (b.image === '(' && functionNames.includes(a.image)) return asWritten;
	return ' ';
}

/** The lines of items. */
function written(items: readonly Item[]): string[] {
	const lines: string[] = [];
	for (let k = 0; k < items.length;) {
		const item = items[k]!;
		if (item.kind === 'statement') {
			let end = k;
			const run: Extract<Item, { kind: 'statement' }>[] = [];
			for (let next = items[end]; next?.kind === 'statement' && next.depth === item.depth; next = items[++end]) run.push(next);
			lines.push(...aligned(run));
			k = end;
			continue;
		}
		if (item.kind === 'comment') lines.push(' '.repeat(partIndentation * item.depth) + item.text);
		else if (item.kind === 'kept') lines.push(...item.lines);
		else if (lines.length > 0 && lines.at(-1) !== '') lines.push('');
		k++;
	}
	while (lines.at(-1) === '') lines.pop();
	return lines;
}

/** The lines of statements that follow one another, what they have in common in one column. */
function aligned(run: readonly { code: string; comment: string; depth: number }[]): string[] {
	const codes = alignedValues(run.map(({ code }) => code));
	const blocks = codes.map((code, k) => broken(code, partIndentation * run[k]!.depth));
	// Comments behind one another stand in one column; a run ends where a statement takes several lines.
	const column = blocks.map((block, k) => {
		if (block.length > 1) return block.at(-1)!.length + beforeComment;
		let [from, to] = [k, k];
		while (from > 0 && blocks[from - 1]!.length === 1) from--;
		while (to + 1 < blocks.length && blocks[to + 1]!.length === 1) to++;
		let most = 0;
		for (let j = from; j <= to; j++) if (run[j]!.comment !== '') most = Math.max(most, blocks[j]![0]!.length);
		return most + beforeComment;
	});
	return blocks.flatMap((block, k) => {
		const { comment } = run[k]!;
		if (comment === '') return block;
		return [...block.slice(0, -1), block.at(-1)!.padEnd(column[k]!) + comment];
	});
}

/** Parameters that follow one another have their values in one column. */
function alignedValues(codes: readonly string[]): string[] {
	const parts = codes.map((code) => /^(let \S+) (=.*)$/.exec(code));
	return codes.map((code, k) => {
		if (!parts[k]) return code;
		let [from, to] = [k, k];
		while (parts[from - 1]) from--;
		while (parts[to + 1]) to++;
		const width = Math.max(...parts.slice(from, to + 1).map((part) => part![1]!.length));
		return `${parts[k][1]!.padEnd(width)} ${parts[k][2]!}`;
	});
}

/** A statement on as many lines as it needs: broken behind commas, or before “to”, outside brackets. */
function broken(code: string, indent: number): string[] {
	const lead = ' '.repeat(indent);
	if (lead.length + code.length <= widest) return [lead + code];
	const pieces = piecesOf(code);
	const lines: string[] = [];
	let line = lead;
	for (const piece of pieces) {
		const isFirst = line.trim() === '';
		const joint = isFirst ? '' : ' ';
		if (!isFirst && line.length + joint.length + piece.length > widest) {
			lines.push(line);
			line = `${lead}${' '.repeat(indentation)}${piece}`;
		} else line += joint + piece;
	}
	return [...lines, line];
}

/** Parts of a statement between which a line may be broken. */
function piecesOf(code: string): string[] {
	const pieces: string[] = [];
	let [depth, start, isQuoted] = [0, 0, false];
	for (let k = 0; k < code.length; k++) {
		const sign = code[k]!;
		if (sign === '"') isQuoted = !isQuoted;
		if (isQuoted) continue;
		if (sign === '(' || sign === '[') depth++;
		else if (sign === ')' || sign === ']') depth--;
		const isAfterComma = sign === ' ' && code[k - 1] === ',';
		if (depth === 0 && (isAfterComma || code.startsWith(' to ', k))) {
			pieces.push(code.slice(start, k));
			start = k + 1;
		}
	}
	return [...pieces, code.slice(start)];
}
