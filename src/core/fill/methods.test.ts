import { expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { atOnce } from '../numeric/work.ts';
import type { FillMethod } from './method.ts';
import { fillMethods } from './methods.ts';

/** A toy: a fan of triangles around the middle of a convex region, two to a colour, so that it wants an even number of edges around. */
const fan: FillMethod = {
	source: 'fan',
	title: 'fan',
	takesSize: false,
	keepsPoints: false,
	fills: (region) => region.name === 'fanned',
	layOut: ({ arrangement }, region) => ({
		demands: {
			blocks: [],
			walks: [],
			// The sum around the region is twice a number of its own.
			equations: (wanted) => {
				const around = arrangement.faces[region.face]!.outer.map((h) => h >> 1);
				const total = around.reduce((sum, p) => sum + wanted[p]!, 0);
				return { equations: [{ pieces: new Map(around.map((p) => [p, 1])), inner: new Map([[0, -2]]) }], inner: [total / 2] };
			},
			// Two nodes near the start of the first piece stand at heights of their own.
			heights: new Map([[arrangement.faces[region.face]!.outer[0]!, [0.01, 0.03]]])
		}
	}),
	prepare: ({ input: { x, y, edges }, innerCounts: innerCounts, halves }) => ({
		key: { rule: 'fan', numbers: [] },
		expected: () => atOnce(() => 2 * innerCounts[0]!),
		effort: () => 1,
		isPredicted: false,
		fill: () =>
			atOnce(() => {
				expect(halves).toHaveLength(edges.length / 2);
				const middle = (list: Float64Array) => Float64Array.of(list.reduce((a, b) => a + b, 0) / list.length);
				const triangles = new Uint32Array((3 * edges.length) / 2);
				for (let e = 0; e < edges.length / 2; e++) triangles.set([edges[2 * e]!, edges[2 * e + 1]!, x.length], 3 * e);
				return { x: middle(x), y: middle(y), triangles, quads: new Uint32Array(0) };
			})
	})
};

it('a way to fill that is added by its record demands what it needs of the divisions around it, and fills', () => {
	(fillMethods as FillMethod[]).unshift(fan);
	for (const size of [0.2, 0.23, 0.29, 0.31]) {
		const text = `recipe 1
rectangle a = (0, 0) to (1, 1)
rectangle b = (1, 0) to (2, 1)
region fanned at (0.5, 0.5)
region beside at (1.5, 0.5)
size ${size}
fill fanned, beside triangles
`;
		const { mesh, findings, divisions, plans } = finish(new Pipeline(() => 0).run({ text, files: {} }));
		expect(findings.filter((f) => f.severity === 'error')).toEqual([]);
		const triangles = [...mesh.triangleRegion].filter((r) => r === 0).length;
		expect(triangles % 2).toBe(0);
		expect(triangles).toBe(2 * plans[0]!.innerCounts[0]!);
		// The heights stand at the end that they were demanded for, in units of length.
		const first = divisions.pieces.find(
			(d) => Math.abs(d.at[1]! - 0.01) < 1e-12 || Math.abs(1 - d.at[d.count - 1]! - 0.01) < 1e-12
		);
		expect(first).toBeDefined();
	}
});
