import type { IToken, TokenType } from 'chevrotain';
import type { TextEdit } from '../../text/edit.ts';
import type { Mend } from '../../text/finding.ts';
import { nearest } from '../../text/nearest.ts';
import { functionNames } from './functions.ts';
import type { SyntaxError } from './recipe.ts';
import { slipsIn } from './slips.ts';
import { isKeyword, Name, NumberLiteral, Unit } from './tokens.ts';
import { knownUnits } from './units.ts';

/** Where a statement that cannot be read breaks off, and how it is read. */
export interface Broken {
	source: string;
	tokens: readonly IToken[];
	/** The token at which it cannot be read on; undefined at its end. */
	at: IToken | undefined;
	/** What could stand there. */
	could: readonly TokenType[];
	/** How the statement is written, `${…}` to be filled in. */
	form?: string | undefined;
	/** Whether a text is a statement that can be read. */
	isRead(source: string): boolean;
}

/** A longer statement is not guessed at: every guess reads it anew. */
const longestGuessed = 2000;
/** The most words that are tried in the place of another, and the most commas. */
const [mostTried, mostCommas] = [60, 8];
/** Of more words that could stand there none is a guess. */
const mostChoices = 3;

/** The smallest edit that makes one text of another. */
export function editBetween(before: string, after: string): TextEdit {
	let start = 0;
	while (start < before.length && start < after.length && before[start] === after[start]) start++;
	let end = 0;
	const most = Math.min(before.length, after.length) - start;
	while (end < most && before[before.length - 1 - end] === after[after.length - 1 - end]) end++;
	return { from: start, to: before.length - end, insert: after.slice(start, after.length - end) };
}

/** A mend that writes another text in the place of a statement. */
const writing = (source: string, mended: string, label = `Write “${shown(mended)}”`): Mend => ({
	label,
	edits: [editBetween(source, mended)]
});

const shown = (text: string) => (text.length > 60 ? `${text.slice(0, 57)}…` : text);

/**
 * What is wrong with a statement that cannot be read, where there is a good guess: one of the slips that people make, or one word or
 * sign that is missing, too many, or another than is meant. A mend always makes a statement that can be read.
 */
export function guessed(broken: Broken): SyntaxError | undefined {
	if (broken.source.length > longestGuessed) return undefined;
	return ofIndentation(broken) ?? ofSlips(broken) ?? ofOneWord(broken);
}

