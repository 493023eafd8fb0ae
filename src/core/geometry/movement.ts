import { cos, sin } from '../numeric/elementary.ts';
import type { Point } from './curve.ts';

/** A movement of the plane: a shift, or a turn about a point by an angle in radians. */
export type Movement = { kind: 'shift'; x: number; y: number } | { kind: 'turn'; about: Point; angle: number };

/** Where a movement takes a point. */
export function moved(movement: Movement, { x, y }: Point): Point {
	if (movement.kind === 'shift') return { x: x + movement.x, y: y + movement.y };
	const { about, angle } = movement;
	const [c, s] = [cos(angle), sin(angle)];
	return { x: about.x + c * (x - about.x) - s * (y - about.y), y: about.y + s * (x - about.x) + c * (y - about.y) };
}
