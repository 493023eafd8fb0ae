import { expect, it } from 'vitest';
import { Unchanged } from './unchanged.ts';

it('a picture is made anew where one of its parts is another object, or another text', () => {
	const unchanged = new Unchanged();
	const mesh = { x: 1 };
	expect(unchanged.isSame([mesh, 'a'])).toBe(false);
	expect(unchanged.isSame([mesh, 'a'])).toBe(true);
	expect(unchanged.isSame([{ x: 1 }, 'a'])).toBe(false);
	expect(unchanged.isSame([mesh, 'b'])).toBe(false);
	expect(unchanged.isSame([mesh, 'b', undefined])).toBe(false);
	unchanged.forget();
	expect(unchanged.isSame([mesh, 'b', undefined])).toBe(false);
});
