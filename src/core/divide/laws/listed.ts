import { reversePositions, type SpacingLaw } from './law.ts';
import { SpacingError } from './spacing-error.ts';

/** The inner nodes as fractions of the length from `end`. */
export interface ListedSpacing {
	law: 'listed';
	fractions: readonly number[];
	end: 'start' | 'end';
}

export const listed: SpacingLaw<ListedSpacing> = {
	law: 'listed',
	ofRequest: ({ fractions, end }) =>
		fractions && { spacing: { law: 'listed', fractions, end: end as 'start' | 'end' }, count: fractions.length + 1 },
	positions(count, { fractions, end }) {
		if (count !== fractions.length + 1)
			throw new SpacingError(`${fractions.length} positions make ${fractions.length + 1} divisions, and this piece has ${count}`);
		const at = Float64Array.of(0, ...fractions, 1);
		return end === 'start' ? at : reversePositions(at);
	}
};
