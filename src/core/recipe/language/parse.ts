import type { Line, Recipe, SyntaxError } from './recipe.ts';
import type { IToken, TokenType } from 'chevrotain';
import type { Finding } from '../../text/finding.ts';
import { Report } from '../../findings/report.ts';
import { controlSign } from '../../text/control-signs.ts';
import { didYouMean, nearest } from '../../text/nearest.ts';
import { language } from './language.ts';
import { longestStatement, mostStatements } from './limits.ts';
import { guessed, wordsMeant } from './mending.ts';
import type { Expression, Statement } from './syntax.ts';

import { CloseRound, isKeyword, Name, NumberLiteral, Quoted, Unit } from './tokens.ts';
import { knownUnits } from './units.ts';

/** Parsed statements by their text: an edit parses again only the lines that it changes. */
let remembered = new Map<string, Pick<Line, 'statement' | 'error'>>();

/** A text with more unreadable statements than this is no recipe; their errors come without guesses. */
const mostGuessed = 100;

const tooMany = ({ from, to }: Line): SyntaxError => ({
	message: `a recipe has ${mostStatements} statements at most, and this and what follows is beyond it; keep outlines in files beside the recipe`,
	from: 0,
	to: to - from
});

/** Reads a recipe. Never throws: a statement that cannot be read carries its error. */
export function parseRecipe(text: string): Recipe {
	const lines = splitStatements(text);
	const next = new Map<string, Pick<Line, 'statement' | 'error'>>();
	let guessesLeft = mostGuessed;
	for (const [k, line] of lines.entries()) {
		if (k >= mostStatements) {
			// The rest is not read, and one sentence says so.
			if (k === mostStatements) line.error = tooMany(line);
			continue;
		}
		const source = text.slice(line.from, line.to);
		let parsed = next.get(source) ?? remembered.get(source);
		parsed ??= parseStatement(source, guessesLeft > 0);
		if (parsed.error) guessesLeft--;
		next.set(source, parsed);
		if (parsed.statement) line.statement = parsed.statement;
		if (parsed.error) {
			line.error = parsed.error;
			const name = definition
				.exec(source)
				?.slice(1)
				.find((n) => n !== undefined);
			if (name !== undefined) line.defines = name;
		}
	}
	remembered = next;
	return { text, lines };
}

/** What a statement defines that cannot be read: `line wall = …`, `region water at …`. */
const definition =
	/^(?:guide\s+)?(?:[\p{L}_]+\s+([\p{L}_][\p{L}\p{Nd}_]*)\s*=|region\s+([\p{L}_][\p{L}\p{Nd}_]*)|let\s+([\p{L}_][\p{L}\p{Nd}_]*))/u;

/** The text of a recipe, byte for byte. */
export function printRecipe(recipe: Recipe): string {
	return recipe.text;
}

/** The syntax errors of a recipe, each with its line and column. */
export function syntaxFindings(recipe: Recipe): Finding[] {
	const report = new Report(recipe.lines);
	for (const [k, { error }] of recipe.lines.entries())
		if (error) report.about(k).add('syntax', { message: error.message }, { within: error, mends: error.mends });
	return report.findings;
}

/** Returns line and column, from 1, of offsets in a text. */
export function placesIn(text: string): (offset: number) => { line: number; column: number } {
	const starts = [0];
	for (let at = text.indexOf('\n'); at !== -1; at = text.indexOf('\n', at + 1)) starts.push(at + 1);
	return (offset) => {
		let [low, high] = [0, starts.length];
		while (high - low > 1) {
			const middle = (low + high) >> 1;
			if (starts[middle]! <= offset) low = middle;
			else high = middle;
		}
		return { line: low + 1, column: offset - starts[low]! + 1 };
	};
}

/** Reads a single expression, as given on the command line or typed into a cell. */
export function parseExpression(source: string): { expression?: Expression; error?: SyntaxError } {
	const tokens = tokenize(source);
	if ('error' in tokens) return tokens;
	const { parser } = language();
	parser.input = tokens.tokens;
	const expression = parser.expression();
	const failure = parser.errors[0];
	if (failure) {
		const index = tokens.tokens.findIndex(({ startOffset }) => startOffset === failure.token.startOffset);
		const before = index < 0 ? tokens.tokens : tokens.tokens.slice(0, index);
		return { error: describe(source, tokens.tokens[index], expected(before, 'expression')) };
	}
	return { expression };
}

