import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pooled, pooledOf } from './pooled.ts';

describe('pooled', () => {
	it('refuses what is no length, and gives lists as before after it', () => {
		for (const length of [NaN, -1]) expect(() => pooled(length)).toThrow(RangeError);
		expect(pooled(3)).toEqual(Float64Array.of(0, 0, 0));
	});

	it('gives lists of zeros of which none touches another', () => {
		fc.assert(
			fc.property(fc.array(fc.oneof(fc.nat(40), fc.nat(5000)), { maxLength: 60 }), (lengths) => {
				const lists = lengths.map((length) => pooled(length));
				for (const [k, list] of lists.entries()) {
					expect(list).toHaveLength(lengths[k]!);
					expect(list.every((value) => value === 0)).toBe(true);
					list.fill(k + 1);
				}
				for (const [k, list] of lists.entries()) expect(list.every((value) => value === k + 1)).toBe(true);
			})
		);
	});

	it('holds what it is made of', () => {
		expect([...pooledOf([1, 0.5, -3])]).toEqual([1, 0.5, -3]);
		expect(pooledOf(Uint32Array.of(7, 8))).toEqual(Float64Array.of(7, 8));
	});
});
