import { counted } from '../../text/sentences.ts';
import { stretchToEnds } from '../../numeric/stretching.ts';
import { countOfPair } from './geometric.ts';
import { type BiasEnd, reversePositions, type SpacingLaw } from './law.ts';
import { SpacingError } from './spacing-error.ts';

/**
 * A spacing with the size of both end cells given, smooth in between: the hyperbolic-tangent
 * stretching of Vinokur (1983), whose end slopes are corrected until the end cells
 * themselves, not only the slopes, have the sizes asked for.
 *
 * @param first, last sizes of the end cells as fractions of the piece
 * @returns n + 1 fractions from 0 to 1
 * @throws SpacingError when the count leaves no room for them
 */
export function twoEndedPositions(count: number, first: number, last: number): Float64Array {
	if (count === 1 && Math.abs(first - 1) < 1e-12 && Math.abs(last - 1) < 1e-12) return Float64Array.of(0, 1);
	if (count === 2 && Math.abs(first + last - 1) < 1e-12) return Float64Array.of(0, first, 1);
	if (count < 3)
		throw new SpacingError(
			`${counted(count, 'division')} cannot have both a first and a last cell of their own size; use at least 3`
		);
	if (!(first + last < 1))
		throw new SpacingError('the first and the last cell together are longer than the piece; use smaller ones');
	const even = Float64Array.from({ length: count + 1 }, (_, k) => k / count);
	const at = stretchToEnds(even, first, last);
	const monotone = at.every((v, k) => k === 0 || v > at[k - 1]!);
	if (
		!monotone ||
		!(Math.abs(at[1]! - first) < 1e-11 * first + 1e-15) ||
		!(Math.abs(1 - at[count - 1]! - last) < 1e-11 * last + 1e-12)
	)
		throw new SpacingError(
			`no smooth spacing of ${count} divisions has end cells of ${brief(first)} and ${brief(last)} of the piece; use ${first + last > 2 / count ? 'fewer' : 'more'} divisions or sizes nearer to ${brief(1 / count)}`
		);
	return at;
}

/** The sizes of the smallest cell, where `end` is, and of the largest, away from it. */
export interface TwoEndedSpacing {
	law: 'two-ended';
	first: number;
	last: number;
	end: BiasEnd;
}

/**
 * A spacing with both sizes kept toward one end, or in each half where both ends or the middle are small. Throws SpacingError where
 * a half has too few cells for both, or none lie smoothly between.
 */
function sizedPositions(count: number, { first, last, end }: TwoEndedSpacing, length: number): Float64Array {
	if (end === 'start' || end === 'end') {
		const at = twoEndedPositions(count, first / length, last / length);
		return end === 'start' ? at : reversePositions(at);
	}
	const half = count / 2;
	const isWhole = Number.isInteger(half);
	// In the middle of an odd count one cell belongs to both halves.
	const span = isWhole ? length / 2 : (length + (end === 'both' ? last : first)) / 2;
	const cells = Math.ceil(half);
	const part = twoEndedPositions(cells, (end === 'both' ? first : last) / span, (end === 'both' ? last : first) / span);
	const at = new Float64Array(count + 1);
	for (let k = 0; 2 * k <= count; k++) {
		at[k] = (part[k]! * span) / length;
		at[count - k] = 1 - at[k]!;
	}
	if (isWhole) at[half] = 0.5;
	return at;
}

export const twoEnded: SpacingLaw<TwoEndedSpacing> = {
	law: 'two-ended',
	ofRequest({ numbers, counted, end, length }) {
		const words = Object.keys(numbers);
		const { first, last, bias } = numbers;
		if (counted && first !== undefined && last !== undefined) return { spacing: { law: 'two-ended', first, last, end } };
		// Two sizes without a count are kept, and the ratio between them is what gives way to a whole number of cells.
		if (counted || words.length !== 2 || !(first !== undefined || last !== undefined)) return undefined;
		const small = first ?? (bias === undefined ? undefined : last! / bias);
		const large = last ?? (bias === undefined ? undefined : first! * bias);
		if (small === undefined || large === undefined) return undefined;
		const { count } = countOfPair(numbers, end, length);
		const spacing: TwoEndedSpacing = { law: 'two-ended', first: small, last: large, end };
		try {
			sizedPositions(count, spacing, length);
		} catch (error) {
			if (error instanceof SpacingError) return undefined;
			throw error;
		}
		return { spacing, count };
	},
	positions: sizedPositions,
	givenAt: () => 'both',
	keepsSizes: () => true
};

const brief = (value: number) => String(Number(value.toPrecision(4)));
