import { capped } from './capped.ts';
import { even } from './even.ts';
import { geometric } from './geometric.ts';
import type { LawSpacing, SpacingLaw, SpacingRequest } from './law.ts';
import { listed } from './listed.ts';
import { twoEnded } from './two-ended.ts';

const laws = [even, listed, twoEnded, capped, geometric] as const;

/** A spacing by any of the laws. */
export type Spacing = ((typeof laws)[number] extends infer L ? (L extends SpacingLaw<infer S> ? S : never) : never) &
	Pick<LawSpacing, 'square'>;

/** Every law of spacing, in the order in which they are asked what a statement means. */
export const spacingLaws: readonly SpacingLaw<Spacing>[] = laws;

/** The spacing that a statement requests, by the first law that it means, with the count where it follows; throws SpacingError. */
export function spacingOf(request: SpacingRequest): { spacing: Spacing; count?: number } | undefined {
	for (const law of spacingLaws) {
		const meant = law.ofRequest?.(request);
		if (meant) return meant;
	}
	return undefined;
}

export const lawOf = (spacing: Spacing): SpacingLaw<Spacing> => spacingLaws.find((l) => l.law === spacing.law)!;