/** A statement of its own that stands on a line that is indented more than the one above, and so goes on with that. */
function ofIndentation({ source, isRead }: Broken): SyntaxError | undefined {
	const found = /\n([ \t]+)(?=[a-z])/.exec(source);
	if (!found) return undefined;
	const [start, end] = [found.index + 1, found.index + found[0].length];
	const [above, below] = [source.slice(0, found.index).trimEnd(), source.slice(end)];
	// Comments of the lines above are no part of the statement.
	if (!isRead(above) || !isRead(below.split('\n')[0]!.replace(/#.*/, '').trimEnd())) return undefined;
	const lines = [...source.matchAll(/\n([ \t]+)/g)].map(({ index, 0: { length } }) => ({
		from: index + 1,
		to: index + length,
		insert: ''
	}));
	return {
		message: 'a line that is indented more goes on with the statement above it; this one starts a statement',
		from: start,
		to: end,
		mends: [{ label: 'Take out the indentation', edits: lines }]
	};
}

function ofSlips({ source, isRead }: Broken): SyntaxError | undefined {
	let said: SyntaxError | undefined;
	for (const { message, from, to, mended } of slipsIn(source)) {
		if (mended === undefined) {
			said ??= { message, from, to };
			continue;
		}
		const whole = mended.startsWith('#') || isRead(mended) ? mended : mendedFurther(mended, isRead);
		if (whole !== undefined) return { message, from, to, mends: [writing(source, whole)] };
	}
	return said;
}

/** A statement with several slips, each mended in turn; undefined where it is not read in the end. */
function mendedFurther(source: string, isRead: (source: string) => boolean): string | undefined {
	let text = source;
	for (let k = 0; k < 4; k++) {
		const next = [...slipsIn(text)].find(({ mended }) => mended !== undefined && mended !== text)?.mended;
		if (next === undefined) return undefined;
		if (isRead(next)) return next;
		text = next;
	}
	return undefined;
}

/** The place at which a statement breaks off, and what could stand there. */
class Gap {
	readonly from: number;
	readonly to: number;
	/** Words that could stand there, and signs that one may forget or mistake among them. */
	readonly words: readonly string[];
	readonly signs: readonly string[];
	/** The tokens around it. */
	readonly before: IToken | undefined;
	readonly after: IToken | undefined;

	constructor(readonly broken: Broken) {
		const { source, tokens, at, could } = broken;
		[this.from, this.to] = at ? spanOf(at) : [source.length, source.length];
		this.words = could.filter(isKeyword).map((type) => type.name);
		this.signs = could.flatMap((type) => (isKeyword(type) ? [type.name] : signOf(type))).slice(0, mostTried);
		const index = at ? tokens.indexOf(at) : tokens.length;
		this.before = tokens[index - 1];
		this.after = tokens[index + 1];
	}

	/** The statement with other text at a stretch of it. */
	put(from: number, to: number, insert: string): string {
		return this.broken.source.slice(0, from) + insert + this.broken.source.slice(to);
	}

	/** An error here, with the texts that would be read, each under the words of its button. */
	error(
		message: string,
		mends: readonly (readonly [text: string, label?: string])[] = [],
		[from, to] = [this.from, this.to]
	): SyntaxError {
		return { message, from, to, mends: mends.map(([text, label]) => writing(this.broken.source, text, label)) };
	}

	isRead(text: string): boolean {
		return this.broken.isRead(text);
	}
}

type Guess = (gap: Gap, at: IToken) => SyntaxError | undefined;

/** What is tried at a token that cannot stand where it does, in this order. */
const guessesAtToken: readonly Guess[] = [
	// A word that is written a little otherwise.
	(gap, at) => {
		const { broken, words, before, from, to } = gap;
		const isUnit = broken.could.includes(Unit) && before?.tokenType === NumberLiteral;
		const near = isWord(at) ? nearest(at.image, isUnit ? [...knownUnits, ...words] : words) : undefined;
		if (near === undefined || near === at.image || !gap.isRead(gap.put(from, to, near))) return undefined;
		return gap.error(`found “${at.image}”; did you mean “${near}”?`, [[gap.put(from, to, near), `Write “${near}”`]]);
	},
	// A word that people use for another.
	(gap, at) => {
		const meant = (wordsMeant.get(at.image.toLowerCase()) ?? []).find(
			(word) => gap.words.includes(word) && gap.isRead(gap.put(gap.from, gap.to, word))
		);
		if (meant === undefined) return undefined;
		return gap.error(`found “${at.image}”; the word is “${meant}”`, [[gap.put(gap.from, gap.to, meant), `Write “${meant}”`]]);
	},
	// A list with “and”.
	(gap, at) => {
		if (at.image !== 'and' || !gap.before) return undefined;
		const listed = gap.put(spanOf(gap.before)[1], gap.to, ',');
		return gap.isRead(listed) ? gap.error('a list is written with commas', [[listed, 'Write “,”']]) : undefined;
	},
	// Clauses that are parted by commas.
	(gap, at) => {
		const { source } = gap.broken;
		const plain = source.replace(/,(?=\s*[a-z_]+\s)/g, '');
		if (at.image !== ',' || plain.length + 1 >= source.length || !gap.isRead(plain)) return undefined;
		return gap.error('clauses are parted by blanks, without commas', [[plain, 'Take out the commas']]);
	},
	// A word before it that is too many: the place where it breaks off comes after it.
	(gap) => {
		const { before } = gap;
		if (!before || !isKeyword(before.tokenType)) return undefined;
		const without = withoutToken(gap.broken.source, ...spanOf(before));
		if (!gap.isRead(without)) return undefined;
		return gap.error(`“${before.image}” does not stand here`, [[without, `Take out “${before.image}”`]], spanOf(before));
	},
	(gap, at) => {
		const { before } = gap;
		const isCalled = at.image === '(' && before?.tokenType === Name && spanOf(before)[1] === gap.from;
		return isCalled ? noFunction(before, gap.broken) : undefined;
	},
	// A word or a sign that is missing: a product before a bracket alone, a comma behind a value.
	(gap, at) => {
		const { before, from, signs, broken } = gap;
		const end = before ? spanOf(before)[1] : from;
		const putIn = (sign: string) =>
			sign === ',' ? gap.put(end, from, ', ') : gap.put(from, from, spaced(broken.source, from, sign));
		const isAfterValue = before?.tokenType === NumberLiteral || before?.image === ')';
		const missing = signs
			.filter((sign) => (sign !== '*' || at.image === '(') && (sign !== ',' || isAfterValue))
			.filter((sign) => gap.isRead(putIn(sign)));
		if (missing.length === 0 || missing.length > mostChoices) return undefined;
		return gap.error(
			`${oneOf(missing)} is missing before “${at.image}”`,
			missing.map((sign) => [putIn(sign), `Put in “${sign}”`])
		);
	},
	// A number before its word.
	(gap, at) => {
		const { after } = gap;
		if (at.tokenType !== NumberLiteral || !after || !isKeyword(after.tokenType)) return undefined;
		const swapped = gap.put(gap.from, spanOf(after)[1], `${after.image} ${at.image}`);
		if (!gap.isRead(swapped)) return undefined;
		return gap.error(`a number stands behind its word: “${after.image} ${at.image}”`, [[swapped]]);
	},
	// One that is too many.
	(gap, at) => {
		const without = withoutToken(gap.broken.source, gap.from, gap.to);
		if (!gap.isRead(without)) return undefined;
		return gap.error(`“${at.image}” does not stand here`, [[without, `Take out “${at.image}”`]]);
	},
	// Another in its place.
	(gap, at) => {
		const { from, to, broken } = gap;
		const instead = (sign: string) => gap.put(from, to, padded(broken.source, from, to, sign));
		const found = gap.signs.filter((sign) => sign !== '*' && gap.isRead(instead(sign)));
		if (found.length === 0 || found.length > mostChoices) return undefined;
		return gap.error(
			`found “${at.image}”; ${oneOf(found)} stands here`,
			found.map((sign) => [instead(sign), `Write “${sign}”`])
		);
	},
	// A word and its number that are missing.
	(gap, at) => {
		const putIn = (clause: string) => gap.put(gap.from, gap.from, `${clause} `);
		const clause = clausesOf(gap.broken.form, gap.words).find((one) => gap.isRead(putIn(one)));
		return clause ? gap.error(`“${clause.split(' ')[0]}” is missing before “${at.image}”`, [[putIn(clause)]]) : undefined;
	}
];

/** What is tried where the line ends too early, in this order. */
const guessesAtEnd: readonly ((gap: Gap) => SyntaxError | undefined)[] = [
	(gap) => {
		const { source } = gap.broken;
		const closing = [')', ']', '"'].find((sign) => gap.isRead(source + sign));
		return closing ? gap.error(`“${closing}” is missing at the end`, [[source + closing, `Put in “${closing}”`]]) : undefined;
	},
	// A comma that stands for a word.
	(gap) => {
		const commas = gap.broken.tokens.filter(({ image }) => image === ',').slice(-mostCommas);
		for (const comma of commas.reverse())
			for (const word of gap.words) {
				const span = spanOf(comma);
				const mended = gap.put(...span, padded(gap.broken.source, ...span, word));
				if (gap.isRead(mended)) return gap.error(`found “,”; “${word}” stands here`, [[mended, `Write “${word}”`]], span);
			}
		return undefined;
	},
	(gap) => {
		const { source } = gap.broken;
		const ends = gap.words.filter((word) => gap.isRead(`${source} ${word}`));
		if (ends.length === 0 || ends.length > 2 * mostChoices) return undefined;
		return gap.error(
			`the line ends too early: ${ends.map((word) => `“${word}”`).join(', ')} ${ends.length > 1 ? 'may follow' : 'is missing'}`,
			ends.map((word) => [`${source} ${word}`, `Add “${word}”`])
		);
	},
	({ before, broken: { could }, ...gap }) => {
		if (!before || !isKeyword(before.tokenType) || !could.includes(NumberLiteral)) return undefined;
		const what =
			before.image === 'to'
				? 'a place is missing after “to”, like “to (10, 0)”'
				: `a value is missing after “${before.image}”, like “${before.image} 2”`;
		return { message: what, from: gap.from, to: gap.to };
	},
	(gap) => {
		const { source, form } = gap.broken;
		const clause = clausesOf(form, gap.words).find((one) => gap.isRead(`${source} ${one}`));
		if (!clause) return undefined;
		const message = `the line ends too early: “${clause.split(' ')[0]}” and what follows it are missing, like “${clause}”`;
		return gap.error(message, [[`${source} ${clause}`, `Add “${clause}”`]]);
	}
];

function ofOneWord(broken: Broken): SyntaxError | undefined {
	const gap = new Gap(broken);
	const { at } = broken;
	const guesses = at ? guessesAtToken.map((guess) => () => guess(gap, at)) : guessesAtEnd.map((guess) => () => guess(gap));
	for (const guess of guesses) {
		const error = guess();
		if (error) return error;
	}
	return undefined;
}

const spanOf = ({ startOffset, image }: IToken): [number, number] => [startOffset, startOffset + image.length];
const oneOf = (signs: readonly string[]) => signs.map((sign) => `“${sign}”`).join(' or ');

/** A name before a bracket that is no function: one that is written a little otherwise, or a product. */
function noFunction({ image, startOffset }: IToken, { source, isRead }: Broken): SyntaxError {
	const [from, to] = [startOffset, startOffset + image.length];
	const near = nearest(image, functionNames);
	const product = `${source.slice(0, to)}*${source.slice(to)}`;
	const named = near === undefined ? undefined : source.slice(0, from) + near + source.slice(to);
	const mends = [
		...(named !== undefined && isRead(named) ? [writing(source, named, `Write “${near}”`)] : []),
		...(isRead(product) ? [writing(source, product, 'Make it a product')] : [])
	];
	const guess = near === undefined ? `; there are ${functionNames.join(', ')}` : `; did you mean “${near}”?`;
	return { message: `there is no function “${image}”${guess}`, from, to, mends };
}

/** Words that people use, and those of the language that they may stand for; the first that can be read is meant. */
export const wordsMeant: ReadonlyMap<string, readonly string[]> = new Map(
	Object.entries({
		...{ ratio: ['growth', 'bias'], rate: ['growth'], expansion: ['growth'], stretching: ['growth'], progression: ['growth'] },
		...{
			number: ['count', 'into', 'sides'],
			n: ['count', 'into', 'sides'],
			times: ['count'],
			copies: ['count'],
			layers: ['count', 'into']
		},
		...{
			cells: ['count', 'into'],
			divisions: ['into'],
			segments: ['into'],
			edges: ['sides'],
			steps: ['in', 'count'],
			height: ['first', 'thickness']
		},
		...{
			r: ['radius'],
			rad: ['radius'],
			radii: ['radius'],
			radius: ['radii'],
			d: ['by'],
			center: ['around'],
			centre: ['around'],
			centered: ['around']
		},
		...{
			outward: ['outside'],
			outwards: ['outside'],
			inward: ['inside'],
			inwards: ['inside'],
			out: ['outside'],
			in: ['into', 'inside', 'by']
		},
		...{
			rotate: ['turn'],
			rotated: ['turned'],
			rotation: ['turned'],
			angle: ['turned'],
			translate: ['move'],
			translated: ['moved'],
			shift: ['move']
		},
		...{
			shifted: ['moved'],
			reflect: ['mirror'],
			reflected: ['mirrored'],
			flip: ['mirror'],
			flipped: ['mirrored'],
			size: ['scaled']
		},
		...{
			export: ['deliver'],
			save: ['deliver'],
			write: ['deliver'],
			output: ['deliver'],
			mesh: ['fill'],
			grid: ['fill'],
			param: ['let']
		},
		...{
			edge: ['line'],
			segment: ['line'],
			box: ['rectangle'],
			rect: ['rectangle'],
			square: ['rectangle', 'box'],
			area: ['region']
		},
		...{
			surface: ['region'],
			domain: ['region'],
			face: ['region'],
			material: ['group'],
			patch: ['group'],
			zone: ['group'],
			label: ['group']
		},
		...{
			layer: ['layers', 'count'],
			vertex: ['point'],
			division: ['divide'],
			subdivide: ['divide']
		},
		...{
			tri: ['triangles'],
			tris: ['triangles'],
			quad: ['quads'],
			unstructured: ['triangles'],
			mapped: ['structured'],
			quadrilaterals: ['quads', 'structured']
		},
		...{
			type: ['as'],
			kind: ['as'],
			is: ['as'],
			color: ['colour'],
			and: ['with'],
			about: ['across', 'around'],
			around: ['about'],
			at: ['around', 'on', 'toward']
		},
		...{
			axis: ['about'],
			across: ['about'],
			closed: ['closed'],
			close: ['closed'],
			loop: ['closed'],
			smoothed: ['smooth'],
			clearance: ['gap']
		},
		...{ symmetric: ['both'], rounded: ['radius'] }
	})
);

const isWord = ({ tokenType }: IToken) => tokenType === Name || isKeyword(tokenType);
const isKeywordLike = (sign: string) => /^[a-z]/.test(sign);
/** Signs that one may forget or mistake. */
const signOf = (type: TokenType): string[] => {
	const sign = /^“(.)”$/.exec(type.LABEL ?? '')?.[1];
	return sign && '=,.()*'.includes(sign) ? [sign] : [];
};

/** A word before a place, with blanks around it; a sign without. */
const spaced = (source: string, at: number, sign: string) =>
	isKeywordLike(sign) || sign === '=' ? `${/\s$/.test(source.slice(0, at)) ? '' : ' '}${sign} ` : sign === ',' ? ', ' : sign;

/** A word in the place of a token, with blanks where there are none. */
const padded = (source: string, from: number, to: number, sign: string) =>
	isKeywordLike(sign)
		? `${/\s$/.test(source.slice(0, from)) ? '' : ' '}${sign}${/^\s/.test(source.slice(to)) || to === source.length ? '' : ' '}`
		: sign;

function withoutToken(source: string, from: number, to: number): string {
	const after = source.slice(to);
	const before = source.slice(0, from);
	return /\s$/.test(before) || before === '' ? before + after.replace(/^\s+/, '') : before + after;
}

/** The words of a statement's form with the numbers that the form gives them: `sides 6`. */
function clausesOf(form: string | undefined, words: readonly string[]): string[] {
	const plain = (form ?? '').replace(/\$\{([^}]*)\}/g, '$1');
	return words.flatMap((word) => {
		const found = new RegExp(`(?:^|\\s)(${word}\\s+[\\d.]+)(?=\\s|$)`).exec(plain);
		return found ? [found[1]!] : [];
	});
}
