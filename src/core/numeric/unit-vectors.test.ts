import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cos, sin } from './elementary.ts';
import { unitVectorAt, unitVectors } from './unit-vectors.ts';

describe('unitVectorAt', () => {
	it('has the cosine and the sine of an angle, bit for bit, whatever was asked for before', () => {
		const angle = fc.oneof(
			fc.double({ noNaN: true, min: -20, max: 20 }),
			fc.nat(40_000).map((k) => (k * Math.PI) / 1000)
		);
		fc.assert(
			fc.property(fc.array(angle, { minLength: 1, maxLength: 300 }), (angles) => {
				for (const a of [...angles, ...angles]) {
					const k = unitVectorAt(a);
					expect(unitVectors[k]).toBe(cos(a));
					expect(unitVectors[k + 1]).toBe(sin(a));
				}
			})
		);
	});

	it('tells 0 from −0', () => {
		expect(unitVectors[unitVectorAt(0) + 1]).toBe(0);
		expect(unitVectors[unitVectorAt(-0) + 1]).toBe(-0);
	});
});
