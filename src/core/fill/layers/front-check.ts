import Flatbush from 'flatbush';
import { atan2, hypot } from '../../numeric/elementary.ts';
import { numbersBelow } from '../../numeric/lists.ts';
import type { FillInput } from '../method.ts';
import type { Stacks } from './stacks.ts';

/** Fronts whose normals point against one another by more than this (the cosine) face each other. */
const facing = -0.5;
/** A wall that turns by less than this between two places cannot meet itself there, in radians. */
const straightEnough = Math.PI / 3;

/** No layer. */
const never = 0xffff;
/** A step at a sharp corner is longer than the cell is high, by this much at most where two walls do not taper. */
const longestStep = 2.5;

/** How far fronts stay apart, in edges: what is typed, or by themselves so much of the shorter edge. */
const apartFor = ({ walls, wall }: Stacks, k: number): number => walls[wall[k]!]!.gap ?? 0.6;

/** Whether a step of the front meets anything: itself, another front, or what else bounds the region. */
export class FrontCheck {
	/** Edges without layers, four numbers each: they stay where they are; a node that stands alone is one of no length. */
	private readonly still: Float64Array;
	/** The edge of the input of each; −1 for a node. */
	private readonly stillEdge: Int32Array;
	private readonly index: Flatbush | undefined;
	/** Stacks that something is near, and those that could be in their way; the others need no look. */
	private readonly relevant: Int32Array;
	/** From which layer on a stack may meet something; {@link never}, too. */
	private readonly watchedFrom: Uint16Array;
	/** By number of layers, as far as it was asked for. */
	private readonly thickest: number[] = [];
	/** The front as it would be: four numbers a segment, and the stacks at its ends. */
	private readonly segments: Float64Array;
	private readonly owners: Int32Array;

	constructor(
		input: FillInput,
		wallOf: Int32Array,
		private readonly stacks: Stacks,
		private readonly consumed: Uint8Array
	) {
		const { x, y, edges } = input;
		const still: number[] = [];
		const stillEdge: number[] = [];
		for (let k = 0; k < wallOf.length; k++) {
			if (wallOf[k]! >= 0) continue;
			const [a, b] = [edges[2 * k]!, edges[2 * k + 1]!];
			still.push(x[a]!, y[a]!, x[b]!, y[b]!);
			stillEdge.push(k);
		}
		for (const node of nodesAlone(x.length, edges)) {
			still.push(x[node]!, y[node]!, x[node]!, y[node]!);
			stillEdge.push(-1);
		}
		this.still = Float64Array.from(still);
		this.stillEdge = Int32Array.from(stillEdge);
		this.index = stillEdge.length > 0 ? indexOf(this.still, stillEdge.length) : undefined;
		this.watchedFrom = new Uint16Array(stacks.length).fill(never);
		this.relevant = this.findRelevant();
		this.segments = new Float64Array(8 * this.relevant.length);
		this.owners = new Int32Array(4 * this.relevant.length);
	}

