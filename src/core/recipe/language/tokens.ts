import { createToken, Lexer, type TokenType } from 'chevrotain';

const namePattern = /[\p{L}_][\p{L}\p{Nd}_]*/uy;

/**
 * The signs that a name may start with, for the lexer, which then tries at each sign only what may start with it: of those
 * beyond the first 256 it tells no more apart than stretches of 255, and in each there may be a letter.
 */
const nameStarts = Array.from({ length: 256 }, (_, code) => code)
	.filter((code) => /[\p{L}_]/u.test(String.fromCharCode(code)))
	.concat(Array.from({ length: 256 }, (_, k) => 256 + 255 * k));

/** A name: letters, digits and `_`, not starting with a digit. */
export const Name = createToken({
	name: 'Name',
	pattern: (text: string, offset: number) => {
		namePattern.lastIndex = offset;
		return namePattern.exec(text);
	},
	line_breaks: false,
	start_chars_hint: nameStarts,
	label: 'a name'
});
export const NumberLiteral = createToken({
	name: 'NumberLiteral',
	pattern: /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/,
	label: 'a number'
});
/** A name that follows a number; the lexer itself only knows names. */
export const Unit = createToken({ name: 'Unit', pattern: Lexer.NA, label: 'a unit' });
export const Quoted = createToken({ name: 'Quoted', pattern: /"[^"\n]*"/, label: 'a text in double quotes' });

const symbol = (name: string, sign: string) =>
	createToken({ name, pattern: new RegExp(sign.replace(/[.*+?^${}()|[\]\\/-]/g, '\\$&')), label: `“${sign}”` });

export const Equals = symbol('Equals', '=');
export const Comma = symbol('Comma', ',');
export const Dot = symbol('Dot', '.');
export const Plus = symbol('Plus', '+');
export const Minus = symbol('Minus', '-');
export const Times = symbol('Times', '*');
export const Divided = symbol('Divided', '/');
export const Power = symbol('Power', '^');
export const OpenRound = symbol('OpenRound', '(');
export const CloseRound = symbol('CloseRound', ')');
export const OpenSquare = symbol('OpenSquare', '[');
export const CloseSquare = symbol('CloseSquare', ']');

const keywords = new Map<string, TokenType>();

/**
 * The token of a word of the language; every call with the same word gives the same one. No word is reserved: each has its meaning
 * only where the grammar has a place for it, and is a name where a name is expected.
 */
export function keyword(text: string): TokenType {
	let token = keywords.get(text);
	if (!token) {
		token = createToken({ name: text, pattern: text, longer_alt: Name, label: `“${text}”`, categories: [Name] });
		keywords.set(text, token);
	}
	return token;
}

export const isKeyword = (token: TokenType): boolean => keywords.get(token.name) === token;

const Blank = createToken({ name: 'Blank', pattern: /[ \t\r\n\u00a0\ufeff]+/, group: Lexer.SKIPPED, line_breaks: true });
const Comment = createToken({ name: 'Comment', pattern: /#[^\n]*/, group: Lexer.SKIPPED });

/** All tokens of a language with these words. */
export const tokensWith = (words: Iterable<string>): TokenType[] => [
	Blank,
	Comment,
	Quoted,
	Unit,
	NumberLiteral,
	// Longest first: `to` must not be tried before `toward`.
	...[...new Set(words)].map(keyword).sort((a, b) => b.name.length - a.name.length),
	Name,
	Equals,
	Comma,
	Dot,
	Plus,
	Minus,
	Times,
	Divided,
	Power,
	OpenRound,
	CloseRound,
	OpenSquare,
	CloseSquare
];
