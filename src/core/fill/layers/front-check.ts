import Flatbush from 'flatbush';
import { hypot } from '../../numeric/elementary.ts';
import type { FillInput } from '../method.ts';
import type { Stack, Wall } from './stack.ts';

/** Fronts whose normals point against one another by more than this (the cosine) face each other. */
const facing = -0.5;
/** Elements behind are taken to be no wider than so many heights of the cell before them. */
const widest = 3;

/** Whether a step of the front meets anything: itself, another front, or what else bounds the region. */
export class FrontCheck {
	/** Edges without layers, and nodes that stand alone: they stay where they are. */
	private readonly still: number[];
	private readonly index: Flatbush | undefined;

	constructor(
		private readonly input: FillInput,
		wallOf: Int32Array,
		private readonly stacks: readonly Stack[],
		private readonly consumed: Uint8Array
	) {
		const { x, y, edges } = input;
		const touched = new Uint8Array(x.length);
		for (const node of edges) touched[node] = 1;
		this.still = [...wallOf.keys()].filter((k) => wallOf[k]! < 0);
		const alone = [...touched.keys()].filter((node) => !touched[node]);
		if (this.still.length + alone.length > 0) {
			this.index = new Flatbush(this.still.length + alone.length);
			for (const k of this.still) {
				const [a, b] = [edges[2 * k]!, edges[2 * k + 1]!];
				this.index.add(Math.min(x[a]!, x[b]!), Math.min(y[a]!, y[b]!), Math.max(x[a]!, x[b]!), Math.max(y[a]!, y[b]!));
			}
			for (const node of alone) {
				// A node alone is an edge of no length.
				this.index.add(x[node]!, y[node]!, x[node]!, y[node]!);
				this.still.push(-1 - node);
			}
			this.index.finish();
		}
	}

