import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DisjointSets } from './disjoint-sets.ts';

describe('disjoint sets', () => {
	it('hold what was joined, by whatever way, under its smallest number', () => {
		const below = fc.nat(29);
		fc.assert(
			fc.property(fc.array(fc.tuple(below, below), { maxLength: 40 }), (joined) => {
				const sets = new DisjointSets(30);
				for (const [a, b] of joined) sets.join(a, b);
				// Numbers that spread along the pairs until nothing changes.
				const least = Array.from({ length: 30 }, (_, k) => k);
				for (let round = 0; round < 30; round++)
					for (const [a, b] of joined) least[a] = least[b] = Math.min(least[a]!, least[b]!);
				expect(least.map((_, k) => sets.root(k))).toEqual(least);
			})
		);
	});
});
