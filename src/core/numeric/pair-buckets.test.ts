import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PairBuckets } from './pair-buckets.ts';

describe('items under pairs', () => {
	it('are found again, the newest first, as in plain lists', () => {
		const small = fc.integer({ min: -3, max: 3 });
		const any = fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 });
		fc.assert(
			fc.property(fc.array(fc.oneof(fc.tuple(small, small), fc.tuple(any, any)), { maxLength: 300 }), (pairs) => {
				const buckets = new PairBuckets(1);
				const lists = new Map<string, number[]>();
				pairs.forEach(([a, b], k) => {
					expect(buckets.add(a, b)).toBe(k);
					lists.set(`${a} ${b}`, [k, ...(lists.get(`${a} ${b}`) ?? [])]);
				});
				for (const [a, b] of [...pairs, [7, 9] as const]) {
					const found: number[] = [];
					for (let item = buckets.newest(a, b); item >= 0; item = buckets.older(item)) found.push(item);
					expect(found).toEqual(lists.get(`${a} ${b}`) ?? []);
				}
			})
		);
	});
});
