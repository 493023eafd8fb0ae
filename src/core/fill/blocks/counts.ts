import FlatQueue from 'flatqueue';
import { addTo } from '../../numeric/lists.ts';
import { type Numbering, numberingOf } from './numbering.ts';
import type { Patches } from './patches.ts';

/** Divisions that a piece is to have in all: exactly, or about. */
export interface PieceCount {
	count: number;
	isExact: boolean;
}

/** A count that must be met weighs so much more than one that may be missed. */
const exactWeight = 1e6;
/** So many strips are laid or taken at most, over the number of arcs. */
const mostSteps = 60;

/**
 * Whole counts for all arcs, so that facing sides of every block have as many, near to what lengths over a size want: strips of
 * blocks are laid across from outline to outline, the cheapest first, and taken again where that is better (after M. Lyon,
 * M. Campen & L. Kobbelt, Computer Graphics Forum 40 (2021), whose counts are those of a T-mesh too). Arcs may have none where
 * they do not part two places that cannot be one.
 *
 * @param wanted divisions that each arc would like, above zero
 * @param pieces what the pieces of outlines are to have, by piece
 * @returns undefined where no counts are found
 */
export function countsOf(
	layout: Patches,
	wanted: Float64Array,
	pieces: ReadonlyMap<number, PieceCount>
): Uint32Array | undefined {
	const network = new Network(layout, wanted, pieces);
	return network.settle() ? network.count : undefined;
}

class Network {
	readonly count: Uint32Array;
	/** The patch to the left of each half-arc, −1 for none, and the side of it. */
	private readonly patch: Int32Array;
	private readonly side: Int32Array;
	/** The half-piece of each arc on an outline, −1 for others. */
	private readonly halfOf: Int32Array;
	/** The counts of half-pieces so far: both sides of a piece between two regions have as many. */
	private readonly halfSum = new Map<number, number>();
	/** The arcs on each half-piece. */
	private readonly onHalf = new Map<number, number[]>();
	private readonly sideSum: Float64Array;

	constructor(
		private readonly layout: Patches,
		private readonly wanted: Float64Array,
		private readonly pieces: ReadonlyMap<number, PieceCount>
	) {
		const { arcs, patches } = layout;
		this.count = new Uint32Array(arcs.length);
		this.patch = new Int32Array(2 * arcs.length).fill(-1);
		this.side = new Int32Array(2 * arcs.length);
		this.sideSum = new Float64Array(4 * patches.length);
		this.halfOf = Int32Array.from(arcs, ({ half }) => half);
		patches.forEach((sides, p) =>
			sides.forEach((side, s) => {
				for (const h of side) [this.patch[h], this.side[h]] = [p, s];
			})
		);
		arcs.forEach(({ half }, a) => half >= 0 && addTo(this.onHalf, half, a));
		for (const half of this.onHalf.keys()) this.halfSum.set(half, 0);
	}

	settle(): boolean {
		const { arcs, patches } = this.layout;
		const order = arcs.map((_, a) => a).sort((a, b) => this.wanted[b]! - this.wanted[a]!);
		// Phase 1: what must have a division gets one.
		for (const a of order) while (arcs[a]!.isHeld && this.count[a] === 0) if (!this.change(a, 1, true)) return false;
		for (let p = 0; p < patches.length; p++)
			for (let s = 0; s < 4; s++) {
				if (this.sideSum[4 * p + s]! > 0) continue;
				const longest = patches[p]![s]!.map((h) => h >> 1).reduce((a, b) => (this.wanted[b]! > this.wanted[a]! ? b : a));
				// Where no strip leads across, the block has none in that direction, and its other sides become one.
				this.change(longest, 1, true);
			}
		// Phase 2: nearer to what is wanted, step by step.
		const blocked = new Uint8Array(2 * arcs.length);
		const most = mostSteps * arcs.length + 2000;
		for (let step = 0; step < most; step++) {
			let [worst, at, sign] = [0.05, -1, 1];
			for (let a = 0; a < arcs.length; a++) {
				const miss = this.missOf(a);
				if (miss > worst && !blocked[2 * a]) [worst, at, sign] = [miss, a, 1];
				if (-miss > worst && !blocked[2 * a + 1]) [worst, at, sign] = [-miss, a, -1];
			}
			if (at < 0) break;
			if (this.change(at, sign, false)) blocked.fill(0);
			else blocked[sign > 0 ? 2 * at : 2 * at + 1] = 1;
		}
		for (const [half, sum] of this.halfSum) {
			const asked = this.pieces.get(half >> 1);
			if (sum < 1 || (asked?.isExact && sum !== asked.count) || sum !== (this.halfSum.get(half ^ 1) ?? sum)) return false;
		}
		return !this.mergesSpecial();
	}

