import { square } from '../../numeric/elementary.ts';
import { next, previous, type Triangulation } from './triangulation.ts';

/**
 * Whether a place in the triangle of half-edge `edge` keeps at least `least` away from the nodes of
 * that triangle and of its neighbours, and out of the half-circles on their fixed edges (a fixed
 * edge with a node in its half-circle would need splitting; Ruppert 1995).
 */
export function isClear(mesh: Triangulation, px: number, py: number, edge: number, least: number): boolean {
	const { x, y, from, twin, fixed } = mesh;
	const leastSquare = square(least);
	const base = edge - (edge % 3);
	for (let e = base; e < base + 3; e++) {
		const a = from[e]!;
		if (square(x[a]! - px) + square(y[a]! - py) < leastSquare) return false;
		if (fixed[e]) {
			if (encroaches(mesh, px, py, e)) return false;
			continue;
		}
		const f = twin[e]!;
		const apex = from[previous(f)]!;
		if (square(x[apex]! - px) + square(y[apex]! - py) < leastSquare) return false;
		if (fixed[next(f)] && encroaches(mesh, px, py, next(f))) return false;
		if (fixed[previous(f)] && encroaches(mesh, px, py, previous(f))) return false;
	}
	return true;
}

function encroaches({ x, y, from }: Triangulation, px: number, py: number, e: number): boolean {
	const a = from[e]!;
	const b = from[next(e)]!;
	return (x[a]! - px) * (x[b]! - px) + (y[a]! - py) * (y[b]! - py) < 0;
}
