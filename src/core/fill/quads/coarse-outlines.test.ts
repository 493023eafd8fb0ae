import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { input, hole, ring, type Loop } from '../domains.test-support.ts';
import { coarseOutlines, DIVISION } from './coarse-outlines.ts';

/** A square with so many edges on each of its sides. */
function square(counts: readonly number[]): Loop {
	const corners: Loop = [
		[0, 0],
		[1, 0],
		[1, 1],
		[0, 1]
	];
	return corners.flatMap(([ax, ay], k): Loop => {
		const [bx, by] = corners[(k + 1) % 4]!;
		const n = counts[k]!;
		return Array.from({ length: n }, (_, i) => [ax + ((bx - ax) * i) / n, ay + ((by - ay) * i) / n]);
	});
}

describe('coarse outlines', () => {
	it('leave out an even number of edges in a row, wherever the counts of the sides are not whole multiples', () => {
		fc.assert(
			fc.property(fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 4, maxLength: 4 }), (counts) => {
				const n = counts.reduce((sum, count) => sum + count, 0);
				const outlines = coarseOutlines(input([square(counts)]));
				if (n % 2 === 1) {
					expect(outlines).toBeUndefined();
					return;
				}
				const { input: coarse, given, fitting } = outlines!;
				// Once round: a coarse edge starts where the last one ended, and spans the edges between.
				expect(coarse.edges.length / 2).toBe(coarse.x.length);
				let [spanned, inRow, odd] = [0, 0, 0];
				for (let k = 0; k < coarse.edges.length; k += 2) {
					const [a, b] = [coarse.edges[k]!, coarse.edges[k + 1]!];
					expect(a).toBe(coarse.edges[(k + coarse.edges.length - 1) % coarse.edges.length]);
					const count = (given[b]! - given[a]! + n) % n;
					spanned += count;
					const fit = fitting.get(a)?.get(b);
					if (!fit) {
						inRow += count;
						continue;
					}
					expect(fit).toEqual(Array.from({ length: DIVISION + 1 }, (_, i) => (given[a]! + i) % n));
					odd += inRow % 2;
					inRow = 0;
				}
				expect(spanned).toBe(n);
				expect((coarse.edges.length / 2) % 2).toBe(0);
				expect(odd).toBe(0);
				// The corners are kept.
				for (const corner of [0, counts[0]!, counts[0]! + counts[1]!, n - counts[3]!]) expect(given).toContain(corner);
			}),
			{ numRuns: 300 }
		);
	});

	it('fit all around where all counts are multiples, on the left of each edge', () => {
		const circle = ring(80, 0.5, 0.5, () => 0.3);
		const { input: coarse, fitting } = coarseOutlines(input([square([40, 20, 40, 20]), hole(circle)]))!;
		const fits = [...fitting.values()].flatMap((fit) => [...fit.values()]);
		expect(fits).toHaveLength(120 / DIVISION + 80 / DIVISION);
		let area = 0;
		for (let k = 0; k < coarse.edges.length; k += 2) {
			const [a, b] = [coarse.edges[k]!, coarse.edges[k + 1]!];
			area += (coarse.x[a]! * coarse.y[b]! - coarse.x[b]! * coarse.y[a]!) / 2;
		}
		expect(area).toBeCloseTo(1 - Math.PI * 0.09, 1);
	});

	it('keep every edge where an outline turns fast, and inner edges with both of their sides', () => {
		const zigzag: Loop = Array.from({ length: 20 }, (_, k) => [10 + 0.1 * k, k % 2]);
		const { edges } = input([zigzag]);
		expect(coarseOutlines(input([zigzag]))!.input.edges).toHaveLength(edges.length);
		// A slit of eight edges in a square, its two ends and its middle on no outline.
		const outline = input([square([8, 8, 8, 8])]);
		const first = outline.x.length;
		const slit = Array.from({ length: 8 }, (_, k) => [first + k, first + k + 1, first + k + 1, first + k]).flat();
		const { input: coarse, fitting } = coarseOutlines({
			x: Float64Array.from([...outline.x, ...Array.from({ length: 9 }, (_, k) => 0.3 + 0.05 * k)]),
			y: Float64Array.from([...outline.y, ...new Array<number>(9).fill(0.5)]),
			edges: Uint32Array.from([...outline.edges, ...slit])
		})!;
		const inner = coarse.edges.filter((v) => coarse.y[v] === 0.5 && coarse.x[v]! > 0.25 && coarse.x[v]! < 0.75);
		// Two edges, each from both sides.
		expect(inner).toHaveLength(8);
		expect(fitting.size).toBe(8);
	});
});
