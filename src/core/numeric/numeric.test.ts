import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import * as elementary from './elementary.ts';
import { turn } from './predicates.ts';
import { integrate } from './quadrature.ts';
import { solveCyclicTridiagonal, solveTridiagonal } from './tridiagonal.ts';

describe('orientation', () => {
	it('is positive to the left of a directed line, with y upward', () => {
		expect(turn(0, 0, 1, 0, 0.5, 1)).toBeGreaterThan(0);
		expect(turn(0, 0, 1, 0, 0.5, -1)).toBeLessThan(0);
		expect(turn(0, 0, 1, 1, 2, 2)).toBe(0);
	});

	it('is exact where floating point alone would guess', () => {
		// 0.5 + k·2^-53 steps: the sign of the determinant is that of k.
		for (let k = -4; k <= 4; k++) expect(Math.sign(turn(12, 12, 24, 24, 0.5, 0.5 + k * 2 ** -53))).toBe(Math.sign(k));
	});

	it('changes sign with the direction of the line', () => {
		const n = fc.double({ min: -1e3, max: 1e3, noNaN: true });
		fc.assert(
			fc.property(
				n,
				n,
				n,
				n,
				n,
				n,
				(a, b, c, d, e, f) => Math.sign(turn(a, b, c, d, e, f)) === -Math.sign(turn(c, d, a, b, e, f))
			)
		);
	});
});

describe('quadrature', () => {
	it('is exact for polynomials up to degree 31', () => {
		expect(integrate((t) => 32 * t ** 31, 0, 1)).toBeCloseTo(1, 13);
		expect(integrate((t) => 3 * t * t, -2, 5)).toBeCloseTo(133, 11);
	});

	it('halves the interval where one rule does not do', () => {
		expect(integrate((t) => 1 / (1e-4 + t * t), -1, 1)).toBeCloseTo(200 * Math.atan(100), 8);
		expect(integrate(Math.sqrt, 0, 1)).toBeCloseTo(2 / 3, 7);
	});

	it('ends on functions that cancel to nothing', () => {
		expect(Math.abs(integrate((t) => Math.sin(50 * t), -1, 1))).toBeLessThan(1e-13);
		expect(integrate(() => 0, 0, 1)).toBe(0);
	});
});

describe('tridiagonal systems', () => {
	const values = fc.array(fc.double({ min: -10, max: 10, noNaN: true }), { minLength: 3, maxLength: 30 });

	it('give back the unknowns that made their right-hand side', () => {
		fc.assert(
			fc.property(values, (x) => {
				const n = x.length;
				const [lower, diagonal, upper] = [
					new Float64Array(n).fill(1),
					new Float64Array(n).fill(4),
					new Float64Array(n).fill(1.5)
				];
				const right = Float64Array.from(x, (v, i) => 4 * v + (i > 0 ? x[i - 1]! : 0) + (i < n - 1 ? 1.5 * x[i + 1]! : 0));
				solveTridiagonal(lower, diagonal, upper, right);
				right.forEach((v, i) => expect(v).toBeCloseTo(x[i]!, 9));
			})
		);
	});

	it('close in a ring where they are cyclic', () => {
		fc.assert(
			fc.property(values, (x) => {
				const n = x.length;
				const [lower, diagonal, upper] = [
					new Float64Array(n).fill(1),
					new Float64Array(n).fill(4),
					new Float64Array(n).fill(1.5)
				];
				const right = Float64Array.from(x, (v, i) => 4 * v + x[(i + n - 1) % n]! + 1.5 * x[(i + 1) % n]!);
				solveCyclicTridiagonal(lower, diagonal, upper, right);
				right.forEach((v, i) => expect(v).toBeCloseTo(x[i]!, 9));
			})
		);
	});
});

describe('elementary functions', () => {
	const x = fc.double({ min: -30, max: 30, noNaN: true });

	it('agree with those of the engine to its last digits', () => {
		fc.assert(
			fc.property(x, (v) => {
				for (const name of ['sin', 'cos', 'atan', 'exp', 'expm1'] as const) {
					const [ours, theirs] = [elementary[name](v), Math[name](v)];
					expect(Math.abs(ours - theirs)).toBeLessThanOrEqual(4e-16 * Math.max(1, Math.abs(theirs)));
				}
			})
		);
	});

	it('have the last bit that they had when this was written, in every engine', () => {
		const bits = (v: number) => new BigUint64Array(Float64Array.of(v).buffer)[0]!.toString(16);
		expect(
			[
				elementary.sin(1),
				elementary.cos(2),
				elementary.atan2(1, 3),
				elementary.log(10),
				elementary.expm1(0.1),
				elementary.pow(12, 1 / 29)
			].map(bits)
		).toMatchInlineSnapshot(`
			[
			  "3feaed548f090cee",
			  "bfdaa22657537205",
			  "3fd4978fa3269ee1",
			  "40026bb1bbb55516",
			  "3fbaec7b35a00d3a",
			  "3ff16e727e485c14",
			]
		`);
	});

	it('hypot is the length of a step', () => {
		expect(elementary.hypot(3, 4)).toBe(5);
		expect(elementary.square(-1.5)).toBe(2.25);
	});
});