	/** The stacks to be looked at: where something other than a nearly straight wall is within reach of all that will grow. */
	private findRelevant(): Int32Array {
		const { stacks, index, still, watchedFrom } = this;
		const { baseX, baseY, after, before, most, length } = stacks;
		if (length === 0) return new Int32Array(0);
		// Phase 1: how far each stack can reach, with what may come toward it.
		const reach = new Float64Array(length);
		const base = new Float64Array(4 * length);
		let thickest = 0;
		for (let k = 0; k < length; k++) {
			const thickness = stacks.thickness(k, most[k]!);
			thickest = Math.max(thickest, thickness);
			reach[k] = 1.2 * thickness + apartFor(stacks, k) * stacks.widthBehind(k, most[k]! - 1);
			const t = after[k]! >= 0 ? after[k]! : k;
			base[4 * k] = baseX[k]!;
			base[4 * k + 1] = baseY[k]!;
			base[4 * k + 2] = baseX[t]!;
			base[4 * k + 3] = baseY[t]!;
		}
		for (let k = 0; k < length; k++) reach[k]! += thickest;
		// Phase 2: what is there. Of many stacks in a row that nothing is near, a look around all tells.
		const [turned, chain, whole] = this.turnsAlong();
		const tree = indexOf(base, length);
		const isRelevant = new Uint8Array(length);
		const near: number[] = [];
		let nearest = Infinity;
		const isFree = (from: number, to: number): boolean => {
			let [minX, minY, maxX, maxY, most] = [Infinity, Infinity, -Infinity, -Infinity, 0];
			for (let k = from; k < to; k++) {
				if (chain[k] !== chain[from]) return false;
				most = Math.max(most, reach[k]!);
				minX = Math.min(minX, baseX[k]!);
				minY = Math.min(minY, baseY[k]!);
				maxX = Math.max(maxX, baseX[k]!);
				maxY = Math.max(maxY, baseY[k]!);
			}
			const [low, high, closed] = [turned[from]!, turned[to - 1]!, whole[chain[from]!]!];
			const box = [minX - most, minY - most, maxX + most, maxY + most] as const;
			let found = false;
			nearest = Infinity;
			const meet = (list: Float64Array, n: number) => {
				found = true;
				nearest = Math.min(nearest, away(list, n, baseX[from]!, baseY[from]!));
			};
			index?.search(...box, (n) => {
				meet(still, n);
				return false;
			});
			near.length = 0;
			tree.search(...box, (j) => {
				near.push(j);
				const [toFirst, toLast] = [Math.abs(turned[j]! - low), Math.abs(turned[j]! - high)];
				const isStraight =
					Math.max(toFirst, toLast) < straightEnough || (closed > 0 && closed - Math.min(toFirst, toLast) < straightEnough);
				if (chain[j] !== chain[from] || !isStraight) meet(base, j);
				return false;
			});
			return !found;
		};
		const together = 32;
		for (let from = 0; from < length; from += together) {
			const to = Math.min(length, from + together);
			if (isFree(from, to)) continue;
			for (let k = from; k < to; k++) {
				if (isFree(k, k + 1)) continue;
				isRelevant[k] = 1;
				watchedFrom[k] = this.firstWithin(k, nearest);
				for (const j of near) isRelevant[j] = 1;
				if (before[k]! >= 0) isRelevant[before[k]!] = 1;
			}
		}
		return numbersBelow(isRelevant.length).filter((k) => isRelevant[k]!);
	}

	/** With which layer a stack may come to what is so far from its base. */
	private firstWithin(k: number, distance: number): number {
		const { stacks } = this;
		const most = stacks.most[k]!;
		let layer = 0;
		for (; layer + 1 < most; layer++) {
			const room = apartFor(stacks, k) * stacks.widthBehind(k, layer);
			if (longestStep * (stacks.thickness(k, layer + 1) + this.thickestWith(layer + 1)) + room >= distance) break;
		}
		return layer;
	}

	/** The thickness of the thickest stack with so many layers. */
	private thickestWith(layers: number): number {
		const { stacks, thickest } = this;
		const thicknessAt = (k: number) => stacks.thickness(k, Math.min(layers, stacks.most[k]!));
		return (thickest[layers] ??= stacks.most.reduce((most, _, k) => Math.max(most, thicknessAt(k)), 0));
	}

	/** How far the wall has turned, in all, up to each stack; the chain of each; and the whole turn of each closed chain, 0 of an open one. */
	private turnsAlong(): [Float64Array, Int32Array, number[]] {
		const { baseX, baseY, after, length } = this.stacks;
		const turned = new Float64Array(length);
		const chain = new Int32Array(length).fill(-1);
		const total: number[] = [];
		const angleTo = (k: number) => {
			let t = after[k]!;
			for (let n = 0; t >= 0 && baseX[t] === baseX[k] && baseY[t] === baseY[k] && n < 40; n++) t = after[t]!;
			return t >= 0 ? atan2(baseY[t]! - baseY[k]!, baseX[t]! - baseX[k]!) : NaN;
		};
		for (let first = 0; first < length; first++) {
			if (chain[first]! >= 0) continue;
			let sum = 0;
			const start = angleTo(first);
			let last = start;
			let at = first;
			for (; at >= 0 && chain[at]! < 0; at = after[at]!) {
				chain[at] = total.length;
				const angle = at === first ? start : angleTo(at);
				if (angle === angle && last === last) sum += Math.abs(wrapped(angle - last));
				turned[at] = sum;
				if (angle === angle) last = angle;
			}
			total.push(at === first ? sum + Math.abs(wrapped((start || 0) - (last || 0))) : 0);
		}
		return [turned, chain, total];
	}

