import { acos, atan2, cos, hypot, log, pow, sin, tan } from '../../numeric/elementary.ts';
import type { Work } from '../../numeric/work.ts';
import { mostLayers, progressionSum } from '../../recipe/layer-numbers.ts';
import type { FillInput, LayerProfile, LayersMade } from '../method.ts';
import { Float64List, Uint32List } from '../../numeric/lists.ts';
import { FrontCheck } from './front-check.ts';
import { squeeze } from './squeeze.ts';
import type { Stack, Wall } from './stack.ts';

/** What became of the layers of one wall. */
export type GrownWall = Omit<LayersMade, 'statement' | 'profile'> & {
	/** With the node at the end of each stack; what is behind them is not known yet. */
	profile: Omit<LayerProfile, 'behind'> & { top: Uint32Array };
};

/** Layers that have grown from the walls around a region. Nodes are numbered as in the input, the added ones after them. */
export interface GrownLayers {
	x: Float64Array;
	y: Float64Array;
	quads: Uint32Array;
	triangles: Uint32Array;
	/** What bounds the rest of the region, directed as the input's edges. */
	front: Uint32Array;
	/** What became of the layers of each wall. */
	walls: GrownWall[];
}

const degree = Math.PI / 180;
/** A wall that turns away by more than this gets a fan of stacks … */
const fanFrom = 50 * degree;
/** … with about so much between two of them. */
const fanStep = 45 * degree;
/** Below this angle inside, two walls that meet taper. */
const sharpest = 60 * degree;
/** A wall that turns inward by more than this has a corner, whose bisector both sides share. */
const cornerFrom = 25 * degree;
const smoothCosine = cos(cornerFrom);
/** A piece without layers that leaves a wall within these angles carries the nodes of the last stack. */
const [leastCarried, mostCarried] = [45 * degree, 135 * degree];
/** Heights that a carrying piece offers may be off by this share of what is asked. */
const carriedWithin = 0.4;
/** A cell is at least as good as this, by its scaled Jacobian. */
const leastJacobian = 0.3;

/**
 * Grows layers of quadrilaterals from walls, a layer at a time: every node of the front goes along the normal of the
 * front, so that each cell is as high as asked; sharp outside corners send out a fan; at inside corners both sides share
 * the bisector and slide along themselves to make room. A step that would fold a cell, meet another front, or come nearer
 * to one than the elements between need, is not made: there the front stays, and from stack to stack the number of cells
 * changes by one at most, which a triangle bridges. So there is no overlap at any time.
 *
 * Sources: advancing layers after R. V. Garimella & M. S. Shephard, Int. J. Num. Meth. Eng. 49 (2000) 193–218; the normal of
 * three points of a curve as the tangent of the parabola through them.
 *
 * @param wallOf for each edge of the input its wall, −1 for none
 * @param scales first heights at the start and end of each edge over that of its wall; 1 without
 */
