import { describe, expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { bareFaces, fillFaces } from './bare-faces.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text, files: {} }));
const text = `recipe 1
rectangle a = (0, 0) to (10, 10)
rectangle b = (20, 0) to (30, 0.001)
circle c = around (5, 5) radius 2
region r at (1, 1)
size 2
fill r triangles
`;

describe('closed outlines without a region', () => {
	it('are filled together, each by a point that is inside of it', () => {
		const result = run(text);
		const faces = bareFaces(result);
		expect(faces).toHaveLength(2);
		const done = fillFaces(result.recipe, result, faces, 'structured');
		expect(done.names).toEqual(['region_1', 'region_2']);
		const after = run(done.text);
		expect(bareFaces(after)).toEqual([]);
		expect(after.regions.map(({ fill }) => fill)).toEqual(['triangles', 'structured', 'structured']);
	});

	it('can be left empty on purpose', () => {
		const result = run(text);
		const done = fillFaces(result.recipe, result, bareFaces(result).slice(0, 1), 'none');
		expect(done.text).toContain('fill region_1 none');
		expect(bareFaces(run(done.text))).toHaveLength(1);
	});
});
