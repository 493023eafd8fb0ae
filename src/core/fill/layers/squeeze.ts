import { cos, hypot, pow, sin } from '../../numeric/elementary.ts';
import { progressionSum } from '../../recipe/layer-numbers.ts';
import type { FillInput } from '../method.ts';
import { facing, indexOf, widest } from './front-check.ts';
import type { Stack, Wall } from './stack.ts';

/** Directions in which a stack looks for what it faces, from its normal, in radians. */
const looks = [-0.7, -0.35, 0, 0.35, 0.7].map((angle) => [cos(angle), sin(angle)] as const);
/** How steeply the outer line of the layers may come down toward a narrow place. */
const steepest = 0.25;
/** The share of the room that is used: fronts that turn toward one another need some for themselves. */
const used = 0.95;
/** A stack is never lower than this share of what is asked; where even that has no room, upper cells are left out. */
const least = 1e-3;

/**
 * Makes the stacks of walls that are squeezed lower where they face something near, so that all their cells fit and
 * between two stacks there is still room for the elements that are to be there; and from stack to stack smoothly.
 *
 * @param stacks with the normals that they start along
 */
export function squeeze(
	{ x, y, edges }: FillInput,
	walls: readonly Wall[],
	wallOf: Int32Array,
	stacks: readonly Stack[],
	chains: readonly { first: number; last: number; closed: boolean }[]
): void {
	const segments = new Float64Array(2 * edges.length);
	for (let k = 0; k < edges.length; k++) {
		segments[2 * k] = x[edges[k]!]!;
		segments[2 * k + 1] = y[edges[k]!]!;
	}
	const index = indexOf(segments, wallOf.length);
	const asked = stacks.map((s) => s.scale);
	// What a wall on the other side asks for: the thickness of the stack at the start of its edge.
	const facingStack = new Map(stacks.map((s, k) => [s.node, k]));
	const thickness = (k: number) => asked[k]! * walls[stacks[k]!.wall]!.first * sumOf(stacks[k]!);
	const sumOf = (s: Stack) => progressionSum(s.most, walls[s.wall]!.growth);
	stacks.forEach((s, k) => {
		const wall = walls[s.wall]!;
		if (!wall.squeeze || s.carried) return;
		const own = thickness(k);
		const last = asked[k]! * wall.first * pow(wall.growth, s.most - 1);
		const between = wall.gap * Math.min(s.width, widest * last);
		let scale = 1;
		for (const [c, n] of looks) {
			const [dx, dy] = [c * s.normalX - n * s.normalY, n * s.normalX + c * s.normalY];
			// As far as a stack as thick as this one could come from the other side.
			const hit = firstHit(s, dx, dy, (3 * own + between) / c);
			if (!hit) continue;
			const other = wallOf[hit.edge]! >= 0 ? facingStack.get(edges[2 * hit.edge]!) : undefined;
			const both = own + (other === undefined ? 0 : thickness(other));
			const room = used * c * hit.distance;
			// With all lower by a factor, the elements between become smaller too, where they follow the last cells.
			scale = Math.min(scale, Math.max(room / (both + wall.gap * widest * last), (room - wall.gap * s.width) / both));
		}
		s.scale = asked[k]! * Math.max(least, scale);
	});
	even(true);
	even(false);

	/** Limits how fast the outer line rises from stack to stack, one way along every chain; twice around closed ones. */
	function even(forward: boolean): void {
		for (const { first, last, closed } of chains) {
			const steps = (last - first) * (closed ? 2 : 1) + (closed ? 1 : 0);
			let k = forward ? first : last;
			for (let n = 0; n < steps; n++) {
				const next = forward ? stacks[k]!.after : stacks[k]!.before;
				const [from, to] = [stacks[k]!, stacks[next]!];
				const wall = walls[to.wall]!;
				k = next;
				if (!wall.squeeze || to.carried) continue;
				const away = hypot(to.baseX - from.baseX, to.baseY - from.baseY);
				const most = from.scale * walls[from.wall]!.first * sumOf(from) + steepest * away;
				to.scale = Math.min(to.scale, Math.max(most / (wall.first * sumOf(to)), least * asked[next]!));
			}
		}
	}

	/** The nearest edge that faces a stack in a direction. */
	function firstHit(s: Stack, dx: number, dy: number, reach: number): { edge: number; distance: number } | undefined {
		let [edge, distance] = [-1, reach];
		const [endX, endY] = [s.x + reach * dx, s.y + reach * dy];
		index.search(Math.min(s.x, endX), Math.min(s.y, endY), Math.max(s.x, endX), Math.max(s.y, endY), (e) => {
			const [ax, ay] = [segments[4 * e]!, segments[4 * e + 1]!];
			const [ex, ey] = [segments[4 * e + 2]! - ax, segments[4 * e + 3]! - ay];
			const length = hypot(ex, ey);
			// The region lies to the left of an edge.
			if (!(-ey * s.normalX + ex * s.normalY < facing * length)) return false;
			const across = dx * ey - dy * ex;
			if (across === 0) return false;
			const t = ((ax - s.x) * ey - (ay - s.y) * ex) / across;
			const u = ((ax - s.x) * dy - (ay - s.y) * dx) / across;
			if (t > 0 && t < distance && u >= 0 && u <= 1) [edge, distance] = [e, t];
			return false;
		});
		return edge < 0 ? undefined : { edge, distance };
	}
}
