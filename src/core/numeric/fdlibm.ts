/*
 * Elementary functions after two freely distributed libraries: `sin`, `cos`, `tan`, `exp`, `expm1`, `log` and `pow` after fdlibm
 * (as it stands in FreeBSD), `asin`, `acos`, `atan` and `atan2` after Cephes. They use additions, multiplications, divisions and
 * square roots alone, which IEEE 754 fixes to the last bit, so that they give the same bits on every engine.
 *
 * fdlibm: Copyright (C) 1993, 2004 by Sun Microsystems, Inc. All rights reserved. Developed at SunPro, a Sun Microsystems, Inc.
 * business. Permission to use, copy, modify, and distribute this software is freely granted, provided that this notice is
 * preserved.
 *
 * Cephes: Copyright 1984, 1995, 2000 by Stephen L. Moshier. What you see here may be used freely but it comes with no support or
 * guarantee.
 */

const double = new Float64Array(1);
const words = new Uint32Array(double.buffer);
/** A double stands in memory as two words of 32 bits; machines differ in which of them comes first. */
const HIGH = new Uint8Array(new Uint32Array([1]).buffer)[0] === 1 ? 1 : 0;
const LOW = 1 - HIGH;

/** The upper 32 bits: sign, exponent and the first 20 bits of the fraction. */
function highWord(x: number): number {
	double[0] = x;
	return words[HIGH]! | 0;
}

/** The exponent as it is stored, 1023 above the true one. */
const exponentOf = (x: number): number => (highWord(x) >> 20) & 0x7ff;

function withHighWord(x: number, high: number): number {
	double[0] = x;
	words[HIGH] = high;
	return double[0]!;
}

/** The upper half of a double; products of two of these are exact. */
function upperHalf(x: number): number {
	double[0] = x;
	words[LOW] = 0;
	return double[0]!;
}

/** 2^n for −1022 ≤ n ≤ 1023. */
const powerOfTwo = (n: number): number => withHighWord(0, (n + 1023) << 20);

/** x · 2^n for x between ½ and 2, rounded once. */
function scaled(x: number, n: number): number {
	if (n > 1022) return x * powerOfTwo(1022) * powerOfTwo(n - 1022);
	return n < -1021 ? x * powerOfTwo(n + 64) * powerOfTwo(-64) : x * powerOfTwo(n);
}

/* ------------------------------------------------------------------ sine, cosine, tangent */

/** What `reduced` leaves: x = n·π/2 + remainder + correction. */
let remainder = 0;
let correction = 0;

/** 2/π in 1584 bits behind the point. */
const twoOverPi = BigInt(
	'0xA2F9836E4E441529FC2757D1F534DDC0DB6295993C439041FE5163ABDEBBC561B7246E3A424DD2E006492EEA09D1921CFE1DEB1CB129' +
		'A73EE88235F52EBB4484E99C7026B45F7E413991D639835339F49C845F8BBDF9283B1FF897FFDE05980FEF2F118B5A0A6D1F6D367ECF' +
		'27CB09B74F463F669E5FEA2D7527BAC7EBE5F17B3D0739F78A5292EA6BFB5FB11F8D5D08560330' +
		'46FC7B6BABF0CFBC209AF4361DA9E391615EE61B086599855F14A068408DFFD8804D7327310606' +
		'1556CA73A8C960E27BC08C6B'
);
const bitsOfTwoOverPi = 1584n;
/** π/2 in 160 bits behind the point. */
const piHalf160 = BigInt('0x1921FB54442D18469898CC51701B839A252049C11');

const PI_HALF_1 = 1.57079632673412561417;
const PI_HALF_1_TAIL = 6.0771005065061922493e-11;
const PI_HALF_2 = 6.0771005063039659766e-11;
const PI_HALF_2_TAIL = 2.02226624879595063154e-21;
const PI_HALF_3 = 2.0222662487111664558e-21;
const PI_HALF_3_TAIL = 8.47842766036889956997e-32;

