import { describe, expect, it } from 'vitest';
import { keepDeliveries, keptDeliveries, markOf, standingOf } from './stored-deliveries.ts';
import { browserMemory } from '../storage/browser-memory.ts';

const delivery = { revision: 7, mark: markOf('recipe 1'), bytes: 41_234, milliseconds: 380 };

describe('what was delivered', () => {
	it('is known again after a reload, by project', () => {
		const shelf = new Map<string, string>();
		const storage = { getItem: (k: string) => shelf.get(k) ?? null, setItem: (k: string, v: string) => void shelf.set(k, v) };
		keepDeliveries(storage, 'a', { 'deliver cgns': delivery });
		expect(keptDeliveries(storage, 'a')).toEqual({ 'deliver cgns': delivery });
		expect(keptDeliveries(storage, 'b')).toEqual({});
	});

	it('is nothing where the storage holds something else, or refuses', () => {
		expect(keptDeliveries({ getItem: () => 'no JSON' }, 'a')).toEqual({});
		expect(keptDeliveries({ getItem: () => '{"x": {"mark": 3}}' }, 'a')).toEqual({});
		// As here, where there is no storage at all.
		expect(() => keepDeliveries(browserMemory, 'a', { x: delivery })).not.toThrow();
		expect(keptDeliveries(browserMemory, 'a')).toEqual({});
	});

	it('is stale as soon as the text is another', () => {
		expect(standingOf(delivery, 'recipe 1')).toBe('41 kB in 0.4 s, of revision 7');
		expect(standingOf(delivery, 'recipe 1 ')).toBe('stale: changed since revision 7');
		expect(standingOf(undefined, 'recipe 1')).toBe('');
		expect(standingOf({ ...delivery, bytes: 2_345_678 }, 'recipe 1')).toContain('2.3 MB');
	});
});
