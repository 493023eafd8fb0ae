/** Replaces the characters [from, to) by `insert`. The offsets of several edits all refer to the same text. */
export interface TextEdit {
	from: number;
	to: number;
	insert: string;
}

/** The text with the edits made; they must not overlap. */
export function applyEdits(text: string, edits: readonly TextEdit[]): string {
	const sorted = [...edits].sort((a, b) => b.from - a.from || b.to - a.to);
	let result = text;
	let limit = Infinity;
	for (const { from, to, insert } of sorted) {
		if (to > limit) throw new Error(`two edits overlap at offset ${from}`);
		result = result.slice(0, from) + insert + result.slice(to);
		limit = from;
	}
	return result;
}
