import { counted } from '../../text/sentences.ts';
import { exp, expm1, log, log1p } from '../../numeric/elementary.ts';
import type { BiasEnd, SpacingLaw } from './law.ts';
import { SpacingError } from './spacing-error.ts';

/** The number that fixes a geometric spacing of a given count: sizes in units of length. */
export type GeometricNumber =
	/** Largest cell over smallest. */
	| { bias: number }
	/** The smallest cell. */
	| { first: number }
	/** The largest cell. */
	| { last: number }
	/** Ratio of neighbouring cells, away from the smallest. */
	| { growth: number };

/** Of two neighbours at the two ends of a progression the larger is at most this many times the smaller. */
export const largestBias = 1e12;

/**
 * A spacing in geometric progression. Toward one end the progression runs over all n cells; toward
 * both ends or the middle over each half, of m = ⌈n/2⌉ cells, the middle cell of an odd count
 * belonging to both. With q the logarithm of the ratio of neighbours, the sum of the first k cells
 * is (e^(kq) − 1)/(e^q − 1) of the first, taken through expm1 so that ratios near 1 lose no digits.
 *
 * @returns n + 1 fractions from 0 to 1
 * @throws SpacingError when no such spacing exists
 */
export function geometricPositions(count: number, number: GeometricNumber, end: BiasEnd, length: number): Float64Array {
	const q = logRatio(count, number, end, length);
	if (q === 0) return Float64Array.from({ length: count + 1 }, (_, k) => k / count);
	return end === 'start' || end === 'end' ? oneSided(count, end === 'start' ? q : -q) : twoSided(count, end === 'both' ? q : -q);
}

function oneSided(count: number, q: number): Float64Array {
	const whole = expm1(count * q);
	const at = Float64Array.from({ length: count + 1 }, (_, k) => expm1(k * q) / whole);
	at[count] = 1;
	return at;
}

function twoSided(count: number, q: number): Float64Array {
	const sizes = Math.ceil(count / 2);
	const whole = expm1(sizes * q) + expm1((count - sizes) * q);
	const at = new Float64Array(count + 1);
	for (let k = 0; 2 * k <= count; k++) {
		at[k] = expm1(k * q) / whole;
		at[count - k] = 1 - at[k]!;
	}
	if (count % 2 === 0) at[count / 2] = 0.5;
	return at;
}

/** The logarithm of the ratio of neighbours, away from the smallest cell; 0 where only even cells are possible. */
function logRatio(count: number, number: GeometricNumber, end: BiasEnd, length: number): number {
	const oneEnded = end === 'start' || end === 'end';
	const sizes = oneEnded ? count : Math.ceil(count / 2);
	if ('bias' in number) return sizes < 2 ? 0 : log(number.bias) / (sizes - 1);
	if ('growth' in number) {
		const q = log(number.growth);
		if (Math.abs(q) * (sizes - 1) > log(largestBias))
			throw new SpacingError(
				`a growth of ${number.growth} over ${sizes} cells makes the largest more than ${largestBias} times the smallest; use a smaller growth or fewer divisions`
			);
		return q;
	}
	// The size asked for, as a share of the piece, falls (first) or rises (last) with the ratio.
	const [word, size] = 'first' in number ? (['first', number.first] as const) : (['last', number.last] as const);
	const share = size / length;
	const even = 1 / count;
	if (Math.abs(share / even - 1) < 1e-14) return 0;
	const limit = sizes < 2 ? 0 : log(largestBias) / (sizes - 1);
	const shareAt = (q: number): number => {
		const whole = oneEnded ? sum(count, q) : sum(sizes, q) + sum(count - sizes, q);
		return (word === 'first' ? 1 : exp((sizes - 1) * q)) / (end === 'middle' ? middleSum(count, sizes, q) : whole);
	};
	const [a, b] = [shareAt(-limit), shareAt(limit)];
	if (sizes < 2 || (share < a && share < b) || (share > a && share > b)) {
		const [low, high] = [Math.min(a, b) * length, Math.max(a, b) * length];
		throw new SpacingError(
			`${counted(count, 'division')} of a piece of length ${brief(length)} cannot have a ${word} cell of ${brief(size)}; ` +
				(sizes < 2 ? `it is ${brief(length / count)}` : `from ${brief(low)} to ${brief(high)} is possible, or another count`)
		);
	}
	let [low, high] = [-limit, limit];
	for (let k = 0; k < 200; k++) {
		const middle = (low + high) / 2;
		if (middle === low || middle === high) break;
		if (shareAt(middle) > share === shareAt(low) > share) low = middle;
		else high = middle;
	}
	return (low + high) / 2;
}