export function* growLayers(
	input: FillInput,
	walls: readonly Wall[],
	wallOf: Int32Array,
	scales?: Float64Array
): Work<GrownLayers> {
	const { x, y, edges } = input;
	const given = x.length;
	const nextEdge = loopsOf(edges);
	const beforeEdge = new Int32Array(nextEdge.length);
	nextEdge.forEach((k, from) => (beforeEdge[k] = from));
	const stacks: Stack[] = [];
	const chains: { first: number; last: number; closed: boolean }[] = [];
	for (const chain of chainsOf(wallOf, nextEdge, beforeEdge)) chains.push(stacksOf(chain.edges, chain.closed));

	const asked = Float64Array.from(stacks, (s) => s.scale);
	if (walls.some((wall) => wall.squeeze)) {
		for (const s of stacks) s.height = s.scale * walls[s.wall]!.first;
		for (const chain of chains) aim(chain, 0);
		squeeze(input, walls, wallOf, stacks, chains);
	}

	const addedX = new Float64List();
	const addedY = new Float64List();
	const quads = new Uint32List();
	const triangles: number[] = [];
	const fresh = new Uint32Array(stacks.length);
	const told = walls.map(() => ({ cells: 0, low: Infinity, high: -Infinity, cosine: -1 }));
	const consumed = new Uint8Array(wallOf.length);
	const check = new FrontCheck(input, wallOf, walls, stacks, consumed);
	const layers = stacks.reduce((most, s) => Math.max(most, s.most), 0);
	for (let layer = 0; layer < layers; layer++) {
		let some = false;
		const heights = walls.map((wall) => heightOf(wall, layer));
		for (const s of stacks) {
			s.height = s.scale * heights[s.wall]!;
			s.moves =
				!s.done &&
				s.count === layer &&
				layer < s.most &&
				(s.before < 0 || stacks[s.before]!.count >= layer) &&
				(s.after < 0 || stacks[s.after]!.count >= layer);
			if (!s.moves) s.done = true;
			some ||= s.moves;
		}
		if (!some) break;
		for (const chain of chains) aim(chain, layer);
		settle(layer);
		commit(layer);
		yield layer / layers;
	}

	const front: number[] = [];
	for (let k = 0; k < wallOf.length; k++) if (wallOf[k]! < 0 && !consumed[k]) front.push(edges[2 * k]!, edges[2 * k + 1]!);
	for (const s of stacks) {
		const t = stacks[s.after];
		if (t && t.node !== s.node) front.push(s.node, t.node);
	}
	return {
		x: addedX.taken(),
		y: addedY.taken(),
		quads: quads.taken(),
		triangles: Uint32Array.from(triangles),
		front: Uint32Array.from(front),
		walls: walls.map((_, w) => summary(w))
	};

	/** The stacks along a chain of wall edges: one at a node, several at a fan. */
	function stacksOf(list: readonly number[], closed: boolean): { first: number; last: number; closed: boolean } {
		const first = stacks.length;
		const visits = closed ? list.length : list.length + 1;
		for (let j = 0; j < visits; j++) {
			const into = j > 0 || closed ? list[(j - 1 + list.length) % list.length]! : -1;
			const out = j < list.length ? list[j]! : -1;
			const node = out >= 0 ? edges[2 * out]! : edges[2 * into + 1]!;
			const lengths = [into, out].filter((k) => k >= 0).map(lengthOf);
			const width = lengths.reduce((a, b) => a + b, 0) / lengths.length;
			// Where two walls meet, the lower cells are for both.
			const { wall, scale } = [into, out]
				.map((k, end) => ({ wall: k < 0 ? -1 : wallOf[k]!, scale: k < 0 ? 1 : (scales?.[2 * k + 1 - end] ?? 1) }))
				.filter(({ wall }) => wall >= 0)
				.reduce((a, b) => (b.scale * walls[b.wall]!.first < a.scale * walls[a.wall]!.first ? b : a));
			const most = countAt(walls[wall]!, width, scale);
			const next = () => {
				const stack = stackAt(node, x[node]!, y[node]!, wall, most, width, scale);
				stacks.push(stack);
				return stack;
			};
			if (into < 0 || out < 0) {
				const stack = next();
				const carried = carriedBy(into, out, walls[wall]!, scale);
				if (carried) {
					stack.scale = carried.scale;
					stack.carried = carried;
					stack.most = Math.min(most, carried.nodes.length);
				} else stack.done = true;
				continue;
			}
			const turn = turnBetween(into, out);
			if (turn >= -fanFrom) {
				const stack = next();
				stack.done = turn > Math.PI - sharpest;
				if (turn > cornerFrom) stack.corner = turn;
				continue;
			}
			const parts = Math.max(2, Math.ceil(-turn / fanStep - 1e-9));
			const [dx, dy] = directionOf(into);
			const fan = stacks.length;
			for (let k = 0; k <= parts; k++) {
				const angle = (turn * k) / parts;
				const [c, s] = [cos(angle), sin(angle)];
				// The left normal of the edge before, turned with the wall.
				const stack = next();
				[stack.fan, stack.fanX, stack.fanY] = [fan, -dy * c - dx * s, dx * c - dy * s];
			}
		}
		const last = stacks.length - 1;
		for (let k = first; k <= last; k++) {
			stacks[k]!.before = k > first ? k - 1 : closed ? last : -1;
			stacks[k]!.after = k < last ? k + 1 : closed ? first : -1;
		}
		return { first, last, closed };
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

	/** The nodes that the piece beyond an end of a chain offers to the last stack, where it leaves the wall at a good angle. */
	function carriedBy(into: number, out: number, wall: Wall, asked: number): (Stack['carried'] & { scale: number }) | undefined {
		const atStart = into < 0;
		const side = atStart ? beforeEdge[out]! : nextEdge[into]!;
		const turn = atStart ? turnBetween(side, out) : turnBetween(into, side);
		const angle = Math.PI - turn;
		if (angle < leastCarried || angle > mostCarried) return undefined;
		const corner = atStart ? edges[2 * out]! : edges[2 * into + 1]!;
		const [dx, dy] = directionOf(atStart ? out : into);
		const nodes: number[] = [];
		const passed: number[] = [];
		let height = 0;
		let scale = asked;
		for (let k = side; wallOf[k]! < 0 && nodes.length < wall.count; k = atStart ? beforeEdge[k]! : nextEdge[k]!) {
			const far = atStart ? edges[2 * k]! : edges[2 * k + 1]!;
			const above = -dy * (x[far]! - x[corner]!) + dx * (y[far]! - y[corner]!);
			// What is squeezed takes the heights that are offered.
			if (wall.squeeze && nodes.length === 0) scale = Math.min(asked, above / wall.first);
			const wanted = scale * wall.first * progressionSum(nodes.length + 1, wall.growth);
			const own = scale * heightOf(wall, nodes.length);
			// What it offers must be what is asked, more or less, and go on from where it began.
			if (!(above > height) || Math.abs(above - wanted) > carriedWithin * own + 0.05 * wanted) break;
			if (passed.length > 0 && Math.abs(atStart ? turnBetween(k, passed.at(-1)!) : turnBetween(passed.at(-1)!, k)) > cornerFrom)
				break;
			nodes.push(far);
			passed.push(k);
			height = above;
		}
		return nodes.length > 0 ? { nodes, edges: passed, slope: 1 / tan(angle), scale } : undefined;
	}

	/** Where every stack of a chain would go with the next layer. */
	function aim({ first, last, closed }: { first: number; last: number; closed: boolean }, layer: number): void {
		for (let k = first; k <= last; k++) {
			const s = stacks[k]!;
			// A fan goes straight out from its corner, so that the walls beside it keep their heights.
			if (s.fan >= 0) {
				s.normalX = s.fanX;
				s.normalY = s.fanY;
				s.stepX = s.height * s.fanX;
				s.stepY = s.height * s.fanY;
			} else {
				const p = distinct(k, 'before');
				const n = distinct(k, 'after');
				let [ax, ay, aLength, bx, by, bLength] = [0, 0, 0, 0, 0, 0];
				if (p) {
					[ax, ay] = [s.x - p.x, s.y - p.y];
					aLength = Math.sqrt(ax * ax + ay * ay);
					[ax, ay] = [ax / aLength, ay / aLength];
				}
				if (n) {
					[bx, by] = [n.x - s.x, n.y - s.y];
					bLength = Math.sqrt(bx * bx + by * by);
					[bx, by] = [bx / bLength, by / bLength];
				}
				const cosine = p && n ? ax * bx + ay * by : 1;
				// Along a smooth wall the tangent of the parabola through three points, at a corner the bisector.
				const isSmooth = cosine > smoothCosine && s.corner === 0;
				const wa = !p ? 0 : n && isSmooth ? bLength : 1;
				const wb = !n ? 0 : p && isSmooth ? aLength : 1;
				const [tx, ty] = [wa * ax + wb * bx, wa * ay + wb * by];
				const size = Math.sqrt(tx * tx + ty * ty) || 1;
				s.normalX = -ty / size;
				s.normalY = tx / size;
				// Square to both edges it is as high as asked.
				const length = s.height / Math.sqrt(Math.max(0.04, (1 + cosine) / 2));
				s.stepX = length * s.normalX;
				s.stepY = length * s.normalY;
			}
			if (s.carried && s.moves) {
				const node = s.carried.nodes[layer]!;
				[s.nextX, s.nextY] = [x[node]!, y[node]!];
			} else {
				s.nextX = s.x + s.stepX;
				s.nextY = s.y + s.stepY;
			}
		}
		slide(first, last, closed);
	}

	/** The nearest stack along the front that stands elsewhere. */
	function distinct(k: number, way: 'before' | 'after'): Stack | undefined {
		const s = stacks[k]!;
		for (let at = s[way], steps = 0; at >= 0 && at !== k && steps < 40; at = stacks[at]![way], steps++)
			if (stacks[at]!.node !== s.node) return stacks[at];
		return undefined;
	}

	/** Between inside corners, and pieces that carry the last stack, nodes move along the front to make room for what these take. */
	function slide(first: number, last: number, closed: boolean): void {
		const isStop = (k: number) => stacks[k]!.corner > 0 || stacks[k]!.carried !== undefined || stacks[k]!.fan >= 0;
		const stops: number[] = [];
		for (let k = first; k <= last; k++) if (isStop(k)) stops.push(k);
		if (stops.length === 0) return;
		const total = last - first + 1;
		const sides: number[][] = [];
		for (let i = 0; i < stops.length; i++) {
			const from = stops[i]!;
			const to = i + 1 < stops.length ? stops[i + 1]! : closed ? stops[0]! + total : last;
			if (i === 0 && !closed && from > first) sides.push(range(first, from));
			if (to > from) sides.push(range(from, to));
		}
		for (const side of sides) slideAlong(side.map((k) => first + ((k - first) % total)));
	}

	function slideAlong(side: readonly number[]): void {
		const n = side.length;
		if (n < 3) return;
		const own = side.map((k) => stacks[k]!);
		const at = new Float64Array(n);
		for (let k = 1; k < n; k++) at[k] = at[k - 1]! + hypot(own[k]!.x - own[k - 1]!.x, own[k]!.y - own[k - 1]!.y);
		const length = at[n - 1]!;
		const [start, end] = [taken(own[0]!, own[1]!), taken(own[n - 1]!, own[n - 2]!)];
		if (start.now === 0 && end.now === 0) return;
		const room = (whole: number) =>
			Math.min(Math.max(4 * Math.abs(whole), 1e-300), (start.now !== 0 && end.now !== 0 ? 0.5 : 1) * length);
		const [startRoom, endRoom] = [room(start.whole), room(end.whole)];
		const fade = (t: number) => (t < 1 ? (1 - t) ** 2 : 0);
		// Square to the side at its two ends, whatever is beyond them.
		const steps = own.map(({ stepX, stepY }) => [stepX, stepY] as [number, number]);
		for (const [k, other] of [
			[0, 1],
			[n - 1, n - 2]
		] as const) {
			const sign = k === 0 ? 1 : -1;
			const [tx, ty] = unit(sign * (own[other]!.x - own[k]!.x), sign * (own[other]!.y - own[k]!.y));
			steps[k] = [-ty * own[k]!.height, tx * own[k]!.height];
		}
		let q = 1;
		for (let k = 1; k < n - 1; k++) {
			const u = Math.min(
				length,
				Math.max(0, at[k]! + start.now * fade(at[k]! / startRoom) - end.now * fade((length - at[k]!) / endRoom))
			);
			while (q > 1 && at[q - 1]! > u) q--;
			while (q < n - 1 && at[q]! < u) q++;
			const share = (u - at[q - 1]!) / (at[q]! - at[q - 1]! || 1);
			const [a, b, sa, sb] = [own[q - 1]!, own[q]!, steps[q - 1]!, steps[q]!];
			own[k]!.nextX = a.x + share * (b.x - a.x) + sa[0] + share * (sb[0] - sa[0]);
			own[k]!.nextY = a.y + share * (b.y - a.y) + sa[1] + share * (sb[1] - sa[1]);
		}
	}

	/** How much of a side its end takes with this layer, and with all of them. */
	function taken(s: Stack, beyond: Stack): { now: number; whole: number } {
		if (!s.moves) return { now: 0, whole: 0 };
		const [tx, ty] = unit(beyond.x - s.x, beyond.y - s.y);
		const whole = thicknessOf(s, walls[s.wall]!, s.most);
		if (s.carried) return { now: tx * (s.nextX - s.x) + ty * (s.nextY - s.y), whole: whole * s.carried.slope };
		if (s.corner > 0) return { now: tx * s.stepX + ty * s.stepY, whole: whole * tan(s.corner / 2) };
		return { now: 0, whole: 0 };
	}

	/** Takes back the steps that must not be made, until those that are left can be. */
	function settle(layer: number): void {
		const stop = (k: number): boolean => {
			const s = stacks[k]!;
			if (!s.moves) return false;
			// A fan goes all together at first, or not at all.
			if (s.fan >= 0 && layer === 0) {
				for (let i = s.fan; stacks[i]?.fan === s.fan; i++) {
					stacks[i]!.moves = false;
					stacks[i]!.done = stacks[i]!.isHeldUp = true;
				}
				return true;
			}
			s.moves = false;
			s.done = s.isHeldUp = true;
			return true;
		};
		for (let round = 0; ; round++) {
			let changed = false;
			for (let k = 0; k < stacks.length; k++) {
				const s = stacks[k]!;
				const t = s.after < 0 ? undefined : stacks[s.after]!;
				if (!t || (!s.moves && !t.moves) || isGood(s, t)) continue;
				changed = stop(k) || changed;
				changed = stop(s.after) || changed;
			}
			if (changed) continue;
			const wrong = check.wrong(round > 20);
			if (wrong.length === 0) return;
			for (const k of wrong) stop(k);
		}
	}

	/** Whether the cell between two neighbours, one of which moves at least, is one. */
	function isGood(s: Stack, t: Stack): boolean {
		if (s.node === t.node) return s.moves && t.moves ? area(s.x, s.y, t.nextX, t.nextY, s.nextX, s.nextY) > 0 : true;
		if (s.moves && t.moves) {
			const { sine, cosine } = shapeOf(s.x, s.y, t.x, t.y, t.nextX, t.nextY, s.nextX, s.nextY);
			s.cosine = cosine;
			return sine >= leastJacobian;
		}
		const m = s.moves ? s : t;
		return area(s.x, s.y, t.x, t.y, m.nextX, m.nextY) > 1e-3 * m.height * hypot(t.x - s.x, t.y - s.y);
	}

	/** Makes the layer of all that moves. */
	function commit(layer: number): void {
		for (let k = 0; k < stacks.length; k++) {
			const s = stacks[k]!;
			if (!s.moves) fresh[k] = s.node;
			else if (s.carried) {
				consumed[s.carried.edges[layer]!] = 1;
				fresh[k] = s.carried.nodes[layer]!;
			} else {
				fresh[k] = given + addedX.length;
				addedX.push(s.nextX);
				addedY.push(s.nextY);
			}
		}
		for (let k = 0; k < stacks.length; k++) {
			const s = stacks[k]!;
			const t = s.after < 0 ? undefined : stacks[s.after]!;
			if (!t || (!s.moves && !t.moves)) continue;
			const own = told[s.wall]!;
			const [i, j] = [fresh[k]!, fresh[s.after]!];
			if (s.node === t.node) {
				if (s.moves && t.moves) triangles.push(s.node, j, i);
				else continue;
			} else if (s.moves && t.moves) {
				if (walls[s.wall]!.halved) halve(s, t, i, j);
				else {
					quads.push(s.node);
					quads.push(t.node);
					quads.push(j);
					quads.push(i);
				}
				own.cosine = Math.max(own.cosine, s.cosine);
			} else triangles.push(s.node, t.node, s.moves ? i : j);
			own.cells++;
			if (layer > 0 || !s.moves || s.node === t.node) continue;
			const [tx, ty] = unit(t.x - s.x, t.y - s.y);
			const height = -ty * (s.nextX - s.x) + tx * (s.nextY - s.y);
			own.low = Math.min(own.low, height);
			own.high = Math.max(own.high, height);
		}
		for (let k = 0; k < stacks.length; k++) {
			const s = stacks[k]!;
			if (!s.moves) continue;
			s.node = fresh[k]!;
			s.x = s.nextX;
			s.y = s.nextY;
			s.count++;
		}
	}

	/** A cell cut along its shorter diagonal. */
	function halve(s: Stack, t: Stack, i: number, j: number): void {
		const rising = (t.nextX - s.x) ** 2 + (t.nextY - s.y) ** 2;
		const falling = (s.nextX - t.x) ** 2 + (s.nextY - t.y) ** 2;
		if (rising <= falling) triangles.push(s.node, t.node, j, s.node, j, i);
		else triangles.push(s.node, t.node, i, t.node, j, i);
	}

	function summary(w: number): GrownWall {
		const wall = walls[w]!;
		const own = stacks.filter((s) => s.wall === w);
		const heights = own.map((s) => thicknessOf(s, wall, s.count));
		let [whole, complete] = [0, 0];
		for (const s of own) {
			const t = stacks[s.after];
			if (!t || (s.fan >= 0 && s.fan === t.fan)) continue;
			const length = hypot(t.baseX - s.baseX, t.baseY - s.baseY);
			whole += length;
			if (s.count >= s.most && t.count >= t.most) complete += length;
		}
		const short = own.filter((s) => s.isHeldUp && s.count < s.most);
		const worst = short.reduce<Stack | undefined>((a, b) => (a && a.count <= b.count ? a : b), undefined);
		const { cells, low, high, cosine } = told[w]!;
		return {
			cells,
			first: { min: low, max: high },
			thickness: {
				min: heights.reduce((a, b) => Math.min(a, b), Infinity),
				mean: heights.reduce((a, b) => a + b, 0) / Math.max(1, heights.length),
				max: heights.reduce((a, b) => Math.max(a, b), 0)
			},
			complete: whole > 0 ? complete / whole : 1,
			smallestAngle: cosine > -1 ? acos(Math.min(1, cosine)) / degree : Infinity,
			profile: profileOf(w),
			...squeezedOf(w, whole),
			...(worst ? { reduced: { x: worst.baseX, y: worst.baseY, count: worst.count, of: worst.most, places: short.length } } : {})
		};
	}

	/** Where the cells of a wall became lower than asked. */
	function squeezedOf(w: number, whole: number): Pick<GrownWall, 'squeezed'> {
		let [worst, least, length] = [-1, 1, 0];
		stacks.forEach((s, k) => {
			const share = s.scale / asked[k]!;
			if (s.wall !== w || share > 0.999) return;
			const t = stacks[s.after];
			if (t) length += hypot(t.baseX - s.baseX, t.baseY - s.baseY);
			if (share < least) [worst, least] = [k, share];
		});
		if (worst < 0) return {};
		const { baseX, baseY } = stacks[worst]!;
		return { squeezed: { x: baseX, y: baseY, scale: least, share: Math.min(1, length / (whole || 1)) } };
	}

	/** The stacks of a wall in their order; of a fan only the first. */
	function profileOf(w: number): GrownWall['profile'] {
		const wall = walls[w]!;
		const runs: number[] = [];
		const indices = [...stacks.keys()].filter((k) => stacks[k]!.wall === w && (stacks[k]!.fan < 0 || stacks[k]!.fan === k));
		const list = indices.map((k) => stacks[k]!);
		const along = new Float64Array(list.length);
		const afterFan = (k: number) => {
			let at = k;
			while (stacks[at]!.fan >= 0 && stacks[stacks[at]!.after]?.fan === stacks[k]!.fan) at = stacks[at]!.after;
			return stacks[at]!.after;
		};
		list.forEach((s, k) => {
			const before = list[k - 1];
			if (before && afterFan(indices[k - 1]!) === indices[k])
				along[k] = along[k - 1]! + hypot(s.baseX - before.baseX, s.baseY - before.baseY);
			else runs.push(k);
		});
		const of = (value: (s: Stack) => number) => Float64Array.from(list, value);
		return {
			runs,
			along,
			x: of((s) => s.baseX),
			y: of((s) => s.baseY),
			topX: of((s) => s.x),
			topY: of((s) => s.y),
			first: of((s) => (s.count > 0 ? s.scale * wall.first : 0)),
			last: of((s) => (s.count > 0 ? s.scale * heightOf(wall, s.count - 1) : 0)),
			thickness: of((s) => thicknessOf(s, wall, s.count)),
			growth: wall.growth,
			count: Uint32Array.from(list, (s) => s.count),
			width: of((s) => s.width),
			top: Uint32Array.from(list, (s) => s.node)
		};
	}
}

/** A stack at a node of a wall, before it grows. */
const stackAt = (node: number, x: number, y: number, wall: number, most: number, width: number, scale: number): Stack => ({
	node,
	x,
	y,
	baseX: x,
	baseY: y,
	wall,
	count: 0,
	most,
	scale,
	done: false,
	isHeldUp: false,
	width,
	height: 0,
	fan: -1,
	fanX: 0,
	fanY: 0,
	corner: 0,
	carried: undefined,
	before: -1,
	after: -1,
	nextX: 0,
	nextY: 0,
	moves: false,
	normalX: 0,
	normalY: 0,
	stepX: 0,
	stepY: 0,
	cosine: -1
});

/** The height of the lower cells of a stack together. */
const thicknessOf = ({ scale }: Stack, { first, growth }: Wall, count: number): number =>
	scale * first * progressionSum(count, growth);

/** The height of one cell of a stack. */
const heightOf = ({ first, growth }: Wall, layer: number): number => first * pow(growth, layer);

const range = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, k) => from + k);

