import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';
import { next, previous, Triangulation } from './triangulation.ts';

/** √3 · 4 / 2: turns twice the area and the sum of squared sides into a quality of 1 for the equilateral triangle. */
const scale = 2 * Math.sqrt(3);

/** A node goes toward the apex over its worst triangle where that is worse than this. */
const poorest = 0.85;

/**
 * Moves added nodes to the mean of their neighbours, halfway back where that is too far, whenever
 * the worst triangle around the node gets better by it (smart Laplacian smoothing, Freitag 1997),
 * and flips edges back to Delaunay after every sweep. The worst element never gets worse by a move.
 *
 * @param isFixed numbers of the first vertex that may not move and of the first after it that may
 * @param inside 1 for each triangle of the region
 * @param below the sweeps: only nodes of triangles whose quality 4√3 A / Σ l² is below these are moved
 */
export function* improve(
	mesh: Triangulation,
	isFixed: readonly [number, number],
	inside: Uint8Array,
	below: readonly number[]
): Work<void> {
	const { vertexCount } = mesh;
	/** 1 where a vertex or a neighbour of it has moved since it was last looked at. */
	const stale = new Uint8Array(vertexCount).fill(1);
	const isPoor = new Uint8Array(vertexCount);
	const moved = new Int32Array(vertexCount);
	const ring = new Ring(mesh);
	for (const [sweep, least] of below.entries()) {
		// Phase 1: the nodes of poor triangles.
		yield sweep / below.length;
		isPoor.fill(0);
		yield* part(
			inStretches(inside.length, chunkSize, (from, to) => markPoor(mesh, inside, stale, least, isPoor, from, to)),
			sweep / below.length,
			sweep / below.length
		);
		// Phase 2: they are moved.
		let movedCount = 0;
		for (const [from, to] of [
			[0, isFixed[0]],
			[Math.max(...isFixed), vertexCount]
		] as const)
			for (let v = from; v < to; v += chunkSize) {
				movedCount = moveSome(ring, stale, isPoor, moved, movedCount, v, Math.min(to, v + chunkSize));
				yield (sweep + (0.6 * v) / vertexCount) / below.length;
			}
		if (movedCount === 0) break;
		// Phase 3: Delaunay again around what moved.
		const flipped = mesh.restoreDelaunay(moved.subarray(0, movedCount), inside);
		markStale(yield* part(flipped, (sweep + 0.6) / below.length, (sweep + 1) / below.length), stale);
	}
}

/** Nodes or triangles visited between two yields. */
const chunkSize = 0x8000;

/** Marks the nodes of triangles that are worse than so much, of a stretch of those with a node that is to be looked at. */
function markPoor(
	{ x, y, from }: Triangulation,
	inside: Uint8Array,
	stale: Uint8Array,
	least: number,
	isPoor: Uint8Array,
	first: number,
	last: number
): void {
	for (let t = first; t < last; t++) {
		if (!inside[t]) continue;
		const a = from[3 * t]!;
		const b = from[3 * t + 1]!;
		const c = from[3 * t + 2]!;
		if (stale[a]! + stale[b]! + stale[c]! > 0 && qualityOf(x, y, a, b, c) < least) isPoor[a] = isPoor[b] = isPoor[c] = 1;
	}
}

/** Moves the poor ones of some nodes, where that makes them better, and lists them from a place on; returns the end of the list. */
function moveSome(
	ring: Ring,
	stale: Uint8Array,
	isPoor: Uint8Array,
	moved: Int32Array,
	count: number,
	first: number,
	last: number
): number {
	let end = count;
	for (let v = first; v < last; v++) {
		if (!stale[v]) continue;
		stale[v] = 0;
		if (!isPoor[v] || !ring.move(v)) continue;
		moved[end++] = v;
		stale[v] = 1;
		ring.mark(stale);
	}
	return end;
}

function markStale(nodes: readonly number[], stale: Uint8Array): void {
	for (let k = 0; k < nodes.length; k++) stale[nodes[k]!] = 1;
}

function qualityOf(x: Float64Array, y: Float64Array, a: number, b: number, c: number): number {
	const ux = x[b]! - x[a]!;
	const uy = y[b]! - y[a]!;
	const vx = x[c]! - x[a]!;
	const vy = y[c]! - y[a]!;
	const wx = vx - ux;
	const wy = vy - uy;
	return (scale * (ux * vy - uy * vx)) / (ux * ux + uy * uy + vx * vx + vy * vy + wx * wx + wy * wy);
}

