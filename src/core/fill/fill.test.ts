import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Pipeline, type Result } from '../pipeline.ts';
import { regionAreas, type Mesh } from '../mesh/mesh.ts';
import { finish } from '../numeric/work.ts';
import { FillError, type Fill, type FillInput } from './method.ts';
import { fillTriangles } from './triangles/fill-triangles.ts';

const run = (text: string): Result => finish(new Pipeline(() => 0).run({ text, files: {} }));

/** A polygon of points as the boundary of a region; further polygons are holes, clockwise. */
function boundary(...loops: [number, number][][]): FillInput {
	const points = loops.flat();
	const edges: number[] = [];
	let base = 0;
	for (const loop of loops) {
		loop.forEach((_, i) => edges.push(base + i, base + ((i + 1) % loop.length)));
		base += loop.length;
	}
	return { x: Float64Array.from(points, (p) => p[0]), y: Float64Array.from(points, (p) => p[1]), edges: Uint32Array.from(edges) };
}

const squareLoop = (n: number, side = 1): [number, number][] =>
	[0, 1, 2, 3].flatMap((s) =>
		Array.from({ length: n }, (_, k): [number, number] => {
			const f = (k / n) * side;
			return [
				[f, 0],
				[side, f],
				[side - f, side],
				[0, side - f]
			][s] as [number, number];
		})
	);
const circleLoop = (n: number, r: number, cx: number, cy: number, turn: 1 | -1): [number, number][] =>
	Array.from({ length: n }, (_, k) => [
		cx + r * Math.cos((turn * 2 * Math.PI * k) / n),
		cy + r * Math.sin((turn * 2 * Math.PI * k) / n)
	]);

function polygonArea({ x, y, edges }: FillInput): number {
	let sum = 0;
	for (let k = 0; k < edges.length; k += 2)
		sum += (x[edges[k]!]! - x[0]!) * (y[edges[k + 1]!]! - y[0]!) - (x[edges[k + 1]!]! - x[0]!) * (y[edges[k]!]! - y[0]!);
	return sum / 2;
}

function figures(input: FillInput, fill: Fill) {
	const x = Float64Array.from([...input.x, ...fill.x]);
	const y = Float64Array.from([...input.y, ...fill.y]);
	let [area, quality, leastAngle, leastArea] = [0, 0, 180, Infinity];
	const edges = new Set<string>();
	for (let t = 0; t < fill.triangles.length; t += 3) {
		const p = [...fill.triangles.slice(t, t + 3)];
		const [a, b, c] = p as [number, number, number];
		const part = ((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!)) / 2;
		const l = [0, 1, 2].map((k) => Math.hypot(x[p[(k + 1) % 3]!]! - x[p[k]!]!, y[p[(k + 1) % 3]!]! - y[p[k]!]!));
		area += part;
		leastArea = Math.min(leastArea, part);
		quality += (4 * Math.sqrt(3) * part) / (l[0]! ** 2 + l[1]! ** 2 + l[2]! ** 2);
		for (let k = 0; k < 3; k++) {
			const [u, v, w] = [l[k]!, l[(k + 1) % 3]!, l[(k + 2) % 3]!];
			leastAngle = Math.min(leastAngle, (Math.acos(Math.min(1, (u * u + v * v - w * w) / (2 * u * v))) * 180) / Math.PI);
			edges.add(`${p[k]},${p[(k + 1) % 3]}`);
		}
	}
	const count = fill.triangles.length / 3;
	return { count, area, leastArea, leastAngle, meanQuality: quality / count, edges };
}