/** How many cells a stack has where its cells are so wide. */
function countAt({ first: usual, growth, count, toSize }: Wall, width: number, scale: number): number {
	if (!toSize) return count;
	const first = scale * usual;
	if (first >= width) return 1;
	return growth > 1 ? Math.min(mostLayers, 1 + Math.ceil(log(width / first) / log(growth) - 1e-9)) : 1;
}

/** For every edge the one that follows it around the region: they stand walk by walk, each closed. */
function loopsOf(edges: Uint32Array): Int32Array {
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

function unit(dx: number, dy: number): [number, number, number] {
	const length = hypot(dx, dy);
	return length > 0 ? [dx / length, dy / length, length] : [0, 0, 0];
}

const area = (ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number =>
	((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2;

/** The least sine of the four corners of a quadrilateral, below zero where one is turned inside out, and the largest cosine. */
function shapeOf(ax: number, ay: number, bx: number, by: number, cx: number, cy: number, dx: number, dy: number) {
	shape.sine = Infinity;
	shape.cosine = -1;
	corner(bx - ax, by - ay, dx - ax, dy - ay);
	corner(cx - bx, cy - by, ax - bx, ay - by);
	corner(dx - cx, dy - cy, bx - cx, by - cy);
	corner(ax - dx, ay - dy, cx - dx, cy - dy);
	return shape;
}

/** What {@link shapeOf} gives; one for all, as it is asked of every cell. */
const shape = { sine: 0, cosine: 0 };

function corner(ux: number, uy: number, vx: number, vy: number): void {
	const size = Math.sqrt((ux * ux + uy * uy) * (vx * vx + vy * vy));
	if (!(size > 0)) {
		shape.sine = -1;
		return;
	}
	shape.sine = Math.min(shape.sine, (ux * vy - uy * vx) / size);
	shape.cosine = Math.max(shape.cosine, (ux * vx + uy * vy) / size);
}
