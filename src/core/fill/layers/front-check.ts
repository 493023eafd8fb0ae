import Flatbush from 'flatbush';
import { atan2, hypot, pow } from '../../numeric/elementary.ts';
import { progressionSum } from '../../recipe/layer-numbers.ts';
import type { FillInput } from '../method.ts';
import type { Stack, Wall } from './stack.ts';

/** Fronts whose normals point against one another by more than this (the cosine) face each other. */
export const facing = -0.5;
/** Elements behind are taken to be no wider than so many heights of the cell before them. */
export const widest = 3;
/** A wall that turns by less than this between two places cannot meet itself there, in radians. */
const straightEnough = Math.PI / 3;

/** Whether a step of the front meets anything: itself, another front, or what else bounds the region. */
export class FrontCheck {
	/** Edges without layers, four numbers each: they stay where they are; a node that stands alone is one of no length. */
	private readonly still: Float64Array;
	/** The edge of the input of each; −1 for a node. */
	private readonly stillEdge: Int32Array;
	private readonly index: Flatbush | undefined;
	/** Stacks that something is near, and those that could be in their way; the others need no look. */
	private readonly relevant: Int32Array;
	private readonly isWatched: Uint8Array;
	/** The front as it would be: four numbers a segment, and the stacks at its ends. */
	private readonly segments: Float64Array;
	private readonly owners: Int32Array;

	constructor(
		input: FillInput,
		wallOf: Int32Array,
		private readonly walls: readonly Wall[],
		private readonly stacks: readonly Stack[],
		private readonly consumed: Uint8Array
	) {
		const { x, y, edges } = input;
		const touched = new Uint8Array(x.length);
		for (const node of edges) touched[node] = 1;
		const still: number[] = [];
		const stillEdge: number[] = [];
		for (let k = 0; k < wallOf.length; k++) {
			if (wallOf[k]! >= 0) continue;
			const [a, b] = [edges[2 * k]!, edges[2 * k + 1]!];
			still.push(x[a]!, y[a]!, x[b]!, y[b]!);
			stillEdge.push(k);
		}
		for (let node = 0; node < x.length; node++) {
			if (touched[node]) continue;
			still.push(x[node]!, y[node]!, x[node]!, y[node]!);
			stillEdge.push(-1);
		}
		this.still = Float64Array.from(still);
		this.stillEdge = Int32Array.from(stillEdge);
		this.index = stillEdge.length > 0 ? indexOf(this.still, stillEdge.length) : undefined;
		this.isWatched = new Uint8Array(stacks.length);
		this.relevant = this.findRelevant();
		this.segments = new Float64Array(8 * this.relevant.length);
		this.owners = new Int32Array(4 * this.relevant.length);
	}

	/** The stacks to be looked at: where something other than a nearly straight wall is within reach of all that will grow. */
	private findRelevant(): Int32Array {
		const { stacks, walls, index, isWatched } = this;
		if (stacks.length === 0) return new Int32Array(0);
		const thicknessOf = (s: Stack) => s.scale * walls[s.wall]!.first * progressionSum(s.most, walls[s.wall]!.growth);
		const thickest = stacks.reduce((most, s) => Math.max(most, thicknessOf(s)), 0);
		const base = new Float64Array(4 * stacks.length);
		const [turned, chain, total] = this.turnsAlong();
		stacks.forEach((s, k) => {
			const t = stacks[s.after] ?? s;
			base.set([s.baseX, s.baseY, t.baseX, t.baseY], 4 * k);
		});
		const own = indexOf(base, stacks.length);
		const isRelevant = new Uint8Array(stacks.length);
		const near: number[] = [];
		for (const [k, s] of stacks.entries()) {
			const wall = walls[s.wall]!;
			const room = wall.gap * Math.min(s.width, widest * s.scale * wall.first * pow(wall.growth, s.most - 1));
			const reach = 1.2 * thicknessOf(s) + thickest + room;
			const box = [s.baseX - reach, s.baseY - reach, s.baseX + reach, s.baseY + reach] as const;
			let isFree = true;
			near.length = 0;
			own.search(...box, (j) => {
				near.push(j);
				const between = Math.abs(turned[k]! - turned[j]!);
				const closed = total[chain[k]!]!;
				isFree &&= chain[j] === chain[k] && Math.min(between, closed > 0 ? closed - between : Infinity) < straightEnough;
				return false;
			});
			index?.search(...box, () => (isFree = false));
			if (isFree) continue;
			isWatched[k] = isRelevant[k] = 1;
			for (const j of near) isRelevant[j] = 1;
			if (s.before >= 0) isRelevant[s.before] = 1;
		}
		return Int32Array.from(stacks.keys()).filter((k) => isRelevant[k]!);
	}

