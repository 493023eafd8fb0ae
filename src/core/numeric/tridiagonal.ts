/**
 * Solves a tridiagonal system in place (Thomas algorithm; no pivoting, so the matrix should be
 * diagonally dominant, as spline systems are).
 *
 * @param lower sub-diagonal, `lower[i]` multiplies unknown i − 1; length n, `lower[0]` unused
 * @param diagonal main diagonal, length n; overwritten
 * @param upper super-diagonal, `upper[i]` multiplies unknown i + 1; length n, last unused
 * @param right right-hand side, length n; becomes the solution
 */
export function solveTridiagonal(lower: Float64Array, diagonal: Float64Array, upper: Float64Array, right: Float64Array): void {
	const n = diagonal.length;
	for (let i = 1; i < n; i++) {
		const factor = lower[i]! / diagonal[i - 1]!;
		diagonal[i]! -= factor * upper[i - 1]!;
		right[i]! -= factor * right[i - 1]!;
	}
	right[n - 1]! /= diagonal[n - 1]!;
	for (let i = n - 2; i >= 0; i--) right[i] = (right[i]! - upper[i]! * right[i + 1]!) / diagonal[i]!;
}

/**
 * Solves the cyclic tridiagonal system in which `lower[0]` multiplies the last unknown and
 * `upper[n−1]` the first (Sherman–Morrison on top of the Thomas algorithm; n ≥ 3).
 * Arguments as in {@link solveTridiagonal}.
 */
export function solveCyclicTridiagonal(
	lower: Float64Array,
	diagonal: Float64Array,
	upper: Float64Array,
	right: Float64Array
): void {
	const n = diagonal.length;
	const topRight = lower[0]!;
	const bottomLeft = upper[n - 1]!;
	const gamma = -diagonal[0]!;
	const correction = new Float64Array(n);
	correction[0] = gamma;
	correction[n - 1] = bottomLeft;
	const changed = Float64Array.from(diagonal);
	changed[0]! -= gamma;
	changed[n - 1]! -= (bottomLeft * topRight) / gamma;
	solveTridiagonal(lower, Float64Array.from(changed), upper, right);
	solveTridiagonal(lower, changed, upper, correction);
	const factor =
		(right[0]! + (topRight * right[n - 1]!) / gamma) / (1 + correction[0]! + (topRight * correction[n - 1]!) / gamma);
	for (let i = 0; i < n; i++) right[i]! -= factor * correction[i]!;
}
