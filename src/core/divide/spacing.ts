import { expm1, log } from '../numeric/elementary.ts';
/** Where the cells of a biased piece are smallest. */
export type BiasEnd = 'start' | 'end' | 'both' | 'middle';

/** How the nodes of a piece are spread along it. */
export type Spacing = { law: 'even' } | { law: 'geometric'; bias: number; end: BiasEnd };

/**
 * Positions of the n + 1 nodes of a piece as fractions of its arc length, from 0 to 1.
 *
 * Geometric: cell sizes in geometric progression, the largest `bias` times the smallest. Over m
 * sizes the ratio of neighbours is r = bias^(1/(m−1)), and the sum of the first k cells is
 * (r^k − 1)/(r − 1), taken through expm1 so that ratios near 1 lose no digits. Toward one end
 * m = n; toward both ends or the middle the progression runs over each half, m = ⌈n/2⌉, the middle
 * cell of an odd count belonging to both.
 */
export function positions(count: number, spacing: Spacing): Float64Array {
	if (!(Number.isInteger(count) && count >= 1))
		throw new RangeError(`a count of divisions is a whole number from 1, found ${count}`);
	if (spacing.law === 'even' || spacing.bias === 1) return evenPositions(count);
	const { bias, end } = spacing;
	return end === 'start' || end === 'end' ? oneSided(count, bias, end) : twoSided(count, bias, end);
}

function evenPositions(count: number): Float64Array {
	return Float64Array.from({ length: count + 1 }, (_, k) => k / count);
}

function oneSided(count: number, bias: number, end: 'start' | 'end'): Float64Array {
	if (count === 1) return Float64Array.of(0, 1);
	const q = ((end === 'start' ? 1 : -1) * log(bias)) / (count - 1);
	const whole = expm1(count * q);
	const at = Float64Array.from({ length: count + 1 }, (_, k) => expm1(k * q) / whole);
	at[count] = 1;
	return at;
}

function twoSided(count: number, bias: number, end: 'both' | 'middle'): Float64Array {
	const sizes = Math.ceil(count / 2);
	if (sizes === 1) return evenPositions(count);
	const q = ((end === 'both' ? 1 : -1) * log(bias)) / (sizes - 1);
	const whole = expm1(sizes * q) + expm1((count - sizes) * q);
	const at = new Float64Array(count + 1);
	for (let k = 0; 2 * k <= count; k++) {
		at[k] = expm1(k * q) / whole;
		at[count - k] = 1 - at[k]!;
	}
	if (count % 2 === 0) at[count / 2] = 0.5;
	return at;
}

/** The same positions walked from the other end. */
export function reversePositions(at: Float64Array): Float64Array {
	const n = at.length - 1;
	return Float64Array.from(at, (_, k) => 1 - at[n - k]!);
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
