import { incircle } from 'robust-predicates';
import { describe, expect, it } from 'vitest';
import { FillError, type Fill, type FillInput } from '../method.ts';
import { finish } from '../../numeric/work.ts';
import { numbers, input, ring, domains } from '../domains.test-support.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
import { fillTriangles } from './fill-triangles.ts';

const area = (x: ArrayLike<number>, y: ArrayLike<number>, a: number, b: number, c: number) =>
	((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!)) / 2;

function check(given: FillInput, fill: Fill): void {
	const x = Float64Array.from([...given.x, ...fill.x]);
	const y = Float64Array.from([...given.y, ...fill.y]);
	const { triangles } = fill;
	// No element is inverted, and together they cover the domain.
	let covered = 0;
	let inverted = 0;
	for (let t = 0; t < triangles.length; t += 3) {
		const part = area(x, y, triangles[t]!, triangles[t + 1]!, triangles[t + 2]!);
		if (!(part > 0)) inverted++;
		covered += part;
	}
	expect(inverted).toBe(0);
	let [wanted, size] = [0, 0];
	for (let e = 0; e < given.edges.length; e += 2) {
		const [a, b] = [given.edges[e]!, given.edges[e + 1]!];
		const part = (x[a]! * y[b]! - x[b]! * y[a]!) / 2;
		wanted += part;
		size += Math.abs(part);
	}
	expect(Math.abs(covered - wanted)).toBeLessThan(1e-10 * size);
	// Every given edge is there, once, with the domain on its left; every other edge has two triangles.
	const beside = new Map<string, number>();
	let doubled = 0;
	for (let t = 0; t < triangles.length; t += 3)
		for (let k = 0; k < 3; k++) {
			const key = `${triangles[t + k]!} ${triangles[t + ((k + 1) % 3)]!}`;
			if (beside.has(key)) doubled++;
			beside.set(key, triangles[t + ((k + 2) % 3)]!);
		}
	const fixed = new Set<string>();
	for (let e = 0; e < given.edges.length; e += 2) fixed.add(`${given.edges[e]!} ${given.edges[e + 1]!}`);
	expect(doubled).toBe(0);
	expect([...fixed].filter((key) => !beside.has(key))).toEqual([]);
	let torn = 0;
	let delaunay = 0;
	let inner = 0;
	for (const [key, apex] of beside) {
		const [a, b] = key.split(' ').map(Number) as [number, number];
		const other = beside.get(`${b} ${a}`);
		if ((other !== undefined) === fixed.has(key)) torn++;
		if (other === undefined) continue;
		inner++;
		// Negative where the other apex lies outside of the circle (robust-predicates has it for clockwise order).
		const inside = incircle(x[a]!, y[a]!, x[b]!, y[b]!, x[apex]!, y[apex]!, x[other]!, y[other]!);
		if (!(inside > 0)) delaunay++;
	}
	expect(torn).toBe(0);
	expect(delaunay).toBe(inner);
}

/** Domains of each kind; `FUZZ=400 npx vitest run fuzz` takes as many. */
const rounds = Number(process.env.FUZZ ?? 12);

describe.each(Object.entries(domains))('%s', (_, make) => {
	it('are filled to the last corner, conforming and Delaunay, or refused with a place', () => {
		const random = numbers(20261125);
		for (let k = 0; k < rounds; k++) {
			const given = make(random);
			let fill: Fill;
			try {
				const size = k % 3 === 0 ? 0.1 + 0.1 * random.next() : 0.3 + random.next();
				const rule: SizeRule = { size, growth: 1.1 + 0.4 * random.next(), even: k % 4 === 1 };
				// Sizes that vary everywhere: no lattice, but a sweep.
				if (k % 4 === 2) {
					const [px, py, least] = [10 * random.next() - 5, 10 * random.next() - 5, 0.05 + 0.05 * random.next()];
					rule.field = { at: (x, y) => least + 0.04 * Math.hypot(x - px, y - py) };
				}
				fill = finish(fillTriangles(given, rule));
			} catch (error) {
				expect(error).toBeInstanceOf(FillError);
				expect(Number.isFinite((error as FillError).at.x)).toBe(true);
				continue;
			}
			check(given, fill);
		}
	}, 3_600_000);
});

describe('a large outline', () => {
	it('of 50 000 vertices is filled', () => {
		const coast = ring(50_000, 0, 0, (a, k) => 10 + Math.sin(7 * a) + 0.3 * Math.sin(61 * a) + (k % 2) * 1e-4);
		const given = input([coast]);
		check(given, finish(fillTriangles(given, { size: 0.5, growth: 2.5 })));
	});
});