	/** How far the wall has turned, in all, up to each stack; the chain of each; and the whole turn of each closed chain, 0 of an open one. */
	private turnsAlong(): [Float64Array, Int32Array, number[]] {
		const { stacks } = this;
		const turned = new Float64Array(stacks.length);
		const chain = new Int32Array(stacks.length).fill(-1);
		const total: number[] = [];
		const angleTo = (s: Stack) => {
			let t = stacks[s.after];
			for (let n = 0; t && t.baseX === s.baseX && t.baseY === s.baseY && n < 40; n++) t = stacks[t.after];
			return t ? atan2(t.baseY - s.baseY, t.baseX - s.baseX) : undefined;
		};
		for (let first = 0; first < stacks.length; first++) {
			if (chain[first]! >= 0) continue;
			let sum = 0;
			let last = angleTo(stacks[first]!);
			let at = first;
			for (; at >= 0 && chain[at]! < 0; at = stacks[at]!.after) {
				chain[at] = total.length;
				const angle = angleTo(stacks[at]!);
				if (angle !== undefined && last !== undefined) sum += Math.abs(wrapped(angle - last));
				turned[at] = sum;
				last = angle ?? last;
			}
			total.push(at === first ? sum + Math.abs(wrapped((angleTo(stacks[first]!) ?? 0) - (last ?? 0))) : 0);
		}
		return [turned, chain, total];
	}

	/** The stacks whose step must not be made; all that could be in the way with `all`. */
	wrong(all: boolean): number[] {
		const { stacks, walls, consumed, still, stillEdge, index, relevant, isWatched, segments, owners } = this;
		const found = new Set<number>();
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
		let some = false;
		for (const k of relevant) {
			const s = stacks[k]!;
			some ||= s.moves && isWatched[k] === 1;
			const [ax, ay] = [s.moves ? s.nextX : s.x, s.moves ? s.nextY : s.y];
			const t = stacks[s.after];
			if (t) {
				const [bx, by] = [t.moves ? t.nextX : t.x, t.moves ? t.nextY : t.y];
				if (ax !== bx || ay !== by) add(ax, ay, bx, by, k, s.after);
			}
			if (s.moves) add(s.x, s.y, s.nextX, s.nextY, k, -1);
		}
		if (!some || count === 0) return [];
		const moving = indexOf(segments, count);
		const moves = (k: number) => k >= 0 && stacks[k]!.moves;
		const blame = (k: number) => {
			for (const i of [owners[2 * k]!, owners[2 * k + 1]!]) if (moves(i)) found.add(i);
		};
		// Phase 2: what moves crosses nothing.
		for (let k = 0; k < count; k++) {
			const [i, j] = [owners[2 * k]!, owners[2 * k + 1]!];
			if (!(moves(i) && isWatched[i]) && !(moves(j) && isWatched[j])) continue;
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
		if (all && found.size > 0) for (const k of relevant) if (moves(k)) found.add(k);
		if (found.size > 0) return [...found];
		// Phase 3: and comes near to nothing that it faces.
		for (const k of relevant) {
			const s = stacks[k]!;
			if (!s.moves || s.carried || !isWatched[k]) continue;
			const room = walls[s.wall]!.gap * Math.min(s.width, widest * s.height);
			if (!(room > 0)) continue;
			let isBlocked = false;
			const look = (list: Float64Array, n: number) => (isBlocked ||= isAhead(s, room, list, n));
			const [minX, minY, maxX, maxY] = [s.nextX - room, s.nextY - room, s.nextX + room, s.nextY + room];
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
		return k >= 0 && (this.stacks[k]!.carried?.edges.includes(e) ?? false);
	}
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

/** Whether a segment faces the next place of a stack, lies ahead of it, and is nearer than there must be room. */
function isAhead(s: Stack, room: number, list: Float64Array, n: number): boolean {
	const [ax, ay, bx, by] = [list[4 * n]!, list[4 * n + 1]!, list[4 * n + 2]!, list[4 * n + 3]!];
	const [dx, dy] = [bx - ax, by - ay];
	const square = dx * dx + dy * dy;
	if (square > 0 && -dy * s.normalX + dx * s.normalY > facing * Math.sqrt(square)) return false;
	const t = square > 0 ? Math.min(1, Math.max(0, ((s.nextX - ax) * dx + (s.nextY - ay) * dy) / square)) : 0;
	const [qx, qy] = [ax + t * dx - s.nextX, ay + t * dy - s.nextY];
	// Behind it there is only what it grew from, and what lies beyond that.
	return qx * s.normalX + qy * s.normalY > 0 && hypot(qx, qy) < room;
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
