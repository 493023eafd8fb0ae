import { hypot } from '../../numeric/elementary.ts';
import type { Fill } from '../method.ts';

/**
 * Fills a block by transfinite interpolation (Gordon & Hall 1973) with arc-length blending
 * (Soni 1985): the blending parameters of an inner node come from where the lines between the
 * chord-length fractions of opposite sides cross, so that spacing on the sides carries inward.
 *
 * @param x, y coordinates of the given nodes
 * @param sides local node numbers of the four sides, counter-clockwise, each from corner to corner;
 *   sides 0 and 2 hold n + 1 nodes, sides 1 and 3 hold m + 1
 * @returns (n − 1)(m − 1) added nodes, row by row from side 0, and n · m quads in the same order
 */
export function fillTransfinite(
	x: Float64Array,
	y: Float64Array,
	sides: readonly [Uint32Array, Uint32Array, Uint32Array, Uint32Array]
): Fill {
	const [bottom, right] = sides;
	// The far sides, turned to run the same way as the near ones.
	const top = sides[2].slice().reverse();
	const left = sides[3].slice().reverse();
	const n = bottom.length - 1;
	const m = left.length - 1;

	// Phase 1: chord-length fractions along the four sides.
	const s0 = fractions(x, y, bottom);
	const s1 = fractions(x, y, top);
	const t0 = fractions(x, y, left);
	const t1 = fractions(x, y, right);

	// Phase 2: inner nodes.
	const given = x.length;
	const innerX = new Float64Array((n - 1) * (m - 1));
	const innerY = new Float64Array((n - 1) * (m - 1));
	const [a, b, c, d] = [bottom[0]!, bottom[n]!, top[n]!, top[0]!];
	const along = (v: Float64Array, side: Uint32Array) => Float64Array.from(side, (p) => v[p]!);
	const [lowX, lowY, highX, highY] = [along(x, bottom), along(y, bottom), along(x, top), along(y, top)];
	const [ax, ay, dx, dy] = [x[a]!, y[a]!, x[d]!, y[d]!];
	const [abX, abY, dcX, dcY] = [x[b]! - ax, y[b]! - ay, x[c]! - dx, y[c]! - dy];
	let k = 0;
	for (let j = 1; j < m; j++) {
		const lx = x[left[j]!]!;
		const ly = y[left[j]!]!;
		const lrX = x[right[j]!]! - lx;
		const lrY = y[right[j]!]! - ly;
		const t = t0[j]!;
		const dt = t1[j]! - t;
		for (let i = 1; i < n; i++, k++) {
			const s = s0[i]!;
			const ds = s1[i]! - s;
			const u = (s + t * ds) / (1 - ds * dt);
			const v = t + u * dt;
			const w = 1 - v;
			// What the sides lie off the straight lines between their corners, between that of the other two.
			innerX[k] = lx + u * lrX + w * (lowX[i]! - ax - u * abX) + v * (highX[i]! - dx - u * dcX);
			innerY[k] = ly + u * lrY + w * (lowY[i]! - ay - u * abY) + v * (highY[i]! - dy - u * dcY);
		}
	}

	// Phase 3: quads, between one row of nodes and the next.
	const quads = new Uint32Array(4 * n * m);
	const low = Uint32Array.from(bottom);
	const high = new Uint32Array(n + 1);
	let e = 0;
	for (let j = 1; j <= m; j++) {
		if (j === m) high.set(top);
		else {
			high[0] = left[j]!;
			for (let i = 1, p = given + (j - 1) * (n - 1); i < n; i++, p++) high[i] = p;
			high[n] = right[j]!;
		}
		for (let i = 0; i < n; i++, e += 4) {
			quads[e] = low[i]!;
			quads[e + 1] = low[i + 1]!;
			quads[e + 2] = high[i + 1]!;
			quads[e + 3] = high[i]!;
		}
		low.set(high);
	}
	return { x: innerX, y: innerY, triangles: new Uint32Array(0), quads };
}

/** The node at column i and row j of a block's grid; the far sides run the same way as the near ones, inner nodes follow from `given`. */
export function gridNode(
	bottom: Uint32Array,
	right: Uint32Array,
	top: Uint32Array,
	left: Uint32Array,
	given: number
): (i: number, j: number) => number {
	const n = bottom.length - 1;
	const m = left.length - 1;
	return (i, j) => {
		if (j === 0) return bottom[i]!;
		if (j === m) return top[i]!;
		if (i === 0) return left[j]!;
		if (i === n) return right[j]!;
		return given + (j - 1) * (n - 1) + i - 1;
	};
}

function fractions(x: Float64Array, y: Float64Array, side: Uint32Array): Float64Array {
	const n = side.length - 1;
	const at = new Float64Array(n + 1);
	for (let i = 1; i <= n; i++) at[i] = at[i - 1]! + hypot(x[side[i]!]! - x[side[i - 1]!]!, y[side[i]!]! - y[side[i - 1]!]!);
	for (let i = 1; i <= n; i++) at[i]! /= at[n]!;
	return at;
}
