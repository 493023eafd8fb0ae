import { part, type Work } from '../../numeric/work.ts';
import { next, previous, type Triangulation } from './triangulation.ts';

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
	const { x, y, from, twin, outgoing, vertexCount } = mesh;
	const ring = new Int32Array(256);
	const ringX = new Float64Array(ring.length + 1);
	const ringY = new Float64Array(ring.length + 1);
	/** 1 where a vertex or a neighbour of it has moved since it was last looked at. */
	const stale = new Uint8Array(vertexCount).fill(1);
	const isPoor = new Uint8Array(vertexCount);
	const moved = new Int32Array(vertexCount);
	/** The place that is tried. */
	let px = 0;
	let py = 0;
	for (const [sweep, least] of below.entries()) {
		// Phase 1: the nodes of poor triangles.
		yield sweep / below.length;
		isPoor.fill(0);
		for (let t = 0; t < inside.length; t++) {
			if (!inside[t]) continue;
			const a = from[3 * t]!;
			const b = from[3 * t + 1]!;
			const c = from[3 * t + 2]!;
			if (stale[a]! + stale[b]! + stale[c]! > 0 && qualityOf(a, b, c) < least) isPoor[a] = isPoor[b] = isPoor[c] = 1;
		}
		let movedCount = 0;
		for (let v = 0; v < vertexCount; v++) {
			if (v === isFixed[0] && isFixed[1] > v) {
				v = isFixed[1] - 1;
				continue;
			}
			if ((v & 0x7fff) === 0) yield (sweep + (0.6 * v) / vertexCount) / below.length;
			if (!stale[v]) continue;
			stale[v] = 0;
			if (!isPoor[v]) continue;
			// Phase 2: the ring around v, and the worst triangle on it.
			const first = outgoing[v]!;
			let e = first;
			let count = 0;
			let sumX = 0;
			let sumY = 0;
			do {
				const a = from[next(e)]!;
				ring[count] = a;
				sumX += ringX[count] = x[a]!;
				sumY += ringY[count] = y[a]!;
				count++;
				e = twin[previous(e)]!;
			} while (e !== first && count < ring.length);
			ringX[count] = ringX[0]!;
			ringY[count] = ringY[0]!;
			const oldX = x[v]!;
			const oldY = y[v]!;
			const before = worst(oldX, oldY, count);
			// Phase 3: the mean, or half of the way there.
			px = sumX / count;
			py = sumY / count;
			if (worst(px, py, count) <= before) {
				px = (px + oldX) / 2;
				py = (py + oldY) / 2;
				if (worst(px, py, count) <= before && !toApex(oldX, oldY, before, count)) continue;
			}
			x[v] = px;
			y[v] = py;
			moved[movedCount++] = v;
			stale[v] = 1;
			for (let k = 0; k < count; k++) stale[ring[k]!] = 1;
		}
		if (movedCount === 0) break;
		// Phase 4: Delaunay again around what moved.
		const flipped = mesh.restoreDelaunay(moved.subarray(0, movedCount), inside);
		for (const v of yield* part(flipped, (sweep + 0.6) / below.length, (sweep + 1) / below.length)) stale[v] = 1;
	}

	function qualityOf(a: number, b: number, c: number): number {
		const ux = x[b]! - x[a]!;
		const uy = y[b]! - y[a]!;
		const vx = x[c]! - x[a]!;
		const vy = y[c]! - y[a]!;
		const wx = vx - ux;
		const wy = vy - uy;
		return (scale * (ux * vy - uy * vx)) / (ux * ux + uy * uy + vx * vx + vy * vy + wx * wx + wy * wy);
	}

	/**
	 * Where the mean is no better and the worst triangle is poor: finds a place on the way to the apex that would make that
	 * one equilateral.
	 */
	function toApex(oldX: number, oldY: number, before: number, count: number): boolean {
		if (before >= poorest) return false;
		let k = 0;
		while (k + 1 < count && qualityOn(k, oldX, oldY) > before) k++;
		const dx = ringX[k + 1]! - ringX[k]!;
		const dy = ringY[k + 1]! - ringY[k]!;
		const apexX = (ringX[k]! + ringX[k + 1]! - Math.sqrt(3) * dy) / 2;
		const apexY = (ringY[k]! + ringY[k + 1]! + Math.sqrt(3) * dx) / 2;
		for (let part = 0.5; part > 0.1; part /= 2) {
			px = oldX + part * (apexX - oldX);
			py = oldY + part * (apexY - oldY);
			if (worst(px, py, count) > before) return true;
		}
		return false;
	}

	/** The quality of the triangle on one edge of the ring. */
	function qualityOn(k: number, px: number, py: number): number {
		const ux = ringX[k]! - px;
		const uy = ringY[k]! - py;
		const wx = ringX[k + 1]! - px;
		const wy = ringY[k + 1]! - py;
		const sx = wx - ux;
		const sy = wy - uy;
		const uu = ux * ux + uy * uy;
		const ww = wx * wx + wy * wy;
		return (scale * (ux * wy - uy * wx)) / (uu + ww + sx * sx + sy * sy);
	}

	/** The lowest quality around the ring if its vertex stood at (px, py); negative where a triangle would turn over. */
	function worst(px: number, py: number, count: number): number {
		let least = Infinity;
		let ux = ringX[0]! - px;
		let uy = ringY[0]! - py;
		let uu = ux * ux + uy * uy;
		for (let k = 1; k <= count; k++) {
			const wx = ringX[k]! - px;
			const wy = ringY[k]! - py;
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
