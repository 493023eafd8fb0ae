import { atan2 } from '../numeric/elementary.ts';

const degrees = 180 / Math.PI;

/**
 * What measures look at: one element at a time, with its sides and corners worked out once for all of them. Corner k
 * lies between side k − 1 and side k, which leads to corner k + 1.
 */
export class ElementShape {
	/** Corners, 3 or 4. */
	n = 0;
	/** Coordinates of the corners, counter-clockwise. */
	readonly x = new Float64Array(4);
	readonly y = new Float64Array(4);
	/** Length of each side. */
	readonly side = new Float64Array(4);
	/** At each corner the cross product of the sides that leave it, twice the signed area of its triangle, and their dot product. */
	readonly cross = new Float64Array(4);
	readonly dot = new Float64Array(4);
	private least = NaN;
	private most = NaN;

	/** Takes the element whose nodes stand at `at` in a list of elements with n nodes each. */
	take(nodeX: Float64Array, nodeY: Float64Array, nodes: Uint32Array, at: number, n: number): void {
		const { x, y, side, cross, dot } = this;
		this.n = n;
		this.least = NaN;
		for (let k = 0; k < n; k++) {
			const p = nodes[at + k]!;
			x[k] = nodeX[p]!;
			y[k] = nodeY[p]!;
		}
		let vx = x[n - 1]! - x[0]!;
		let vy = y[n - 1]! - y[0]!;
		for (let k = 0; k < n; k++) {
			const after = k + 1 === n ? 0 : k + 1;
			const ux = x[after]! - x[k]!;
			const uy = y[after]! - y[k]!;
			side[k] = Math.sqrt(ux * ux + uy * uy);
			cross[k] = ux * vy - uy * vx;
			dot[k] = ux * vx + uy * vy;
			vx = -ux;
			vy = -uy;
		}
	}

	/** The smallest inner angle in degrees. */
	get smallestAngle(): number {
		if (Number.isNaN(this.least)) this.takeAngles();
		return this.least;
	}

	/** The largest inner angle in degrees; more than 180 where the element is not convex. */
	get largestAngle(): number {
		if (Number.isNaN(this.least)) this.takeAngles();
		return this.most;
	}

	/** The corners with the extreme angles are found by what rises with the angle, so that only theirs are worked out. */
	private takeAngles(): void {
		const { n, side, cross, dot } = this;
		let [low, high, narrow, wide] = [0, 0, Infinity, -Infinity];
		for (let k = 0; k < n; k++) {
			const cosine = dot[k]! / (side[k]! * side[k === 0 ? n - 1 : k - 1]!);
			const rank = cross[k]! < 0 ? 3 + cosine : 1 - cosine;
			if (!(rank >= narrow)) {
				narrow = rank;
				low = k;
			}
			if (!(rank <= wide)) {
				wide = rank;
				high = k;
			}
		}
		this.least = this.angleAt(low);
		this.most = this.angleAt(high);
	}

	private angleAt(k: number): number {
		const angle = atan2(this.cross[k]!, this.dot[k]!) * degrees;
		return angle < 0 ? angle + 360 : angle;
	}
}
