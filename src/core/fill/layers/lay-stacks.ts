import { atan2, cos, hypot, log, sin } from '../../numeric/elementary.ts';
import { mostLayers, progressionSum } from '../../recipe/model/layer-numbers.ts';
import type { FillInput } from '../method.ts';
import { growthFor, isExact, leastScale } from './plan.ts';
import { type Carrier, cellHeight, type Chain, Stacks, type LayerRequest, type WallRuns } from './stacks.ts';

const degree = Math.PI / 180;
/** A wall that turns away by more than this gets a fan of stacks … */
const fanFrom = 50 * degree;
/** … with about so much between two of them. */
const fanStep = 45 * degree;
/** … less where its cells would be wider than those beside it by more than this factor; two stacks are never closer than the second. */
const [fanWidth, leastFanStep] = [1.3, 12 * degree];
/** A curve that turns by less than this at a node goes on smoothly. */
const smoothTurn = 2 * degree;
/** Below this angle inside, two walls that meet taper. */
const sharpest = 50 * degree;
/** A wall that turns inward by more than this has a corner, whose bisector both sides share. */
export const cornerFrom = 25 * degree;
/** From here on the corner stays where the bisector leads; below, its nodes may slide as others do. */
const fixedFrom = 45 * degree;
/** A piece without layers that leaves a wall within these angles carries the nodes of the last stack. */
const [leastCarried, mostCarried] = [45 * degree, 135 * degree];
/** Heights that a carrying piece offers may be off by this share of what is asked. */
const carriedWithin = 0.4;

/**
 * The stacks along walls before they grow: one at a node, several where the wall turns away.
 *
 * @param change the number of a place, a fan or a carrier, at which the front gets an edge more than it would have: a fan has
 *   a stack more, a carrier carries a cell less
 * @returns with the number of such places
 */
