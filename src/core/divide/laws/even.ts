import type { SpacingLaw } from './law.ts';

/** All cells alike. */
export interface EvenSpacing {
	law: 'even';
}

export const even: SpacingLaw<EvenSpacing> = {
	law: 'even',
	positions: (count) => Float64Array.from({ length: count + 1 }, (_, k) => k / count)
};
