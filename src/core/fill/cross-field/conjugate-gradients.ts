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
 */
export function solve(
	{ start, column, value, mass }: Matrix,
	free: Int32Array,
	w: Float64Array,
	source: Float64Array,
	rate: number
): void {
	const n = w.length;
	const isFree = new Uint8Array(n);
	for (const i of free) isFree[i] = 1;
	const diagonal = new Float64Array(n);
	for (const i of free) {
		let sum = rate * mass[i]!;
		for (let k = start[i]!; k < start[i + 1]!; k++) sum += value[k]!;
		diagonal[i] = sum || 1;
	}
	const times = (p: Float64Array, out: Float64Array, withGiven: boolean) => {
		for (const i of free) {
			let sum = diagonal[i]! * p[i]!;
			for (let k = start[i]!; k < start[i + 1]!; k++) {
				const j = column[k]!;
				if (withGiven || isFree[j]) sum -= value[k]! * p[j]!;
			}
			out[i] = sum;
		}
	};
	const [r, z, p, q] = [0, 0, 0, 0].map(() => new Float64Array(n)) as [Float64Array, Float64Array, Float64Array, Float64Array];
	times(w, q, true);
	let product = 0;
	for (const i of free) {
		r[i] = source[i]! - q[i]!;
		z[i] = r[i]! / diagonal[i]!;
		p[i] = z[i]!;
		product += r[i]! * z[i]!;
	}
	const goal = enough * enough * product;
	const most = 50 + 4 * Math.ceil(Math.sqrt(free.length)) * 2;
	for (let step = 0; step < most && product > goal && product > 0; step++) {
		times(p, q, false);
		let curvature = 0;
		for (const i of free) curvature += p[i]! * q[i]!;
		const alpha = product / curvature;
		let following = 0;
		for (const i of free) {
			w[i]! += alpha * p[i]!;
			r[i]! -= alpha * q[i]!;
			z[i] = r[i]! / diagonal[i]!;
			following += r[i]! * z[i]!;
		}
		const beta = following / product;
		product = following;
		for (const i of free) p[i] = z[i]! + beta * p[i]!;
	}
}
