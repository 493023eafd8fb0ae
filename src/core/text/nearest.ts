/** A longer word is compared with nothing; of more candidates than this the first are looked at, of which the last is how many are compared. */
const [longestWord, mostCandidates, mostCompared] = [60, 5000, 40];
/** Two words that differ by more edits than this are two words, however long they are. */
const mostEdits = 5;
/** So many letters at the start and at the end say which candidates are compared first. */
const lettersAtEnds = 3;

/**
 * The candidate most like `word`, when the two differ by no more than a third of their letters, and by {@link mostEdits}
 * (Damerau 1964 distance, letter case ignored); undefined when none is that near. Of many candidates those are compared that
 * start and end as the word does, so that the time is bounded, however many there are and however long they are.
 */
export function nearest(word: string, candidates: Iterable<string>): string | undefined {
	if (word.length > longestWord) return undefined;
	const lower = word.toLowerCase();
	const limit = Math.min(mostEdits, Math.max(1, Math.floor(word.length / 3)));
	const byLikeness: string[][] = Array.from({ length: 2 * lettersAtEnds + 1 }, () => []);
	const list = Array.isArray(candidates) ? (candidates as readonly string[]) : [...candidates];
	for (let k = 0; k < Math.min(list.length, mostCandidates); k++) sortIn(list[k]!, lower, limit, byLikeness);
	let [best, bestDistance] = [undefined as string | undefined, limit + 1];
	for (const candidate of byLikeness.reverse().flat().slice(0, mostCompared)) {
		const distance = editDistance(lower, candidate.toLowerCase(), bestDistance);
		if (distance < bestDistance) [best, bestDistance] = [candidate, distance];
	}
	return best;
}

/** Puts a candidate of about the right length with those that are as like a word. */
function sortIn(candidate: string, word: string, limit: number, byLikeness: string[][]): void {
	if (Math.abs(candidate.length - word.length) <= limit) byLikeness[likeness(word, candidate)]!.push(candidate);
}

/** How many letters two words share at the same places from their start, and from their end; only small letters are sure to count. */
function likeness(a: string, b: string): number {
	let shared = 0;
	for (let k = 0; k < lettersAtEnds; k++) {
		if ((a.charCodeAt(k) | 32) === (b.charCodeAt(k) | 32)) shared++;
		if ((a.charCodeAt(a.length - 1 - k) | 32) === (b.charCodeAt(b.length - 1 - k) | 32)) shared++;
	}
	return shared;
}

/** "; did you mean `x`?" or nothing. */
export function didYouMean(word: string, candidates: Iterable<string>): string {
	const near = nearest(word, candidates);
	return near === undefined ? '' : `; did you mean “${near}”?`;
}

/**
 * Insertions, deletions, replacements and swaps of neighbours that turn one word into the other; `most` where it takes as many or
 * more. Only the places near the diagonal are worked out, as all others take more (Ukkonen 1985).
 */
function editDistance(a: string, b: string, most: number): number {
	const width = b.length + 1;
	let [older, row, next] = [new Uint8Array(width), new Uint8Array(width), new Uint8Array(width)];
	row.forEach((_, j) => (row[j] = Math.min(j, most)));
	let leastBefore = 0;
	for (let i = 1; i <= a.length; i++) {
		const [from, to] = [Math.max(1, i - most), Math.min(b.length, i + most)];
		next.fill(most);
		next[0] = Math.min(i, most);
		let least = next[0];
		for (let j = from; j <= to; j++) {
			const isSame = a.charCodeAt(i - 1) === b.charCodeAt(j - 1);
			let cost = Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (isSame ? 0 : 1));
			const swapped =
				i > 1 && j > 1 && a.charCodeAt(i - 1) === b.charCodeAt(j - 2) && a.charCodeAt(i - 2) === b.charCodeAt(j - 1);
			if (swapped) cost = Math.min(cost, older[j - 2]! + 1);
			next[j] = Math.min(cost, most);
			least = Math.min(least, cost);
		}
		// A swap goes on from two rows before.
		if (least >= most && leastBefore >= most) return most;
		leastBefore = least;
		[older, row, next] = [row, next, older];
	}
	return row[b.length]!;
}