export function layStacks(
	{ x, y, edges }: FillInput,
	{ walls, wallOf, scales, directions }: WallRuns,
	change = -1
): { stacks: Stacks; chains: Chain[]; places: number } {
	const nextEdge = loopsOf(edges);
	const beforeEdge = new Int32Array(nextEdge.length);
	for (let k = 0; k < nextEdge.length; k++) beforeEdge[nextEdge[k]!] = k;

	// Phase 1: how far the wall turns at each of its nodes, which decides how many stacks stand there.
	const runs = chainsOf(wallOf, nextEdge, beforeEdge);
	const turns = runs.map(({ edges: list, closed }) => {
		const turn = new Float64Array(closed ? list.length : list.length + 1);
		for (let j = closed ? 0 : 1; j < list.length; j++) turn[j] = turnBetween(list[j > 0 ? j - 1 : list.length - 1]!, list[j]!);
		return turn;
	});
	let [length, places] = [0, 0];
	const counts = turns.map((turn, run) =>
		Array.from(turn, (angle, j) => {
			const { edges: list, closed } = runs[run]!;
			const into = j > 0 ? list[j - 1]! : closed ? list.at(-1)! : -1;
			// A smooth curve has no corner, however far its edges turn.
			const count =
				into >= 0 && j < list.length ? stacksAt(curveAround(into, list[j]!, angle).whole, topOver(into, list[j]!)) : 1;
			const parts = count > 1 && places++ === change ? count + 1 : count;
			length += parts;
			return parts;
		})
	);

	// Phase 2: the stacks.
	const stacks = new Stacks(length, walls);
	let next = 0;
	const chains = runs.map(({ edges: list, closed }, run): Chain => {
		const first = next;
		turns[run]!.forEach((turn, j) =>
			lay(j > 0 ? list[j - 1]! : closed ? list.at(-1)! : -1, list[j] ?? -1, turn, counts[run]![j]!)
		);
		const last = next - 1;
		for (let k = first; k <= last; k++) {
			stacks.before[k] = k > first ? k - 1 : closed ? last : -1;
			stacks.after[k] = k < last ? k + 1 : closed ? first : -1;
		}
		widen(stacks, first, last, closed);
		return { first, last, closed, sides: sidesOf(stacks, first, last, closed) };
	});
	return { stacks, chains, places };

	/** The stacks between one edge of a wall and the next; −1 for none, at an end. */
	function lay(into: number, out: number, turn: number, count: number): void {
		const node = out >= 0 ? edges[2 * out]! : edges[2 * into + 1]!;
		const width = into < 0 ? lengthOf(out) : out < 0 ? lengthOf(into) : (lengthOf(into) + lengthOf(out)) / 2;
		// Where two walls meet, the lower cells are for both.
		const [inScale, outScale] = [into < 0 ? 1 : (scales?.[2 * into + 1] ?? 1), out < 0 ? 1 : (scales?.[2 * out] ?? 1)];
		const isOut = into < 0 || (out >= 0 && outScale * walls[wallOf[out]!]!.first < inScale * walls[wallOf[into]!]!.first);
		const wall = wallOf[isOut ? out : into]!;
		const scale = isOut ? outScale : inScale;
		const most = countAt(walls[wall]!, width, scale);
		const fan = next;
		const parts = count - 1;
		const around = into < 0 || out < 0 ? undefined : curveAround(into, out, turn);
		if (around?.isCurve && parts === 0 && Math.abs(around.whole) < smoothTurn) {
			const [c, s] = [cos(around.whole / 2), sin(around.whole / 2)];
			stacks.curveX[fan] = -around.dy * c - around.dx * s;
			stacks.curveY[fan] = around.dx * c - around.dy * s;
		}
		for (let part = 0; part <= parts; part++, next++) {
			stacks.node[next] = node;
			stacks.x[next] = stacks.baseX[next] = x[node]!;
			stacks.y[next] = stacks.baseY[next] = y[node]!;
			stacks.wall[next] = wall;
			stacks.most[next] = stacks.wanted[next] = most;
			stacks.growth[next] = walls[wall]!.growth;
			stacks.wide[next] = out < 0 || part < parts ? width : lengthOf(out);
			stacks.edge[next] = out >= 0 ? out : into;
			stacks.isAtEnd[next] = Number(out < 0);
			stacks.scale[next] = scale;
			stacks.width[next] = width;
			if (parts === 0 || !around) continue;
			// The left normal of the wall before, turned with it.
			const { dx, dy, whole } = around;
			const angle = (whole * part) / parts;
			const [c, s] = [cos(angle), sin(angle)];
			stacks.fan[next] = fan;
			stacks.normalX[next] = -dy * c - dx * s;
			stacks.normalY[next] = dx * c - dy * s;
		}
		if (parts > 0) return;
		if (into >= 0 && out >= 0) {
			if (turn > Math.PI - sharpest) {
				stacks.done[fan] = 1;
				stacks.most[fan] = 0;
			}
			if (turn > fixedFrom) stacks.corner[fan] = turn;
			return;
		}
		const carried = carriedBy(into, out, walls[wall]!, scale);
		const room = carried ? carried.nodes.length - Number(places++ === change) : 0;
		if (carried && room > 0) {
			carry(fan, carried, room);
			stacks.carrier[fan] = stacks.carriers.push(carried) - 1;
			stacks.most[fan] = Math.min(most, room);
		} else {
			stacks.done[fan] = 1;
			stacks.most[fan] = 0;
		}
	}

	/** A stack that goes up along a piece is as high as that has it. */
	function carry(k: number, { heights }: Carrier, count: number): void {
		const { first, growth } = walls[stacks.wall[k]!]!;
		const share = heights[count - 1]! / (stacks.scale[k]! * first);
		if (share >= 0.98 * progressionSum(count, growth)) return;
		stacks.growth[k] = share > count ? growthFor(share, count, growth) : 1;
		if (share < count) stacks.scale[k]! *= share / count;
	}

	/** How thick stacks between two edges would be as asked, over the width of their cells. */
	function topOver(into: number, out: number): number {
		const wall = walls[wallOf[out]!]!;
		const width = (lengthOf(into) + lengthOf(out)) / 2;
		const count = countAt(wall, width, 1);
		return (wall.first * progressionSum(count, wall.growth)) / width;
	}

	function lengthOf(k: number): number {
		const [a, b] = [edges[2 * k]!, edges[2 * k + 1]!];
		return hypot(x[b]! - x[a]!, y[b]! - y[a]!);
	}

	function directionOf(k: number): [number, number] {
		const [a, b] = [edges[2 * k]!, edges[2 * k + 1]!];
		const length = lengthOf(k);
		return [(x[b]! - x[a]!) / length, (y[b]! - y[a]!) / length];
	}

	/** How far the boundary turns to the left, into the region, from one edge to the next; −π where it turns back. */
	function turnBetween(into: number, out: number): number {
		if (edges[2 * into] === edges[2 * out + 1]) return -Math.PI;
		const [ax, ay] = directionOf(into);
		const [bx, by] = directionOf(out);
		return atan2(ax * by - ay * bx, ax * bx + ay * by);
	}

	/** How the wall comes to a node, and how far it turns there: by its curves where they are known, by its edges otherwise. */
	function curveAround(into: number, out: number, turn: number): { dx: number; dy: number; whole: number; isCurve: boolean } {
		const [ax, ay, bx, by] = directions
			? [directions[4 * into + 2]!, directions[4 * into + 3]!, directions[4 * out]!, directions[4 * out + 1]!]
			: [NaN, NaN, NaN, NaN];
		const [dx, dy] = directionOf(into);
		if (!(ax * bx + ay * by <= 2)) return { dx, dy, whole: turn, isCurve: false };
		// Where it turns back, the edges tell which way around.
		const whole = atan2(ax * by - ay * bx, ax * bx + ay * by);
		return { dx: ax, dy: ay, whole: whole + 2 * Math.PI * Math.round((turn - whole) / (2 * Math.PI)), isCurve: true };
	}

	/** The nodes that the piece beyond an end of a chain offers to the last stack, where it leaves the wall at a good angle. */
	function carriedBy(into: number, out: number, wall: LayerRequest, asked: number): Carrier | undefined {
		const atStart = into < 0;
		const side = atStart ? beforeEdge[out]! : nextEdge[into]!;
		const turn = atStart ? turnBetween(side, out) : turnBetween(into, side);
		const angle = Math.PI - turn;
		if (angle < leastCarried || angle > mostCarried) return undefined;
		const corner = atStart ? edges[2 * out]! : edges[2 * into + 1]!;
		const [dx, dy] = directionOf(atStart ? out : into);
		const nodes: number[] = [];
		const passed: number[] = [];
		const heights: number[] = [];
		for (let k = side; wallOf[k]! < 0 && nodes.length < wall.count; k = atStart ? beforeEdge[k]! : nextEdge[k]!) {
			const far = atStart ? edges[2 * k]! : edges[2 * k + 1]!;
			const above = -dy * (x[far]! - x[corner]!) + dx * (y[far]! - y[corner]!);
			const first = asked * wall.first;
			const wanted = first * progressionSum(nodes.length + 1, wall.growth);
			const within = carriedWithin * asked * cellHeight(wall, nodes.length) + 0.05 * wanted;
			// What it offers must be what is asked, more or less, or as low as layers become; and go on from where it began.
			const lowest = isExact(wall) ? wanted - within : wall.squeeze ? 0 : 0.9 * leastScale * first * (nodes.length + 1);
			if (!(above > (heights.at(-1) ?? 0)) || above > wanted + within || above < lowest) break;
			if (passed.length > 0 && Math.abs(atStart ? turnBetween(k, passed.at(-1)!) : turnBetween(passed.at(-1)!, k)) > cornerFrom)
				break;
			nodes.push(far);
			passed.push(k);
			heights.push(above);
		}
		return nodes.length > 0 ? { nodes, edges: passed, heights } : undefined;
	}
}

