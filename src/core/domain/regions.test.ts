import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { regionAreas } from '../mesh/mesh.ts';

const dam =
	'polyline dam = (0, 0) to (60, 0) to (35, 25) to (25, 25) closed\npolyline core = (20, 0) to (40, 0) to (32, 25) to (28, 25) closed';
const both = ['region shell bounded by dam', 'region clay bounded by core'];

describe('regions that are bounded by outlines within one another', () => {
	it.each([both, both.toReversed()])('are each what is within its own and within no other, in either order: %s, %s', (...two) => {
		const text = `recipe 1\n${dam}\n${two.join('\n')}\nsize 2\nfill shell, clay triangles`;
		const { mesh, regions, findings } = finish(new Pipeline(() => 0).run({ text, files: {} }));
		expect(findings.filter((f) => f.severity === 'error')).toEqual([]);
		const areas = regionAreas(mesh);
		const of = (name: string) => regions.reduce((sum, r, k) => sum + (r.statement === name ? areas[k]! : 0), 0);
		expect(of('clay')).toBeCloseTo(300, 6);
		expect(of('shell')).toBeCloseTo(875 - 300, 6);
	});
});
