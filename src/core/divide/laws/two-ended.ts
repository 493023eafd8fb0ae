import { counted } from '../../text/sentences.ts';
import { stretchToEnds } from '../../numeric/stretching.ts';
import { reversePositions, type SpacingLaw } from './law.ts';
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

/** The sizes of the cell at `end` and of the one at the other end. */
export interface TwoEndedSpacing {
	law: 'two-ended';
	first: number;
	last: number;
	end: 'start' | 'end';
}

export const twoEnded: SpacingLaw<TwoEndedSpacing> = {
	law: 'two-ended',
	ofRequest({ numbers: { first, last }, counted, end }) {
		if (!counted || first === undefined || last === undefined) return undefined;
		return { spacing: { law: 'two-ended', first, last, end: end as 'start' | 'end' } };
	},
	positions(count, { first, last, end }, length) {
		const at = twoEndedPositions(count, first / length, last / length);
		return end === 'start' ? at : reversePositions(at);
	},
	givenAt: () => 'both',
	keepsSizes: () => true
};

const brief = (value: number) => String(Number(value.toPrecision(4)));