/**
 * Takes the nearest multiple of π/2 from x (|x| > π/4, finite), leaves the rest in `remainder` and `correction`, and returns
 * the multiple, of which the last two bits count. π/2 is subtracted in three parts (Cody and Waite 1980); beyond 2²⁰·π/2 the
 * argument is multiplied by enough bits of 2/π (Payne and Hanek 1983).
 */
function reduced(x: number): number {
	if (Math.abs(x) >= 1647099) return reducedLarge(x);
	const size = highWord(x) & 0x7fffffff;
	const exponent = size >> 20;
	const n = size <= 0x401c463b ? smallMultiple(size) * (x < 0 ? -1 : 1) : Math.round(x * 6.36619772367581382433e-1);
	let rest = x - n * PI_HALF_1;
	let tail = n * PI_HALF_1_TAIL;
	remainder = rest - tail;
	if (exponent - exponentOf(remainder) > 16) {
		const before = rest;
		tail = n * PI_HALF_2;
		rest = before - tail;
		tail = n * PI_HALF_2_TAIL - (before - rest - tail);
		remainder = rest - tail;
		if (exponent - exponentOf(remainder) > 49) {
			const second = rest;
			tail = n * PI_HALF_3;
			rest = second - tail;
			tail = n * PI_HALF_3_TAIL - (second - rest - tail);
			remainder = rest - tail;
		}
	}
	correction = rest - remainder - tail;
	return n;
}

/** The multiple of π/2 nearest to a number up to 9π/4, by the upper word of the number. */
function smallMultiple(size: number): number {
	if (size <= 0x4002d97c) return 1;
	if (size <= 0x400f6a7a) return 2;
	return size <= 0x4015fdbc ? 3 : 4;
}

function reducedLarge(x: number): number {
	const high = highWord(x);
	const exponent = exponentOf(x) - 1075;
	const fraction = (BigInt((high & 0xfffff) | 0x100000) << 32n) | BigInt(words[LOW]!);
	// x · 2/π as a whole number of 2^-1584, and its nearest whole multiple.
	const product = exponent < 0 ? (fraction * twoOverPi) >> BigInt(-exponent) : (fraction * twoOverPi) << BigInt(exponent);
	const multiple = (product + (1n << (bitsOfTwoOverPi - 1n))) >> bitsOfTwoOverPi;
	// The rest times π/2, both with 160 bits, of which the double nearest to it and what that one leaves are taken.
	const rest = (product - (multiple << bitsOfTwoOverPi)) >> (bitsOfTwoOverPi - 160n);
	const angle = rest * piHalf160;
	const sign = x < 0 ? -1 : 1;
	const nearest = Number(angle);
	remainder = sign * nearest * powerOfTwo(-320);
	correction = sign * Number(angle - BigInt(nearest)) * powerOfTwo(-320);
	return sign * Number(multiple & 3n);
}

/** sin(x + y) for |x| ≤ π/4, y the tail of x. */
function kernelSin(x: number, y: number): number {
	const z = x * x;
	const w = z * z;
	const r =
		8.33333333332248946124e-3 +
		z * (-1.98412698298579493134e-4 + z * 2.75573137070700676789e-6) +
		z * w * (-2.50507602534068634195e-8 + z * 1.58969099521155010221e-10);
	const v = z * x;
	if (y === 0) return x + v * (-1.66666666666666324348e-1 + z * r);
	return x - (z * (0.5 * y - v * r) - y - v * -1.66666666666666324348e-1);
}

/** cos(x + y) for |x| ≤ π/4, y the tail of x. */
function kernelCos(x: number, y: number): number {
	const z = x * x;
	let w = z * z;
	let r = z * (0.0416666666666666 + z * (-0.001388888888887411 + z * 0.00002480158728947673));
	r += w * w * (-2.7557314351390663e-7 + z * (2.087572321298175e-9 + z * -1.1359647557788195e-11));
	const half = 0.5 * z;
	w = 1 - half;
	return w + (1 - w - half + (z * r - x * y));
}

