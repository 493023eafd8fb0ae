import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const codes = (text: string) =>
	run(text).findings.flatMap((f) => (f.severity === 'error' ? [{ code: f.code, at: f.at, message: f.message }] : []));

describe('a curve of which no face comes', () => {
	it('because it retraces itself is an error at its place', () => {
		const [first, ...more] = codes('polyline fold = (0, 0) to (4, 0) to (2, 0) closed\nline other = (0, 5) to (4, 5)');
		expect(first).toMatchObject({ code: 'encloses-nothing' });
		expect(first!.message).toContain('“fold”');
		expect(more).toEqual([]);
	});

	it('because its sides are nearer than can be told is one too', () => {
		const thin =
			'polyline thin = (0, 0) to (10, 0) to (10, 2e-15) to (5, 1e-14) to (0, 2e-15) closed\ncircle big = around (5, 20) radius 3';
		expect(codes(thin)[0]).toMatchObject({ code: 'encloses-nothing' });
	});

	it('because it is smaller than the rounding of its place is one too', () => {
		expect(codes('circle dot = around (1e6, 0) radius 1e-9\ncircle big = around (1e6, 0) radius 3')[0]).toMatchObject({
			code: 'curve-vanishes'
		});
	});

	it('is no error where a line only goes out and back on its own', () => {
		expect(codes('rectangle box = (0, 0) to (4, 3)\nline spur = (1, 1) to (2, 1)\nregion r bounded by box')).toEqual([]);
	});
});

describe('a mesh of which a region is missing', () => {
	const text = `
		rectangle a = (0, 0) to (4, 3)
		rectangle b = (4, 0) to (8, 3)
		region left at (1, 1)
		region right at (6, 1)
		divide b.top into 7
		divide b.bottom into 9
		divide b.left into 5
		fill left triangles
		fill right structured
		size 0.5`;

	it('has no node that no element uses, and no edge without one', () => {
		const { mesh, unfilled } = run(text);
		expect(unfilled).toEqual(['right']);
		const used = new Set([...mesh.triangles, ...mesh.quads]);
		expect(used.size).toBe(mesh.x.length);
		expect([...mesh.edges].every((node) => used.has(node))).toBe(true);
		expect(Math.max(...mesh.x)).toBe(4);
	});

	it('numbers nodes of a whole mesh as before', () => {
		const { mesh, unfilled } = run(text.replace('divide b.bottom into 9', ''));
		expect(unfilled).toEqual([]);
		expect(Math.max(...mesh.x)).toBe(8);
	});
});

describe('a curve that crosses itself more often than a mesh could follow', () => {
	it('is left out and named, and the rest of the drawing is meshed', () => {
		let seed = 5;
		const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
		const points = Array.from({ length: 3600 }, () => `(${(100 * random()).toFixed(3)}, ${(100 * random()).toFixed(3)})`);
		const pipeline = new Pipeline(() => 0);
		// After an edit beside it too.
		for (const top of [10, 9]) {
			const text = `recipe 1\npolyline tangle = ${points.join(' to ')} corners above 179 deg\nrectangle box = (200, 0) to (210, ${top})\nregion r bounded by box\nfill r triangles size 2`;
			const result = finish(pipeline.run({ text, files: {} }));
			const [error, ...more] = result.findings.filter((f) => f.severity === 'error');
			expect(more).toEqual([]);
			expect(error).toMatchObject({ code: 'too-many-crossings' });
			expect(error!.message).toContain('“tangle”');
			expect(result.mesh.triangles.length).toBeGreaterThan(60);
		}
	});
});