	/** How far an arc, or its piece, is below what it wants, over that; negative where it has more. */
	private missOf(a: number): number {
		const p = this.halfOf[a]!;
		const asked = p >= 0 ? this.pieces.get(p >> 1) : undefined;
		const own = (this.wanted[a]! - this.count[a]!) / Math.max(this.wanted[a]!, 1);
		if (!asked) return own;
		const whole = (asked.count - this.halfSum.get(p)!) / Math.max(asked.count, 1);
		if (asked.isExact && whole !== 0) return 10 * whole + 1e-3 * own;
		return asked.isExact ? 0.2 * own : whole + 0.05 * own;
	}

	/** Lays a strip through an arc, or takes one; whether one was found that is forced or betters the whole. */
	private change(a: number, sign: number, isForced: boolean): boolean {
		const strip = this.stripThrough(a, sign);
		if (!strip) return false;
		const times = new Map<number, number>();
		for (const arc of strip) times.set(arc, (times.get(arc) ?? 0) + 1);
		let many = 1;
		if (!isForced) {
			for (many = this.mostAtOnce(times, sign); many >= 1 && this.gain(times, sign * many) >= 0; many = Math.floor(many / 2));
			if (many < 1) return false;
		}
		for (const [arc, n] of times) this.add(arc, sign * many * n);
		return true;
	}

	private mostAtOnce(times: ReadonlyMap<number, number>, sign: number): number {
		let most = Infinity;
		for (const [a, n] of times) {
			const room = sign > 0 ? (this.wanted[a]! - this.count[a]!) / 2 : (this.count[a]! - this.wanted[a]!) / 2;
			most = Math.min(most, Math.max(1, Math.floor(room / n)));
			if (sign < 0) most = Math.min(most, Math.floor((this.count[a]! - (this.layout.arcs[a]!.isHeld ? 1 : 0)) / n));
		}
		return most;
	}

	private add(a: number, n: number): void {
		this.count[a]! += n;
		for (const h of [2 * a, 2 * a + 1]) if (this.patch[h]! >= 0) this.sideSum[4 * this.patch[h]! + this.side[h]!]! += n;
		const p = this.halfOf[a]!;
		if (p >= 0) this.halfSum.set(p, this.halfSum.get(p)! + n);
	}

	/** What a change costs in squared deviations; negative where it betters them, infinite where it may not be. */
	private gain(times: ReadonlyMap<number, number>, many: number): number {
		let sum = 0;
		const perPiece = new Map<number, number>();
		const perSide = new Map<number, number>();
		for (const [a, n] of times) {
			const step = many * n;
			const now = this.count[a]!;
			if (now + step < (this.layout.arcs[a]!.isHeld ? 1 : 0)) return Infinity;
			const p = this.halfOf[a]!;
			const w = (p >= 0 && this.pieces.has(p >> 1) ? 0.2 : 1) / Math.max(this.wanted[a]!, 0.5);
			sum += w * ((now + step - this.wanted[a]!) ** 2 - (now - this.wanted[a]!) ** 2);
			if (p >= 0) perPiece.set(p, (perPiece.get(p) ?? 0) + step);
			if (many < 0)
				for (const h of [2 * a, 2 * a + 1])
					if (this.patch[h]! >= 0) {
						const key = 4 * this.patch[h]! + this.side[h]!;
						perSide.set(key, (perSide.get(key) ?? 0) + step);
					}
		}
		for (const [key, step] of perSide) if (this.sideSum[key]! + step < 1) return Infinity;
		for (const [p, step] of perPiece) {
			const now = this.halfSum.get(p)!;
			if (now + step < 1 && step < 0) return Infinity;
			const asked = this.pieces.get(p >> 1);
			if (!asked) continue;
			const w = asked.isExact ? exactWeight : 1 / Math.max(1, asked.count);
			sum += w * ((now + step - asked.count) ** 2 - (now - asked.count) ** 2);
		}
		return sum;
	}

	/** What it costs to go on through an arc. */
	private cost(a: number, sign: number): number {
		const p = this.halfOf[a]!;
		const asked = p >= 0 ? this.pieces.get(p >> 1) : undefined;
		const [n, want] = [this.count[a]!, Math.max(this.wanted[a]!, 0.05)];
		if (sign < 0 && n <= (this.layout.arcs[a]!.isHeld ? 1 : 0)) return Infinity;
		const ratio = sign > 0 ? (n + 0.5) / want : want / (n - 0.5);
		const plain = Math.min(50, Math.max(0.02, ratio * ratio));
		if (!asked?.isExact) return plain;
		const left = sign * (asked.count - this.halfSum.get(p)!);
		return left > 0 ? 0.1 * plain + 0.002 : 1000 + plain;
	}