/** tan(x + y) for |x| ≤ π/4, y the tail of x; −1/tan where `inverse`. */
function kernelTan(x: number, y: number, inverse: boolean): number {
	const high = highWord(x);
	const large = (high & 0x7fffffff) >= 0x3fe59428;
	if (large) {
		x = 7.85398163397448278999e-1 - Math.abs(x) + (3.06161699786838301793e-17 - (high < 0 ? -y : y));
		y = 0;
	}
	const z = x * x;
	let w = z * z;
	const odd =
		0.13333333333320124 +
		w *
			(0.021869488294859542 +
				w * (0.0035920791075913124 + w * (0.0005880412408202641 + w * (0.00007817944429395571 + w * -0.000018558637485527546))));
	const even =
		z *
		(0.05396825397622605 +
			w *
				(0.0088632398235993 +
					w * (0.0014562094543252903 + w * (0.0002464631348184699 + w * (0.00007140724913826082 + w * 0.00002590730518636337)))));
	const s = z * x;
	let r = y + z * (s * (odd + even) + y);
	r += 3.33333333333334091986e-1 * s;
	w = x + r;
	if (large) {
		const v = inverse ? -1 : 1;
		return (high < 0 ? -1 : 1) * (v - 2 * (x - ((w * w) / (w + v) - r)));
	}
	if (!inverse) return w;
	// −1/(x + r) to the last bit.
	const start = upperHalf(w);
	const rest = r - (start - x);
	const a = -1 / w;
	const t = upperHalf(a);
	return t + a * (1 + t * start + t * rest);
}

export function sin(x: number): number {
	const size = highWord(x) & 0x7fffffff;
	if (size <= 0x3fe921fb) return size < 0x3e500000 ? x : kernelSin(x, 0);
	if (size >= 0x7ff00000) return NaN;
	const n = reduced(x) & 3;
	const value = n & 1 ? kernelCos(remainder, correction) : kernelSin(remainder, correction);
	return n > 1 ? -value : value;
}

export function cos(x: number): number {
	const size = highWord(x) & 0x7fffffff;
	if (size <= 0x3fe921fb) return size < 0x3e400000 ? 1 : kernelCos(x, 0);
	if (size >= 0x7ff00000) return NaN;
	const n = reduced(x) & 3;
	const value = n & 1 ? kernelSin(remainder, correction) : kernelCos(remainder, correction);
	return n === 1 || n === 2 ? -value : value;
}

export function tan(x: number): number {
	const size = highWord(x) & 0x7fffffff;
	if (size <= 0x3fe921fb) return size < 0x3e400000 ? x : kernelTan(x, 0, false);
	if (size >= 0x7ff00000) return NaN;
	const n = reduced(x);
	return kernelTan(remainder, correction, (n & 1) !== 0);
}

/* ------------------------------------------------------------------ their inverses */

const PI_QUARTER = Math.PI / 4;
const PI_HALF = Math.PI / 2;
/** What π/2 is beyond its double. */
const PI_HALF_TAIL = 6.12323399573676588613e-17;

export function asin(x: number): number {
	const a = Math.abs(x);
	if (!(a <= 1)) return NaN;
	if (a < 1e-8) return x;
	let value: number;
	if (a > 0.625) {
		let z = 1 - a;
		const p =
			z *
			((28.536655482610616 +
				z * (-25.56901049652825 + z * (6.968710824104713 + z * (-0.5634242780008963 + z * 0.002967721961301243)))) /
				(342.43986579130785 + z * (-383.8770957603691 + z * (147.0656354026815 + z * (-21.947795316429207 + z)))));
		z = Math.sqrt(z + z);
		value = PI_QUARTER - z;
		value -= z * p - PI_HALF_TAIL;
		value += PI_QUARTER;
	} else {
		const z = a * a;
		const p =
			z *
			((-8.198089802484825 +
				z *
					(19.562619833175948 +
						z * (-16.262479672107002 + z * (5.444622390564711 + z * (-0.6019598008014124 + z * 0.004253011369004428))))) /
				(-49.18853881490881 +
					z * (139.51056146574857 + z * (-147.1791292232726 + z * (70.49610280856842 + z * (-14.740913729888538 + z))))));
		value = a * p + a;
	}
	return x > 0 ? value : -value;
}

