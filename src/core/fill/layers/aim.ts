import { cos, hypot, tan } from '../../numeric/elementary.ts';
import { cornerFrom } from './lay-stacks.ts';
import type { Chain, Stacks } from './stacks.ts';

const smoothCosine = cos(cornerFrom);

/**
 * Where every stack of a chain would go with the next layer: along the normal of the front, by the height of its next
 * cell; between inside corners and carriers nodes slide along the front to make room.
 *
 * The lowest third of a stack goes along the normal of the true curve, where the wall has one there; the rest along that of
 * the front, for three points that of the parabola through them.
 *
 * @param x nodes that carriers name, with `y`
 */
export function aim(stacks: Stacks, { first, last, sides }: Chain, layer: number, x: Float64Array, y: Float64Array): void {
	const { node, before, after, fan, corner, most, curveX, curveY, height, normalX, normalY, stepX, stepY, nextX, nextY } = stacks;
	// The direction and length from the stack before to its next on the front, `toward`.
	let bx = 0;
	let by = 0;
	let bLength = 0;
	let toward = -1;
	for (let k = first; k <= last; k++) {
		// A fan goes straight out from its corner, so that the walls beside it keep their heights.
		if (fan[k]! >= 0) {
			toward = -1;
			stepX[k] = height[k]! * normalX[k]!;
			stepY[k] = height[k]! * normalY[k]!;
		} else {
			let p = before[k]!;
			if (p >= 0 && node[p] === node[k]) p = nextPlace(stacks, before, k);
			let n = after[k]!;
			if (n >= 0 && node[n] === node[k]) n = nextPlace(stacks, after, k);
			let ax = bx;
			let ay = by;
			let aLength = bLength;
			if (p >= 0 && (toward !== k || p !== k - 1)) {
				ax = stacks.x[k]! - stacks.x[p]!;
				ay = stacks.y[k]! - stacks.y[p]!;
				aLength = Math.sqrt(ax * ax + ay * ay);
				ax /= aLength;
				ay /= aLength;
			}
			if (n >= 0) {
				bx = stacks.x[n]! - stacks.x[k]!;
				by = stacks.y[n]! - stacks.y[k]!;
				bLength = Math.sqrt(bx * bx + by * by);
				bx /= bLength;
				by /= bLength;
			}
			toward = n;
			const isBetween = p >= 0 && n >= 0;
			const cosine = isBetween ? ax * bx + ay * by : 1;
			// Along a smooth wall the tangent of the parabola through three points, at a corner the bisector.
			const isSmooth = isBetween && cosine > smoothCosine && corner[k] === 0;
			const wa = isSmooth ? bLength : 1;
			const wb = isSmooth ? aLength : 1;
			let tx = 0;
			let ty = 0;
			if (p >= 0) {
				tx = wa * ax;
				ty = wa * ay;
			}
			if (n >= 0) {
				tx += wb * bx;
				ty += wb * by;
			}
			const size = Math.sqrt(tx * tx + ty * ty) || 1;
			normalX[k] = -ty / size;
			normalY[k] = tx / size;
			if (layer * 3 < most[k]! && (curveX[k] !== 0 || curveY[k] !== 0)) {
				normalX[k] = curveX[k]!;
				normalY[k] = curveY[k]!;
			}
			// Square to both edges it is as high as asked.
			const length = height[k]! / Math.sqrt(Math.max(0.04, (1 + cosine) / 2));
			stepX[k] = length * normalX[k]!;
			stepY[k] = length * normalY[k]!;
		}
		const carrier = stacks.moves[k] ? stacks.carrierOf(k) : undefined;
		if (carrier) {
			nextX[k] = x[carrier.nodes[layer]!]!;
			nextY[k] = y[carrier.nodes[layer]!]!;
		} else {
			nextX[k] = stacks.x[k]! + stepX[k]!;
			nextY[k] = stacks.y[k]! + stepY[k]!;
		}
	}
	for (const side of sides) slide(stacks, side);
}

