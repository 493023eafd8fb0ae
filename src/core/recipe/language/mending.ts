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

/** At most so many words are tried in the place of another. */
const mostTried = 60;

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

function ofOneWord(broken: Broken): SyntaxError | undefined {
	const { source, tokens, at, could, form, isRead } = broken;
	const [from, to] = at ? [at.startOffset, at.startOffset + at.image.length] : [source.length, source.length];
	const signs = could.flatMap((type) => (isKeyword(type) ? [type.name] : signOf(type))).slice(0, mostTried);
	const words = could.filter(isKeyword).map((type) => type.name);
	const error = (message: string, mends: Mend[]): SyntaxError => ({ message, from, to, mends });
	const put = (start: number, end: number, insert: string) => source.slice(0, start) + insert + source.slice(end);

	// A word that is written a little otherwise.
	const isUnit = at !== undefined && could.includes(Unit) && tokens[tokens.indexOf(at) - 1]?.tokenType === NumberLiteral;
	const near = at && isWord(at) ? nearest(at.image, isUnit ? [...knownUnits, ...words] : words) : undefined;
	if (near !== undefined && near !== at!.image && isRead(put(from, to, near)))
		return error(`found “${at!.image}”; did you mean “${near}”?`, [writing(source, put(from, to, near), `Write “${near}”`)]);

	// A word that people use for another.
	const meant = at
		? (wordsMeant.get(at.image.toLowerCase()) ?? []).find((word) => words.includes(word) && isRead(put(from, to, word)))
		: undefined;
	if (meant !== undefined)
		return error(`found “${at!.image}”; the word is “${meant}”`, [writing(source, put(from, to, meant), `Write “${meant}”`)]);
	if (
		at?.image === 'and' &&
		isRead(put(tokens[tokens.indexOf(at) - 1]!.startOffset + tokens[tokens.indexOf(at) - 1]!.image.length, to, ','))
	)
		return error('a list is written with commas', [
			writing(
				source,
				put(tokens[tokens.indexOf(at) - 1]!.startOffset + tokens[tokens.indexOf(at) - 1]!.image.length, to, ','),
				'Write “,”'
			)
		]);
	// Clauses are parted by blanks.
	const withoutCommas = source.replace(/,(?=\s*[a-z_]+\s)/g, '');
	if (at?.image === ',' && isRead(withoutCommas) && withoutCommas.length + 1 < source.length)
		return error('clauses are parted by blanks, without commas', [writing(source, withoutCommas, 'Take out the commas')]);

	if (at) {
		// A word before it that is too many: the place where it breaks off comes after it.
		const before = tokens[tokens.indexOf(at) - 1];
		if (before && isKeyword(before.tokenType)) {
			const earlier = withoutToken(source, before.startOffset, before.startOffset + before.image.length);
			if (isRead(earlier))
				return {
					message: `“${before.image}” does not stand here`,
					from: before.startOffset,
					to: before.startOffset + before.image.length,
					mends: [writing(source, earlier, `Take out “${before.image}”`)]
				};
		}
		if (at.image === '(' && before && before.tokenType === Name && before.startOffset + before.image.length === from)
			return noFunction(before, broken);
		// A word or a sign that is missing; a product only before a bracket or a name.
		const mayMultiply = at.image === '(';
		const end = before ? before.startOffset + before.image.length : from;
		/** A comma stands at the word before it. */
		const putIn = (sign: string) => (sign === ',' ? put(end, from, ', ') : put(from, from, spaced(source, from, sign)));
		const isAfterValue = before?.tokenType === NumberLiteral || before?.image === ')';
		const missing = signs
			.filter((sign) => (sign !== '*' || mayMultiply) && (sign !== ',' || isAfterValue))
			.filter((sign) => isRead(putIn(sign)));
		if (missing.length > 0 && missing.length <= 3)
			return error(
				`${missing.map((sign) => `“${sign}”`).join(' or ')} is missing before “${at.image}”`,
				missing.map((sign) => writing(source, putIn(sign), `Put in “${sign}”`))
			);
		// A number before its word.
		const after = tokens[tokens.indexOf(at) + 1];
		if (at.tokenType === NumberLiteral && after && isKeyword(after.tokenType)) {
			const swapped = put(from, after.startOffset + after.image.length, `${after.image} ${at.image}`);
			if (isRead(swapped))
				return error(`a number stands behind its word: “${after.image} ${at.image}”`, [writing(source, swapped)]);
		}
		// One that is too many.
		const without = withoutToken(source, from, to);
		if (isRead(without)) return error(`“${at.image}” does not stand here`, [writing(source, without, `Take out “${at.image}”`)]);
		// Another in its place.
		const instead = signs.filter(
			(sign) => sign !== '*' && isRead(put(from, to, isKeywordLike(sign) ? padded(source, from, to, sign) : sign))
		);
		if (instead.length > 0 && instead.length <= 3)
			return error(
				`found “${at.image}”; ${instead.map((sign) => `“${sign}”`).join(' or ')} stands here`,
				instead.map((sign) => writing(source, put(from, to, padded(source, from, to, sign)), `Write “${sign}”`))
			);
		// A word and its number that are missing.
		const clause = clausesOf(form, words).find((clause) => isRead(put(from, from, `${clause} `)));
		if (clause)
			return error(`“${clause.split(' ')[0]}” is missing before “${at.image}”`, [writing(source, put(from, from, `${clause} `))]);
		return undefined;
	}

	// The line ends too early: a sign or a word, or a word with what follows it in the form of the statement.
	const closing = [')', ']', '"'].find((sign) => isRead(source + sign));
	if (closing) return error(`“${closing}” is missing at the end`, [writing(source, source + closing, `Put in “${closing}”`)]);
	const commas = tokens.filter(({ image }) => image === ',').reverse();
	for (const comma of commas)
		for (const word of words) {
			const mended = put(
				comma.startOffset,
				comma.startOffset + 1,
				padded(source, comma.startOffset, comma.startOffset + 1, word)
			);
			if (!isRead(mended)) continue;
			return {
				message: `found “,”; “${word}” stands here`,
				from: comma.startOffset,
				to: comma.startOffset + 1,
				mends: [writing(source, mended, `Write “${word}”`)]
			};
		}
	const ends = words.filter((word) => isRead(`${source} ${word}`));
	if (ends.length > 0 && ends.length <= 6)
		return error(
			`the line ends too early: ${ends.map((word) => `“${word}”`).join(', ')} ${ends.length > 1 ? 'may follow' : 'is missing'}`,
			ends.map((word) => writing(source, `${source} ${word}`, `Add “${word}”`))
		);
	const last = tokens.at(-1);
	if (last && isKeyword(last.tokenType) && could.includes(NumberLiteral))
		return error(
			last.image === 'to'
				? 'a place is missing after “to”, like “to (10, 0)”'
				: `a value is missing after “${last.image}”, like “${last.image} 2”`,
			[]
		);
	const clause = clausesOf(form, words).find((clause) => isRead(`${source} ${clause}`));
	if (clause)
		return error(`the line ends too early: “${clause.split(' ')[0]}” and what follows it are missing, like “${clause}”`, [
			writing(source, `${source} ${clause}`, `Add “${clause}”`)
		]);
	return undefined;
}

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
			inflation: ['layers'],
			prisms: ['layers'],
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
