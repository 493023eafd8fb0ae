/** A symmetric matrix by rows: what stands beside the diagonal, of which the row's diagonal is the negative sum, and a mass. */
export interface Matrix {
	start: Int32Array;
	column: Int32Array;
	/** Weights, taken off the diagonal. */
	value: Float64Array;
	mass: Float64Array;
}

/** The residual at which a solution is good, over that of the start. */
const enough = 1e-7;

/**
 * Solves (rate · mass + Laplacian) w = source for the free places of w, the others as they are, by conjugate gradients with the
 * diagonal as preconditioner (Hestenes & Stiefel 1952).
 *
 * @returns a function of w, which is changed in place, the source, and the rate
 */
export function solver(
	{ start, column, value, mass }: Matrix,
	free: Int32Array
): (w: Float64Array, source: Float64Array, rate: number) => void {
	const n = free.length;
	// Phase 1: the rows of the free places among themselves, in numbers of their own.
	const number = new Int32Array(mass.length).fill(-1);
	for (let f = 0; f < n; f++) number[free[f]!] = f;
	const rows = new Int32Array(n + 1);
	const columns = new Int32Array(column.length);
	const values = new Float64Array(column.length);
	let count = 0;
	for (let f = 0; f < n; f++) {
		for (let k = start[free[f]!]!; k < start[free[f]! + 1]!; k++) {
			const j = number[column[k]!]!;
			if (j < 0) continue;
			columns[count] = j;
			values[count++] = value[k]!;
		}
		rows[f + 1] = count;
	}
	const doubles = () => new Float64Array(n);
	const [diagonal, r, z, p, q, own] = [doubles(), doubles(), doubles(), doubles(), doubles(), doubles()];
	const most = 50 + 8 * Math.ceil(Math.sqrt(n));
	return (w, source, rate) => {
		// Phase 2: what is missing at the start.
		let product = 0;
		for (let f = 0; f < n; f++) {
			const i = free[f]!;
			own[f] = w[i]!;
			let whole = rate * mass[i]!;
			for (let k = start[i]!; k < start[i + 1]!; k++) whole += value[k]!;
			diagonal[f] = whole || 1;
			let sum = diagonal[f]! * w[i]!;
			for (let k = start[i]!; k < start[i + 1]!; k++) sum -= value[k]! * w[column[k]!]!;
			r[f] = source[i]! - sum;
			z[f] = r[f]! / diagonal[f]!;
			p[f] = z[f]!;
			product += r[f]! * z[f]!;
		}
		// Phase 3: the steps.
		const goal = enough * enough * product;
		for (let round = 0; round < most && product > goal && product > 0; round++) {
			let curvature = 0;
			for (let f = 0; f < n; f++) {
				let sum = diagonal[f]! * p[f]!;
				for (let k = rows[f]!; k < rows[f + 1]!; k++) sum -= values[k]! * p[columns[k]!]!;
				q[f] = sum;
				curvature += p[f]! * sum;
			}
			const alpha = product / curvature;
			let following = 0;
			for (let f = 0; f < n; f++) {
				own[f]! += alpha * p[f]!;
				r[f]! -= alpha * q[f]!;
				z[f] = r[f]! / diagonal[f]!;
				following += r[f]! * z[f]!;
			}
			const beta = following / product;
			product = following;
			for (let f = 0; f < n; f++) p[f] = z[f]! + beta * p[f]!;
		}
		for (let f = 0; f < n; f++) w[free[f]!] = own[f]!;
	};
}
