import type { Work } from '../../numeric/work.ts';
import { next, previous, type Triangulation } from './triangulation.ts';

/** √3 · 4 / 2: turns twice the area and the sum of squared sides into a quality of 1 for the equilateral triangle. */
const scale = 2 * Math.sqrt(3);

/**
 * Moves added nodes to the mean of their neighbours, halfway back where that is too far, whenever
 * the worst triangle around the node gets better by it (smart Laplacian smoothing, Freitag 1997),
 * and flips edges back to Delaunay after every sweep. The worst element never gets worse by a move.
 *
 * @param firstFree number of the first vertex that may move
 * @param inside 1 for each triangle of the region
 * @param below only nodes of triangles whose quality 4√3 A / Σ l² is below this are moved
 */
export function* improve(mesh: Triangulation, firstFree: number, inside: Uint8Array, below: number, sweeps: number): Work<void> {
	const { x, y, from, twin, outgoing, vertexCount } = mesh;
	const ring = new Int32Array(256);
	const ringX = new Float64Array(ring.length + 1);
	const ringY = new Float64Array(ring.length + 1);
	/** 1 where a vertex or a neighbour of it has moved since it was last looked at. */
	const stale = new Uint8Array(vertexCount).fill(1);
	const isPoor = new Uint8Array(vertexCount);
	for (let sweep = 0; sweep < sweeps; sweep++) {
		// Phase 1: the nodes of poor triangles.
		isPoor.fill(0);
		for (let t = 0; t < inside.length; t++) {
			if (!inside[t]) continue;
			const a = from[3 * t]!;
			const b = from[3 * t + 1]!;
			const c = from[3 * t + 2]!;
			if (stale[a]! + stale[b]! + stale[c]! > 0 && qualityOf(a, b, c) < below) isPoor[a] = isPoor[b] = isPoor[c] = 1;
		}
		const moved: number[] = [];
		for (let v = firstFree; v < vertexCount; v++) {
			if ((v & 0x7fff) === 0) yield (sweep + (v - firstFree) / (vertexCount - firstFree)) / sweeps;
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
			let px = sumX / count;
			let py = sumY / count;
			if (worst(px, py, count) <= before) {
				px = (px + oldX) / 2;
				py = (py + oldY) / 2;
				if (worst(px, py, count) <= before) continue;
			}
			x[v] = px;
			y[v] = py;
			moved.push(v);
			for (let k = 0; k < count; k++) stale[ring[k]!] = 1;
		}
		if (moved.length === 0) break;
		// Phase 4: Delaunay again around what moved.
		for (const v of mesh.restoreDelaunay(moved, inside)) stale[v] = 1;
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
