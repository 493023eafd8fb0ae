/** Abscissae of the 16-point Gauss–Legendre rule on [-1, 1], positive half (Abramowitz & Stegun 25.4.30). */
export const nodes16 = [
	0.09501250983763744, 0.2816035507792589, 0.45801677765722737, 0.6178762444026438, 0.755404408355003, 0.8656312023878318,
	0.9445750230732326, 0.9894009349916499
];
/** Weights belonging to {@link nodes16}. */
export const weights16 = [
	0.1894506104550685, 0.18260341504492358, 0.16915651939500254, 0.14959598881657674, 0.12462897125553388, 0.09515851168249279,
	0.062253523938647894, 0.027152459411754096
];

type KeepStretch = (end: number, sum: number) => void;

/** One 16-point Gauss–Legendre rule over [a, b]. */
export function gauss16(f: (t: number) => number, a: number, b: number): number {
	const middle = (a + b) / 2;
	const half = (b - a) / 2;
	let sum = 0;
	for (let i = 0; i < 8; i++) sum += weights16[i]! * (f(middle - half * nodes16[i]!) + f(middle + half * nodes16[i]!));
	return sum * half;
}

const [node4a, node4b, weight4a, weight4b] = [0.33998104358485626, 0.8611363115940526, 0.6521451548625461, 0.34785484513745385];

/** One 4-point Gauss–Legendre rule over [a, b] (Abramowitz & Stegun 25.4.30). */
export function gauss4(f: (t: number) => number, a: number, b: number): number {
	const middle = (a + b) / 2;
	const half = (b - a) / 2;
	const [inner, outer] = [half * node4a, half * node4b];
	return half * (weight4a * (f(middle - inner) + f(middle + inner)) + weight4b * (f(middle - outer) + f(middle + outer)));
}

/** {@link gauss16} of a function, and of its absolute value. */
function gauss16WithSize(f: (t: number) => number, a: number, b: number): { whole: number; size: number } {
	const middle = (a + b) / 2;
	const half = (b - a) / 2;
	let [sum, size] = [0, 0];
	for (let i = 0; i < 8; i++) {
		const [before, after] = [f(middle - half * nodes16[i]!), f(middle + half * nodes16[i]!)];
		sum += weights16[i]! * (before + after);
		size += weights16[i]! * (Math.abs(before) + Math.abs(after));
	}
	return { whole: sum * half, size: size * half };
}

/**
 * Integral of a smooth function over [a, b], halving the interval until two 16-point rules agree
 * with one to 4e-14 of the integral of |f| or of `scale`, whichever is larger, or halving brings them
 * no nearer, as where only the rounding of f is left. A
 * `scale` is for integrands that may cancel down to noise.
 *
 * @param keep gets the stretches over which one rule holds, in order: the end of each, and the integral over it
 */
export function integrate(f: (t: number) => number, a: number, b: number, scale = 0, keep?: KeepStretch): number {
	const { whole, size } = gauss16WithSize(f, a, b);
	const magnitude = Math.max(scale, Math.abs(whole), size);
	// Without a finite magnitude no halving would ever settle.
	if (!Number.isFinite(magnitude)) return NaN;
	return refine(f, a, b, whole, 4e-14 * magnitude, Infinity, 12, keep);
}

function refine(
	f: (t: number) => number,
	a: number,
	b: number,
	whole: number,
	tolerance: number,
	before: number,
	depth: number,
	keep?: KeepStretch
): number {
	const middle = (a + b) / 2;
	const left = gauss16(f, a, middle);
	const right = gauss16(f, middle, b);
	const sum = left + right;
	const difference = Math.abs(sum - whole);
	// The first halvings may only bring a peak into sight; after them even a kink comes nearer by more than a half.
	if (depth === 0 || difference <= tolerance || (depth < 9 && difference > before / 2)) {
		keep?.(middle, left);
		keep?.(b, right);
		return sum;
	}
	return (
		refine(f, a, middle, left, tolerance, difference, depth - 1, keep) +
		refine(f, middle, b, right, tolerance, difference, depth - 1, keep)
	);
}
