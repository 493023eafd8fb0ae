/** How often a part of an element is cut in four before its sign is given up. */
const mostCuts = 6;

/**
 * Whether the Jacobian of an element of second order is above zero all over it, proved by the coefficients of its Bernstein
 * form, which bound it; where some of them are below zero, the element is cut in four until it is decided.
 *
 * Source: A. Johnen, J.-F. Remacle & C. Geuzaine, J. Comp. Phys. 233 (2013) 359–372.
 *
 * @param x, y six nodes of a triangle (corners, then middles of the sides from corner to corner), or nine of a
 *   quadrilateral (corners, middles, its middle)
 */
export function isElementPositive(x: readonly number[], y: readonly number[]): boolean {
	if (x.length === 6) {
		const jacobian = jacobianOf(x, y, triangleDerivatives);
		return isPositiveIn(jacobian, [0, 0], [1, 0], [0, 1], mostCuts);
	}
	return isPositiveBetween(jacobianOf(x, y, quadDerivatives), 0, 1, 0, 1, mostCuts);
}

type Jacobian = (r: number, s: number) => number;

function jacobianOf(
	x: readonly number[],
	y: readonly number[],
	derivatives: (r: number, s: number) => readonly [readonly number[], readonly number[]]
): Jacobian {
	return (r, s) => {
		const [dr, ds] = derivatives(r, s);
		let [xr, xs, yr, ys] = [0, 0, 0, 0];
		for (let k = 0; k < x.length; k++) {
			xr += dr[k]! * x[k]!;
			xs += ds[k]! * x[k]!;
			yr += dr[k]! * y[k]!;
			ys += ds[k]! * y[k]!;
		}
		return xr * ys - xs * yr;
	};
}

/** Derivatives of the six shape functions of a triangle, over r and over s from its first corner. */
function triangleDerivatives(r: number, s: number): readonly [number[], number[]] {
	const t = 1 - r - s;
	return [
		[1 - 4 * t, 4 * r - 1, 0, 4 * (t - r), 4 * s, -4 * s],
		[1 - 4 * t, 0, 4 * s - 1, -4 * r, 4 * r, 4 * (t - s)]
	];
}

/** Where the nine nodes of a quadrilateral stand among the products of three functions of r and three of s. */
const places = [
	[0, 0],
	[2, 0],
	[2, 2],
	[0, 2],
	[1, 0],
	[2, 1],
	[1, 2],
	[0, 1],
	[1, 1]
] as const;

/** Derivatives of the nine shape functions of a quadrilateral, r and s from 0 to 1. */
function quadDerivatives(r: number, s: number): readonly [number[], number[]] {
	const values = (t: number) => [(1 - t) * (1 - 2 * t), 4 * t * (1 - t), t * (2 * t - 1)] as const;
	const slopes = (t: number) => [4 * t - 3, 4 - 8 * t, 4 * t - 1] as const;
	const [fr, fs, gr, gs] = [values(r), values(s), slopes(r), slopes(s)];
	return [places.map(([i, j]) => gr[i] * fs[j]), places.map(([i, j]) => fr[i] * gs[j])];
}

type Place = readonly [number, number];

/** A quadratic in a part of a triangle: its values at corners and middles give the coefficients. */
function isPositiveIn(jacobian: Jacobian, p: Place, q: Place, r: Place, cuts: number): boolean {
	const half = (a: Place, b: Place): Place => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
	const [pq, qr, rp] = [half(p, q), half(q, r), half(r, p)];
	const [a, b, c] = [jacobian(...p), jacobian(...q), jacobian(...r)];
	if (!(a > 0 && b > 0 && c > 0)) return false;
	const between = (middle: Place, one: number, other: number) => 2 * jacobian(...middle) - (one + other) / 2;
	if (between(pq, a, b) > 0 && between(qr, b, c) > 0 && between(rp, c, a) > 0) return true;
	if (cuts === 0) return false;
	return (
		isPositiveIn(jacobian, p, pq, rp, cuts - 1) &&
		isPositiveIn(jacobian, pq, q, qr, cuts - 1) &&
		isPositiveIn(jacobian, rp, qr, r, cuts - 1) &&
		isPositiveIn(jacobian, pq, qr, rp, cuts - 1)
	);
}

/** Coefficients of a cubic by its values at four even places. */
const cubic = ([a, b, c, d]: readonly number[]): [number, number, number, number] => [
	a!,
	(-5 * a! + 18 * b! - 9 * c! + 2 * d!) / 6,
	(2 * a! - 9 * b! + 18 * c! - 5 * d!) / 6,
	d!
];

/** A cubic in both directions, in a part of a quadrilateral. */
function isPositiveBetween(jacobian: Jacobian, r0: number, r1: number, s0: number, s1: number, cuts: number): boolean {
	const at = (k: number, low: number, high: number) => low + (k / 3) * (high - low);
	const rows = [0, 1, 2, 3].map((j) => cubic([0, 1, 2, 3].map((i) => jacobian(at(i, r0, r1), at(j, s0, s1)))));
	const columns = [0, 1, 2, 3].map((i) => cubic(rows.map((row) => row[i]!)));
	if (!(columns[0]![0] > 0 && columns[0]![3] > 0 && columns[3]![0] > 0 && columns[3]![3] > 0)) return false;
	if (columns.every((column) => column.every((b) => b > 0))) return true;
	if (cuts === 0) return false;
	const [r, s] = [(r0 + r1) / 2, (s0 + s1) / 2];
	return (
		isPositiveBetween(jacobian, r0, r, s0, s, cuts - 1) &&
		isPositiveBetween(jacobian, r, r1, s0, s, cuts - 1) &&
		isPositiveBetween(jacobian, r0, r, s, s1, cuts - 1) &&
		isPositiveBetween(jacobian, r, r1, s, s1, cuts - 1)
	);
}
