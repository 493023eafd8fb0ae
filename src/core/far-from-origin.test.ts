import { describe, expect, it } from 'vitest';
import { quadCount, regionAreas, triangleCount } from './mesh/mesh.ts';
import { finish } from './numeric/work.ts';
import { Pipeline, type Result } from './pipeline.ts';

/** Every statement that builds curves, at a size of about one; `@(x, y)` is a place that moves with the drawing. */
const drawings: Record<string, string> = {
	'lines, points and arcs': `
		point p = @(0, 0)
		node @(0.5, 0), @(0.4, 0.3)
		line a = p to @(1, 0)
		arc b = @(1, 0) to @(1, 0.6) around @(1, 0.3)
		line c = @(1, 0.6) to @(0, 0.6)
		arc d = @(0, 0.6) to @(-0.2, 0.3) radius 0.4
		arc e = @(-0.2, 0.3) to @(0, 0) through @(-0.15, 0.12)
		region r bounded by a, b, c, d, e
		fill r triangles`,
	'a tangent arc': `
		line a = @(0, 0) to @(1, 0)
		arc b = @(1, 0) to @(1.2, 0.5) tangent a
		line c = @(1.2, 0.5) to @(0, 0)
		region r bounded by a, b, c
		fill r triangles`,
	'circle, ellipse and rectangles': `
		circle hole = around @(0.5, 0.4) radius 0.1
		ellipse eye = around @(1.2, 0.4) radii 0.2, 0.05 turned 15 deg
		rectangle box = @(0, 0) to @(2, 1)
		rectangle pad = around @(3, 0.5) size 0.8, 0.4 turned 30 deg
		rectangle plate = @(4, 0) to @(5, 0.5) to @(4, 0.5)
		region r bounded by box
		region s bounded by pad
		region t bounded by plate
		fill r triangles
		fill s structured
		fill t structured`,
	'an arc of an ellipse, a polygon, a polyline': `
		ellipse lid = around @(1, 0) radii 1, 0.4 from 0 to 180 deg
		line base = @(0, 0) to @(2, 0)
		polygon hex = around @(4, 0) sides 6 radius 1 turned 10 deg
		polyline rib = @(6, 0) to @(7, 0) to @(7.2, 0.8) to @(6, 1) closed
		region r bounded by lid, base
		region s bounded by hex
		region t bounded by rib
		fill r triangles
		fill s triangles
		fill t structured`,
	splines: `
		spline top = @(0, 1) to @(0.5, 1.2) to @(1.5, 1.05)
		spline foot = @(0, 0) to @(0.5, -0.2) to @(1, -0.1) to @(1.5, 0) ends not-a-knot
		line left = @(0, 0) to @(0, 1)
		line right = @(1.5, 0) to @(1.5, 1.05)
		spline ring = @(3, 0) to @(3.5, 0) to @(3.25, 0.6) closed parameter centripetal
		spline led = @(5, 0.1) to @(5.5, 0.4) to @(6, 0.1) ends clamped (1, 0), (1, -1)
		line under = @(5, 0.1) to @(6, 0.1)
		region r bounded by top, foot, left, right
		region s bounded by ring
		region t bounded by led, under
		fill r structured
		fill s triangles
		fill t triangles`,
	'Béziers, B-splines and formulas': `
		bezier pull = @(0, 0) to @(0.3, 0.5) to @(0.7, -0.2) to @(1, 0)
		line one = @(1, 0) to @(1, 1)
		line two = @(1, 1) to @(0, 1)
		line three = @(0, 1) to @(0, 0)
		bspline hull = @(2, 0) to @(2.3, 0.8) to @(2.6, -0.1) to @(3, 0.7) to @(3.2, 0) degree 3
		line keel = @(2, 0) to @(3.2, 0)
		bspline quarter = @(5, 0) to @(5, 1) to @(4, 1) degree 2 knots 0, 0, 0, 1, 1, 1 weights 1, sqrt(0.5), 1
		line spoke = @(4, 1) to @(5, 0)
		curve cam = (OX + 8 + (0.5 + 0.1*cos(3*t))*cos(t), OY + (0.5 + 0.1*cos(3*t))*sin(t)) for t from 0 to 2*pi
		region r bounded by pull, one, two, three
		region t bounded by quarter, spoke
		region u bounded by cam
		fill r structured
		fill t triangles
		fill u triangles`,
	'corners, offsets, trims and cuts': `
		rectangle r = @(0, 0) to @(2, 1)
		fillet round = r.bottom with r.right radius 0.2
		chamfer bevel = r.top with r.right lengths 0.2, 0.1
		region body bounded by r, round, bevel
		line stub = @(4, 0.5) to @(4.3, 0.55)
		line wall = @(5, -1) to @(5, 1.5)
		extend stub to wall
		circle disc = around @(5, 0.3) radius 0.6
		trim disc to wall keep @(5.5, 0.3)
		region half at @(5.2, 0.3)
		cut across = @(0.5, 0) to r.top
		fill body triangles
		fill half triangles`,
	'an offset chain': `
		rectangle r = @(0, 0) to @(1, 0.6)
		offset shell = r by 0.2 outside mitred
		region rim at @(-0.1, 0.3)
		region core at @(0.5, 0.3)
		fill rim triangles
		fill core structured`,
	'copies and joins': `
		line one = @(0, 0) to @(1, 0)
		line two = @(1, 0) to @(1.5, 0.8)
		join bent = one, two
		copy under = bent mirrored across @(0, -0.5) to @(1, -0.5)
		line left = @(0, 0) to @(0, -1)
		line right = @(1.5, 0.8) to @(1.5, -1.8)
		circle pin = around @(3, 0) radius 0.1
		repeat row = pin by (0.3, 0) count 3
		rectangle tray = @(2.7, -0.3) to @(3.9, 0.3)
		region r bounded by bent, left, under, right
		region plate bounded by tray
		fill r triangles
		fill plate triangles`,
	'moves, turns and scales': `
		rectangle one = @(0, 0) to @(1, 0.5)
		copy two = one moved (0, 2)
		turn one by 15 deg about @(0.5, 0.25)
		scale one by 1.2 about @(0.5, 0.25)
		turn one by 75 deg about @(0.3, -0.2)
		region r bounded by one
		region s bounded by two
		fill r structured
		fill s structured`
};