export function acos(x: number): number {
	if (!(Math.abs(x) <= 1)) return NaN;
	if (x > 0.5) return 2 * asin(Math.sqrt(0.5 - 0.5 * x));
	return PI_QUARTER - asin(x) + PI_HALF_TAIL + PI_QUARTER;
}

export function atan(x: number): number {
	if (Number.isNaN(x) || x === 0) return x;
	let a = Math.abs(x);
	let start = 0;
	let tail = 0;
	if (a > 2.4142135623730950488) {
		start = PI_HALF;
		tail = PI_HALF_TAIL;
		a = -(1 / a);
	} else if (a > 0.66) {
		start = PI_QUARTER;
		tail = 0.5 * PI_HALF_TAIL;
		a = (a - 1) / (a + 1);
	}
	let z = a * a;
	z =
		(z *
			(-64.85021904942025 +
				z * (-122.88666844901361 + z * (-75.00855792314705 + z * (-16.157537187333652 + z * -0.8750608600031904))))) /
		(194.5506571482614 +
			z * (485.3903996359137 + z * (432.88106049129027 + z * (165.02700983169885 + z * (24.858464901423062 + z)))));
	z = a * z + a;
	if (tail !== 0) z += tail;
	const value = start + z;
	return x < 0 ? -value : value;
}

export function atan2(y: number, x: number): number {
	if (Number.isNaN(x) || Number.isNaN(y)) return NaN;
	const sign = y < 0 || Object.is(y, -0) ? -1 : 1;
	if (!Number.isFinite(x)) {
		if (x > 0) return sign * (Number.isFinite(y) ? 0 : PI_QUARTER);
		return sign * (Number.isFinite(y) ? Math.PI : (3 * Math.PI) / 4);
	}
	if (!Number.isFinite(y)) return sign * PI_HALF;
	if (y === 0) return sign * (x > 0 || Object.is(x, 0) ? 0 : Math.PI);
	if (x === 0) return sign * PI_HALF;
	const q = atan(y / x);
	if (x > 0) return q;
	return q <= 0 ? q + Math.PI : q - Math.PI;
}

/* ------------------------------------------------------------------ exponentials and logarithms */

const LN2_HIGH = 6.9314718036912381649e-1;
const LN2_LOW = 1.90821492927058770002e-10;

/** The polynomial of Remez for x·coth(x/2) that `exp` and `pow` share; x is the square of the argument. */
const expPolynomial = (x: number): number =>
	0.16666666666666602 +
	x * (-0.0027777777777015593 + x * (0.00006613756321437934 + x * (-0.0000016533902205465252 + x * 4.1381367970572385e-8)));

export function exp(x: number): number {
	if (Number.isNaN(x)) return x;
	if (x > 709.782712893383973096) return Infinity;
	if (x < -745.13321910194110842) return 0;
	if (Math.abs(x) < 2 ** -28) return 1 + x;
	const k = Math.trunc(1.442695040888963387 * x + (x < 0 ? -0.5 : 0.5));
	const high = x - k * LN2_HIGH;
	const low = k * LN2_LOW;
	const r = high - low;
	const square = r * r;
	const c = r - square * expPolynomial(square);
	return scaled(1 - (low - (r * c) / (2 - c) - high), k);
}