/** The nodes around the one that is moved. */
class Ring {
	private readonly nodes = new Int32Array(256);
	private readonly x = new Float64Array(this.nodes.length + 1);
	private readonly y = new Float64Array(this.nodes.length + 1);
	private count = 0;
	/** The place that is tried. */
	private px = NaN;
	private py = NaN;

	constructor(private readonly mesh: Triangulation) {}

	/** Moves a node where the worst triangle around it becomes better by that; whether it does. */
	move(v: number): boolean {
		const { x, y } = this.mesh;
		this.take(v);
		const oldX = x[v]!;
		const oldY = y[v]!;
		const before = this.worst(oldX, oldY);
		// The mean, or half of the way there.
		if (this.worst(this.px, this.py) <= before) {
			this.px = (this.px + oldX) / 2;
			this.py = (this.py + oldY) / 2;
			if (this.worst(this.px, this.py) <= before && !this.toApex(oldX, oldY, before)) return false;
		}
		x[v] = this.px;
		y[v] = this.py;
		return true;
	}

	/** Marks the nodes of the ring. */
	mark(list: Uint8Array): void {
		for (let k = 0; k < this.count; k++) list[this.nodes[k]!] = 1;
	}

	/** Takes the nodes around one, and their mean for the place to try. */
	private take(v: number): void {
		const { nodes, x: ringX, y: ringY } = this;
		const { x, y, from, twin, outgoing } = this.mesh;
		const first = outgoing[v]!;
		let e = first;
		let count = 0;
		let sumX = 0;
		let sumY = 0;
		do {
			const a = from[next(e)]!;
			nodes[count] = a;
			sumX += ringX[count] = x[a]!;
			sumY += ringY[count] = y[a]!;
			count++;
			e = twin[previous(e)]!;
		} while (e !== first && count < nodes.length);
		ringX[count] = ringX[0]!;
		ringY[count] = ringY[0]!;
		this.count = count;
		this.px = sumX / count;
		this.py = sumY / count;
	}

	/**
	 * Where the mean is no better and the worst triangle is poor: finds a place on the way to the apex that would make that
	 * one equilateral.
	 */
	private toApex(oldX: number, oldY: number, before: number): boolean {
		if (before >= poorest) return false;
		const { x, y, count } = this;
		let k = 0;
		while (k + 1 < count && this.qualityOn(k, oldX, oldY) > before) k++;
		const dx = x[k + 1]! - x[k]!;
		const dy = y[k + 1]! - y[k]!;
		const apexX = (x[k]! + x[k + 1]! - Math.sqrt(3) * dy) / 2;
		const apexY = (y[k]! + y[k + 1]! + Math.sqrt(3) * dx) / 2;
		for (let part = 0.5; part > 0.1; part /= 2) {
			this.px = oldX + part * (apexX - oldX);
			this.py = oldY + part * (apexY - oldY);
			if (this.worst(this.px, this.py) > before) return true;
		}
		return false;
	}

	/** The quality of the triangle on one edge of the ring. */
	private qualityOn(k: number, px: number, py: number): number {
		const ux = this.x[k]! - px;
		const uy = this.y[k]! - py;
		const wx = this.x[k + 1]! - px;
		const wy = this.y[k + 1]! - py;
		const sx = wx - ux;
		const sy = wy - uy;
		const uu = ux * ux + uy * uy;
		const ww = wx * wx + wy * wy;
		return (scale * (ux * wy - uy * wx)) / (uu + ww + sx * sx + sy * sy);
	}

	/** The lowest quality around the ring if its vertex stood at (px, py); negative where a triangle would turn over. */
	private worst(px: number, py: number): number {
		const { x, y, count } = this;
		let least = Infinity;
		let ux = x[0]! - px;
		let uy = y[0]! - py;
		let uu = ux * ux + uy * uy;
		for (let k = 1; k <= count; k++) {
			const wx = x[k]! - px;
			const wy = y[k]! - py;
			const ww = wx * wx + wy * wy;
			const sx = wx - ux;
			const sy = wy - uy;
			const quality = (scale * (ux * wy - uy * wx)) / (uu + ww + sx * sx + sy * sy);
			if (quality < least) least = quality;
			ux = wx;
			uy = wy;
			uu = ww;
		}
		return least;
	}
}

keepHiddenClass(new Ring(new Triangulation([0, 0, 1, 1], 1)));