	/** The stacks whose step must not be made with a layer; all that could be in the way with `all`. */
	wrong(layer: number, all: boolean): number[] {
		const { stacks, consumed, still, stillEdge, index, relevant, watchedFrom, segments, owners } = this;
		const { x, y, nextX, nextY, moves, after } = stacks;
		const found = new Set<number>();
		if (!relevant.some((k) => moves[k] === 1 && watchedFrom[k]! <= layer)) return [];
		// Phase 1: the front as it would be.
		let count = 0;
		const add = (ax: number, ay: number, bx: number, by: number, i: number, j: number) => {
			segments[4 * count] = ax;
			segments[4 * count + 1] = ay;
			segments[4 * count + 2] = bx;
			segments[4 * count + 3] = by;
			owners[2 * count] = i;
			owners[2 * count + 1] = j;
			count++;
		};
		for (const k of relevant) {
			const [ax, ay] = moves[k] ? [nextX[k]!, nextY[k]!] : [x[k]!, y[k]!];
			const t = after[k]!;
			if (t >= 0) {
				const [bx, by] = moves[t] ? [nextX[t]!, nextY[t]!] : [x[t]!, y[t]!];
				if (ax !== bx || ay !== by) add(ax, ay, bx, by, k, t);
			}
			if (moves[k]) add(x[k]!, y[k]!, nextX[k]!, nextY[k]!, k, -1);
		}
		if (count === 0) return [];
		const moving = indexOf(segments, count);
		const blame = (k: number) => {
			for (const i of [owners[2 * k]!, owners[2 * k + 1]!]) if (i >= 0 && moves[i]) found.add(i);
		};
		// Phase 2: what moves crosses nothing.
		for (let k = 0; k < count; k++) {
			const [i, j] = [owners[2 * k]!, owners[2 * k + 1]!];
			if (!(moves[i] && watchedFrom[i]! <= layer) && !(j >= 0 && moves[j] && watchedFrom[j]! <= layer)) continue;
			const [ax, ay, bx, by] = [segments[4 * k]!, segments[4 * k + 1]!, segments[4 * k + 2]!, segments[4 * k + 3]!];
			const [minX, minY, maxX, maxY] = [Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by)];
			moving.search(minX, minY, maxX, maxY, (other) => {
				if (other !== k && cross(ax, ay, bx, by, segments, other)) {
					blame(k);
					blame(other);
				}
				return false;
			});
			index?.search(minX, minY, maxX, maxY, (n) => {
				const e = stillEdge[n]!;
				if (e >= 0 && !consumed[e] && cross(ax, ay, bx, by, still, n) && !this.carries(i, e) && !this.carries(j, e)) blame(k);
				return false;
			});
		}
		if (all && found.size > 0) for (const k of relevant) if (moves[k]) found.add(k);
		if (found.size > 0) return [...found];
		// Phase 3: and comes near to nothing that it faces.
		for (const k of relevant) {
			if (!moves[k] || stacks.carrier[k]! >= 0 || watchedFrom[k]! > layer) continue;
			const room = apartFor(stacks, k) * stacks.widthBehind(k, layer);
			if (!(room > 0)) continue;
			let isBlocked = false;
			const look = (list: Float64Array, n: number) => (isBlocked ||= isAhead(stacks, k, room, list, n));
			const [minX, minY, maxX, maxY] = [nextX[k]! - room, nextY[k]! - room, nextX[k]! + room, nextY[k]! + room];
			moving.search(minX, minY, maxX, maxY, (n) => {
				const [i, j] = [owners[2 * n]!, owners[2 * n + 1]!];
				if (j >= 0 && i !== k && j !== k) look(segments, n);
				return false;
			});
			index?.search(minX, minY, maxX, maxY, (n) => {
				const e = stillEdge[n]!;
				if (e < 0 || !consumed[e]) look(still, n);
				return false;
			});
			if (isBlocked) found.add(k);
		}
		return [...found];
	}

	/** Whether an edge belongs to the piece along which a stack goes up. */
	private carries(k: number, e: number): boolean {
		return k >= 0 && (this.stacks.carrierOf(k)?.edges.includes(e) ?? false);
	}
}

