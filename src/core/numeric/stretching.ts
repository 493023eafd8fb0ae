import { cos, cosh, sin, sinh } from './elementary.ts';

/**
 * The stretching of [0, 1] onto itself with slopes s0 and s1 at its ends, smooth and rising in
 * between (Vinokur 1983, eqs. 32–47), in a form that loses no digits near the start.
 */
export function stretching(s0: number, s1: number): (t: number) => number {
	const a = Math.sqrt(s1 / s0);
	const b = 1 / Math.sqrt(s0 * s1);
	const isNear = Math.abs(b - 1) < 1e-7;
	const grows = b > 1;
	const delta = isNear
		? 0
		: grows
			? bisect((d) => sinh(d) / d - b, 1e-8, 60)
			: bisect((d) => b - sin(d) / d, 1e-8, Math.PI - 1e-9);
	const whole = 2 * (grows ? sinh(delta / 2) : sin(delta / 2));
	return (t) => {
		const x = t - 0.5;
		// ½ + tanh(δx)/(2 tanh(δ/2)), or with sine and tangent where the ends are larger than even.
		const u = isNear
			? t + 2 * (b - 1) * t * x * (1 - t)
			: grows
				? sinh(delta * t) / (cosh(delta * x) * whole)
				: sin(delta * t) / (cos(delta * x) * whole);
		return u / (a + (1 - a) * u);
	};
}

/**
 * Fractions `own` from 0 to 1, stretched so that the first cell is `first` and the last is `last`:
 * the slopes of the stretching are corrected until the cells themselves have these sizes. The last
 * iterate is given back, whether or not it got there.
 */
export function stretchToEnds(positions: ArrayLike<number>, first: number, last: number): Float64Array {
	const m = positions.length - 1;
	let [s0, s1] = [first / positions[1]!, last / (1 - positions[m - 1]!)];
	const out = new Float64Array(m + 1);
	out[m] = 1;
	for (let k = 0; k < 200; k++) {
		const stretch = stretching(s0, s1);
		for (let j = 1; j < m; j++) out[j] = stretch(positions[j]!);
		const [f, l] = [first / out[1]!, last / (1 - out[m - 1]!)];
		if (Math.abs(f - 1) < 1e-14 && Math.abs(l - 1) < 1e-14 + 1e-16 / last) break;
		s0 *= f;
		s1 *= l;
	}
	return out;
}

/** The root of a function that rises from below to above zero. */
function bisect(f: (d: number) => number, low: number, high: number): number {
	for (let k = 0; k < 100; k++) {
		const middle = (low + high) / 2;
		if (middle === low || middle === high) break;
		if (f(middle) < 0) low = middle;
		else high = middle;
	}
	return (low + high) / 2;
}
