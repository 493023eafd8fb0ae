import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { domains, numbers } from '../domains.test-support.ts';
import { FillError, type Fill, type FillInput } from '../method.ts';
import { fillQuads } from './fill-quads.ts';

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
