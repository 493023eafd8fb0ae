import { incircle } from 'robust-predicates';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { turn } from '../../numeric/predicates.ts';
import { finish } from '../../numeric/work.ts';
import { isClear } from './clearance.ts';
import { OFFSET, triangulateBoundary } from './constrained.ts';
import { improve } from './improve.ts';
import { refine } from './refine.ts';
import { repair } from './repair.ts';
import { next, previous, Triangulation } from './triangulation.ts';

function build(points: readonly (readonly [number, number])[]): Triangulation {
	const mesh = new Triangulation([0, 0, 12, 12], 4);
	let last = 0;
	for (const [x, y] of points) {
		const place = mesh.locate(x, y, last);
		if (place.vertex >= 0) continue;
		const v = mesh.insertAt(x, y, place);
		last = mesh.outgoing[v]!;
	}
	return mesh;
}

/** Half-edges pair up, triangles turn left, every vertex has a half-edge of its own. */
function expectSound(mesh: Triangulation): void {
	const { from, twin, x, y, outgoing } = mesh;
	for (let e = 0; e < 3 * mesh.triangleCount; e++) {
		const f = twin[e]!;
		if (f >= 0) expect([twin[f], from[next(f)]]).toEqual([e, from[e]]);
		if (e % 3 === 0) {
			const [a, b, c] = [from[e]!, from[e + 1]!, from[e + 2]!];
			expect(turn(x[a]!, y[a]!, x[b]!, y[b]!, x[c]!, y[c]!)).toBeGreaterThan(0);
		}
	}
	for (let v = 0; v < mesh.vertexCount; v++) expect(from[outgoing[v]!]).toBe(v);
	// Euler: a box of four corners with n vertices inside has 2 n + 2 triangles.
	expect(mesh.triangleCount).toBe(2 * (mesh.vertexCount - 4) + 2);
}

/** No vertex across an edge lies inside the circle around the triangle, except across fixed edges. */
function expectDelaunay(mesh: Triangulation, include: (t: number) => boolean = () => true): void {
	const { from, twin, fixed, x, y } = mesh;
	for (let e = 0; e < 3 * mesh.triangleCount; e++) {
		const f = twin[e]!;
		if (f < e || fixed[e] || !include((e / 3) | 0) || !include((f / 3) | 0)) continue;
		const [a, b, c, d] = [from[e]!, from[next(e)]!, from[previous(e)]!, from[previous(f)]!];
		expect(incircle(x[a]!, y[a]!, x[b]!, y[b]!, x[c]!, y[c]!, x[d]!, y[d]!)).toBeLessThanOrEqual(0);
	}
}

const coordinate = fc.integer({ min: 0, max: 12 });
const lattice = fc.array(fc.tuple(coordinate, coordinate), { minLength: 1, maxLength: 60 });

describe('a triangulation', () => {
	it('stays sound and Delaunay point by point, with many collinear and cocircular ones', () => {
		fc.assert(
			fc.property(lattice, (points) => {
				const mesh = build(points);
				expectSound(mesh);
				expectDelaunay(mesh);
				expect(mesh.vertexCount - 4).toBe(new Set(points.map(String)).size);
			}),
			{ numRuns: 200 }
		);
	});

	it('takes any edge that nothing stands in the way of, and stays constrained Delaunay', () => {
		fc.assert(
			fc.property(lattice, fc.nat(), fc.nat(), (points, i, j) => {
				const mesh = build(points);
				const count = mesh.vertexCount - 4;
				const [a, b] = [4 + (i % count), 4 + (j % count)];
				fc.pre(a !== b);
				const obstacle = mesh.constrain(a, b);
				expectSound(mesh);
				if (obstacle) {
					// On a lattice only a vertex on the segment can be in the way of the first edge.
					const v = (obstacle as { vertex: number }).vertex;
					expect(Math.abs(turn(mesh.x[a]!, mesh.y[a]!, mesh.x[b]!, mesh.y[b]!, mesh.x[v]!, mesh.y[v]!))).toBe(0);
					return;
				}
				const e = mesh.edgeBetween(a, b);
				expect([mesh.from[e], mesh.fixed[e], mesh.fixed[mesh.twin[e]!]]).toEqual([a, 1, 1]);
				expectDelaunay(mesh);
			}),
			{ numRuns: 200 }
		);
	});

	it('names the edge that another one would cross', () => {
		const mesh = build([
			[0, 0],
			[2, 2],
			[0, 2],
			[2, 0]
		]);
		expect(mesh.constrain(4, 5)).toBeUndefined();
		const obstacle = mesh.constrain(6, 7) as { crossing: [number, number] };
		expect([...obstacle.crossing].sort()).toEqual([4, 5]);
	});

	it('finds edges at the corners of its box from either end', () => {
		const mesh = build([
			[1, 1],
			[2, 1.5]
		]);
		for (let e = 0; e < 3 * mesh.triangleCount; e++)
			if (mesh.twin[e]! >= 0) expect(mesh.edgeBetween(mesh.from[e]!, mesh.from[next(e)]!)).toBe(e);
		expect(mesh.edgeBetween(0, 2) >= 0 && mesh.edgeBetween(1, 3) >= 0).toBe(false);
	});
});

