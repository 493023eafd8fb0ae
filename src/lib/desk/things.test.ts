import { describe, expect, it } from 'vitest';
import { pieceNames } from '../../core/domain/references.ts';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import type { Desk } from './desk.svelte.ts';
import { thingsFor } from './things.ts';

const result = finish(
	new Pipeline(() => 0).run({
		text: `recipe 1
rectangle box = (0, 0) to (4, 3)
region water at (1, 1)
size 1
fill water triangles
group inlet = box.left as inflow
`,
		files: {}
	})
);
const desk = { result, names: pieceNames(result.arrangement) } as unknown as Desk;
const titles = (query: string) => thingsFor(query, desk).map(({ title }) => title);

describe('things of a drawing', () => {
	it('are found by their names and by what they are', () => {
		expect(titles('inlet')).toEqual(['Group inlet']);
		expect(titles('water')).toEqual(['Region water']);
		expect(titles('box. piece').slice(0, 4)).toEqual(['Piece box.bottom', 'Piece box.right', 'Piece box.top', 'Piece box.left']);
		expect(titles('finding no group')[0]).toContain('is in no group');
	});

	it('are none without a word, and no more than can be read', () => {
		expect(titles('')).toEqual([]);
		expect(titles('nothing like that')).toEqual([]);
		const many = { result, names: Array.from({ length: 500 }, (_, k) => `wall[${k}]`) } as unknown as Desk;
		expect(thingsFor('wall', many)).toHaveLength(20);
	});
});
