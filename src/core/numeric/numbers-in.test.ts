import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { numbersIn } from './numbers-in.ts';

describe('numbers of objects in another list', () => {
	it('are what a search finds, whatever was moved, left out or put in', () => {
		const objects = Array.from({ length: 12 }, (_, k) => ({ k }));
		const some = fc.shuffledSubarray(objects);
		const near = fc.subarray(objects);
		fc.assert(
			fc.property(fc.oneof(some, near), fc.oneof(some, near), (list, other) => {
				expect([...numbersIn(list, other)]).toEqual(list.map((object) => other.indexOf(object)));
			})
		);
	});
});
