import { describe, expect, it } from 'vitest';
import { cachedFor } from './cached-for.ts';

describe('what is kept of an object', () => {
	it('is made once for a number, and anew for another number or another object', () => {
		const made: string[] = [];
		const of = cachedFor((o: { name: string }, n) => made.push(`${o.name}${n}`));
		const [a, b] = [{ name: 'a' }, { name: 'b' }];
		expect([of(a, 1), of(a, 1), of(b, 1), of(a, 2), of(a, 2), of(a, 1)]).toEqual([1, 1, 2, 3, 3, 4]);
		expect(made).toEqual(['a1', 'b1', 'a2', 'a1']);
	});
});
