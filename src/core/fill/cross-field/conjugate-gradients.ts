/** A symmetric matrix by rows: what stands beside the diagonal, of which the row's diagonal is the negative sum, and a mass. */
export interface Matrix {
	start: Int32Array;
	column: Int32Array;
	/** Weights, taken off the diagonal. */
	value: Float64Array;
	mass: Float64Array;
}

/**
 * Solves (rate · mass + Laplacian) w = source for the free places of two fields w at once, the other places as they are, by conjugate
 * gradients with the diagonal as preconditioner (Hestenes & Stiefel 1952).
 *
 * @param enough the residual at which a solution is good, over that of the start
 * @returns a function of the two fields, which are changed in place, the two sources, and the rate
 */
export function solver(
	{ start, column, value, mass }: Matrix,
	free: Int32Array,
	enough = 1e-7
): (w: readonly [Float64Array, Float64Array], source: readonly [Float64Array, Float64Array], rate: number) => void {
	const n = free.length;
	// Phase 1: the rows of the free places among themselves, in numbers of their own; the two fields lie side by side.
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
			columns[count] = 2 * j;
			values[count++] = value[k]!;
		}
		rows[f + 1] = count;
	}
	const most = 50 + 8 * Math.ceil(Math.sqrt(n));
	return (w, source, rate) => {
		const diagonal = new Float64Array(n);
		const r = new Float64Array(2 * n);
		const z = new Float64Array(2 * n);
		const p = new Float64Array(2 * n);
		const q = new Float64Array(2 * n);
		const unknowns = new Float64Array(2 * n);
		// Phase 2: what is missing at the start.
		let product = 0;
		for (let f = 0; f < n; f++) {
			const i = free[f]!;
			let whole = rate * mass[i]!;
			for (let k = start[i]!; k < start[i + 1]!; k++) whole += value[k]!;
			diagonal[f] = whole || 1;
			for (let h = 0; h < 2; h++) {
				const field = w[h]!;
				const g = 2 * f + h;
				unknowns[g] = field[i]!;
				let sum = diagonal[f]! * field[i]!;
				for (let k = start[i]!; k < start[i + 1]!; k++) sum -= value[k]! * field[column[k]!]!;
				r[g] = source[h]![i]! - sum;
				z[g] = r[g]! / diagonal[f]!;
				p[g] = z[g]!;
				product += r[g]! * z[g]!;
			}
		}
		// Phase 3: the steps.
		const goal = enough * enough * product;
		for (let round = 0; round < most && product > goal && product > 0; round++) {
			let curvature = 0;
			for (let f = 0, k = 0; f < n; f++) {
				let one = diagonal[f]! * p[2 * f]!;
				let two = diagonal[f]! * p[2 * f + 1]!;
				for (const end = rows[f + 1]!; k < end; k++) {
					one -= values[k]! * p[columns[k]!]!;
					two -= values[k]! * p[columns[k]! + 1]!;
				}
				q[2 * f] = one;
				q[2 * f + 1] = two;
				curvature += p[2 * f]! * one + p[2 * f + 1]! * two;
			}
			const alpha = product / curvature;
			let following = 0;
			for (let g = 0; g < 2 * n; g++) {
				unknowns[g]! += alpha * p[g]!;
				r[g]! -= alpha * q[g]!;
				z[g] = r[g]! / diagonal[g >> 1]!;
				following += r[g]! * z[g]!;
			}
			const beta = following / product;
			product = following;
			for (let g = 0; g < 2 * n; g++) p[g] = z[g]! + beta * p[g]!;
		}
		for (let f = 0; f < n; f++) for (let h = 0; h < 2; h++) w[h]![free[f]!] = unknowns[2 * f + h]!;
	};
}