	/** The arcs of the cheapest strip of blocks across an arc: from outline to outline, or around. */
	private stripThrough(a: number, sign: number): number[] | undefined {
		if (this.cost(a, sign) === Infinity) return undefined;
		const [one, two] = [2 * a, 2 * a + 1].map((h) => this.wayFrom(h, sign));
		const around = this.patch[2 * a]! >= 0 ? this.wayFrom(2 * a, sign, 2 * a) : undefined;
		const across = one && two ? { arcs: [...one.arcs, a, ...two.arcs], cost: one.cost + two.cost } : undefined;
		if (around && (!across || around.cost < across.cost)) return around.arcs;
		return across?.arcs;
	}

	/** The cheapest way through blocks from a half-arc, into the block to its left, to an outline, or back to a half-arc (Dijkstra 1959). */
	private wayFrom(start: number, sign: number, target = -1): { arcs: number[]; cost: number } | undefined {
		const { patches } = this.layout;
		if (this.isOutside(start)) return { arcs: [], cost: 0 };
		const costs = new Map([[start, 0]]);
		const by = new Map<number, number>();
		const done = new Set<number>();
		const queue = new FlatQueue();
		queue.push(start, 0);
		let best: { arc: number; from: number; cost: number } | undefined;
		for (let h = queue.pop(); h !== undefined; h = queue.pop()) {
			if (done.has(h)) continue;
			done.add(h);
			const base = costs.get(h)!;
			if (best && base >= best.cost) break;
			// Out of the block through its other side, or over a piece into the region beyond.
			const outs =
				this.patch[h]! >= 0
					? patches[this.patch[h]!]![(this.side[h]! + 2) % 4]!.map((out) => [out, out ^ 1] as const)
					: this.beyond(h);
			for (const [out, into] of outs) {
				const cost = base + this.cost(out >> 1, sign);
				if (cost === Infinity) continue;
				if (target >= 0 ? into === target : this.isOutside(into)) {
					if (!best || cost < best.cost) best = { arc: out >> 1, from: h, cost };
					continue;
				}
				if (this.isOutside(into) || cost >= (costs.get(into) ?? Infinity)) continue;
				costs.set(into, cost);
				by.set(into, h);
				queue.push(into, cost);
			}
		}
		if (!best) return undefined;
		const arcs = [best.arc];
		for (let h = best.from; h !== start; h = by.get(h)!) arcs.push(h >> 1);
		return { arcs, cost: best.cost };
	}

	/** The arcs on the other side of the piece that a half-arc without a block lies on, each with the half-arc that leads into its block. */
	private beyond(h: number): (readonly [number, number])[] {
		return (this.onHalf.get(this.halfOf[h >> 1]! ^ 1) ?? []).map((b) => [2 * b, 2 * b] as const);
	}

	/** Whether a half-arc has neither a block to its left nor one beyond the piece that it lies on. */
	private isOutside(h: number): boolean {
		return this.patch[h]! < 0 && !this.onHalf.has(this.halfOf[h >> 1]! ^ 1);
	}

	/** Whether what has no division makes one of two places that cannot be one: junctions, singular nodes, nodes of outlines. */
	private mergesSpecial(): boolean {
		const { arcs, isSpecial } = this.layout;
		const numbers = numberingOf(this.layout, this.count);
		const taken = new Map<number, number>();
		const take = (number: number): boolean => {
			const root = numbers.root(number);
			if ((taken.get(root) ?? number) !== number) return false;
			taken.set(root, number);
			return true;
		};
		for (let n = 0; n < isSpecial.length; n++) if (isSpecial[n] && !take(n)) return true;
		for (const [a, { half }] of arcs.entries()) {
			if (half < 0) continue;
			for (let k = 0; k <= this.count[a]!; k++) {
				const number = numbers.at(a, k);
				const root = numbers.root(number);
				// Ends of an arc without a division are one and the same node of the outline.
				if (this.count[a] === 0 || isSpecial[number]) continue;
				const other = taken.get(root);
				if (other === undefined) taken.set(root, number);
				else if (other !== number && !this.isBesideOnOutline(numbers, other, number)) return true;
			}
		}
		return false;
	}

	/** Whether two numbers stand for one node of an outline, with arcs without a division between them alone. */
	private isBesideOnOutline(numbers: Numbering, a: number, b: number): boolean {
		const reach = new Set([a]);
		for (let grows = true; grows;) {
			grows = false;
			for (const [k, { half, from, to }] of this.layout.arcs.entries()) {
				if (half < 0 || this.count[k] !== 0 || reach.has(from) === reach.has(to)) continue;
				reach.add(from).add(to);
				grows = true;
			}
		}
		return reach.has(b) && numbers.root(a) === numbers.root(b);
	}
}
