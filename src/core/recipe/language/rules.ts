import { keysOf } from '../../text/typed.ts';
import type { IToken, ParserMethod, TokenType } from 'chevrotain';
import type { CurveReference, Expression, Placing, Word } from './syntax.ts';
import { keyword } from './tokens.ts';

type Digit = 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8 | 9;
/** A parsing method with its numbered twins: within one rule every use of a token or rule has a number of its own. */
type Numbered<Name extends string, Method> = { readonly [K in Name | `${Name}${Digit}`]: Method };

interface Alternative {
	ALT: () => unknown;
	GATE?: () => boolean;
}

/**
 * What the grammar of a statement is written with: the methods of the parser (see Chevrotain's embedded
 * actions), and the rules that all statements share.
 */
export interface Rules
	extends
		Numbered<'CONSUME', (token: TokenType) => IToken>,
		Numbered<'SUBRULE', <T>(rule: ParserMethod<[], T>) => T>,
		Numbered<'OPTION', <T>(parse: (() => T) | { GATE: () => boolean; DEF: () => T }) => T | undefined>,
		Numbered<'MANY' | 'AT_LEAST_ONE', (parse: () => void) => void>,
		// What the alternatives give differs, and the statement's own type says what comes of it.
		// eslint-disable-next-line @typescript-eslint/no-explicit-any
		Numbered<'OR', (choices: Alternative[] | { IGNORE_AMBIGUITIES: true; DEF: Alternative[] }) => any> {
	/** The token at a distance ahead; the next one has distance 1. */
	LA(ahead: number): IToken;
	/** Runs `parse` and notes what it consumed as a clause of the statement. */
	clause<T>(name: string, parse: () => T): T;
	/** Runs `parse` and gives what it consumed as well: its span, and its words as a recipe writes them. */
	spanned<T>(parse: () => T): { value: T; from: number; to: number; source: string };
	/** A rule of its own that one statement, or several, declare among their `rules`. */
	ruleOf<T>(rule: NamedRule<T>): ParserMethod<[], T>;
	/** `name =` */
	definedName: ParserMethod<[], Word>;
	/** `body`, `p1.body` */
	dottedName: ParserMethod<[], Word>;
	/** `a, b, c` */
	names: ParserMethod<[], Word[]>;
	/** `wall`, `wall[2]`, `box.left` */
	curveReference: ParserMethod<[], CurveReference>;
	curveReferences: ParserMethod<[], CurveReference[]>;
	expression: ParserMethod<[], Expression>;
	expressions: ParserMethod<[], Expression[]>;
	/** A text in double quotes. */
	quoted: ParserMethod<[], Word>;
	/** `p to q to r` */
	pointChain: ParserMethod<[], Expression[]>;
	/** `turned 30 deg` */
	turnClause: ParserMethod<[], Expression>;
	/** `scaled 0.001` */
	scaleClause: ParserMethod<[], Expression>;
	/** `moved (10, 0)` */
	moveClause: ParserMethod<[], Expression>;
}

/** A part of a grammar that statements share, or that stands on its own for its size. */
export interface NamedRule<T> {
	name: string;
	parse(p: Rules): T;
}

/**
 * Parts of a statement that may stand in any order, each at most once.
 *
 * @param many, or the repetition and the choice of the rule, with numbers that nothing else in it uses
 * @param found what was found of them before; it is added to
 */
export function inAnyOrder<T extends object>(
	many: (parse: () => void) => void,
	or: (choices: Alternative[]) => unknown,
	parts: { [K in keyof T]?: () => T[K] },
	found: Partial<T> = {}
): Partial<T> {
	const choices = keysOf(parts).map((key) => ({
		GATE: () => !(key in found),
		ALT: () => (found[key] = parts[key]!())
	}));
	many(() => void or(choices));
	return found;
}

/**
 * What {@link inAnyOrder} found, with the parts that a statement cannot do without.
 *
 * @param needed for every such part what consumes its word, which is not there: the error is the parser's own
 */
export function withNeeded<T extends object, K extends keyof T>(
	found: Partial<T>,
	needed: { [N in K]: () => unknown }
): Partial<T> & Pick<T, K> {
	for (const key of keysOf(needed)) if (!(key in found)) needed[key]();
	return found as Partial<T> & Pick<T, K>;
}

/** The parts of `scaled 0.001 turned 90 deg moved (10, 0)`, for {@link inAnyOrder}; whatever their order, it is scaled, then turned, then moved. */
export const placingParts = (p: Rules): { [K in keyof Required<Placing>]: () => Expression } => ({
	scaled: () => p.clause('scaled', () => p.SUBRULE(p.scaleClause)),
	turned: () => p.clause('turned', () => p.SUBRULE(p.turnClause)),
	moved: () => p.clause('moved', () => p.SUBRULE(p.moveClause))
});

/** A word of the language and the number or place that it leads, like `within 2`. */
export const led = (lead: string): NamedRule<Expression> => ({
	name: `${lead}Value`,
	parse(p) {
		p.CONSUME(keyword(lead));
		return p.SUBRULE(p.expression);
	}
});

/** A token as a word with its place. */
export const word = (token: IToken): Word => ({
	text: token.image,
	from: token.startOffset,
	to: token.startOffset + token.image.length
});
