import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { slideToNormals } from './control-map.ts';
import { fillTransfinite } from './transfinite.ts';
import { wallFigures, type BlockNodes } from './walls.ts';
import { worstCorner } from './smooth.ts';

type Curve = (t: number) => [number, number];

/** A grid by transfinite interpolation between four curves, of which the first and third run the same way. */
function gridOf(
	n: number,
	m: number,
	[bottom, right, top, left]: [Curve, Curve, Curve, Curve]
): { grid: BlockNodes; quads: Uint32Array } {
	const nodes: [number, number][] = [];
	const side = (curve: Curve, count: number, from: number, to: number) =>
		Uint32Array.from({ length: count + 1 }, (_, k) => nodes.push(curve(from + ((to - from) * k) / count)) - 1);
	const sides = [side(bottom, n, 0, 1), side(right, m, 0, 1), side(top, n, 1, 0), side(left, m, 1, 0)] as const;
	// A corner is one node.
	for (let k = 0; k < 4; k++) sides[k]![sides[k]!.length - 1] = sides[(k + 1) % 4]![0]!;
	const x = Float64Array.from(nodes, ([px]) => px);
	const y = Float64Array.from(nodes, ([, py]) => py);
	const fill = fillTransfinite(x, y, [...sides]);
	const wide = n + 1;
	const grid: BlockNodes = { n, m, x: new Float64Array(wide * (m + 1)), y: new Float64Array(wide * (m + 1)) };
	const set = (i: number, j: number, px: number, py: number) => {
		grid.x[j * wide + i] = px;
		grid.y[j * wide + i] = py;
	};
	for (let i = 0; i <= n; i++) {
		set(i, 0, x[sides[0][i]!]!, y[sides[0][i]!]!);
		set(i, m, x[sides[2][n - i]!]!, y[sides[2][n - i]!]!);
	}
	for (let j = 1; j < m; j++) {
		set(0, j, x[sides[3][m - j]!]!, y[sides[3][m - j]!]!);
		set(n, j, x[sides[1][j]!]!, y[sides[1][j]!]!);
		for (let i = 1; i < n; i++) set(i, j, fill.x[(j - 1) * (n - 1) + i - 1]!, fill.y[(j - 1) * (n - 1) + i - 1]!);
	}
	const quads: number[] = [];
	for (let j = 0; j < m; j++)
		for (let i = 0; i < n; i++) quads.push(j * wide + i, j * wide + i + 1, (j + 1) * wide + i + 1, (j + 1) * wide + i);
	return { grid, quads: Uint32Array.from(quads) };
}

describe('a control map', () => {
	it('slides sheared lines until they leave both walls squarely, and no line meets another', () => {
		fc.assert(
			fc.property(
				fc.double({ min: -1.2, max: 1.2, noNaN: true }),
				fc.double({ min: -0.15, max: 0.15, noNaN: true }),
				fc.double({ min: 0, max: 0.8, noNaN: true }),
				fc.integer({ min: 12, max: 200 }),
				fc.integer({ min: 8, max: 60 }),
				(shear, bump, crowding, n, m) => {
					// Nodes crowd toward one end of the upper side, so that straight lines lean.
					const crowded = (t: number) => t + crowding * t * (1 - t) * 0.9;
					const { grid, quads } = gridOf(n, m, [
						(t) => [3 * t, bump * Math.sin(Math.PI * t)],
						(t) => [3 + 0.2 * shear * t * (1 - t), t],
						(t) => [3 * crowded(t), 1],
						(t) => [0.2 * shear * t * (1 - t), t]
					]);
					fc.pre(finish(worstCorner(grid.x, grid.y, quads)).value > 0.05);
					const before = wallFigures(grid, true, { ends: [1, 1] });
					const outline = [grid.x.slice(0, n + 1), grid.x.slice(-n - 1)];
					expect(slideToNormals(grid)).toBe(true);
					expect(finish(worstCorner(grid.x, grid.y, quads)).value).toBeGreaterThan(0);
					const after = wallFigures(grid, true, { ends: [1, 1] });
					expect(after.meanLean).toBeLessThan(Math.max(4, before.meanLean));
					expect([grid.x.slice(0, n + 1), grid.x.slice(-n - 1)]).toEqual(outline);
				}
			),
			{ numRuns: 60 }
		);
	});

	it('leaves a square grid where it is', () => {
		const { grid } = gridOf(10, 7, [(t) => [t, 0], (t) => [1, t], (t) => [t, 1], (t) => [0, t]]);
		const [x, y] = [grid.x.slice(), grid.y.slice()];
		expect(slideToNormals(grid)).toBe(true);
		for (let k = 0; k < x.length; k++) {
			expect(grid.x[k]).toBeCloseTo(x[k]!, 12);
			expect(grid.y[k]).toBeCloseTo(y[k]!, 12);
		}
	});
});
