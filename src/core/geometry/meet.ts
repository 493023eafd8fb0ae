import { hypot } from '../numeric/elementary.ts';
import { pointAt, segmentBox, segmentCount, segmentPoint, type Curve, type Point } from './curve.ts';
import { intersectSegments, nearestOn } from './intersect.ts';

/** A place where two curves meet: their parameters and the point. */
export interface Meeting extends Point {
	s: number;
	t: number;
}

/** Where two curves meet, in the order of the first; places within `tolerance` of one another are one. */
export function meetings(a: Curve, b: Curve, tolerance: number): Meeting[] {
	const found: Meeting[] = [];
	const boxes = Array.from({ length: segmentCount(b) }, (_, j) => segmentBox(b, j));
	for (let i = 0; i < segmentCount(a); i++) {
		const [minX, minY, maxX, maxY] = segmentBox(a, i);
		boxes.forEach(([lowX, lowY, highX, highY], j) => {
			if (lowX > maxX + tolerance || highX < minX - tolerance || lowY > maxY + tolerance || highY < minY - tolerance) return;
			intersectSegments(a, i, b, j, tolerance, (u, v) => found.push({ s: i + u, t: j + v, ...segmentPoint(a, i, u) }));
		});
	}
	found.sort((p, q) => p.s - q.s);
	return found.filter((p, k) => !found.slice(0, k).some((q) => hypot(p.x - q.x, p.y - q.y) <= 2 * tolerance));
}

/** The parameter of the point of a curve nearest to `p`, and how far away it is. */
export function nearestOnCurve(curve: Curve, p: Point): { t: number; distance: number } {
	let best = { t: 0, distance: Infinity };
	for (let i = 0; i < segmentCount(curve); i++) {
		const [minX, minY, maxX, maxY] = segmentBox(curve, i);
		const dx = Math.max(minX - p.x, 0, p.x - maxX);
		const dy = Math.max(minY - p.y, 0, p.y - maxY);
		if (hypot(dx, dy) > best.distance) continue;
		const u = nearestOn(curve, i, p);
		const q = segmentPoint(curve, i, u);
		const distance = hypot(q.x - p.x, q.y - p.y);
		if (distance < best.distance) best = { t: i + u, distance };
	}
	return best;
}

export const startOf = (curve: Curve): Point => pointAt(curve, 0);
export const endOf = (curve: Curve): Point => pointAt(curve, segmentCount(curve));
