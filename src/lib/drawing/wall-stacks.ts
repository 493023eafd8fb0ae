import type { LayerProfile } from '../../core/fill/method.ts';
import type { Point } from '../../core/geometry/curve.ts';
import { distanceToSegment } from '../../core/geometry/segments.ts';
import type { Shown } from '../desk/snapshot.ts';

/** One stack of layers: its statement's line, the stretches it is among, and its number there. */
export interface WallStack {
	line: number;
	profile: LayerProfile;
	k: number;
}

/** The stack whose line from the wall to its end is nearest to a place, if it is within reach or half a cell's width. */
export function stackUnder(result: Shown, at: Point, reach: number): WallStack | undefined {
	let best: WallStack | undefined;
	let nearest = Infinity;
	for (const { line, profiles } of result.layerFigures)
		for (const profile of profiles)
			for (let k = 0; k < profile.x.length; k++) {
				if (profile.count[k] === 0) continue;
				const away = distance(at, profile, k);
				if (away > Math.max(reach, 0.6 * profile.width[k]!) || away >= nearest) continue;
				nearest = away;
				best = { line, profile, k };
			}
	return best;
}

/** The stack at whose end, on the outer line of its layers, a place lies. */
export function outerStackUnder(result: Shown, at: Point, reach: number): WallStack | undefined {
	let best: WallStack | undefined;
	let nearest = reach;
	for (const { line, profiles } of result.layerFigures)
		for (const profile of profiles) {
			const { topX, topY, count, runs } = profile;
			for (let k = 0; k < topX.length; k++) {
				const after = k + 1 < topX.length && !runs.includes(k + 1) ? k + 1 : k;
				if (count[k] === 0 || count[after] === 0) continue;
				const away = distanceToSegment(at.x, at.y, topX[k]!, topY[k]!, topX[after]!, topY[after]!);
				if (away >= nearest) continue;
				nearest = away;
				best = { line, profile, k };
			}
		}
	return best;
}

/** How far a place is above the wall at a stack, along the line that the stack takes. */
export function heightAbove({ profile: { x, y, topX, topY }, k }: WallStack, at: Point): number {
	const [dx, dy] = [topX[k]! - x[k]!, topY[k]! - y[k]!];
	const length = Math.hypot(dx, dy);
	return length > 0 ? ((at.x - x[k]!) * dx + (at.y - y[k]!) * dy) / length : 0;
}

const distance = (at: Point, { x, y, topX, topY }: LayerProfile, k: number) =>
	distanceToSegment(at.x, at.y, x[k]!, y[k]!, topX[k]!, topY[k]!);
