import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NONE, QuadMesh } from './quad-mesh.ts';
import { objective } from './smooth.ts';

const shake = fc.double({ min: -0.3, max: 0.3, noNaN: true });

describe('the objective of a node', () => {
	it('has the slopes and second derivatives that its values have, among quadrilaterals and triangles, folded or not', () => {
		fc.assert(
			fc.property(fc.array(shake, { minLength: 18, maxLength: 18 }), fc.boolean(), (moves, withTriangles) => {
				const x = Float64Array.from({ length: 9 }, (_, k) => (k % 3) + moves[k]!);
				const y = Float64Array.from({ length: 9 }, (_, k) => Math.floor(k / 3) + moves[9 + k]!);
				const mesh = new QuadMesh(x, y, 0, new Uint32Array(0));
				for (const [a, b, c, d] of [
					[0, 1, 4, 3],
					[1, 2, 5, 4],
					[4, 5, 8, 7],
					[3, 4, 7, 6]
				] as const) {
					if (withTriangles && a === 4) {
						mesh.add(a, b, c, NONE);
						mesh.add(a, c, d, NONE);
					} else mesh.add(a, b, c, d);
				}
				const soft = 0.02 ** 2;
				const valueAt = (dx: number, dy: number) => {
					const [px, py] = [mesh.x[4]!, mesh.y[4]!];
					mesh.x[4] = px + dx;
					mesh.y[4] = py + dy;
					const { value } = objective(mesh, 4, soft, false);
					mesh.x[4] = px;
					mesh.y[4] = py;
					return value;
				};
				const { value, x: gx, y: gy, xx, xy, yy } = { ...objective(mesh, 4, soft, true) };
				const h = 1e-4;
				const near = (expected: number, found: number, by: number) =>
					expect(Math.abs(expected - found)).toBeLessThan(by * (1 + value + Math.abs(expected)));
				near(gx, (valueAt(h, 0) - valueAt(-h, 0)) / (2 * h), 1e-4);
				near(gy, (valueAt(0, h) - valueAt(0, -h)) / (2 * h), 1e-4);
				near(xx, (valueAt(h, 0) - 2 * value + valueAt(-h, 0)) / (h * h), 1e-2);
				near(yy, (valueAt(0, h) - 2 * value + valueAt(0, -h)) / (h * h), 1e-2);
				near(xy, (valueAt(h, h) - valueAt(h, -h) - valueAt(-h, h) + valueAt(-h, -h)) / (4 * h * h), 1e-2);
			}),
			{ numRuns: 200 }
		);
	});
});
