import { hypot } from '../numeric/elementary.ts';

/** How far a point is from a segment. */
export function distanceToSegment(px: number, py: number, ax: number, ay: number, bx: number, by: number): number {
	const [dx, dy] = [bx - ax, by - ay];
	const square = dx * dx + dy * dy;
	const t = square > 0 ? Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / square)) : 0;
	return hypot(px - ax - t * dx, py - ay - t * dy);
}