/** exp(x) − 1, exact near zero. */
export function expm1(x: number): number {
	if (Number.isNaN(x) || x === 0) return x;
	const a = Math.abs(x);
	if (a >= 38.8162421113569373274) {
		if (x < 0) return -1;
		if (a >= 709.782712893383973096) return Infinity;
	}
	let k = 0;
	let c = 0;
	if (a > Math.LN2 / 2) {
		if (a < 1.03972077083991796413) k = x < 0 ? -1 : 1;
		else k = Math.trunc(1.442695040888963387 * x + (x < 0 ? -0.5 : 0.5));
		const high = x - k * LN2_HIGH;
		const low = k * LN2_LOW;
		x = high - low;
		c = high - x - low;
	} else if (highWord(a) < 0x3c900000) return x;

	const half = 0.5 * x;
	const z = x * half;
	const r =
		1 +
		z *
			(-0.03333333333333313 +
				z * (0.0015873015872548146 + z * (-0.0000793650757867488 + z * (0.000004008217827329362 + z * -2.0109921818362437e-7))));
	const t = 3 - r * half;
	let e = z * ((r - t) / (6 - x * t));
	if (k === 0) return x - (x * e - z);
	e = x * (e - c) - c;
	e -= z;
	if (k === -1) return 0.5 * (x - e) - 0.5;
	if (k === 1) return x < -0.25 ? -2 * (e - (x + 0.5)) : 1 + 2 * (x - e);
	if (k <= -2 || k > 56) return scaled(1 - (e - x), k) - 1;
	if (k < 20) return (1 - powerOfTwo(-k) - (e - x)) * powerOfTwo(k);
	return (x - (e + powerOfTwo(-k)) + 1) * powerOfTwo(k);
}

/** The natural logarithm. */
export function log(x: number): number {
	if (x === 0) return -Infinity;
	if (!(x > 0)) return NaN;
	let high = highWord(x);
	let k = 0;
	if (high < 0x00100000) {
		k = -54;
		x *= 2 ** 54;
		high = highWord(x);
	}
	if (high >= 0x7ff00000) return x;
	k += (high >> 20) - 1023;
	high &= 0xfffff;
	const i = (high + 0x95f64) & 0x100000;
	x = withHighWord(x, high | (i ^ 0x3ff00000));
	k += i >> 20;
	const f = x - 1;
	if ((0xfffff & (2 + high)) < 3) {
		if (f === 0) return k === 0 ? 0 : k * LN2_HIGH + k * LN2_LOW;
		const r = f * f * (0.5 - 0.33333333333333333 * f);
		return k === 0 ? f - r : k * LN2_HIGH - (r - k * LN2_LOW - f);
	}
	const s = f / (2 + f);
	const z = s * s;
	const w = z * z;
	const r =
		z * (0.6666666666666735 + w * (0.2857142874366239 + w * (0.1818357216161805 + w * 0.14798198605116586))) +
		w * (0.3999999999940942 + w * (0.22222198432149784 + w * 0.15313837699209373));
	if (((high - 0x6147a) | (0x6b851 - high)) > 0) {
		const half = 0.5 * f * f;
		return k === 0 ? f - (half - s * (half + r)) : k * LN2_HIGH - (half - (s * (half + r) + k * LN2_LOW) - f);
	}
	return k === 0 ? f - s * (f - r) : k * LN2_HIGH - (s * (f - r) - k * LN2_LOW - f);
}

/* ------------------------------------------------------------------ powers */

/** log2(x) in two parts, as `pow` multiplies it. */
let logHigh = 0;
let logLow = 0;

/** log2(a) for a > 0 to about 66 bits. */
function logarithm2(a: number): void {
	let n = 0;
	let high = highWord(a);
	if (high < 0x00100000) {
		a *= 2 ** 53;
		n = -53;
		high = highWord(a);
	}
	n += (high >> 20) - 1023;
	const fraction = high & 0xfffff;
	high = fraction | 0x3ff00000;
	let k = 0;
	if (fraction > 0x3988e) {
		if (fraction < 0xbb67a) k = 1;
		else {
			n++;
			high -= 0x00100000;
		}
	}
	a = withHighWord(a, high);
	// s = (a − b)/(a + b) with b = 1 or 1.5, in two parts.
	const b = k === 0 ? 1 : 1.5;
	const u = a - b;
	const v = 1 / (a + b);
	const s = u * v;
	const sHigh = upperHalf(s);
	const sumHigh = withHighWord(0, ((high >> 1) | 0x20000000) + 0x00080000 + (k << 18));
	const sumLow = a - (sumHigh - b);
	const sLow = v * (u - sHigh * sumHigh - sHigh * sumLow);
	let s2 = s * s;
	let r =
		s2 *
		s2 *
		(0.5999999999999946 +
			s2 *
				(0.4285714285785502 +
					s2 * (0.33333332981837743 + s2 * (0.272728123808534 + s2 * (0.23066074577556175 + s2 * 0.20697501780033842)))));
	r += sLow * (sHigh + s);
	s2 = sHigh * sHigh;
	const tHigh = upperHalf(3 + s2 + r);
	const tLow = r - (tHigh - 3 - s2);
	const p = sHigh * tHigh;
	const q = sLow * tHigh + tLow * s;
	const pHigh = upperHalf(p + q);
	const pLow = q - (pHigh - p);
	const zHigh = 9.61796700954437255859e-1 * pHigh;
	const zLow = -7.02846165095275826516e-9 * pHigh + pLow * 9.61796693925975554329e-1 + (k === 0 ? 0 : 1.35003920212974897128e-8);
	const d = k === 0 ? 0 : 5.84962487220764160156e-1;
	logHigh = upperHalf(zHigh + zLow + d + n);
	logLow = zLow - (logHigh - n - d - zHigh);
}