/** Nodes that no edge has. */
export function nodesAlone(count: number, edges: Uint32Array): number[] {
	const touched = new Uint8Array(count);
	for (const node of edges) touched[node] = 1;
	return [...touched.keys()].filter((node) => !touched[node]);
}

export function indexOf(segments: Float64Array, count: number): Flatbush {
	const index = new Flatbush(count);
	for (let k = 0; k < count; k++) {
		const [ax, ay, bx, by] = [segments[4 * k]!, segments[4 * k + 1]!, segments[4 * k + 2]!, segments[4 * k + 3]!];
		index.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
	}
	index.finish();
	return index;
}

function wrapped(angle: number): number {
	const full = 2 * Math.PI;
	return angle - full * Math.round(angle / full);
}

/** How far the box of a segment of a list is from a place, along x or y. */
const away = (list: Float64Array, n: number, x: number, y: number): number =>
	Math.max(
		Math.min(list[4 * n]!, list[4 * n + 2]!) - x,
		x - Math.max(list[4 * n]!, list[4 * n + 2]!),
		Math.min(list[4 * n + 1]!, list[4 * n + 3]!) - y,
		y - Math.max(list[4 * n + 1]!, list[4 * n + 3]!),
		0
	);

/** Whether a segment faces the next place of a stack, lies ahead of it, and is nearer than there must be room. */
function isAhead(stacks: Stacks, k: number, room: number, list: Float64Array, n: number): boolean {
	const [px, py, normalX, normalY] = [stacks.nextX[k]!, stacks.nextY[k]!, stacks.normalX[k]!, stacks.normalY[k]!];
	const [ax, ay, bx, by] = [list[4 * n]!, list[4 * n + 1]!, list[4 * n + 2]!, list[4 * n + 3]!];
	const [dx, dy] = [bx - ax, by - ay];
	const square = dx * dx + dy * dy;
	if (square > 0 && -dy * normalX + dx * normalY > facing * Math.sqrt(square)) return false;
	const t = square > 0 ? Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / square)) : 0;
	const [qx, qy] = [ax + t * dx - px, ay + t * dy - py];
	// Behind it there is only what it grew from, and what lies beyond that.
	return qx * normalX + qy * normalY > 0 && hypot(qx, qy) < room;
}

/** Whether a segment meets one of a list elsewhere than at an end that they share. */
function cross(ax: number, ay: number, bx: number, by: number, list: Float64Array, n: number): boolean {
	const [cx, cy, dx, dy] = [list[4 * n]!, list[4 * n + 1]!, list[4 * n + 2]!, list[4 * n + 3]!];
	if ((ax === cx && ay === cy) || (ax === dx && ay === dy) || (bx === cx && by === cy) || (bx === dx && by === dy)) return false;
	const s1 = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
	const s2 = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax);
	if ((s1 > 0 && s2 > 0) || (s1 < 0 && s2 < 0)) return false;
	const s3 = (dx - cx) * (ay - cy) - (dy - cy) * (ax - cx);
	const s4 = (dx - cx) * (by - cy) - (dy - cy) * (bx - cx);
	return !((s3 > 0 && s4 > 0) || (s3 < 0 && s4 < 0));
}
