/** Control signs, and signs that turn the direction of what follows or break a line: no title, name or label holds any. */
const invisible = /[\p{Cc}\u2028\u2029\u202a-\u202e\u2066-\u2069]/u;

/** The first control sign of a text, with its offset; undefined where there is none. */
export function controlSign(text: string): { code: number; at: number } | undefined {
	const at = text.search(invisible);
	return at < 0 ? undefined : { code: text.codePointAt(at)!, at };
}

/** A text with a dot in place of every control sign. */
export const withoutControlSigns = (text: string): string => text.replace(new RegExp(invisible, 'gu'), '·');