/** The sum of k cells of a progression whose first is 1. */
const sum = (k: number, q: number): number => (q === 0 ? k : expm1(k * q) / expm1(q));

/** The sum of a spacing toward the middle, in smallest cells: of an odd count the middle cell belongs to both halves. */
function middleSum(count: number, sizes: number, q: number): number {
	return count % 2 === 0 ? 2 * sum(sizes, q) : 2 * sum(sizes, q) - 1;
}

/** Any two of count, first, last, growth and bias give the others. */
export interface GeometricPair {
	first?: number | undefined;
	last?: number | undefined;
	growth?: number | undefined;
	bias?: number | undefined;
}

/**
 * The count that two numbers ask for, rounded to a whole number, and the number that is kept
 * exactly at that count: the first cell where it is given, else the last, else the bias.
 *
 * @throws SpacingError that says which number to change when no spacing has both
 */
export function countOfPair(pair: GeometricPair, end: BiasEnd, length: number): { count: number; number: GeometricNumber } {
	const halves = end === 'both' || end === 'middle' ? 2 : 1;
	const span = length / halves;
	const { growth, bias } = pair;
	let { first, last } = pair;
	for (const [word, size] of [
		['first', first],
		['last', last]
	] as const)
		if (size !== undefined && size > span)
			throw new SpacingError(
				`a ${word} cell of ${brief(size)} is longer than ${halves === 2 ? 'half the' : 'the'} piece, which has ${brief(span)}; use a smaller one`
			);
	if (first !== undefined && bias !== undefined) last = first * bias;
	else if (last !== undefined && bias !== undefined) first = last / bias;
	let cells: number;
	if (first !== undefined && last !== undefined) {
		// The sum is (r·last − first)/(r − 1), so r = (L − first)/(L − last).
		if (last >= span)
			throw new SpacingError(
				`with a first cell of ${brief(first)} the last would be ${brief(last)}, longer than what is divided, ${brief(span)}; use a smaller bias or first cell`
			);
		const q = log((span - first) / (span - last));
		cells = Math.abs(q) < 1e-12 ? span / first : 1 + log(last / first) / q;
	} else if (first !== undefined) {
		const inside = 1 + (span * (growth! - 1)) / first;
		if (!(inside > 0))
			throw new SpacingError(
				`cells that shrink by ${growth} from a first one of ${brief(first)} never fill the piece; use a growth above ${brief(1 - first / span)}`
			);
		cells = growth === 1 ? span / first : log1p((span * (growth! - 1)) / first) / log(growth!);
	} else if (last !== undefined) {
		// last·(1 − g^−n)/(1 − 1/g) = L.
		const rest = (span * (1 - 1 / growth!)) / last;
		if (rest >= 1)
			throw new SpacingError(
				`cells that grow by ${growth} up to ${brief(last)} fill at most ${brief(last / (1 - 1 / growth!))}, and what is divided has ${brief(span)}; use a larger last cell or a smaller growth`
			);
		cells = growth === 1 ? span / last : -log1p(-rest) / log(growth!);
	} else {
		if (growth === 1)
			throw new SpacingError(
				bias === 1
					? 'a growth of 1 and a bias of 1 leave the count open; give a count or a size'
					: `cells that grow by 1 stay equal and never reach a bias of ${bias}; use a growth above 1`
			);
		cells = 1 + log(bias!) / log(growth!);
	}
	if (!(cells <= 1e6))
		throw new SpacingError(`this would take ${cells.toPrecision(2)} divisions, above the limit of 1000000; use larger cells`);
	const count = Math.max(1, Math.round(cells)) * halves;
	const number: GeometricNumber =
		count < 2 * halves
			? { bias: 1 }
			: pair.first !== undefined
				? { first: pair.first }
				: pair.last !== undefined
					? { last: pair.last }
					: { bias: bias! };
	return { count, number };
}

const brief = (value: number) => String(Number(value.toPrecision(5)));

/** In geometric progression, smallest at `end`. */
export interface GeometricSpacing {
	law: 'geometric';
	number: GeometricNumber;
	end: BiasEnd;
}

export const geometric: SpacingLaw<GeometricSpacing> = {
	law: 'geometric',
	ofRequest({ numbers, counted, end, length }) {
		const words = Object.keys(numbers);
		if (words.length === 1) return { spacing: { law: 'geometric', number: numbers as GeometricNumber, end } };
		if (words.length !== 2 || counted) return undefined;
		const { number, count } = countOfPair(numbers, end, length);
		return { spacing: { law: 'geometric', number, end }, count };
	},
	positions: (count, { number, end }, length) => geometricPositions(count, number, end, length),
	givenAt: ({ number, end }) => ('first' in number ? end : undefined),
	keepsSizes: ({ number }) => 'first' in number || 'last' in number
};
