import { orient2d } from 'robust-predicates';

/**
 * Exact sign of the turn a → b → c (Shewchuk 1997, adaptive precision): positive when c lies left
 * of the directed line ab with x to the right and y up, negative when right, zero when collinear.
 */
export function turn(ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number {
	// robust-predicates takes y downward, hence the sign.
	return -orient2d(ax, ay, bx, by, cx, cy);
}