/** What may stand at the end of `source`, the start of a statement: words, and kinds of token by their label. */
export function expectedNext(source: string): string[] {
	const tokens = tokenize(source);
	if ('error' in tokens) return [];
	const { parser } = language();
	/** A clause that was said already may not stand again: the word would be the place of an error. */
	const isRefused = ({ name }: TokenType): boolean => {
		const more = tokenize(`${source} ${name}`);
		if ('error' in more) return true;
		parser.input = more.tokens;
		parser.statement();
		return parser.errors[0]?.token.startOffset === more.tokens.at(-1)!.startOffset;
	};
	return expected(tokens.tokens, 'statement')
		.filter((type) => !isKeyword(type) || tokens.tokens.length === 0 || !isRefused(type))
		.map((type) => type.LABEL ?? type.name);
}

const [HASH, QUOTE, COMMA, OPEN, CLOSE, OPEN_SQUARE, CLOSE_SQUARE] = Array.from('#",()[]', (sign) => sign.charCodeAt(0));
const [SPACE, TAB, RETURN, BYTE_ORDER, NO_BREAK] = Array.from(' \t\r\ufeff\u00a0', (sign) => sign.charCodeAt(0));

/**
 * Cuts the text into statements. A line goes on with the statement above it while a bracket is open, after a comma, or where it is
 * indented more than that statement's first line; an empty line ends a statement. A bracket or a comma left by mistake does not
 * swallow the rest: a line that is indented no more and starts like a statement ends it.
 */
function splitStatements(text: string): Line[] {
	const lines: Line[] = [];
	let start = -1; // offset of the open statement, -1 when none
	let end = 0; // offset after its last visible character
	let startNumber = 0;
	let indent = 0; // blanks before its first character
	let depth = 0;
	let number = 1;
	const close = () => {
		if (start >= 0) lines.push({ from: start, to: end, number: startNumber });
		start = -1;
		depth = 0;
	};
	let at = 0;
	while (at < text.length) {
		const found = text.indexOf('\n', at);
		const lineEnd = found === -1 ? text.length : found;
		const first = firstSign(text, at, lineEnd);
		if (start >= 0) {
			const isMore = indentOf(text, at, first) > indent && !isPart(text, start);
			const isOpen = depth > 0 || text.charCodeAt(end - 1) === COMMA;
			if (first === lineEnd) {
				if (depth <= 0) close();
			} else if (!isMore && (!isOpen || startsStatement(text.slice(first, lineEnd)))) close();
		}
		if (start < 0 && first < lineEnd && text.charCodeAt(first) !== HASH) {
			start = first;
			indent = indentOf(text, at, first);
			startNumber = number;
		}
		let quoted = false;
		for (let i = first; i < lineEnd; i++) {
			const c = text.charCodeAt(i);
			if (c === HASH && !quoted) break;
			if (isBlank(c)) continue;
			end = i + 1;
			if (c === QUOTE) quoted = !quoted;
			else if (!quoted && (c === OPEN || c === OPEN_SQUARE)) depth++;
			else if (!quoted && (c === CLOSE || c === CLOSE_SQUARE)) depth--;
		}
		at = lineEnd + 1;
		number++;
	}
	close();
	return lines;
}

const isBlank = (c: number) => c === SPACE || c === TAB || c === RETURN || c === BYTE_ORDER || c === NO_BREAK;

/** The offset of the first sign of a line that is no blank; its end without one. */
function firstSign(text: string, from: number, to: number): number {
	let at = from;
	while (at < to && isBlank(text.charCodeAt(at))) at++;
	return at;
}

/** Blanks and tabs before the first sign of a line. */
function indentOf(text: string, from: number, to: number): number {
	let count = 0;
	for (let at = from; at < to; at++) if (text.charCodeAt(at) === SPACE || text.charCodeAt(at) === TAB) count++;
	return count;
}

const startsStatement = (line: string) => language().starts.includes(/^([a-z]+)(?:\s|$)/.exec(line)?.[1] ?? '');

