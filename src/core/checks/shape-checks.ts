import type { Model } from '../recipe/model/model.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import type { Region } from '../domain/regions.ts';
import { checkAxis } from './axis.ts';
import { checkUseless } from './bounds-nothing.ts';
import { checkDoubled } from './doubled.ts';
import type { Report } from '../findings/report.ts';
import { checkEnds } from './near-ends.ts';
import type { ShapeCheck } from './shape-check.ts';
import { checkSelfCrossings } from './self-crossings.ts';
import { checkLostNodes } from './lost-nodes.ts';
import { checkVanishing } from './vanishing.ts';
import { checkSharpCorners, checkShortPieces } from './slivers.ts';

/** Every check of the drawing itself, in the order in which it is reported. */
const checks: readonly ((check: ShapeCheck) => void)[] = [
	checkAxis,
	checkLostNodes,
	checkVanishing,
	checkSelfCrossings,
	checkDoubled,
	checkEnds,
	checkShortPieces,
	checkSharpCorners,
	checkUseless
];

export function checkShape(model: Model, arrangement: Arrangement, regions: readonly Region[], report: Report): void {
	for (const check of checks)
		try {
			check({ model, arrangement, regions, report });
		} catch (error) {
			// A check that fails takes neither the others along nor the mesh.
			report.failed('a check of the drawing', error);
		}
}