	/** The stacks whose step must not be made; all that could be in the way with `all`. */
	wrong(layer: number, walls: readonly Wall[], all: boolean): number[] {
		const { stacks, input, consumed, still, index } = this;
		const { x, y, edges } = input;
		void layer;
		const found = new Set<number>();
		// Phase 1: the front as it would be.
		const segments: number[] = [];
		const owners: [number, number][] = [];
		const add = (ax: number, ay: number, bx: number, by: number, i: number, j: number) => {
			segments.push(ax, ay, bx, by);
			owners.push([i, j]);
		};
		const at = (s: Stack): [number, number] => (s.moves ? [s.nextX, s.nextY] : [s.x, s.y]);
		for (const [k, s] of stacks.entries()) {
			const t = stacks[s.after];
			if (t) {
				const [[ax, ay], [bx, by]] = [at(s), at(t)];
				if (ax !== bx || ay !== by) add(ax, ay, bx, by, k, s.after);
			}
			if (s.moves) add(s.x, s.y, s.nextX, s.nextY, k, -1);
		}
		if (owners.length === 0) return [];
		const moving = new Flatbush(owners.length);
		for (let k = 0; k < owners.length; k++) {
			const [ax, ay, bx, by] = segments.slice(4 * k, 4 * k + 4) as [number, number, number, number];
			moving.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
		}
		moving.finish();
		const blame = (owner: [number, number]) => {
			for (const i of owner) if (i >= 0 && stacks[i]!.moves) found.add(i);
		};
		// Phase 2: what moves crosses nothing.
		for (let k = 0; k < owners.length; k++) {
			const own = owners[k]!;
			if (!own.some((i) => i >= 0 && stacks[i]!.moves)) continue;
			const [ax, ay, bx, by] = segments.slice(4 * k, 4 * k + 4) as [number, number, number, number];
			const box = [Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by)] as const;
			for (const other of moving.search(...box)) {
				if (other === k) continue;
				const [cx, cy, dx, dy] = segments.slice(4 * other, 4 * other + 4) as [number, number, number, number];
				if (!cross(ax, ay, bx, by, cx, cy, dx, dy)) continue;
				blame(own);
				blame(owners[other]!);
			}
			for (const n of index?.search(...box) ?? []) {
				const e = still[n]!;
				if (e < 0 || consumed[e]) continue;
				const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
				if (cross(ax, ay, bx, by, x[a]!, y[a]!, x[b]!, y[b]!) && !this.isCarrying(own, e)) blame(own);
			}
		}
		if (all && found.size > 0) stacks.forEach((s, k) => s.moves && found.add(k));
		if (found.size > 0) return [...found];
		// Phase 3: and comes near to nothing that it faces.
		for (const [k, s] of stacks.entries()) {
			if (!s.moves || s.carried) continue;
			const room = walls[s.wall]!.gap * Math.min(s.width, widest * s.height);
			if (!(room > 0)) continue;
			const box = [s.nextX - room, s.nextY - room, s.nextX + room, s.nextY + room] as const;
			const isNear = (ax: number, ay: number, bx: number, by: number): boolean => {
				const length = hypot(bx - ax, by - ay);
				if (length > 0 && (-(by - ay) * s.normalX + (bx - ax) * s.normalY) / length > facing) return false;
				// Behind it there is only what it grew from, and what lies beyond that.
				const [qx, qy] = nearest(s.nextX, s.nextY, ax, ay, bx, by);
				const isAhead = (qx - s.nextX) * s.normalX + (qy - s.nextY) * s.normalY > 0;
				return isAhead && hypot(qx - s.nextX, qy - s.nextY) < room;
			};
			const meets = moving.search(...box).some((other) => {
				const [i, j] = owners[other]!;
				if (j < 0 || i === k || j === k) return false;
				const [ax, ay, bx, by] = segments.slice(4 * other, 4 * other + 4) as [number, number, number, number];
				return isNear(ax, ay, bx, by);
			});
			const isBlocked =
				meets ||
				(index?.search(...box) ?? []).some((n) => {
					const e = still[n]!;
					if (e < 0) return isNear(x[-1 - e]!, y[-1 - e]!, x[-1 - e]!, y[-1 - e]!);
					if (consumed[e]) return false;
					const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
					return isNear(x[a]!, y[a]!, x[b]!, y[b]!);
				});
			if (isBlocked) found.add(k);
		}
		return [...found];
	}

	/** Whether an edge belongs to the piece along which a stack goes up. */
	private isCarrying(owner: readonly [number, number], e: number): boolean {
		return owner.some((i) => i >= 0 && this.stacks[i]!.carried?.edges.includes(e));
	}
}

/** Whether two segments meet elsewhere than at an end that they share. */
function cross(ax: number, ay: number, bx: number, by: number, cx: number, cy: number, dx: number, dy: number): boolean {
	const shares = (px: number, py: number, qx: number, qy: number) => px === qx && py === qy;
	if (shares(ax, ay, cx, cy) || shares(ax, ay, dx, dy) || shares(bx, by, cx, cy) || shares(bx, by, dx, dy)) return false;
	const side = (px: number, py: number, qx: number, qy: number, rx: number, ry: number) =>
		(qx - px) * (ry - py) - (qy - py) * (rx - px);
	const [s1, s2] = [side(ax, ay, bx, by, cx, cy), side(ax, ay, bx, by, dx, dy)];
	const [s3, s4] = [side(cx, cy, dx, dy, ax, ay), side(cx, cy, dx, dy, bx, by)];
	return ((s1 >= 0 && s2 <= 0) || (s1 <= 0 && s2 >= 0)) && ((s3 >= 0 && s4 <= 0) || (s3 <= 0 && s4 >= 0));
}

/** The place of a segment that is nearest to another place. */
function nearest(px: number, py: number, ax: number, ay: number, bx: number, by: number): [number, number] {
	const [dx, dy] = [bx - ax, by - ay];
	const square = dx * dx + dy * dy;
	const t = square > 0 ? Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / square)) : 0;
	return [ax + t * dx, ay + t * dy];
}
