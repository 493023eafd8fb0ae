import { capped } from './capped.ts';
import { even } from './even.ts';
import { geometric } from './geometric.ts';
import type { LawSpacing, SpacingLaw } from './law.ts';
import { listed } from './listed.ts';
import { twoEnded } from './two-ended.ts';

const laws = [even, listed, twoEnded, capped, geometric] as const;

/** A spacing by any of the laws. */
export type Spacing = ((typeof laws)[number] extends infer L ? (L extends SpacingLaw<infer S> ? S : never) : never) &
	Pick<LawSpacing, 'square'>;

/** Every law of spacing, in the order in which they are asked what a statement means. */
export const spacingLaws = laws as unknown as readonly SpacingLaw<Spacing>[];

export const lawOf = (spacing: Spacing): SpacingLaw<Spacing> => spacingLaws.find((l) => l.law === spacing.law)!;