function meshAt(text: string, ox: number, oy: number): Result {
	const number = (v: string, offset: number) => String(Number(v) + offset);
	const placed = text
		.replace(/@\(([^,]+), ([^)]+)\)/g, (_, x: string, y: string) => `(${number(x, ox)}, ${number(y, oy)})`)
		.replaceAll('OX', String(ox))
		.replaceAll('OY', String(oy));
	return finish(new Pipeline(() => 0).run({ text: `recipe 1\nsize 0.13\n${placed}`, files: {} }));
}

const errors = (result: Result) => result.findings.filter((f) => f.severity === 'error').map((f) => f.message);
const counts = (result: Result) => result.divisions.pieces.map((d) => d.count).sort((a, b) => a - b);

describe.each(Object.entries(drawings))('a drawing of %s', (_, text) => {
	const near = meshAt(text, 0, 0);

	it('meshes without an error at the origin', () => {
		expect(errors(near)).toEqual([]);
		expect(near.mesh.regions.length).toBeGreaterThan(0);
	});

	it.each([1e3, 1e6, 1e7])('gives the same mesh %s away', (offset) => {
		const [ox, oy] = [offset, -0.5 * offset];
		const far = meshAt(text, ox, oy);
		expect(errors(far)).toEqual([]);
		// Where sizes are graded, a count that lies half way between two numbers may be rounded to either.
		counts(far).forEach((count, k) => expect(Math.abs(count - counts(near)[k]!)).toBeLessThanOrEqual(1));
		expect(quadCount(far.mesh)).toBe(quadCount(near.mesh));
		// Where two places for a node are equally good, rounding decides between them.
		expect(Math.abs(triangleCount(far.mesh) - triangleCount(near.mesh))).toBeLessThanOrEqual(0.03 * triangleCount(near.mesh));
		regionAreas(far.mesh).forEach((area, k) => expect(Math.abs(area / regionAreas(near.mesh)[k]! - 1)).toBeLessThan(1e-6));
	});
});