describe('the stages of a triangle fill', () => {
	const n = 12;
	const ring = Array.from({ length: 4 * n }, (_, i) => {
		const f = (i % n) / n;
		return [
			[f, 0],
			[1, f],
			[1 - f, 1],
			[0, 1 - f]
		][Math.floor(i / n)] as [number, number];
	});
	const input = {
		x: Float64Array.from(ring, (p) => p[0]),
		y: Float64Array.from(ring, (p) => p[1]),
		edges: Uint32Array.from(ring.flatMap((_, i) => [i, (i + 1) % ring.length]))
	};
	const start = () => {
		const { triangulation, inside } = finish(triangulateBoundary(input, 400));
		const size = new Float64Array(triangulation.x.length).fill(1 / n);
		return { mesh: triangulation, inside, size };
	};
	const worst = (mesh: Triangulation, inside: Uint8Array) => {
		let least = Infinity;
		for (let t = 0; t < inside.length; t++) {
			if (!inside[t]) continue;
			const [a, b, c] = [0, 1, 2].map((k) => mesh.from[3 * t + k]!) as [number, number, number];
			const { x, y } = mesh;
			const area = ((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!)) / 2;
			const sides = [
				[a, b],
				[b, c],
				[c, a]
			].reduce((sum, [p, q]) => sum + (x[p!]! - x[q!]!) ** 2 + (y[p!]! - y[q!]!) ** 2, 0);
			least = Math.min(least, (4 * Math.sqrt(3) * area) / sides);
		}
		return least;
	};

	it('refinement adds no node nearer than asked, none on the boundary, and stops at its limit', () => {
		const { mesh, inside, size } = start();
		finish(refine(mesh, inside, size, { size: 1 / n, growth: 1.2 }, 1000));
		expectSound(mesh);
		for (let v = input.x.length + OFFSET; v < mesh.vertexCount; v++) {
			const [px, py] = [mesh.x[v]!, mesh.y[v]!];
			expect(Math.min(px, py, 1 - px, 1 - py)).toBeGreaterThan(0.3 / n);
			for (let w = OFFSET; w < v; w++) expect(Math.hypot(mesh.x[w]! - px, mesh.y[w]! - py)).toBeGreaterThan(0.6 / n);
		}
		const limited = start();
		finish(refine(limited.mesh, limited.inside, limited.size, { size: 1 / n, growth: 1.2 }, 7));
		expect(limited.mesh.vertexCount).toBe(input.x.length + OFFSET + 7);
	});

	it('smoothing never makes the worst element worse, moves no given node, and ends Delaunay', () => {
		const { mesh, inside, size } = start();
		const kept = finish(refine(mesh, inside, size, { size: 1 / n, growth: 1.2 }, 1000));
		const before = worst(mesh, kept);
		const given = [mesh.x.slice(0, input.x.length + OFFSET), mesh.y.slice(0, input.x.length + OFFSET)];
		finish(improve(mesh, [0, input.x.length + OFFSET], kept, [0.95, 0.95, 0.95, 0.95]));
		expect(worst(mesh, kept)).toBeGreaterThanOrEqual(before - 1e-12);
		expect([mesh.x.slice(0, input.x.length + OFFSET), mesh.y.slice(0, input.x.length + OFFSET)]).toEqual(given);
		expectSound(mesh);
		expectDelaunay(mesh, (t) => kept[t] === 1);
	});

	it('repair raises the smallest angle of a bad triangulation', () => {
		// The bare boundary: long thin triangles across the square.
		const { mesh, inside } = start();
		const before = worst(mesh, inside);
		const kept = finish(repair(mesh, inside));
		expectSound(mesh);
		expect(mesh.vertexCount).toBeGreaterThan(input.x.length + OFFSET);
		expect(worst(mesh, kept)).toBeGreaterThan(2 * before);
		expect(kept).toHaveLength(mesh.triangleCount);
	});

	it('a place is clear away from nodes and out of the half-circles of the boundary', () => {
		const { mesh } = start();
		const at = (x: number, y: number) =>
			isClear(mesh, x, y, mesh.walk(x, y, mesh.edgeBetween(OFFSET + 5, OFFSET + 6))!.edge, 0.5 / n);
		expect(at(5.5 / n, 0.9 / n)).toBe(true);
		expect(at(5.5 / n, 0.4 / n)).toBe(false);
		expect(at(5.05 / n, 0.3 / n)).toBe(false);
	});
});