/** The nearest stack along the front, one way, that stands elsewhere; −1 for none. */
function nextPlace({ node }: Stacks, way: Int32Array, k: number): number {
	for (let at = way[k]!, steps = 0; at >= 0 && at !== k && steps < 40; at = way[at]!, steps++)
		if (node[at] !== node[k]) return at;
	return -1;
}

/** Nodes move along a side of the front to make room for what its two ends take. */
function slide(stacks: Stacks, side: Int32Array): void {
	const { x, y, height, nextX, nextY } = stacks;
	const n = side.length;
	if (n < 3) return;
	const [head, tail] = [side[0]!, side[n - 1]!];
	const start = taken(stacks, head, side[1]!);
	const end = taken(stacks, tail, side[n - 2]!);
	if (start.now === 0 && end.now === 0) return;
	const at = new Float64Array(n);
	for (let k = 1; k < n; k++) at[k] = at[k - 1]! + hypot(x[side[k]!]! - x[side[k - 1]!]!, y[side[k]!]! - y[side[k - 1]!]!);
	const length = at[n - 1]!;
	const room = (whole: number) =>
		Math.min(Math.max(4 * Math.abs(whole), 1e-300), (start.now !== 0 && end.now !== 0 ? 0.5 : 1) * length);
	const [startRoom, endRoom] = [room(start.whole), room(end.whole)];
	const fade = (t: number) => (t < 1 ? (1 - t) ** 2 : 0);
	// Square to the side at its two ends, whatever is beyond them.
	const stepX = Float64Array.from(side, (k) => stacks.stepX[k]!);
	const stepY = Float64Array.from(side, (k) => stacks.stepY[k]!);
	const square = (at: number, k: number, dx: number, dy: number) => {
		const size = hypot(dx, dy);
		stepX[at] = size > 0 ? (-dy / size) * height[k]! : 0;
		stepY[at] = size > 0 ? (dx / size) * height[k]! : 0;
	};
	square(0, head, x[side[1]!]! - x[head]!, y[side[1]!]! - y[head]!);
	square(n - 1, tail, x[tail]! - x[side[n - 2]!]!, y[tail]! - y[side[n - 2]!]!);
	let q = 1;
	for (let k = 1; k < n - 1; k++) {
		const u = Math.min(
			length,
			Math.max(0, at[k]! + start.now * fade(at[k]! / startRoom) - end.now * fade((length - at[k]!) / endRoom))
		);
		while (q > 1 && at[q - 1]! > u) q--;
		while (q < n - 1 && at[q]! < u) q++;
		const share = (u - at[q - 1]!) / (at[q]! - at[q - 1]! || 1);
		const [a, b] = [side[q - 1]!, side[q]!];
		nextX[side[k]!] = x[a]! + share * (x[b]! - x[a]!) + stepX[q - 1]! + share * (stepX[q]! - stepX[q - 1]!);
		nextY[side[k]!] = y[a]! + share * (y[b]! - y[a]!) + stepY[q - 1]! + share * (stepY[q]! - stepY[q - 1]!);
	}
}

/** How much of a side its end takes with this layer, and with all of them. */
function taken(stacks: Stacks, k: number, beyond: number): { now: number; whole: number } {
	const carrier = stacks.carrierOf(k);
	const corner = stacks.corner[k]!;
	if (!stacks.moves[k] || (!carrier && !(corner > 0))) return { now: 0, whole: 0 };
	const [dx, dy] = [stacks.x[beyond]! - stacks.x[k]!, stacks.y[beyond]! - stacks.y[k]!];
	const size = hypot(dx, dy);
	const [tx, ty] = size > 0 ? [dx / size, dy / size] : [0, 0];
	const whole = stacks.thickness(k, stacks.most[k]!);
	if (carrier)
		return { now: tx * (stacks.nextX[k]! - stacks.x[k]!) + ty * (stacks.nextY[k]! - stacks.y[k]!), whole: whole * carrier.slope };
	return { now: tx * stacks.stepX[k]! + ty * stacks.stepY[k]!, whole: whole * tan(corner / 2) };
}
