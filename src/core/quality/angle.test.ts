import fc from 'fast-check';
import { expect, it } from 'vitest';
import { angleOf } from './angle.ts';

it('an angle is that of the arc tangent, to the last digits, all around', () => {
	fc.assert(
		fc.property(fc.double({ min: 0, max: 360, noNaN: true }), fc.double({ min: 1e-6, max: 1e6, noNaN: true }), (angle, size) => {
			const [cross, dot] = [size * Math.sin((angle * Math.PI) / 180), size * Math.cos((angle * Math.PI) / 180)];
			const expected = ((Math.atan2(cross, dot) * 180) / Math.PI + 360) % 360;
			const away = Math.abs(angleOf(cross, dot) - expected);
			expect(Math.min(away, 360 - away)).toBeLessThan(1e-12);
		}),
		{ numRuns: 5000 }
	);
});

it('angles that are known have no error at all', () => {
	expect([angleOf(0, 1), angleOf(1, 0), angleOf(1, 1), angleOf(0, -1), angleOf(-1, 0)]).toEqual([0, 90, 45, 180, 270]);
	expect(angleOf(0, 0)).toBe(0);
});
