import { part, type Work } from '../../numeric/work.ts';
import type { Region } from '../../domain/regions.ts';
import type { Arrangement } from '../../geometry/pieces.ts';
import { FillError } from '../method.ts';
import { directionsIn } from './directions.ts';
import { type CornerChoice, outlineOf } from './outline.ts';
import { countsOf } from './counts.ts';
import { type Patches, patchesOf } from './patches.ts';
import { linesAlong } from './tracer.ts';

/** What is tried in turn: how fine the triangles behind are, and how corners between two kinds are taken. */
const tries: readonly { finer: number; choice: CornerChoice }[] = [
	{ finer: 1, choice: { turned: 0 } },
	{ finer: 2, choice: { turned: 0 } },
	{ finer: 1.4, choice: { turned: 0.15 } },
	{ finer: 3, choice: { turned: 0 } },
	{ finer: 2, choice: { turned: 0.25 } }
];

/** The blocks of a region, and at which try they were found; or why there are none, of the last try. */
export type Decomposition = { patches: Patches; tries: number } | { reason: string };

/** The counts that arcs have by their lengths alone, where there are some that fit. */
const naturalCounts = (patches: Patches, size: number): Uint32Array | undefined =>
	countsOf(
		patches,
		Float64Array.from(patches.arcs, ({ length }) => Math.max(0.01, length / size)),
		new Map()
	);

/**
 * Cuts a region into four-sided blocks along smooth directions.
 *
 * @param size of elements: lines nearer than that become one
 */
export function* decompose(arrangement: Arrangement, region: Pick<Region, 'face'>, size: number): Work<Decomposition> {
	let reason = '';
	for (const [k, { finer, choice }] of tries.entries()) {
		const outline = outlineOf(arrangement, region, finer, choice);
		if ('reason' in outline) return outline;
		try {
			const directions = yield* part(directionsIn(outline), k / tries.length, (k + 0.5) / tries.length);
			if ('reason' in directions) {
				reason = directions.reason;
				continue;
			}
			const lines = yield* part(linesAlong(outline, directions, size), (k + 0.5) / tries.length, (k + 0.9) / tries.length);
			if ('reason' in lines) {
				reason = lines.reason;
				continue;
			}
			const patches = patchesOf(outline, lines, directions.singular.length);
			if ('reason' in patches) ({ reason } = patches);
			else if (naturalCounts(patches, size)) return { patches, tries: k + 1 };
			else reason = 'no counts of divisions fit its blocks';
		} catch (error) {
			if (!(error instanceof FillError)) throw error;
			reason = error.message;
		}
	}
	return { reason };
}
