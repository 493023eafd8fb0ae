import { cos, cosh, sin, sinh } from '../../numeric/elementary.ts';
import { SpacingError } from './spacing-error.ts';

/**
 * A spacing with the size of both end cells given, smooth in between: the hyperbolic-tangent
 * stretching of Vinokur (1983, eqs. 32–47), whose end slopes are corrected until the end cells
 * themselves, not only the slopes, have the sizes asked for.
 *
 * @param first, last sizes of the end cells as fractions of the piece
 * @returns n + 1 fractions from 0 to 1
 * @throws SpacingError when the count leaves no room for them
 */
export function twoEndedPositions(count: number, first: number, last: number): Float64Array {
	if (count === 1 && Math.abs(first - 1) < 1e-12 && Math.abs(last - 1) < 1e-12) return Float64Array.of(0, 1);
	if (count === 2 && Math.abs(first + last - 1) < 1e-12) return Float64Array.of(0, first, 1);
	if (count < 3)
		throw new SpacingError(
			`${count} division${count === 1 ? '' : 's'} cannot have both a first and a last cell of their own size; use at least 3`
		);
	if (!(first + last < 1))
		throw new SpacingError('the first and the last cell together are longer than the piece; use smaller ones');
	let [s0, s1] = [first * count, last * count];
	let at = vinokur(count, s0, s1);
	for (let k = 0; k < 200; k++) {
		const [f, l] = [first / at[1]!, last / (1 - at[count - 1]!)];
		if (Math.abs(f - 1) < 1e-14 && Math.abs(l - 1) < 1e-14 + 1e-16 / last) break;
		s0 *= f;
		s1 *= l;
		at = vinokur(count, s0, s1);
	}
	const monotone = at.every((v, k) => k === 0 || v > at[k - 1]!);
	if (
		!monotone ||
		!(Math.abs(at[1]! - first) < 1e-11 * first + 1e-15) ||
		!(Math.abs(1 - at[count - 1]! - last) < 1e-11 * last + 1e-12)
	)
		throw new SpacingError(
			`no smooth spacing of ${count} divisions has end cells of ${brief(first)} and ${brief(last)} of the piece; use ${first + last > 2 / count ? 'fewer' : 'more'} divisions or sizes nearer to ${brief(1 / count)}`
		);
	return at;
}

const brief = (value: number) => String(Number(value.toPrecision(4)));

/** Vinokur's function with slopes ds/dξ of s0 and s1 at the ends, ξ running from 0 to 1. */
function vinokur(count: number, s0: number, s1: number): Float64Array {
	const a = Math.sqrt(s1 / s0);
	const b = 1 / Math.sqrt(s0 * s1);
	const delta = b > 1 ? inverseSinhRatio(b) : inverseSinRatio(b);
	const half = delta / 2;
	const at = new Float64Array(count + 1);
	for (let k = 1; k < count; k++) {
		const [t, x] = [k / count, k / count - 0.5];
		// ½ + tanh(δx)/(2 tanh(δ/2)), in a form that loses no digits near the start.
		let u = t + 2 * (b - 1) * t * x * (1 - t);
		if (b > 1 + 1e-7) u = sinh(delta * t) / (2 * cosh(delta * x) * sinh(half));
		else if (b < 1 - 1e-7) u = sin(delta * t) / (2 * cos(delta * x) * sin(half));
		at[k] = u / (a + (1 - a) * u);
	}
	at[count] = 1;
	return at;
}

/** δ with sinh δ/δ = b > 1. */
function inverseSinhRatio(b: number): number {
	return bisect((d) => sinh(d) / d - b, 1e-8, 60);
}

/** δ in (0, π) with sin δ/δ = b < 1. */
function inverseSinRatio(b: number): number {
	return bisect((d) => b - sin(d) / d, 1e-8, Math.PI - 1e-9);
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
