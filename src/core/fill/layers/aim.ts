import { cos, hypot } from '../../numeric/elementary.ts';
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
	const { node, before, after, fan, corner, most, long, curveX, curveY, height, normalX, normalY, stepX, stepY, nextX, nextY } =
		stacks;
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
				long[k] = bLength;
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
	for (const side of sides) slide(stacks, side, layer);
}

/** The nearest stack along the front, one way, that stands elsewhere; −1 for none. */
function nextPlace({ node }: Stacks, way: Int32Array, k: number): number {
	for (let at = way[k]!, steps = 0; at >= 0 && at !== k && steps < 40; at = way[at]!, steps++)
		if (node[at] !== node[k]) return at;
	return -1;
}

/** Nodes slide where an edge of the front is so much longer than the one beside it, against what they are at the wall … */
const slidesFrom = 1.25;
/** … by this share of what would make them even; an edge below the second share of its width is crowded. */
const [damping, crowdedBelow] = [0.8, 0.35];
/** Below this no edge of the next front is far from those beside it. */
const nearlySlides = 1.15;
/** The most that a node slides in a layer, in heights of its cell: usually, and where an edge is crowded. */
const [farthest, farthestCrowded] = [1, 4];
/** By sliding around a bend a front cuts it off: by this share of its cell's height at most. */
const mostOff = 0.25;
/** What is cut off is made up for by this share of the height at most. */
const mostRegained = 0.5;
/** Times that a side is gone along, there and back. */
const sweeps = 8;

/**
 * Nodes slide along a side of the front: where its ends take of it, and where it becomes shorter or longer than beside, so
 * that no edge of the next front is far from as wide as its neighbours. Upright stay the cells of the lowest third, as long as
 * none is crowded.
 */