/** How many stacks stand at a node of a wall that turns so far: a fan where it turns away. */
function stacksAt(turn: number, top: number): number {
	if (turn >= -fanFrom) return 1;
	const asWide = Math.min(-turn / leastFanStep, (-turn * top) / fanWidth);
	return 1 + Math.max(2, Math.ceil(-turn / fanStep - 1e-9), Math.round(asWide));
}

/** How many cells a stack has where its cells are so wide. */
function countAt({ first: usual, growth, count, toSize }: LayerRequest, width: number, scale: number): number {
	if (!toSize) return count;
	const first = scale * usual;
	if (first >= width) return 1;
	return growth > 1 ? Math.min(mostLayers, 1 + Math.ceil(log(width / first) / log(growth) - 1e-9)) : 1;
}

/** Widths of a chain as they are to be at the front: none is below so great a share of the one beside it. */
const leastBeside = 0.5;

function widen({ wide, wideAbove, before, after }: Stacks, first: number, last: number, closed: boolean): void {
	for (let k = first; k <= last; k++) wideAbove[k] = wide[k]!;
	for (const way of [after, before]) {
		let k = way === after ? first : last;
		for (let n = 0; n < (last - first) * (closed ? 2 : 1); n++) {
			const to = way[k]!;
			wideAbove[to] = Math.max(wideAbove[to]!, leastBeside * wideAbove[k]!);
			k = to;
		}
	}
}

