import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { partPoint } from '../geometry/parts.ts';
import { numbers } from '../fill/domains.test-support.ts';
import { finish } from '../numeric/work.ts';
import { Pipeline, type Result } from '../pipeline.ts';
import { parseRecipe, syntaxFindings } from '../recipe/language/parse.ts';
import type { CoordinateFile } from '../recipe/model/model.ts';
import { applyEdits } from '../text/edit.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));

/** How far the curve turns between two neighbouring nodes, in degrees, at most, followed along 60 chords of each edge. */
function sharpestEdge(result: Result, name?: string): number {
	let sharpest = 0;
	result.divisions.pieces.forEach(({ at }, p) => {
		const piece = result.arrangement.pieces[p]!;
		if (name && piece.curve.name !== name) return;
		for (let k = 0; k + 1 < at.length; k++) {
			const steps = 60;
			const points = Array.from({ length: steps + 1 }, (_, i) =>
				partPoint(piece, at[k]! + ((i + 1e-7) / (steps + 2e-7)) * (at[k + 1]! - at[k]!), piece.length)
			);
			let turn = 0;
			for (let i = 1; i < steps; i++) {
				const [a, b, c] = [points[i - 1]!, points[i]!, points[i + 1]!];
				const [ux, uy, vx, vy] = [b.x - a.x, b.y - a.y, c.x - b.x, c.y - b.y];
				turn += Math.abs(Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy));
			}
			sharpest = Math.max(sharpest, (turn * 180) / Math.PI);
		}
	});
	return sharpest;
}

/** How far the curve is from the edge between two neighbouring nodes, at most. */
function farthestFromEdges(result: Result, name: string): number {
	let farthest = 0;
	result.divisions.pieces.forEach(({ at, x, y }, p) => {
		const piece = result.arrangement.pieces[p]!;
		if (piece.curve.name !== name) return;
		for (let k = 0; k + 1 < at.length; k++)
			for (let i = 1; i < 40; i++) {
				const q = partPoint(piece, at[k]! + (i / 40) * (at[k + 1]! - at[k]!), piece.length);
				const [dx, dy] = [x[k + 1]! - x[k]!, y[k + 1]! - y[k]!];
				farthest = Math.max(farthest, Math.abs((q.x - x[k]!) * dy - (q.y - y[k]!) * dx) / Math.hypot(dx, dy));
			}
	});
	return farthest;
}

const profile =
	'spline wall = (1, 0) to (0.5, 0.06) to (0.1, 0.05) to (0.012, 0.02) to (0, 0) to (0.012, -0.02) to (0.1, -0.05) to (0.5, -0.06) to (1, 0)';

describe('a derived division', () => {
	it.each([
		['an ellipse 10 by 0.5', 'ellipse e = around (0, 0) radii 10, 0.5\nregion r bounded by e\nsize 1'],
		['the nose of a profile', `${profile}\nrectangle far = (-3, -3) to (4, 3)\nregion r at (-2, 0)\nsize 0.5`],
		[
			'a line, an arc and a line as one curve',
			'line a = (0, 0) to (10, 0)\narc b = (10, 0) to (10, 0.4) around (10, 0.2)\nline c = (10, 0.4) to (0, 0.4)\njoin hook = a, b, c\nline back = (0, 0.4) to (0, 0)\nregion r bounded by hook, back\nsize 2'
		],
		[
			'a polyline that stands for a circle',
			`polyline p = ${Array.from({ length: 72 }, (_, k) => `(${Math.cos((k * Math.PI) / 36)}, ${Math.sin((k * Math.PI) / 36)})`).join(' to ')} closed\nregion r bounded by p\nsize 2`
		]
	])('turns by 30° at most: %s', (_, text) => {
		expect(sharpestEdge(run(`${text}\nfill r triangles`))).toBeLessThan(30.2);
	});

	it('does so in blocks, too', () => {
		const text =
			'ellipse lid = around (0, 0) radii 10, 0.5 from 0 to 180 deg\nline left = (-10, 0) to (-10, -4)\nline base = (-10, -4) to (10, -4)\nline right = (10, -4) to (10, 0)\nregion r bounded by lid, left, base, right\nsize 2\nfill r structured';
		const result = run(text);
		expect(result.mesh.quads.length).toBeGreaterThan(0);
		expect(sharpestEdge(result, 'lid')).toBeLessThan(30.2);
	});

	it('does so on any closed spline, at any size', () => {
		const point = fc.tuple(fc.integer({ min: -20, max: 20 }), fc.integer({ min: -20, max: 20 }));
		fc.assert(
			fc.property(
				fc.uniqueArray(point, { minLength: 4, maxLength: 9, selector: String }),
				fc.constantFrom(0.7, 3, 15),
				(points, size) => {
					const around = points
						.map(([x, y]) => [x + 0.3 * y, y] as const)
						.sort((a, b) => Math.atan2(a[1], a[0]) - Math.atan2(b[1], b[0]));
					const result = run(`spline s = ${around.map(([x, y]) => `(${x}, ${y})`).join(' to ')} closed\nsize ${size}`);
					expect(sharpestEdge(result)).toBeLessThan(30.5);
				}
			),
			{ numRuns: 60, seed: 2026 }
		);
	});
});