/** What a part holds is indented below its first line. */
const isPart = (text: string, at: number) => text.startsWith('part ', at);

function tokenize(source: string): { tokens: IToken[] } | { error: SyntaxError } {
	if (source.length > longestStatement) {
		const message = `a statement has ${longestStatement} characters at most, and this one has ${source.length}; keep long lists of coordinates in a file beside the recipe`;
		return { error: { message, from: 0, to: source.length } };
	}
	const { tokens, errors } = language().lexer.tokenize(source);
	const bad = errors[0];
	if (bad) {
		const sign = source.slice(bad.offset, bad.offset + 1);
		const message = sign === '"' ? 'this text has no closing double quote' : `the sign ${printable(sign)} has no meaning here`;
		return { error: { message, from: bad.offset, to: bad.offset + bad.length } };
	}
	for (let i = 1; i < tokens.length; i++) {
		const token = tokens[i]!;
		const before = tokens[i - 1]!;
		const isLed = before.tokenType === NumberLiteral || (before.tokenType === CloseRound && !isPair(tokens, i - 1));
		if (!isLed || !knownUnits.has(token.image)) continue;
		// A word that is also a unit, like `in`, is the word where a name or a number follows: `count 12 in water`, `to 0.7 in 8`, but
		// `0.4 in growth 1.2`.
		const following = tokens[i + 1]?.tokenType;
		if (token.tokenType !== Name && (following === Name || following === NumberLiteral)) continue;
		token.tokenType = Unit;
		token.tokenTypeIdx = Unit.tokenTypeIdx!;
	}
	for (const { tokenType, image, startOffset } of tokens) {
		const sign = tokenType === Quoted ? controlSign(image) : undefined;
		if (!sign) continue;
		const message = `this text holds a control sign (code ${sign.code}), which no title or name may; take it out`;
		return { error: { message, from: startOffset + sign.at, to: startOffset + sign.at + 1 } };
	}
	const tooDeep = nestingAbove(tokens, deepestNesting);
	if (tooDeep) {
		const message = `signs nest deeper than ${deepestNesting} here; give parts of the expression names of their own with “let”`;
		return { error: { message, from: tooDeep.startOffset, to: tooDeep.startOffset + tooDeep.image.length } };
	}
	return { tokens };
}

/** Whether the bracket that closes at a token is that of a place, or of a function's values. */
function isPair(tokens: readonly IToken[], close: number): boolean {
	let depth = 0;
	for (let k = close; k >= 0; k--) {
		const { image } = tokens[k]!;
		if (image === ')') depth++;
		else if (image === '(' && --depth === 0) return tokens[k - 1]?.tokenType === Name;
		else if (image === ',' && depth === 1) return true;
	}
	return true;
}

/** Brackets, signs and powers nest to this depth: reading them, and working them out, goes as deep. */
const deepestNesting = 100;
/** A chain of more operators than this is as deep as it is long. */
const longestChain = 2000;

/** The token at which brackets, signs and powers nest deeper than a limit, or operators make too long a chain. */
function nestingAbove(tokens: readonly IToken[], limit: number): IToken | undefined {
	let [depth, run, chain] = [0, 0, 0];
	for (const token of tokens) {
		const { image } = token;
		if (image === '(' || image === '[') depth++;
		else if (image === ')' || image === ']') depth--;
		if (image === ',') chain = 0;
		// A sign before a sign, and a power after a power, go one deeper each.
		const isOperator = '+-*/^'.includes(image);
		run = image === '-' || image === '^' ? run + 1 : isOperator || image === ',' ? 0 : run;
		if (isOperator) chain++;
		if (depth > limit || run > 4 * limit || chain > longestChain) return token;
	}
	return undefined;
}

function printable(sign: string): string {
	const code = sign.codePointAt(0) ?? 0;
	return code < 32 || (code >= 127 && code < 160) ? `with code ${code}` : `“${sign}”`;
}

/**
 * Reads one statement that stands in no recipe.
 *
 * @param isGuessed whether an error says what is probably meant, which takes as long as reading it a few dozen times
 */
