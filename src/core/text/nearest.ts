/**
 * The candidate most like `word`, when the two differ by no more than a third of their letters
 * (Damerau 1964 distance, letter case ignored); undefined when none is that near.
 */
export function nearest(word: string, candidates: Iterable<string>): string | undefined {
	let best: string | undefined;
	let bestDistance = Math.max(1, Math.floor(word.length / 3)) + 1;
	for (const candidate of candidates) {
		if (Math.abs(candidate.length - word.length) >= bestDistance) continue;
		const distance = editDistance(word.toLowerCase(), candidate.toLowerCase());
		if (distance < bestDistance) {
			bestDistance = distance;
			best = candidate;
		}
	}
	return best;
}

/** "; did you mean `x`?" or nothing. */
export function didYouMean(word: string, candidates: Iterable<string>): string {
	const near = nearest(word, candidates);
	return near === undefined ? '' : `; did you mean \`${near}\`?`;
}

/** Insertions, deletions, replacements and swaps of neighbours that turn one word into the other. */
function editDistance(a: string, b: string): number {
	let older: number[] = [];
	let row = Array.from({ length: b.length + 1 }, (_, i) => i);
	for (let i = 1; i <= a.length; i++) {
		const next = [i];
		for (let j = 1; j <= b.length; j++) {
			next[j] = Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1));
			const swapped = i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1];
			if (swapped) next[j] = Math.min(next[j]!, older[j - 2]! + 1);
		}
		older = row;
		row = next;
	}
	return row[b.length]!;
}
