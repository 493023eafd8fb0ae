import { describe, expect, it } from 'vitest';
import { alongHilbertCurve } from './hilbert-order.ts';

describe('the order along a Hilbert curve', () => {
	it.each([2, 8, 64])('goes through a grid of %s × as many places from each to one beside it', (n) => {
		const x = Float64Array.from({ length: n * n }, (_, k) => 3 + (k % n));
		const y = Float64Array.from({ length: n * n }, (_, k) => -7 + Math.floor(k / n));
		const order = alongHilbertCurve(x, y);
		expect(new Set(order).size).toBe(n * n);
		for (let k = 1; k < order.length; k++) {
			const [p, q] = [order[k - 1]!, order[k]!];
			expect(Math.abs(x[p]! - x[q]!) + Math.abs(y[p]! - y[q]!)).toBe(1);
		}
		expect([x[order[0]!], y[order[0]!]]).toEqual([3, -7]);
		expect([x[order.at(-1)!], y[order.at(-1)!]]).toEqual([3 + n - 1, -7]);
	});

	it('leaves places that are one in the order of their numbers', () => {
		expect(alongHilbertCurve(Float64Array.of(1, 1, 1), Float64Array.of(2, 2, 2))).toEqual(Int32Array.of(0, 1, 2));
		expect(alongHilbertCurve(new Float64Array(0), new Float64Array(0))).toEqual(new Int32Array(0));
	});
});