export function parseStatement(source: string, isGuessed = true): Pick<Line, 'statement' | 'error'> {
	const read = readStatement(source);
	if (read.statement) return read;
	const { at, tokens = [] } = read;
	if (!isGuessed) return { error: read.error ?? plainError(source, at) };
	const could = read.error ? [] : expected(at ? tokens.slice(0, tokens.indexOf(at)) : tokens, 'statement');
	const record = language().recordStarting(tokens[0]?.image ?? '');
	const guess = guessed({
		source,
		tokens,
		at,
		could,
		form: record?.form,
		isRead: (text) => readStatement(text).statement !== undefined
	});
	return { error: guess ?? read.error ?? describe(source, at, could) };
}

/** A statement, or why it cannot be read: at which token, or at its end where there is none. */
type Read =
	| { statement: Statement; error?: never; at?: never; tokens?: never }
	/** With an error that says itself what is wrong, or at a token that cannot stand there. */
	| { statement?: never; error?: SyntaxError; at?: IToken | undefined; tokens?: readonly IToken[] };

function readStatement(source: string): Read {
	const tokens = tokenize(source);
	if ('error' in tokens) return tokens;
	const [first] = tokens.tokens;
	if (!first) return { error: { message: 'a statement is missing', from: 0, to: source.length } };
	const { starts, parser } = language();
	const place = { from: first.startOffset, to: first.startOffset + first.image.length };
	if (!starts.includes(first.image)) {
		const near = wordsMeant.get(first.image.toLowerCase())?.find((word) => starts.includes(word)) ?? nearest(first.image, starts);
		const message = `“${first.image}” starts no statement${near === undefined ? `; a line starts with one of ${starts.join(', ')}` : `; did you mean “${near}”?`}`;
		const mends = near === undefined ? [] : [{ label: `Write “${near}”`, edits: [{ ...place, insert: near }] }];
		return { error: { message, ...place, mends }, at: first, tokens: tokens.tokens };
	}
	parser.input = tokens.tokens;
	const statement = parser.statement();
	const failure = parser.errors[0];
	if (failure) {
		const at = tokens.tokens.find(({ startOffset }) => startOffset === failure.token.startOffset);
		return { at, tokens: tokens.tokens };
	}
	if (statement.isGuide && !drawsCurves(statement)) {
		const message = '“guide” stands before a statement that draws curves, like “guide circle c = around (0, 0) radius 5”';
		return { error: { message, ...place } };
	}
	return { statement };
}

/** Whether a statement draws curves under a name of its own. */
function drawsCurves(statement: Statement): boolean {
	const record = language().recordOf(statement);
	return record.stage === 'shape' && record.kind !== 'point' && record.defines?.(statement)?.space === 'value';
}

/** What was found where a statement cannot be read on, or that it ends. */
const plainError = (source: string, at: IToken | undefined): SyntaxError => ({
	message: at ? `found “${at.image}”, which does not stand here` : 'the line ends too early',
	from: at ? at.startOffset : source.length,
	to: at ? at.startOffset + at.image.length : source.length
});

/** A sentence that says what was found and what could stand there. */
function describe(source: string, at: IToken | undefined, could: TokenType[]): SyntaxError {
	const { from, to } = plainError(source, at);
	const found = at ? `found “${at.image}”` : 'the line ends too early';
	const labels = listLabels(could);
	let hint = '';
	if (at?.tokenType === Name) hint = didYouMean(at.image, could.includes(Unit) ? [...words(could), ...knownUnits] : words(could));
	const wanted = labels.length === 0 ? 'expected the end of the line' : `expected ${labels.join(', ')}`;
	return { message: `${found}; ${wanted}${hint}`, from, to };
}

function expected(tokens: readonly IToken[], rule: 'statement' | 'expression'): TokenType[] {
	const types = language()
		.parser.computeContentAssist(rule, [...tokens])
		.map((path) => path.nextTokenType);
	return [...new Set(types)];
}

const words = (types: TokenType[]) => types.filter(isKeyword).map((type) => type.name);

function listLabels(types: TokenType[]): string[] {
	const operators = new Set(['Plus', 'Minus', 'Times', 'Divided', 'Power']);
	const labels = types.filter((type) => !operators.has(type.name)).map((type) => type.LABEL ?? type.name);
	if (types.some((type) => type.name === 'Power' || type.name === 'Times')) labels.push('an operator');
	return labels;
}