describe('structured fill', () => {
	const duct = (bias: string) =>
		`rectangle box = (0, 0) to (48, 30)\nregion r at (1, 1)\ndivide box.bottom into 48\ndivide box.left, box.right into 30${bias}\nfill r structured`;

	it('of 48 × 30 has 1440 quads and 1519 nodes', () => {
		const { mesh } = run(duct(''));
		expect(mesh.quadRegion).toHaveLength(1440);
		expect(mesh.x).toHaveLength(1519);
	});

	it('places its nodes where the closed form of the bias puts them', () => {
		const { mesh } = run(duct(' bias 12 toward box.top'));
		const r = 12 ** (1 / 29);
		// Heights from the wall at y = 30 down: 30 (r^k − 1)/(r^30 − 1).
		const heights = Array.from({ length: 31 }, (_, k) => 30 - (30 * (r ** k - 1)) / (r ** 30 - 1)).reverse();
		const seen = new Set<string>();
		for (let i = 0; i < mesh.x.length; i++) {
			const column = Math.round(mesh.x[i]!);
			expect(Math.abs(mesh.x[i]! - column)).toBeLessThan(1e-12 * 48);
			const row = heights.findIndex((h) => Math.abs(h - mesh.y[i]!) < 1e-12 * 30);
			expect(row).toBeGreaterThanOrEqual(0);
			seen.add(`${column},${row}`);
		}
		expect(seen.size).toBe(1519);
	});

	it('runs counter-clockwise everywhere', () => {
		const { quality, findings } = run(duct(' bias 1000 toward both'));
		expect(quality.of('scaledJacobian').min).toBeCloseTo(1, 6);
		expect(findings.filter((f) => f.code === 'inverted')).toEqual([]);
	});

	it('finds its corners on a bent block, and takes those that are named', () => {
		const bent =
			'point o = (0, 0)\narc inner = (1, 0) to (0, 1) around o\narc outer = (2, 0) to (0, 2) around o\nline a = (1, 0) to (2, 0)\nline b = (0, 1) to (0, 2)\nregion r bounded by inner, outer, a, b\ndivide inner into 20\ndivide a into 10\n';
		const result = run(`${bent}fill r structured`);
		expect(result.mesh.quadRegion).toHaveLength(200);
		// Polygonal quarter ring: n sin(θ/n)/2 · (4 − 1).
		expect(regionAreas(result.mesh)[0]).toBeCloseTo((20 * Math.sin(Math.PI / 40) * 3) / 2, 10);
		expect(run(`${bent}fill r structured corners (1, 0), (2, 0), (0, 2), (0, 1)`).mesh.quadRegion).toHaveLength(200);
		expect(run(`${bent}fill r structured corners (1, 0), (2, 0), (0, 2), (0.5, 1)`).findings[0]!.message).toMatch(
			/the corner \(0.5, 1\) is no junction of its outline/
		);
	});

	it('says why a region is no block', () => {
		const why = (text: string) => run(text).findings.find((f) => f.code === 'not-structured')?.message;
		expect(
			why(
				'rectangle b = (0, 0) to (8, 4)\ncircle c = around (2, 2) radius 1\ncircle d = around (6, 2) radius 1\nregion r at (0.1, 0.1)\nfill r structured'
			)
		).toMatch(/it has 2 holes or loose curves inside/);
		expect(why('rectangle b = (0, 0) to (4, 4)\nline l = (1, 1) to (2, 2)\nregion r at (0.1, 0.1)\nfill r structured')).toMatch(
			/a loose curve lies inside/
		);
		expect(
			why('rectangle b = (0, 0) to (4, 4)\nregion r at (1, 1)\nfill r structured corners (0, 0), (4, 0), (3, 3), (0, 4)')
		).toMatch(/the corner \(3, 3\) is no junction of its outline/);
	});
});

