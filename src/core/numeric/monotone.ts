/**
 * The monotone cubic interpolant of Fritsch & Carlson (1980), with the slopes of Fritsch & Butland
 * (1984): it rises wherever the data rise, and never overshoots.
 *
 * @param x, y the data, both rising
 */
export function monotoneCubic(x: ArrayLike<number>, y: ArrayLike<number>): (at: number) => number {
	const n = x.length;
	const secant = (k: number) => (y[k + 1]! - y[k]!) / (x[k + 1]! - x[k]!);
	const slopes = new Float64Array(n);
	for (let k = 0; k < n; k++) {
		if (k === 0 || k === n - 1) slopes[k] = n === 2 ? secant(0) : endSlope(x, k, secant);
		else {
			const [a, b] = [secant(k - 1), secant(k)];
			const [h, i] = [x[k]! - x[k - 1]!, x[k + 1]! - x[k]!];
			slopes[k] = a * b <= 0 ? 0 : (3 * (h + i)) / ((2 * i + h) / a + (i + 2 * h) / b);
		}
	}
	return (at) => {
		let [low, high] = [0, n - 1];
		while (high - low > 1) {
			const middle = (low + high) >> 1;
			if (x[middle]! <= at) low = middle;
			else high = middle;
		}
		const h = x[high]! - x[low]!;
		const t = (at - x[low]!) / h;
		const [t2, t3] = [t * t, t * t * t];
		return (
			(2 * t3 - 3 * t2 + 1) * y[low]! +
			(t3 - 2 * t2 + t) * h * slopes[low]! +
			(3 * t2 - 2 * t3) * y[high]! +
			(t3 - t2) * h * slopes[high]!
		);
	};
}

/** The three-point slope at an end, held between zero and three times the secant beside it. */
function endSlope(x: ArrayLike<number>, k: number, secant: (k: number) => number): number {
	const n = x.length;
	const [near, far] = k === 0 ? [0, 1] : [n - 2, n - 3];
	const [h, i] = [x[near + 1]! - x[near]!, x[far + 1]! - x[far]!];
	const [a, b] = [secant(near), secant(far)];
	const slope = ((2 * h + i) * a - h * b) / (h + i);
	if (slope * a <= 0) return 0;
	return Math.abs(slope) > 3 * Math.abs(a) ? 3 * a : slope;
}
