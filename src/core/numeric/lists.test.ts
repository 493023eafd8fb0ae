import { describe, expect, it } from 'vitest';
import { Float64List, Uint32List } from './lists.ts';

describe('lists that grow', () => {
	it('hold all that was pushed, in order, beyond their first room', () => {
		const [doubles, whole] = [new Float64List(), new Uint32List()];
		for (let k = 0; k < 5000; k++) {
			doubles.push(k / 3);
			whole.push(4294967295 - k);
		}
		expect([doubles.length, whole.length]).toEqual([5000, 5000]);
		expect(doubles.taken()).toEqual(Float64Array.from({ length: 5000 }, (_, k) => k / 3));
		expect(whole.taken()).toEqual(Uint32Array.from({ length: 5000 }, (_, k) => 4294967295 - k));
		expect(new Float64List().taken()).toHaveLength(0);
		const exact = new Uint32List(3);
		for (const value of [7, 8, 9]) exact.push(value);
		expect([...exact.taken()]).toEqual([7, 8, 9]);
		const fours = new Uint32List(5);
		for (let k = 0; k < 5; k++) fours.push4(4 * k, 4 * k + 1, 4 * k + 2, 4 * k + 3);
		fours.push(20);
		expect([...fours.taken()]).toEqual(Array.from({ length: 21 }, (_, k) => k));
	});
});
