import { incircle } from 'robust-predicates';
import { describe, expect, it } from 'vitest';
import { turn } from '../../numeric/predicates.ts';
import { finish } from '../../numeric/work.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
import { hole, input, numbers, ring } from '../domains.test-support.ts';
import { expectedTriangles, givenSizes } from './expected.ts';
import { findSweptCore } from './swept-core.ts';
import { next, previous } from './triangulation.ts';

const disc = (n: number, x: number, y: number, r: number) => ring(n, x, y, () => r);
const rule: SizeRule = { size: 1, growth: 1.1, field: { at: (x, y) => 0.08 + 0.02 * Math.hypot(x, y - 3) } };
const given = input([disc(400, 0, 0, 10), hole(disc(60, 3, 2, 2)), hole(disc(30, -4, -3, 0.3))], [[-6, 4]]);
const sizes = givenSizes(given, rule);
const expected = finish(expectedTriangles(given, rule)) / 2;
const core = finish(findSweptCore(given, rule, sizes, expected))!;

/** The wanted size by its definition: the field, and every given node's size grown over the way from it. */
function wanted(px: number, py: number): number {
	let h = rule.field!.at(px, py);
	for (let i = 0; i < sizes.length; i++)
		h = Math.min(h, sizes[i]! + (rule.growth - 1) * Math.hypot(given.x[i]! - px, given.y[i]! - py));
	return h;
}

describe('a swept core', () => {
	const { mesh, rim, rimX, rimY, rimSizes, edges } = core;
	const { x, y, from, twin } = mesh;

	it('takes most of the region', () => {
		expect(mesh.vertexCount).toBeGreaterThan(0.7 * expected);
		expect(mesh.vertexCount).toBeLessThan(expected);
	});

	it('keeps its distance to every edge and node, on the inner side', () => {
		for (let v = 0; v < mesh.vertexCount; v++) {
			let least = Infinity;
			for (let i = 0; i < given.x.length; i++) least = Math.min(least, Math.hypot(given.x[i]! - x[v]!, given.y[i]! - y[v]!));
			expect(least).toBeGreaterThan(1.1 * wanted(x[v]!, y[v]!));
			expect(Math.hypot(x[v]!, y[v]!)).toBeLessThan(10);
			expect(Math.hypot(x[v]! - 3, y[v]! - 2)).toBeGreaterThan(2);
			expect(Math.hypot(x[v]! + 4, y[v]! + 3)).toBeGreaterThan(0.3);
		}
	});

	it('is Delaunay, its half-edges pairs, open along its rim alone', () => {
		let open = 0;
		for (let e = 0; e < 3 * mesh.triangleCount; e++) {
			const [a, b, c] = [from[e]!, from[next(e)]!, from[previous(e)]!];
			expect(turn(x[a]!, y[a]!, x[b]!, y[b]!, x[c]!, y[c]!)).toBeGreaterThan(0);
			const f = twin[e]!;
			if (f < 0) {
				open++;
				continue;
			}
			expect([twin[f], from[f], from[next(f)]]).toEqual([e, b, a]);
			const d = from[previous(f)]!;
			expect(incircle(x[a]!, y[a]!, x[b]!, y[b]!, x[c]!, y[c]!, x[d]!, y[d]!)).toBeLessThanOrEqual(0);
		}
		expect(edges).toHaveLength(2 * open);
		// Its own outline goes around the whole, and the other way round in the holes: as much area as its triangles have.
		let area = 0;
		for (let k = 0; k < edges.length; k += 2) {
			const [a, b] = [edges[k]!, edges[k + 1]!];
			area -= (rimX[a]! * rimY[b]! - rimX[b]! * rimY[a]!) / 2;
		}
		expect(area).toBeGreaterThan(230);
		expect(area).toBeLessThan(Math.PI * (100 - 4 - 0.09));
	});

	it('tells the places and sizes of its rim', () => {
		for (let k = 0; k < rim.length; k++) {
			expect([x[rim[k]!], y[rim[k]!]]).toEqual([rimX[k], rimY[k]]);
			const ratio = rimSizes[k]! / wanted(rimX[k]!, rimY[k]!);
			expect(ratio).toBeGreaterThan(0.8);
			expect(ratio).toBeLessThan(1.2);
		}
	});

	it('is none where too little is left', () => {
		const thin = input([disc(400, 0, 0, 10), hole(disc(400, 0, 0, 9.7))]);
		expect(
			finish(findSweptCore(thin, { size: 0.15, growth: 1.2 }, givenSizes(thin, { size: 0.15, growth: 1.2 }), 1600))
		).toBeUndefined();
	});

	it('has half-edges that are pairs in stars with points of all lengths', () => {
		const random = numbers(7);
		let swept = 0;
		for (let k = 0; k < 120; k++) {
			const points = 5 + random.below(36);
			const star = ring(points, 0, 0, () => [0.4, 1, 0.4 + 0.6 * random.next()][random.below(3)]!);
			const given = input([star, hole(disc(3 + random.below(28), 0, 0, 0.1))]);
			const fine: SizeRule = { size: 0.018 + 0.012 * random.next(), growth: 1.3 };
			const made = finish(findSweptCore(given, fine, givenSizes(given, fine), finish(expectedTriangles(given, fine)) / 2));
			if (!made) continue;
			swept++;
			const { twin, from, triangleCount } = made.mesh;
			const isPaired = (e: number) => twin[e]! < 0 || (twin[twin[e]!] === e && from[twin[e]!] === from[next(e)]);
			// One look at each: an expectation for every half-edge would take longer than the sweep.
			let single = 0;
			for (let e = 0; e < 3 * triangleCount; e++) if (!isPaired(e)) single++;
			expect(single).toBe(0);
		}
		expect(swept).toBeGreaterThan(40);
	});
});
