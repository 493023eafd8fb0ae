import { reversePositions, type SpacingLaw } from './law.ts';
import { SpacingError } from './spacing-error.ts';

/** Cells that grow by a ratio from an end and stay at a largest size once they have it. */
export interface CappedGrowth {
	first: number;
	growth: number;
	largest: number;
}

/**
 * The fewest cells that fill a length, none larger than asked: the sum of min(h gᵏ, L) reaches it.
 * Toward both ends the cells of each half grow to the middle, and their count is even.
 *
 * @throws SpacingError when the first cell is longer than what is divided
 */
export function cappedCount({ first, growth, largest }: CappedGrowth, both: boolean, length: number): number {
	const span = both ? length / 2 : length;
	if (first > span)
		throw new SpacingError(
			`a first cell of ${brief(first)} is longer than ${both ? 'half the' : 'the'} piece, which has ${brief(span)}; use a smaller one`
		);
	let [sum, size, count] = [0, first, 0];
	while (sum < span * (1 - 1e-9)) {
		if (size >= largest) {
			count += Math.ceil((span * (1 - 1e-9) - sum) / largest);
			break;
		}
		sum += size;
		size *= growth;
		count++;
	}
	if (!(count <= 1e6))
		throw new SpacingError(`this would take ${count.toPrecision(2)} divisions, above the limit of 1000000; use larger cells`);
	return both ? 2 * count : count;
}

/**
 * Positions of n cells that grow by the ratio from the first one up to the largest size that fills
 * the length; this is at most the one asked for where the count is that of {@link cappedCount}. The
 * first cell is kept, but where even equal cells of its size are too long, by less than one of them:
 * there all are as much shorter.
 *
 * @returns n + 1 fractions from 0 to 1
 * @throws SpacingError when so many cells cannot fill the length
 */
export function cappedPositions(
	count: number,
	{ first, growth }: Omit<CappedGrowth, 'largest'>,
	end: 'start' | 'end' | 'both',
	length: number
): Float64Array {
	const both = end === 'both';
	const half = both ? Math.ceil(count / 2) : count;
	// Growing cells, one after the other, from the end.
	const sizes = new Float64Array(half);
	for (let k = 0; k < half; k++) sizes[k] = k === 0 ? first : Math.min(sizes[k - 1]! * growth, length);
	const total = (cap: number): number => {
		let sum = 0;
		for (let k = 0; k < half; k++) sum += (both && !(2 * k + 1 === count) ? 2 : 1) * Math.min(sizes[k]!, cap);
		return sum;
	};
	const most = total(Infinity);
	if ((count - (both ? 2 : 1)) * first >= length || most < length * (1 - 1e-8))
		throw new SpacingError(
			`${count} divisions of a piece of length ${brief(length)} cannot grow by ${growth} from a first cell of ${brief(first)}; ` +
				(most > length ? 'use fewer divisions or a smaller first cell' : 'use more divisions or a larger first cell or growth')
		);
	let [low, high] = [first, Math.max(first, sizes[half - 1]!)];
	for (let k = 0; k < 200; k++) {
		const middle = (low + high) / 2;
		if (middle === low || middle === high) break;
		if (total(middle) < length) low = middle;
		else high = middle;
	}
	const at = new Float64Array(count + 1);
	// What is left over goes to all cells alike.
	const whole = total(high);
	for (let k = 0; k < half; k++) at[k + 1] = at[k]! + Math.min(sizes[k]!, high) / whole;
	if (both) for (let k = 0; 2 * k <= count; k++) at[count - k] = 1 - at[k]!;
	if (both && count % 2 === 0) at[count / 2] = 0.5;
	at[count] = 1;
	return at;
}

/** Growing from `end` up to a largest size, which follows from the count. */
export interface CappedSpacing {
	law: 'capped';
	first: number;
	growth: number;
	end: 'start' | 'end' | 'both';
}

export const capped: SpacingLaw<CappedSpacing> = {
	law: 'capped',
	ofRequest({ numbers: { first, growth, largest }, end: wanted, length }) {
		if (largest === undefined) return undefined;
		const end = wanted as 'start' | 'end' | 'both';
		const count = cappedCount({ first: first!, growth: growth!, largest }, end === 'both', length);
		return { spacing: { law: 'capped', first: first!, growth: growth!, end }, count };
	},
	positions(count, spacing, length) {
		const at = cappedPositions(count, spacing, spacing.end, length);
		return spacing.end === 'end' ? reversePositions(at) : at;
	},
	givenAt: ({ end }) => end,
	keepsSizes: () => true
};

const brief = (value: number) => String(Number(value.toPrecision(5)));
