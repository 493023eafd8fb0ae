import { describe, expect, it } from 'vitest';
import { Selection, thingKey } from './selection.svelte.ts';

describe('the selection', () => {
	const wall = thingKey('piece', 'wall[2]');
	const pipe = thingKey('piece', 'pipe');
	const water = thingKey('region', 'water');

	it('is replaced by a new one, or grows by it', () => {
		const selection = new Selection();
		selection.take([wall, water], false);
		expect(selection.names('piece')).toEqual(['wall[2]']);
		expect(selection.names('region')).toEqual(['water']);
		selection.take([pipe], true);
		expect(selection.names('piece')).toEqual(['wall[2]', 'pipe']);
		selection.take([pipe], false);
		expect([...selection.keys]).toEqual([pipe]);
	});

	it('gives up a single thing that is added again, and keeps each of several', () => {
		const selection = new Selection();
		selection.take([wall], true);
		selection.take([wall], true);
		expect(selection.has('piece', 'wall[2]')).toBe(false);
		selection.take([wall], true);
		selection.take([wall, pipe], true);
		expect(selection.names('piece')).toEqual(['wall[2]', 'pipe']);
	});
});
