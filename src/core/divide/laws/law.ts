import type { SpacingWord } from '../../recipe/statements/shared/spacing-clause.ts';

/** Where the cells of a piece are smallest. */
export type BiasEnd = 'start' | 'end' | 'both' | 'middle';

/** What a statement says of a spacing, with its numbers worked out. */
export interface SpacingRequest {
	numbers: Partial<Record<SpacingWord, number>>;
	/** Fractions of the length, where inner nodes are listed. */
	fractions?: readonly number[];
	/** Whether the statement gives a count as well. */
	counted: boolean;
	/** Where the cells are to be small. */
	end: BiasEnd;
	/** The length of what is divided. */
	length: number;
}

/** A spacing by some law; sizes are lengths. */
export interface LawSpacing {
	law: string;
	/** Set where the first cell is as high as asked square to the wall that it stands at: how much longer it is along the piece. */
	square?: number;
}

/** One law of spacing: when it is meant, and where it puts the nodes. All of them stand in `table.ts`. */
export interface SpacingLaw<S extends LawSpacing> {
	law: S['law'];
	/** The spacing, and the count where it follows, if this law is meant; throws SpacingError where it has none. */
	ofRequest?(request: SpacingRequest): { spacing: S; count?: number } | undefined;
	/** Fractions of the length, count + 1 of them, from 0 to 1; throws SpacingError where there are none. */
	positions(count: number, spacing: S, length: number): Float64Array;
	/** The ends at which the cell has a size that was given. */
	givenAt?(spacing: S): BiasEnd | undefined;
	/** Whether it keeps sizes, rather than fractions, on a piece of another length. */
	keepsSizes?(spacing: S): boolean;
}

/** The same positions walked from the other end. */
export function reversePositions(at: Float64Array): Float64Array {
	const n = at.length - 1;
	const reversed = new Float64Array(n + 1);
	for (let k = 0; k <= n; k++) reversed[k] = 1 - at[n - k]!;
	return reversed;
}
