import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { divided, domains, hole, input, numbers, ring, type Random } from '../domains.test-support.ts';
import { FillError, type Fill, type FillInput } from '../method.ts';
import { expectedTriangles } from '../triangles/expected.ts';
import { fillQuads } from './fill-quads.ts';
import { coreOf } from './lay-quads.ts';

/** Domains of each kind; `FUZZ=100 npx vitest run quads-fuzz` takes as many. */
const rounds = Number(process.env.FUZZ ?? 4);

/** Every element is convex and counter-clockwise, all edges match, given ones are there, the area is the outline's. */
function check(given: FillInput, fill: Fill): void {
	const x = Float64Array.from([...given.x, ...fill.x]);
	const y = Float64Array.from([...given.y, ...fill.y]);
	let [covered, folded] = [0, 0];
	const beside = new Set<string>();
	let doubled = 0;
	for (const [list, size] of [
		[fill.triangles, 3],
		[fill.quads, 4]
	] as const)
		for (let e = 0; e < list.length; e += size)
			for (let k = 0; k < size; k++) {
				const [a, b, c] = [list[e + k]!, list[e + ((k + 1) % size)]!, list[e + ((k + size - 1) % size)]!];
				if (!((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!) > 0)) folded++;
				covered += (x[a]! * y[b]! - x[b]! * y[a]!) / 2;
				if (beside.has(`${a} ${b}`)) doubled++;
				beside.add(`${a} ${b}`);
			}
	expect([folded, doubled]).toEqual([0, 0]);
	let [wanted, size] = [0, 0];
	const fixed = new Set<string>();
	for (let e = 0; e < given.edges.length; e += 2) {
		const [a, b] = [given.edges[e]!, given.edges[e + 1]!];
		fixed.add(`${a} ${b}`);
		const part = (x[a]! * y[b]! - x[b]! * y[a]!) / 2;
		wanted += part;
		size += Math.abs(part);
	}
	expect(Math.abs(covered - wanted)).toBeLessThan(1e-10 * size);
	expect([...fixed].filter((edge) => !beside.has(edge))).toEqual([]);
	const torn = [...beside].filter((edge) => {
		const [a, b] = edge.split(' ');
		return beside.has(`${b} ${a}`) === fixed.has(edge) && !fixed.has(`${b} ${a}`);
	});
	expect(torn).toEqual([]);
}

describe.each(Object.entries(domains))('%s', (_, make) => {
	it('are filled with quadrilaterals, none of them folded, or with what a remark says', () => {
		const random = numbers(20261126);
		for (let k = 0; k < rounds; k++) {
			const given = make(random);
			const size = 0.3 + random.next();
			const mostly = k % 3 === 2;
			let fill: Fill;
			try {
				fill = finish(fillQuads(given, { size, growth: 1.1 + 0.4 * random.next(), mostly }, 500));
			} catch (error) {
				expect(error).toBeInstanceOf(FillError);
				expect(Number.isFinite((error as FillError).at.x)).toBe(true);
				continue;
			}
			check(given, fill);
			const isOdd = (given.edges.length / 2) % 2 === 1;
			if (!mostly && (fill.triangles.length > 0 || isOdd)) {
				expect(fill.remarks).toHaveLength(1);
				expect(Number.isFinite(fill.remarks![0]!.at.x)).toBe(true);
			} else if (fill.remarks) expect(fill.remarks[0]!.code).toBe('not-quads');
		}
	}, 3_600_000);
});

/** Smooth outlines with an even number of edges, small beside the region; holes, some of them with an edge inside or a loose node. */
function large({ next, below }: Random): FillInput {
	const [waves, depth, phase] = [2 + below(4), 0.2 * next(), 6 * next()];
	const loops = [ring(2 * (180 + below(60)), 0, 0, (a) => 10 * (1 + depth * Math.sin(waves * a + phase)))];
	for (let k = below(3); k > 0; k--)
		loops.push(hole(ring(2 * (6 + below(60)), k === 1 ? -3.4 : 3.2, 2 * next(), () => 0.5 + 6 * depth)));
	return input(loops, next() < 0.3 ? [[0.1, -3.3]] : []);
}

describe('large regions', () => {
	it('get most of their elements from a coarse fill, and are filled like others', () => {
		const random = numbers(20261127);
		let cores = 0;
		for (let k = 0; k < rounds; k++) {
			const given = large(random);
			const rule = { size: 0.13 * (0.8 + 0.3 * random.next()), growth: 1.05 + 0.3 * random.next(), mostly: k % 4 === 3 };
			const expected = 0.433 * finish(expectedTriangles(given, rule));
			const core = finish(coreOf(given, rule, expected));
			const fill = finish(fillQuads(given, rule, expected));
			check(given, fill);
			expect(fill.remarks).toBeUndefined();
			expect(fill.triangles.length === 0 || rule.mostly).toBe(true);
			if (core) {
				cores++;
				expect(core.quads.length).toBeGreaterThan(0.5 * fill.quads.length);
			}
		}
		expect(cores).toBeGreaterThan(0.7 * rounds);
	}, 3_600_000);

	it('are a grid, all of it from the coarse fill, where their outline fits one', () => {
		const outline = divided(
			[
				[0, 0],
				[60, 0],
				[60, 24],
				[24, 24],
				[24, 60],
				[0, 60]
			],
			0.25
		);
		const given = input([outline]);
		const rule = { size: 0.25, growth: 1.2 };
		const cells = (60 * 24 + 36 * 24) * 16;
		expect(finish(coreOf(given, rule, cells))!.rest).toHaveLength(0);
		const fill = finish(fillQuads(given, rule, cells));
		check(given, fill);
		expect(fill.quads.length / 4).toBe(cells);
		for (const v of [...fill.x, ...fill.y]) expect(Math.abs(v * 4 - Math.round(v * 4))).toBeLessThan(1e-6);
	});
});