describe('triangle fill', () => {
	it('of a square has good elements of the size asked, and covers it exactly', () => {
		for (const n of [4, 10, 40]) {
			const input = boundary(squareLoop(n));
			const fill = finish(fillTriangles(input, { size: 1 / n, growth: 1.2 }));
			const f = figures(input, fill);
			expect(f.leastAngle).toBeGreaterThanOrEqual(25);
			expect(f.meanQuality).toBeGreaterThanOrEqual(0.93);
			expect(Math.abs(f.area - 1)).toBeLessThan(1e-12);
			// 2 / (√3/2 h²) triangles of side h in a unit square, give or take a fifth.
			expect(f.count * (Math.sqrt(3) / 4 / n ** 2)).toBeGreaterThan(0.8);
			expect(f.count * (Math.sqrt(3) / 4 / n ** 2)).toBeLessThan(1.25);
		}
	});

	it('keeps every given edge, and grows from fine to coarse', () => {
		const input = boundary(squareLoop(10, 10), circleLoop(60, 0.5, 4, 5, -1));
		const fill = finish(fillTriangles(input, { size: 1, growth: 1.25 }));
		const f = figures(input, fill);
		for (let k = 0; k < input.edges.length; k += 2) expect(f.edges.has(`${input.edges[k]},${input.edges[k + 1]}`)).toBe(true);
		expect(Math.abs(f.area - polygonArea(input))).toBeLessThan(1e-12 * 100);
		expect(f.leastAngle).toBeGreaterThan(25);
		expect(f.count).toBeGreaterThan(600);
	});

	it('covers random stars with holes: no inverted element, every edge there, areas equal', () => {
		const radius = fc.double({ min: 0.4, max: 1, noNaN: true });
		fc.assert(
			fc.property(
				fc.array(radius, { minLength: 5, maxLength: 40 }),
				fc.integer({ min: 3, max: 30 }),
				fc.double({ min: 0.02, max: 2, noNaN: true }),
				(radii, holeNodes, size) => {
					const star = radii.map((r, k): [number, number] => [
						r * Math.cos((2 * Math.PI * k) / radii.length),
						r * Math.sin((2 * Math.PI * k) / radii.length)
					]);
					const input = boundary(star, circleLoop(holeNodes, 0.1, 0, 0, -1));
					const fill = finish(fillTriangles(input, { size, growth: 1.3 }));
					const f = figures(input, fill);
					expect(f.leastArea).toBeGreaterThan(0);
					expect(Math.abs(f.area - polygonArea(input))).toBeLessThan(1e-12 * 4);
					for (let k = 0; k < input.edges.length; k += 2)
						expect(f.edges.has(`${input.edges[k]},${input.edges[k + 1]}`)).toBe(true);
				}
			),
			{ numRuns: 150 }
		);
	});

	it('ends on wedges, slits and very uneven boundaries', () => {
		const wedge: [number, number][] = [
			[0, 0],
			[1, 0],
			[1, Math.tan(Math.PI / 180)]
		];
		const slit: [number, number][] = [
			[0, 0],
			[1, 0],
			[1, 1],
			[0.5 + 1e-6, 1],
			[0.5, 1e-6],
			[0.5 - 1e-6, 1],
			[0, 1]
		];
		const uneven: [number, number][] = [
			...Array.from({ length: 1000 }, (_, k): [number, number] => [k / 1000, 0]),
			[1, 0],
			[1, 1],
			[0, 1]
		];
		for (const loop of [wedge, slit, uneven]) {
			const input = boundary(loop);
			const f = figures(input, finish(fillTriangles(input, { size: 0.05, growth: 1.3 })));
			expect(f.leastArea).toBeGreaterThan(0);
			expect(Math.abs(f.area - polygonArea(input))).toBeLessThan(1e-12);
		}
	});

	it('keeps a loose edge inside as an inner edge', () => {
		const input = boundary(squareLoop(8));
		const n = input.x.length;
		const withSlit: FillInput = {
			x: Float64Array.from([...input.x, 0.3, 0.5, 0.7]),
			y: Float64Array.from([...input.y, 0.5, 0.5, 0.5]),
			edges: Uint32Array.from([...input.edges, n, n + 1, n + 1, n + 2, n + 2, n + 1, n + 1, n])
		};
		const f = figures(withSlit, finish(fillTriangles(withSlit, { size: 0.125, growth: 1.2 })));
		expect(f.edges.has(`${n},${n + 1}`) && f.edges.has(`${n + 1},${n}`)).toBe(true);
		expect(Math.abs(f.area - 1)).toBeLessThan(1e-12);
	});

	it('refuses edges that cross, nodes that coincide and nodes on an edge, with the place', () => {
		const refusal = (loop: [number, number][]): FillError => {
			try {
				finish(fillTriangles(boundary(loop), { size: 1, growth: 1.2 }));
			} catch (error) {
				return error as FillError;
			}
			throw new Error('was accepted');
		};
		expect(
			refusal([
				[0, 0],
				[2, 2],
				[2, 0],
				[0, 2]
			])
		).toMatchObject({ code: 'chords-cross', message: expect.stringContaining('crosses the one from') });
		expect(
			refusal([
				[0, 0],
				[1, 0],
				[1, 1],
				[1, 0],
				[0, 1]
			])
		).toMatchObject({ code: 'nodes-coincide' });
		expect(
			refusal([
				[0, 0],
				[4, 0],
				[4, 1],
				[2, 0],
				[0, 1]
			])
		).toMatchObject({ code: 'chords-cross', message: expect.stringContaining('passes through the node at (2, 0)') });
	});

	it('gives the same mesh every time', () => {
		const make = () => finish(fillTriangles(boundary(squareLoop(12)), { size: 0.05, growth: 1.2 }));
		expect(make()).toEqual(make());
	});

	it('can be stopped between two steps', () => {
		// Graded everywhere, so that there is no lattice and much to refine.
		const field = (x: number, y: number) => 1 / 600 + 0.002 * Math.hypot(x, y);
		const work = fillTriangles(boundary(squareLoop(300)), { size: 1 / 200, growth: 1.2, field: { at: field } });
		const shares: number[] = [];
		for (let k = 0; k < 4; k++) shares.push(work.next().value as number);
		work.return(undefined as never);
		expect(shares.every((s, k) => s >= 0 && s <= 1 && (k === 0 || s >= shares[k - 1]!))).toBe(true);
	});
});

describe('touching regions', () => {
	const text = `rectangle a = (0, 0) to (2, 2)
rectangle b = (2, 0) to (4, 2)
region left at (1, 1)
region right at (3, 1)
divide a.right into 9
fill left triangles size 0.3
`;
	const nodesAt = (mesh: Mesh, x: number) => [...mesh.x].filter((v) => v === x).length;

	it('share the nodes of the piece between them: triangles with triangles, triangles with quads', () => {
		for (const right of ['triangles size 0.1', 'structured']) {
			const { mesh, findings } = run(`${text}fill right ${right}`);
			expect(findings.filter((f) => f.severity === 'error')).toEqual([]);
			expect(nodesAt(mesh, 2)).toBe(10);
			regionAreas(mesh).forEach((area) => expect(area).toBeCloseTo(4, 12));
		}
	});

	it('leave no node unused', () => {
		const { mesh } = run(`${text}line away = (9, 9) to (10, 10)\nfill right structured`);
		const used = new Set([...mesh.triangles, ...mesh.quads]);
		expect(used.size).toBe(mesh.x.length);
	});
});
