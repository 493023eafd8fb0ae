import { describe, expect, it } from 'vitest';
import { acos, asin, atan, atan2, cos, exp, expm1, log, pow, sin, tan } from './fdlibm.ts';

/** Numbers of a linear congruential sequence between 0 and 1, the same on every machine (Knuth, TAOCP 2, 3.3.4, table 1, line 16). */
function sequence(): () => number {
	let state = 12345;
	return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

/** Near zero, near one, of moderate size, and near multiples of π/4, where the reduction of angles cancels most. */
function argument(next: () => number): number {
	const kind = next();
	if (kind < 0.3) return (next() - 0.5) * 2;
	if (kind < 0.6) return (next() - 0.5) * 40;
	if (kind < 0.75) return (next() - 0.5) * 1400;
	if (kind < 0.85) return (next() - 0.5) * 3e6;
	if (kind < 0.93)
		return Math.round(next() * 1000 - 500) * (Math.PI / 4) * (1 + (next() - 0.5) * [1e-1, 1e-8, 1e-15][Math.floor(next() * 3)]!);
	return 1 + (next() - 0.5) * [1e-1, 1e-8, 1e-15][Math.floor(next() * 3)]!;
}

/** A checksum of the bits of the values at a million arguments (Fowler, Noll, Vo, 32 bits; all NaN count as one). */
function bits(f: (x: number, y: number) => number): string {
	const next = sequence();
	const value = new Float64Array(1);
	const words = new Uint32Array(value.buffer);
	let hash = 0x811c9dc5;
	for (let i = 0; i < 1e6; i++) {
		value[0] = f(argument(next), argument(next));
		if (Number.isNaN(value[0])) hash = Math.imul(hash ^ 1, 0x01000193);
		else hash = Math.imul(Math.imul(hash ^ words[0]!, 0x01000193) ^ words[1]!, 0x01000193);
	}
	return (hash >>> 0).toString(16);
}

describe('elementary functions', () => {
	it.each([
		['sin', sin, '330e08a1'],
		['cos', cos, '7c53e121'],
		['tan', tan, 'f2ca6a37'],
		['asin', asin, 'dda7353f'],
		['acos', acos, '8443a545'],
		['atan', atan, '7e8089b2'],
		['exp', exp, '16e59e50'],
		['expm1', expm1, 'd5fc3dbf'],
		['log', log, 'fb040576'],
		['pow', (x: number, y: number) => pow(Math.abs(x) + 1e-9, y / 1e5), '7571ece2'],
		['atan2', atan2, 'd1473d2a']
	])('%s gives the same bits at a million arguments', (_, f, expected) => {
		expect(bits(f)).toBe(expected);
	});

	it.each([
		['sin', sin, Math.sin],
		['cos', cos, Math.cos],
		['tan', tan, Math.tan],
		['asin', asin, Math.asin],
		['acos', acos, Math.acos],
		['atan', atan, Math.atan],
		['exp', exp, Math.exp],
		['expm1', expm1, Math.expm1],
		['log', log, Math.log]
	])('%s agrees with the engine to two units in the last place', (_, f, engine) => {
		const next = sequence();
		for (let i = 0; i < 20_000; i++) {
			const x = argument(next);
			const expected = engine(x);
			if (!Number.isFinite(expected)) expect(f(x)).toBe(expected);
			else expect(Math.abs(f(x) - expected)).toBeLessThanOrEqual(2 * 2.3e-16 * Math.abs(expected));
		}
	});

	it('reduces the largest angles without loss', () => {
		// Ng 1992, "Argument reduction for huge arguments: good to the last bit".
		expect(sin(1e22)).toBeCloseTo(-0.8522008497671888018, 15);
		expect(cos(1e22)).toBeCloseTo(0.5232147853951389455, 15);
		for (const x of [1e7, 2 ** 60, 1e100, 1.7e308]) {
			expect(sin(x) ** 2 + cos(x) ** 2).toBeCloseTo(1, 15);
			expect(sin(-x)).toBe(-sin(x));
			expect(tan(x)).toBeCloseTo(sin(x) / cos(x), 10);
		}
	});

	it('takes the limits as IEEE 754 has them', () => {
		expect(pow(0, -0.5)).toBe(Infinity);
		expect(pow(-0, -3)).toBe(-Infinity);
		expect(pow(-2, 3)).toBe(-8);
		expect(pow(-2, 0.3)).toBeNaN();
		expect(pow(-1, 2 ** 60)).toBe(1);
		expect(pow(-1, Infinity)).toBeNaN();
		expect(pow(2, 1024)).toBe(Infinity);
		expect(pow(2, -1074)).toBe(5e-324);
		expect(pow(2, -1076)).toBe(0);
		expect(pow(0.9999999999, 1e300)).toBe(0);
		expect(atan2(-0, -1)).toBe(-Math.PI);
		expect(atan2(-0, 1)).toBe(-0);
		expect(atan2(Infinity, -Infinity)).toBe((3 * Math.PI) / 4);
		expect(exp(-745)).toBe(5e-324);
		expect(exp(710)).toBe(Infinity);
		expect(expm1(-800)).toBe(-1);
		expect(log(-1)).toBeNaN();
		expect(log(0)).toBe(-Infinity);
		for (const f of [sin, cos, tan, asin, acos, log]) expect(f(NaN)).toBeNaN();
		for (const f of [sin, cos, tan]) expect(f(Infinity)).toBeNaN();
	});
});
