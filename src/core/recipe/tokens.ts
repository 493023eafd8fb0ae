import { createToken, Lexer, type TokenType } from 'chevrotain';

const namePattern = /[\p{L}_][\p{L}\p{N}_]*/uy;

/** A name: letters, digits and `_`, not starting with a digit. */
export const Name = createToken({
	name: 'Name',
	pattern: (text: string, offset: number) => {
		namePattern.lastIndex = offset;
		return namePattern.exec(text);
	},
	line_breaks: false,
	label: 'a name'
});
export const NumberLiteral = createToken({
	name: 'NumberLiteral',
	pattern: /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/,
	label: 'a number'
});
/** A name that follows a number; the lexer itself only knows names. */
export const Unit = createToken({ name: 'Unit', pattern: Lexer.NA, label: 'a unit' });
export const Text = createToken({ name: 'Text', pattern: /"[^"\n]*"/, label: 'a text in double quotes' });

const symbol = (name: string, sign: string) =>
	createToken({ name, pattern: new RegExp(sign.replace(/[.*+?^${}()|[\]\\/-]/g, '\\$&')), label: `\`${sign}\`` });

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

/** Words with a meaning of their own everywhere; no name may be one of them. */
const reserved = [
	...['recipe', 'title', 'units', 'frame', 'let', 'point', 'line', 'polyline', 'spline', 'rectangle', 'arc', 'circle'],
	...['region', 'divide', 'fill', 'size', 'group'],
	...['planar', 'axisymmetric', 'about', 'range', 'to', 'through', 'outline', 'from', 'closed', 'parameter', 'chord'],
	...['centripetal', 'around', 'radius', 'clockwise', 'bounded', 'at', 'into', 'by', 'bias', 'toward'],
	...['structured', 'triangles', 'none', 'corners', 'growth', 'as', 'colour']
] as const;

/** Words with a meaning only where the grammar has a place for them; a name may be one of them too. */
const contextual = [
	...['ellipse', 'bezier', 'bspline', 'curve', 'polygon', 'drawing', 'fillet', 'chamfer', 'offset', 'trim', 'extend', 'split'],
	...['join', 'mirror', 'move', 'turn', 'scale', 'repeat', 'cut', 'far', 'node', 'columns', 'without', 'ends', 'natural'],
	...['clamped', 'not-a-knot', 'radii', 'long', 'tangent', 'turned', 'degree', 'knots', 'weights', 'for', 'sides', 'layer'],
	...['moved', 'scaled', 'with', 'near', 'left', 'right', 'inside', 'outside', 'mitred', 'keep', 'across', 'count', 'heading'],
	...['box', 'wake', 'lengths', 'both', 'middle', 'one', 'first', 'last', 'positions', 'like', 'smooth', 'gap', 'fade', 'within'],
	...['behind', 'along', 'length', 'widening', 'largest', 'seam', 'even']
] as const;
export type Keyword = (typeof reserved)[number] | (typeof contextual)[number];

export const keyword = Object.fromEntries([
	...reserved.map((word) => [word, createToken({ name: word, pattern: word, longer_alt: Name, label: `\`${word}\`` })]),
	...contextual.map((word) => [
		word,
		createToken({ name: word, pattern: word, longer_alt: Name, label: `\`${word}\``, categories: [Name] })
	])
]) as Record<Keyword, TokenType>;

export const reservedWords: readonly string[] = reserved;
export const keywords: readonly string[] = [...reserved, ...contextual];

/** The words that start a statement, in the order in which they are told. */
export const statementKinds: readonly string[] = [
	...['recipe', 'title', 'units', 'frame', 'let', 'point', 'node', 'line', 'polyline', 'spline', 'rectangle', 'polygon', 'arc'],
	...['circle', 'ellipse', 'bezier', 'bspline', 'curve', 'drawing', 'fillet', 'chamfer', 'offset', 'trim', 'extend', 'split'],
	...['join', 'mirror', 'move', 'turn', 'scale', 'repeat', 'cut', 'far', 'region', 'divide', 'fill', 'size', 'group']
];

const Blank = createToken({ name: 'Blank', pattern: /[ \t\r\n\u00a0\ufeff]+/, group: Lexer.SKIPPED, line_breaks: true });
const Comment = createToken({ name: 'Comment', pattern: /#[^\n]*/, group: Lexer.SKIPPED });

export const allTokens: TokenType[] = [
	Blank,
	Comment,
	Text,
	Unit,
	NumberLiteral,
	// Longest first: `to` must not be tried before `toward`.
	...Object.values(keyword).sort((a, b) => b.name.length - a.name.length),
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

export const lexer = new Lexer(allTokens, { positionTracking: 'onlyOffset', ensureOptimizations: false });
