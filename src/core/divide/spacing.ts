import { cachedFor } from '../numeric/cached-for.ts';
import { lawOf, type Spacing } from './laws/table.ts';

export { reversePositions, type BiasEnd } from './laws/law.ts';
export { SpacingError } from './laws/spacing-error.ts';
export type { Spacing } from './laws/table.ts';

/**
 * Positions of the n + 1 nodes of a piece as fractions of its arc length, from 0 to 1.
 *
 * @param length the arc length of the piece
 * @throws SpacingError when the law has no such spacing
 */
export function positions(count: number, spacing: Spacing, length = 1): Float64Array {
	if (!(Number.isInteger(count) && count >= 1))
		throw new RangeError(`a count of divisions is a whole number from 1, found ${count}`);
	return lawOf(spacing).positions(count, spacing, length);
}

/** The spacing with its first cell so many times as long; the same where it has none of its own. */
export function withFirst<S extends Spacing>(spacing: S, times: number): S {
	if ('first' in spacing) return { ...spacing, first: spacing.first * times };
	if ('number' in spacing && 'first' in spacing.number) return { ...spacing, number: { first: spacing.number.first * times } };
	return spacing;
}

/** What a spacing comes to: sizes in units of length, and the ratio of neighbouring cells (largest of them). */
export interface SpacingFigures {
	first: number;
	last: number;
	smallest: number;
	largest: number;
	ratio: number;
}

/** First, last, smallest and largest cell of a piece of the given length, and the largest ratio of neighbours. */
export const spacingFigures = cachedFor((at: Float64Array, length): SpacingFigures => {
	const n = at.length - 1;
	const size = (k: number) => (at[k + 1]! - at[k]!) * length;
	let [smallest, largest, ratio] = [Infinity, 0, 1];
	for (let k = 0; k < n; k++) {
		smallest = Math.min(smallest, size(k));
		largest = Math.max(largest, size(k));
		if (k > 0) ratio = Math.max(ratio, size(k) / size(k - 1), size(k - 1) / size(k));
	}
	return { first: size(0), last: size(n - 1), smallest, largest, ratio };
});
