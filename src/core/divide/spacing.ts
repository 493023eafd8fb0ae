import { cappedPositions } from './laws/capped.ts';
import { geometricPositions, type BiasEnd, type GeometricNumber } from './laws/geometric.ts';
import { SpacingError } from './laws/spacing-error.ts';
import { twoEndedPositions } from './laws/two-ended.ts';

export { SpacingError } from './laws/spacing-error.ts';
export type { BiasEnd } from './laws/geometric.ts';

/** How the nodes of a piece are spread along it. Sizes are lengths. */
export type Spacing =
	| { law: 'even' }
	/** In geometric progression, smallest at `end`. */
	| { law: 'geometric'; number: GeometricNumber; end: BiasEnd }
	/** Growing from `end` up to a largest size, which follows from the count. */
	| { law: 'capped'; first: number; growth: number; end: 'start' | 'end' | 'both' }
	/** The sizes of the cell at `end` and of the one at the other end. */
	| { law: 'two-ended'; first: number; last: number; end: 'start' | 'end' }
	/** The inner nodes as fractions of the length from `end`. */
	| { law: 'listed'; fractions: readonly number[]; end: 'start' | 'end' };

/**
 * Positions of the n + 1 nodes of a piece as fractions of its arc length, from 0 to 1.
 *
 * @param length the arc length of the piece
 * @throws SpacingError when the law has no such spacing
 */
export function positions(count: number, spacing: Spacing, length = 1): Float64Array {
	if (!(Number.isInteger(count) && count >= 1))
		throw new RangeError(`a count of divisions is a whole number from 1, found ${count}`);
	if (spacing.law === 'geometric') return geometricPositions(count, spacing.number, spacing.end, length);
	if (spacing.law === 'capped') {
		const at = cappedPositions(count, spacing, spacing.end, length);
		return spacing.end === 'end' ? reversePositions(at) : at;
	}
	if (spacing.law === 'two-ended') {
		const at = twoEndedPositions(count, spacing.first / length, spacing.last / length);
		return spacing.end === 'start' ? at : reversePositions(at);
	}
	if (spacing.law === 'listed') {
		const { fractions } = spacing;
		if (count !== fractions.length + 1)
			throw new SpacingError(`${fractions.length} positions make ${fractions.length + 1} divisions, and this piece has ${count}`);
		const at = Float64Array.of(0, ...fractions, 1);
		return spacing.end === 'start' ? at : reversePositions(at);
	}
	return Float64Array.from({ length: count + 1 }, (_, k) => k / count);
}

/** The same positions walked from the other end. */
export function reversePositions(at: Float64Array): Float64Array {
	const n = at.length - 1;
	const reversed = new Float64Array(n + 1);
	for (let k = 0; k <= n; k++) reversed[k] = 1 - at[n - k]!;
	return reversed;
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
export function spacingFigures(at: Float64Array, length: number): SpacingFigures {
	const n = at.length - 1;
	const size = (k: number) => (at[k + 1]! - at[k]!) * length;
	let [smallest, largest, ratio] = [Infinity, 0, 1];
	for (let k = 0; k < n; k++) {
		smallest = Math.min(smallest, size(k));
		largest = Math.max(largest, size(k));
		if (k > 0) ratio = Math.max(ratio, size(k) / size(k - 1), size(k - 1) / size(k));
	}
	return { first: size(0), last: size(n - 1), smallest, largest, ratio };
}
