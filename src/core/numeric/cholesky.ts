/**
 * Solves a symmetric positive system in place, by rows of its lower band (the diagonal last); false where it is not positive.
 */
export function choleskySolve(matrix: Float64Array, size: number, band: number, right: Float64Array): boolean {
	const wide = band + 1;
	for (let i = 0; i < size; i++) {
		const from = Math.max(0, i - band);
		for (let j = from; j <= i; j++) {
			let sum = matrix[i * wide + band + j - i]!;
			for (let k = Math.max(from, j - band); k < j; k++)
				sum -= matrix[i * wide + band + k - i]! * matrix[j * wide + band + k - j]!;
			if (j < i) matrix[i * wide + band + j - i] = sum / matrix[j * wide + band]!;
			else {
				if (!(sum > 0)) return false;
				matrix[i * wide + band] = Math.sqrt(sum);
			}
		}
	}
	for (let i = 0; i < size; i++) {
		let sum = right[i]!;
		for (let k = Math.max(0, i - band); k < i; k++) sum -= matrix[i * wide + band + k - i]! * right[k]!;
		right[i] = sum / matrix[i * wide + band]!;
	}
	for (let i = size - 1; i >= 0; i--) {
		let sum = right[i]!;
		for (let k = i + 1; k <= Math.min(size - 1, i + band); k++) sum -= matrix[k * wide + band + i - k]! * right[k]!;
		right[i] = sum / matrix[i * wide + band]!;
	}
	return true;
}