describe('an edge by chord', () => {
	it.each([
		['ellipse e = around (0, 0) radii 10, 0.5', 'e', 0.01],
		['ellipse e = around (0, 0) radii 10, 0.5', 'e', 0.2],
		[profile, 'wall', 0.0005],
		['circle c = around (3, 4) radius 7', 'c', 0.05],
		['curve k = (t, sin(t)) for t from 0 to 9', 'k', 0.003]
	])('is nowhere farther from the curve than that: %s', (curve, name, error) => {
		const result = run(`${curve}\ndivide ${name} by chord ${error}`);
		expect(farthestFromEdges(result, name)).toBeLessThanOrEqual(error * (1 + 1e-6));
		// And no finer than there is need: with two thirds of the divisions it would not hold.
		const count = result.divisions.pieces.reduce((sum, d) => sum + d.count, 0);
		if (count > 12 && result.divisions.pieces.length === 1) {
			const coarse = run(`${curve}\ndivide ${name} by chord ${error * 2.25}`);
			expect(coarse.divisions.pieces[0]!.count).toBeLessThan(0.85 * count);
		}
	});
});

describe('a division by size', () => {
	it('is what it says, and a finding tells where it cuts a curve flat', () => {
		const result = run('ellipse e = around (0, 0) radii 10, 0.5\nregion r bounded by e\ndivide e by size 4\nfill r triangles');
		expect(result.divisions.pieces[0]!.count).toBe(Math.round(result.arrangement.pieces[0]!.length / 4));
		expect(result.findings.find((f) => f.code === 'cut-flat')?.message).toMatch(/turns by \d+°/);
	});
});

describe('what turns within a size', () => {
	const total = (result: Result) => result.divisions.pieces.reduce((sum, { count }) => sum + count, 0);
	const random = numbers(5);
	const noisy = (amplitude: number) =>
		`polyline top = ${Array.from({ length: 301 }, (_, k) => `(${k}, ${(20 + amplitude * (2 * random.next() - 1)).toFixed(6)})`).join(' to ')} corners above 170 deg\nsize 8`;

	it.each([0.05, 0.1, 0.2])('as noise of %s does, asks for no division more', (amplitude) => {
		const result = run(noisy(amplitude));
		// The length over the size, and that of the noise.
		expect(total(result)).toBeLessThan(1.3 * (300 / 8));
		expect(result.findings.map(({ code }) => code)).not.toContain('crowded');
	});

	it('as noise that is large beside it does, is followed, and said, with the edit that thins a file', () => {
		const rows = Array.from({ length: 301 }, (_, k) => [k, 20 + 2 * (2 * random.next() - 1)] as const);
		const [x, y] = [0, 1].map((c) => Float64Array.from(rows, (row) => row[c]!));
		const files = { 'wall.csv': { outlines: [{ x: x!, y: y! }] } as unknown as CoordinateFile };
		const text = 'recipe 1\npolyline top = from "wall.csv" corners above 170 deg\nsize 8\n';
		const { findings } = finish(new Pipeline(() => 0).run({ text, files }));
		const crowded = findings.find(({ code }) => code === 'crowded')!;
		expect(crowded.at).toBeDefined();
		expect(crowded.message).toMatch(
			/“top” takes \d+ divisions where its length over the size asks for \d+: it turns within less/
		);
		const thinned = applyEdits(text, crowded.mend!.edits);
		expect(thinned).toContain('from "wall.csv" thinned within 0.8 corners above 170 deg\n');
		expect(syntaxFindings(parseRecipe(thinned))).toEqual([]);
	});

	it('at an end of unbounded curvature is divided by what it turns', () => {
		for (const off of [0, 1e-15, 1e-9]) {
			const result = run(
				`bezier e = (12, 20) to (11.89, 19.836) to (9.978, 16.918) to (9.978, 16.918 + ${off})
bezier f = (9.978, 16.918 + ${off}) to (9.918, 16.828) to (9.852, 16.792) to (9.772, 16.792)
join g = e, f
line h = (9.772, 16.792) to (5.772, 19.792)
line i = (5.772, 19.792) to (12, 20)
region r at (9.5, 18.5)
size 0.3
fill r triangles`
			);
			expect(result.mesh.triangles.length / 3).toBeLessThan(400);
			expect(sharpestEdge(result)).toBeLessThan(30.5);
		}
	});

	it('at a cusp ends somewhere', () => {
		const result = run('bezier a = (0, 0) to (10, 6) to (0, 6) to (10, 0)\nsize 1');
		expect(total(result)).toBeLessThan(200);
	});
});