function slide(stacks: Stacks, side: Int32Array, layer: number): void {
	const { x, y, height, moves, wanted, nextX, nextY } = stacks;
	const n = side.length;
	if (n < 3) return;
	const [head, tail] = [side[0]!, side[n - 1]!];
	const [start, end] = [taken(stacks, head, side[1]!), taken(stacks, tail, side[n - 2]!)];
	if (start === 0 && end === 0 && isEven(stacks, side, layer)) return;
	// Square to the side at its two ends, whatever is beyond them.
	const stepX = Float64Array.from(side, (k) => stacks.stepX[k]!);
	const stepY = Float64Array.from(side, (k) => stacks.stepY[k]!);
	const square = (at: number, k: number, dx: number, dy: number) => {
		const size = hypot(dx, dy);
		const high = moves[k] ? height[k]! : 0;
		stepX[at] = size > 0 ? (-dy / size) * high : 0;
		stepY[at] = size > 0 ? (dx / size) * high : 0;
	};
	square(0, head, x[side[1]!]! - x[head]!, y[side[1]!]! - y[head]!);
	square(n - 1, tail, x[tail]! - x[side[n - 2]!]!, y[tail]! - y[side[n - 2]!]!);
	// Places along the front, and along the next one, where it shrinks or grows with its curvature.
	const at = new Float64Array(n);
	const along = new Float64Array(n);
	/** The sine of how far the front turns at each, inward. */
	const turn = new Float64Array(n);
	let [beforeX, beforeY] = [0, 0];
	for (let k = 1; k < n; k++) {
		const [a, b] = [side[k - 1]!, side[k]!];
		const [dx, dy] = [x[b]! - x[a]!, y[b]! - y[a]!];
		const length = Math.sqrt(dx * dx + dy * dy);
		const becomes = length + ((stepX[k]! - stepX[k - 1]!) * dx + (stepY[k]! - stepY[k - 1]!) * dy) / (length || 1);
		at[k] = at[k - 1]! + length;
		turn[k - 1] = length > 0 ? (beforeX * dy - beforeY * dx) / length : 0;
		[beforeX, beforeY] = length > 0 ? [dx / length, dy / length] : [0, 0];
		along[k] = along[k - 1]! + Math.max(0.02 * length, becomes);
	}
	const place = along.slice();
	place[0] = between(at, along, start);
	place[n - 1] = between(at, along, at[n - 1]! - end);
	let some = false;
	for (let sweep = 0; sweep < 2 * sweeps; sweep++) {
		let changed = false;
		for (let i = 1; i < n - 1; i++) {
			const k = sweep % 2 === 0 ? i : n - 1 - i;
			const stack = side[k]!;
			if (!moves[stack]) continue;
			const [before, after] = [place[k]! - place[k - 1]!, place[k + 1]! - place[k]!];
			const wide = 3 * layer < wanted[stack]! ? stacks.wide : stacks.wideAbove;
			const [wideBefore, wideAfter] = [wide[side[k - 1]!]!, wide[stack]!];
			const [a, b] = [before * wideAfter, after * wideBefore];
			if (a <= slidesFrom * b && b <= slidesFrom * a) continue;
			const isCrowded = before < crowdedBelow * wideBefore || after < crowdedBelow * wideAfter;
			if (!isCrowded && 3 * layer < wanted[stack]!) continue;
			const most = height[stack]! * (isCrowded ? farthestCrowded : Math.min(farthest, mostOff / Math.abs(turn[k]!)));
			// As far as it takes for the two to differ by no more than they may.
			const short =
				a > b
					? (slidesFrom * b - a) / (wideAfter + slidesFrom * wideBefore)
					: (b - slidesFrom * a) / (slidesFrom * wideAfter + wideBefore);
			const to = place[k]! + damping * short;
			const next = Math.min(along[k]! + most, Math.max(along[k]! - most, to));
			if (next === place[k]) continue;
			place[k] = next;
			changed = true;
		}
		if (!changed) break;
		some = true;
	}
	if (!some) return;
	let q = 1;
	for (let k = 1; k < n - 1; k++) {
		if (!moves[side[k]!] || place[k] === along[k]) continue;
		const u = Math.min(along[n - 1]!, Math.max(0, place[k]!));
		while (q > 1 && along[q - 1]! > u) q--;
		while (q < n - 1 && along[q]! < u) q++;
		const share = (u - along[q - 1]!) / (along[q]! - along[q - 1]! || 1);
		const [a, b] = [side[q - 1]!, side[q]!];
		// Between two directions the step is as long as the two are.
		const [px, py, rx, ry] = [stepX[q - 1]!, stepY[q - 1]!, stepX[q]!, stepY[q]!];
		const [sx, sy] = [px + share * (rx - px), py + share * (ry - py)];
		const [low, high, size] = [hypot(px, py), hypot(rx, ry), hypot(sx, sy)];
		// And higher by what the front loses when it cuts off the bends on either side, lower by what it gains.
		const lost = (-(turn[q - 1]! + turn[q]!) * share * (1 - share) * (at[q]! - at[q - 1]!)) / 4;
		const long = low + share * (high - low);
		const scale = size > 0 ? (long + Math.max(-mostRegained * long, Math.min(mostRegained * long, lost))) / size : 0;
		nextX[side[k]!] = x[a]! + share * (x[b]! - x[a]!) + scale * sx;
		nextY[side[k]!] = y[a]! + share * (y[b]! - y[a]!) + scale * sy;
	}
}

/** Whether no edge of a side is nearly so much shorter than the one beside it that nodes slide. */
function isEven({ long, wide, wideAbove, wanted }: Stacks, side: Int32Array, layer: number): boolean {
	const head = side[0]!;
	let before = 0;
	for (let i = 0; i < side.length - 1; i++) {
		const k = side[i]!;
		const share = long[k]! / (3 * layer < wanted[k]! ? wide : wideAbove)[k]!;
		if (k !== head && (share > nearlySlides * before || before > nearlySlides * share)) return false;
		before = share;
	}
	return true;
}

/** What a second list has where a first one, which rises, has a value. */
function between(from: Float64Array, to: Float64Array, value: number): number {
	const last = from.length - 1;
	if (value <= 0) return value;
	if (value >= from[last]!) return to[last]! + value - from[last]!;
	let k = 1;
	while (from[k]! < value) k++;
	return to[k - 1]! + ((value - from[k - 1]!) / (from[k]! - from[k - 1]! || 1)) * (to[k]! - to[k - 1]!);
}

/** How much of a side its end takes with this layer. */
function taken(stacks: Stacks, k: number, beyond: number): number {
	const carrier = stacks.carrierOf(k);
	if (!stacks.moves[k] || (!carrier && !(stacks.corner[k]! > 0))) return 0;
	const [dx, dy] = [stacks.x[beyond]! - stacks.x[k]!, stacks.y[beyond]! - stacks.y[k]!];
	const size = hypot(dx, dy);
	if (!(size > 0)) return 0;
	return (dx * (stacks.nextX[k]! - stacks.x[k]!) + dy * (stacks.nextY[k]! - stacks.y[k]!)) / size;
}
