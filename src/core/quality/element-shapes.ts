import { angleOf } from './angle.ts';

/** So many elements are looked at together: few enough to stay in the nearest cache. */
export const chunk = 128;

/**
 * What measures look at: some elements of one shape, with their sides and corners worked out once for all measures. Corner k
 * lies between side k − 1 and side k, which leads to corner k + 1. What belongs to corner or side k of element i stands at
 * `k * chunk + i`.
 */
export class ElementShapes {
	/** Corners of each element, 3 or 4. */
	n = 0;
	/** How many elements there are, at most `chunk`. */
	count = 0;
	/** Coordinates of the corners, counter-clockwise. */
	readonly x = new Float64Array(4 * chunk);
	readonly y = new Float64Array(4 * chunk);
	/** Length of each side. */
	readonly side = new Float64Array(4 * chunk);
	/** At each corner the cross product of the sides that leave it, twice the signed area of its triangle, and their dot product. */
	readonly cross = new Float64Array(4 * chunk);
	readonly dot = new Float64Array(4 * chunk);
	/** Sine of the angle at each corner, below zero where the corner is turned in; 0 where a side has no length. */
	readonly sine = new Float64Array(4 * chunk);
	private readonly cosine = new Float64Array(4 * chunk);
	/** The extreme inner angles in degrees; more than 180 where the element is not convex. */
	private readonly least = new Float64Array(chunk);
	private readonly most = new Float64Array(chunk);
	private hasAngles = false;

	/** Takes `count` elements with n nodes each, from place `first` of their list on. */
	take(nodeX: Float64Array, nodeY: Float64Array, nodes: Uint32Array, n: number, first: number, count: number): void {
		this.n = n;
		this.count = count;
		this.hasAngles = false;
		if (n === 3) this.takeTriangles(nodeX, nodeY, nodes, first);
		else this.takeQuads(nodeX, nodeY, nodes, first);
	}

	private takeTriangles(nodeX: Float64Array, nodeY: Float64Array, nodes: Uint32Array, first: number): void {
		const { count, x, y } = this;
		for (let i = 0, at = 3 * first; i < count; i++, at += 3) {
			const p = nodes[at]!;
			const q = nodes[at + 1]!;
			const r = nodes[at + 2]!;
			const px = (x[i] = nodeX[p]!);
			const py = (y[i] = nodeY[p]!);
			const qx = (x[chunk + i] = nodeX[q]!);
			const qy = (y[chunk + i] = nodeY[q]!);
			const rx = (x[2 * chunk + i] = nodeX[r]!);
			const ry = (y[2 * chunk + i] = nodeY[r]!);
			const ux = qx - px;
			const uy = qy - py;
			const vx = rx - qx;
			const vy = ry - qy;
			const wx = px - rx;
			const wy = py - ry;
			const a = Math.sqrt(ux * ux + uy * uy);
			const b = Math.sqrt(vx * vx + vy * vy);
			const c = Math.sqrt(wx * wx + wy * wy);
			this.corner(i, a, c, wx * uy - ux * wy, -ux * wx - uy * wy);
			this.corner(chunk + i, b, a, ux * vy - vx * uy, -vx * ux - vy * uy);
			this.corner(2 * chunk + i, c, b, vx * wy - wx * vy, -wx * vx - wy * vy);
		}
	}

	private takeQuads(nodeX: Float64Array, nodeY: Float64Array, nodes: Uint32Array, first: number): void {
		const { count, x, y } = this;
		for (let i = 0, at = 4 * first; i < count; i++, at += 4) {
			const p = nodes[at]!;
			const q = nodes[at + 1]!;
			const r = nodes[at + 2]!;
			const s = nodes[at + 3]!;
			const ax = (x[i] = nodeX[p]!);
			const ay = (y[i] = nodeY[p]!);
			const bx = (x[chunk + i] = nodeX[q]!);
			const by = (y[chunk + i] = nodeY[q]!);
			const cx = (x[2 * chunk + i] = nodeX[r]!);
			const cy = (y[2 * chunk + i] = nodeY[r]!);
			const dx = (x[3 * chunk + i] = nodeX[s]!);
			const dy = (y[3 * chunk + i] = nodeY[s]!);
			const ux = bx - ax;
			const uy = by - ay;
			const vx = cx - bx;
			const vy = cy - by;
			const wx = dx - cx;
			const wy = dy - cy;
			const zx = ax - dx;
			const zy = ay - dy;
			const a = Math.sqrt(ux * ux + uy * uy);
			const b = Math.sqrt(vx * vx + vy * vy);
			const c = Math.sqrt(wx * wx + wy * wy);
			const d = Math.sqrt(zx * zx + zy * zy);
			this.corner(i, a, d, zx * uy - ux * zy, -ux * zx - uy * zy);
			this.corner(chunk + i, b, a, ux * vy - vx * uy, -vx * ux - vy * uy);
			this.corner(2 * chunk + i, c, b, vx * wy - wx * vy, -wx * vx - wy * vy);
			this.corner(3 * chunk + i, d, c, wx * zy - zx * wy, -zx * wx - zy * wy);
		}
	}

	/** Notes a corner by the sides that leave it: the next one, the one before, and their products. */
	private corner(at: number, next: number, before: number, cross: number, dot: number): void {
		const lengths = next * before;
		const share = lengths > 0 ? 1 / lengths : 0;
		this.side[at] = next;
		this.cross[at] = cross;
		this.dot[at] = dot;
		this.sine[at] = cross * share;
		this.cosine[at] = dot * share;
	}

	get smallestAngles(): Float64Array {
		if (!this.hasAngles) this.takeAngles();
		return this.least;
	}

	get largestAngles(): Float64Array {
		if (!this.hasAngles) this.takeAngles();
		return this.most;
	}

	/** The corners with the extreme angles are found by what rises with the angle, so that only theirs are worked out. */
	private takeAngles(): void {
		const { n, count, cross, dot, cosine, least, most } = this;
		this.hasAngles = true;
		for (let i = 0; i < count; i++) {
			let low = i;
			let high = i;
			let narrow = Infinity;
			let wide = -Infinity;
			for (let c = i; c < n * chunk; c += chunk) {
				const rank = cross[c]! < 0 ? 3 + cosine[c]! : 1 - cosine[c]!;
				if (rank < narrow) {
					narrow = rank;
					low = c;
				}
				if (rank > wide) {
					wide = rank;
					high = c;
				}
			}
			least[i] = angleOf(cross[low]!, dot[low]!);
			most[i] = angleOf(cross[high]!, dot[high]!);
		}
	}
}
