import { cos, hypot, sin } from '../../numeric/elementary.ts';
import type { FillInput } from '../method.ts';
import { facing, indexOf, widest } from './front-check.ts';
import type { Chain, Stacks } from './stacks.ts';

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
export function squeeze({ x, y, edges }: FillInput, wallOf: Int32Array, stacks: Stacks, chains: readonly Chain[]): void {
	const segments = new Float64Array(2 * edges.length);
	for (let k = 0; k < edges.length; k++) {
		segments[2 * k] = x[edges[k]!]!;
		segments[2 * k + 1] = y[edges[k]!]!;
	}
	const index = indexOf(segments, wallOf.length);
	const { walls, wall, most, width, carrier, normalX, normalY, baseX, baseY } = stacks;
	const asked = stacks.scale.slice();
	const thickness = Float64Array.from(asked, (_, k) => stacks.thickness(k, most[k]!));
	// What a wall on the other side asks for: the thickness of the stack at the start of its edge.
	const facingStack = new Map<number, number>();
	stacks.node.forEach((node, k) => facingStack.set(node, k));
	for (let k = 0; k < stacks.length; k++) {
		const settings = walls[wall[k]!]!;
		if (!settings.squeeze || carrier[k]! >= 0) continue;
		const last = stacks.cellHeight(k, most[k]! - 1);
		const between = settings.gap * Math.min(width[k]!, widest * last);
		let scale = 1;
		for (const [c, n] of looks) {
			const [dx, dy] = [c * normalX[k]! - n * normalY[k]!, n * normalX[k]! + c * normalY[k]!];
			// As far as a stack as thick as this one could come from the other side.
			const hit = firstHit(k, dx, dy, (3 * thickness[k]! + between) / c);
			if (!hit) continue;
			const other = wallOf[hit.edge]! >= 0 ? facingStack.get(edges[2 * hit.edge]!) : undefined;
			const both = thickness[k]! + (other === undefined ? 0 : thickness[other]!);
			const room = used * c * hit.distance;
			// With all lower by a factor, the elements between become smaller too, where they follow the last cells.
			scale = Math.min(scale, Math.max(room / (both + settings.gap * widest * last), (room - settings.gap * width[k]!) / both));
		}
		stacks.scale[k] = asked[k]! * Math.max(least, scale);
	}
	even(true);
	even(false);

	/** Limits how fast the outer line rises from stack to stack, one way along every chain; twice around closed ones. */
	function even(forward: boolean): void {
		for (const { first, last, closed } of chains) {
			const steps = (last - first) * (closed ? 2 : 1) + (closed ? 1 : 0);
			let k = forward ? first : last;
			for (let n = 0; n < steps; n++) {
				const [from, to] = [k, forward ? stacks.after[k]! : stacks.before[k]!];
				k = to;
				if (!walls[wall[to]!]!.squeeze || carrier[to]! >= 0) continue;
				const away = hypot(baseX[to]! - baseX[from]!, baseY[to]! - baseY[from]!);
				const highest = stacks.thickness(from, most[from]!) + steepest * away;
				const share = highest / (thickness[to]! / asked[to]!);
				stacks.scale[to] = Math.min(stacks.scale[to]!, Math.max(share, least * asked[to]!));
			}
		}
	}

	/** The nearest edge that faces a stack in a direction. */
	function firstHit(k: number, dx: number, dy: number, reach: number): { edge: number; distance: number } | undefined {
		let [edge, distance] = [-1, reach];
		const [x, y] = [stacks.x[k]!, stacks.y[k]!];
		const [endX, endY] = [x + reach * dx, y + reach * dy];
		index.search(Math.min(x, endX), Math.min(y, endY), Math.max(x, endX), Math.max(y, endY), (e) => {
			const [ax, ay] = [segments[4 * e]!, segments[4 * e + 1]!];
			const [ex, ey] = [segments[4 * e + 2]! - ax, segments[4 * e + 3]! - ay];
			const length = hypot(ex, ey);
			// The region lies to the left of an edge.
			if (!(-ey * normalX[k]! + ex * normalY[k]! < facing * length)) return false;
			const across = dx * ey - dy * ex;
			if (across === 0) return false;
			const t = ((ax - x) * ey - (ay - y) * ex) / across;
			const u = ((ax - x) * dy - (ay - y) * dx) / across;
			if (t > 0 && t < distance && u >= 0 && u <= 1) [edge, distance] = [e, t];
			return false;
		});
		return edge < 0 ? undefined : { edge, distance };
	}
}