/** log2(a) for |1 − a| ≤ 2^-20. */
function logarithm2NearOne(a: number): void {
	const t = a - 1;
	const w = t * t * (0.5 + t * (-0.3333333333333333 + t * 0.25));
	const u = 1.44269502162933349609 * t;
	const v = t * 1.92596299112661746887e-8 - w * 1.442695040888963387;
	logHigh = upperHalf(u + v);
	logLow = v - (logHigh - u);
}

/** 2^(high + low), `high` with its lower half empty. */
function twoToThe(high: number, low: number): number {
	const n = Math.abs(high + low) > 0.5 ? nearestAwayFromZero(high + low) : 0;
	high -= n;
	const t = upperHalf(low + high);
	const u = t * 6.93147182464599609375e-1;
	const v = (low - (t - high)) * Math.LN2 + t * -1.90465429995776804525e-9;
	const z = u + v;
	const w = v - (z - u);
	const square = z * z;
	const q = z - square * expPolynomial(square);
	const r = (z * q) / (q - 2) - (w + z * w);
	return scaled(1 - (r - z), n);
}

const nearestAwayFromZero = (x: number): number => Math.sign(x) * Math.floor(Math.abs(x) + 0.5);

const isOdd = (y: number): boolean => Math.abs(y % 2) === 1;

export function pow(x: number, y: number): number {
	if (Number.isNaN(x) || Number.isNaN(y)) return NaN;
	switch (y) {
		case 0:
			return 1;
		case 1:
			return x;
		case -1:
			return 1 / x;
		case 0.5:
			return Math.sqrt(x);
		case -0.5:
			return 1 / Math.sqrt(x);
		case 2:
			return x * x;
		case 3:
			return x * x * x;
		case 4: {
			const square = x * x;
			return square * square;
		}
	}
	const a = Math.abs(x);
	if (x === 1 || (x === -1 && Math.abs(y) === Infinity)) return x === 1 ? 1 : NaN;
	const negative = (x < 0 || Object.is(x, -0)) && isOdd(y);
	if (a === 0 || a === Infinity || Math.abs(y) === Infinity) {
		const value = a === 1 ? 1 : a > 1 === y > 0 ? Infinity : 0;
		return negative ? -value : value;
	}
	if (x < 0 && !Number.isInteger(y)) return NaN;
	const sign = negative ? -1 : 1;
	if (a === 1) return sign;

	const size = highWord(y) & 0x7fffffff;
	if (size > 0x41e00000) {
		const high = highWord(a);
		if (size > 0x43f00000 || high < 0x3fefffff || high > 0x3ff00000) return sign * (a > 1 === y > 0 ? Infinity : 0);
		logarithm2NearOne(a);
	} else logarithm2(a);

	const yHigh = upperHalf(y);
	const low = (y - yHigh) * logHigh + y * logLow;
	const high = yHigh * logHigh;
	const z = low + high;
	if (z > 1024 || (z === 1024 && low + 8.0085662595372944372e-17 > z - high)) return sign * Infinity;
	if (z < -1075 || (z === -1075 && low <= z - high)) return sign * 0;
	return sign * twoToThe(high, low);
}
