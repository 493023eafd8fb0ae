import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { largestCurvature } from './curvature.ts';

const double = fc.double({ min: -5, max: 5, noNaN: true });

/** A grid of nodes, a little shaken, as triangles. */
function grid(n: number): { x: Float64Array; y: Float64Array; triangles: Uint32Array } {
	let seed = 11;
	const shake = () => ((seed = (seed * 16807) % 2147483647) / 2147483647 - 0.5) / (3 * n);
	const [x, y, triangles]: [number[], number[], number[]] = [[], [], []];
	for (let j = 0; j <= n; j++)
		for (let i = 0; i <= n; i++) {
			x.push(i / n + shake());
			y.push(j / n + shake());
			const p = j * (n + 1) + i;
			if (i < n && j < n) triangles.push(p, p + 1, p + n + 2, p, p + n + 2, p + n + 1);
		}
	return { x: Float64Array.from(x), y: Float64Array.from(y), triangles: Uint32Array.from(triangles) };
}

describe('the largest curvature of a field', () => {
	it('is that of a quadratic everywhere, at the boundary too, on a mesh and among bare places', () => {
		fc.assert(
			fc.property(double, double, double, double, double, fc.boolean(), (xx, xy, yy, a, b, meshed) => {
				const { x, y, triangles } = grid(8);
				const values = x.map((px, k) => a * px + b * y[k]! + (xx / 2) * px * px + xy * px * y[k]! + (yy / 2) * y[k]! * y[k]!);
				const root = Math.hypot((xx - yy) / 2, xy);
				const expected = Math.max(Math.abs((xx + yy) / 2 + root), Math.abs((xx + yy) / 2 - root));
				for (const found of largestCurvature(meshed ? { x, y, triangles } : { x, y }, values))
					expect(Math.abs(found - expected)).toBeLessThan(1e-5 * (1 + Math.abs(a) + Math.abs(b) + expected));
			}),
			{ numRuns: 40 }
		);
	});

	it('is nothing where too few places lie around, or all on one line', () => {
		const x = Float64Array.from({ length: 12 }, (_, k) => k);
		expect([...largestCurvature({ x, y: new Float64Array(12) }, new Float64Array(12))]).toEqual(new Array(12).fill(0));
		expect([...largestCurvature({ x: Float64Array.of(0, 1, 2), y: Float64Array.of(0, 1, 0) }, Float64Array.of(1, 2, 3))]).toEqual(
			[0, 0, 0]
		);
	});
});