/** The stretches of a chain between inside corners, fans and carriers; of an open one those to its ends too. */
function sidesOf(stacks: Stacks, first: number, last: number, closed: boolean): Int32Array[] {
	const stops: number[] = [];
	for (let k = first; k <= last; k++) if (stacks.corner[k]! > 0 || stacks.carrier[k]! >= 0 || stacks.fan[k]! >= 0) stops.push(k);
	// Around a smooth wall the first stands for a stop.
	if (stops.length === 0) stops.push(first);
	const total = last - first + 1;
	const side = (from: number, to: number) =>
		Int32Array.from({ length: to - from + 1 }, (_, k) => first + ((from + k - first) % total));
	const sides: Int32Array[] = [];
	if (!closed && stops[0]! > first) sides.push(side(first, stops[0]!));
	stops.forEach((from, i) => {
		const to = stops[i + 1] ?? (closed ? stops[0]! + total : last);
		if (to > from) sides.push(side(from, to));
	});
	return sides;
}

/** For every edge the one that follows it around the region: they stand walk by walk, each closed. */
export function loopsOf(edges: Uint32Array): Int32Array {
	const count = edges.length / 2;
	const next = new Int32Array(count);
	let first = 0;
	for (let k = 0; k < count; k++) {
		const goesOn = k + 1 < count && edges[2 * k + 1] === edges[2 * (k + 1)];
		// A walk that comes back to its start may go on through it; it ends where the next edge starts elsewhere.
		if (goesOn) next[k] = k + 1;
		else {
			next[k] = first;
			first = k + 1;
		}
	}
	return next;
}

/** The longest chains of edges that are walls. */
function chainsOf(wallOf: Int32Array, next: Int32Array, before: Int32Array): { edges: number[]; closed: boolean }[] {
	const list: { edges: number[]; closed: boolean }[] = [];
	const seen = new Uint8Array(wallOf.length);
	for (const start of wallOf.keys()) {
		if (seen[start] || wallOf[start]! < 0) continue;
		let first = start;
		while (wallOf[before[first]!]! >= 0 && before[first] !== start) first = before[first]!;
		const closed = wallOf[before[first]!]! >= 0;
		const edges: number[] = [];
		for (let k = closed ? start : first; wallOf[k]! >= 0 && !seen[k]; k = next[k]!) {
			seen[k] = 1;
			edges.push(k);
		}
		list.push({ edges, closed });
	}
	return list;
}
