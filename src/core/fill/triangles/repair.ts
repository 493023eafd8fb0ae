import { hypot, sin } from '../../numeric/elementary.ts';
import { lengthened } from '../../numeric/lengthened.ts';
import type { Work } from '../../numeric/work.ts';
import { isClear } from './clearance.ts';
import { next, previous, type Triangulation } from './triangulation.ts';

/** Triangles with a smaller angle than this get a node: circumradius over shortest side is 1 / (2 sin α). */
const leastAngle = (30.5 * Math.PI) / 180;
const leastSineSquare = sin(leastAngle) ** 2;

/**
 * Delaunay refinement for quality (Ruppert 1995; Shewchuk 2002): a triangle with a small angle gets
 * a node at its circumcentre, unless that would lie in the half-circle on a fixed edge or behind
 * one. Angles between two fixed edges are left alone.
 *
 * @param inside 1 for each triangle of the region
 * @returns 1 for each triangle of the region, as they are now
 */
export function* repair(mesh: Triangulation, inside: Uint8Array): Work<Uint8Array> {
	let kept = new Uint8Array(mesh.from.length / 3);
	kept.set(inside);
	const pending: number[] = [];
	for (let t = 0; t < mesh.triangleCount; t++) {
		if ((t & 0x3ffff) === 0) yield (0.5 * t) / mesh.triangleCount;
		if (kept[t] && shortestIfBad(mesh, t) >= 0) pending.push(t);
	}
	// Every node mends about one triangle; what is not mended then cannot be.
	let left = 4 * pending.length + 50;
	for (let head = 0; head < pending.length && left > 0; head++) {
		if ((head & 0xfff) === 0) yield 0.5 + (0.5 * head) / pending.length;
		const shortest = shortestIfBad(mesh, pending[head]!);
		if (shortest < 0) continue;
		const centre = circumcentre(mesh, shortest);
		const place = mesh.walk(centre.x, centre.y, shortest);
		if (!place || place.vertex >= 0 || (place.onEdge && mesh.fixed[place.edge])) continue;
		if (!isClear(mesh, centre.x, centre.y, place.edge, 0.9 * sideLength(mesh, shortest))) continue;
		const v = mesh.insertAt(centre.x, centre.y, place);
		left--;
		if (mesh.triangleCount > kept.length) kept = lengthened(kept, mesh.from.length / 3);
		const first = mesh.outgoing[v]!;
		let e = first;
		do {
			const t = (e / 3) | 0;
			kept[t] = 1;
			if (shortestIfBad(mesh, t) >= 0) pending.push(t);
			e = mesh.twin[previous(e)]!;
		} while (e !== first);
	}
	yield 1;
	return kept.slice(0, mesh.triangleCount);
}

/** The shortest side of a triangle whose smallest angle is too small and not between two fixed edges; −1 otherwise. */
function shortestIfBad({ x, y, from, fixed }: Triangulation, t: number): number {
	const e = 3 * t;
	const [a, b, c] = [from[e]!, from[e + 1]!, from[e + 2]!];
	const ux = x[b]! - x[a]!;
	const uy = y[b]! - y[a]!;
	const vx = x[c]! - x[b]!;
	const vy = y[c]! - y[b]!;
	const wx = x[a]! - x[c]!;
	const wy = y[a]! - y[c]!;
	const uu = ux * ux + uy * uy;
	const vv = vx * vx + vy * vy;
	const ww = wx * wx + wy * wy;
	const cross = ux * vy - uy * vx;
	// The sine of the angle across the shortest side is that side times twice the area over the product of all sides.
	const least = Math.min(uu, vv, ww);
	if (cross > 0 && least * cross * cross >= leastSineSquare * uu * vv * ww) return -1;
	const shortest = least === uu ? e : least === vv ? e + 1 : e + 2;
	return fixed[next(shortest)] && fixed[previous(shortest)] ? -1 : shortest;
}

function sideLength({ x, y, from }: Triangulation, e: number): number {
	const a = from[e]!;
	const b = from[next(e)]!;
	return hypot(x[b]! - x[a]!, y[b]! - y[a]!);
}

function circumcentre({ x, y, from }: Triangulation, e: number): { x: number; y: number } {
	const [a, b, c] = [from[e]!, from[next(e)]!, from[previous(e)]!];
	const [bx, by, cx, cy] = [x[b]! - x[a]!, y[b]! - y[a]!, x[c]! - x[a]!, y[c]! - y[a]!];
	const cross = 2 * (bx * cy - by * cx);
	const [bb, cc] = [bx * bx + by * by, cx * cx + cy * cy];
	return { x: x[a]! + (cy * bb - by * cc) / cross, y: y[a]! + (bx * cc - cx * bb) / cross };
}
