import { describe, expect, it } from 'vitest';
import { keepDeliveries, keptDeliveries, markOf, standingOf } from './deliveries-kept.ts';
import { browserMemory } from '../storage/browser-memory.ts';

const kept = { revision: 7, mark: markOf('recipe 1'), bytes: 41_234, milliseconds: 380 };

describe('what was delivered', () => {
	it('is known again after a reload, by project', () => {
		const shelf = new Map<string, string>();
		const storage = { getItem: (k: string) => shelf.get(k) ?? null, setItem: (k: string, v: string) => void shelf.set(k, v) };
		keepDeliveries(storage, 'a', { 'deliver cgns': kept });
		expect(keptDeliveries(storage, 'a')).toEqual({ 'deliver cgns': kept });
		expect(keptDeliveries(storage, 'b')).toEqual({});
	});

	it('is nothing where the storage holds something else, or refuses', () => {
		expect(keptDeliveries({ getItem: () => 'no JSON' }, 'a')).toEqual({});
		expect(keptDeliveries({ getItem: () => '{"x": {"mark": 3}}' }, 'a')).toEqual({});
		// As here, where there is no storage at all.
		expect(() => keepDeliveries(browserMemory, 'a', { x: kept })).not.toThrow();
		expect(keptDeliveries(browserMemory, 'a')).toEqual({});
	});

	it('is stale as soon as the text is another', () => {
		expect(standingOf(kept, 'recipe 1')).toBe('41 kB in 0.4 s, of revision 7');
		expect(standingOf(kept, 'recipe 1 ')).toBe('stale: changed since revision 7');
		expect(standingOf(undefined, 'recipe 1')).toBe('');
		expect(standingOf({ ...kept, bytes: 2_345_678 }, 'recipe 1')).toContain('2.3 MB');
	});
});
