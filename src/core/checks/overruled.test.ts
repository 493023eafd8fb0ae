import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';

const told = (text: string) => {
	const recipe = `recipe 1\nrectangle b = (0, 0) to (10, 5)\nregion r bounded by b\n${text}`;
	const { findings } = finish(new Pipeline(() => 0).run({ text: recipe, files: {} }));
	return findings.filter((f) => f.code === 'overruled').map(({ span, message }) => [recipe.slice(span!.from, span!.to), message]);
};

describe('a statement of which later ones leave nothing', () => {
	it.each([
		['size 1\nfill r triangles\ndivide b.top into 5\ndivide b into 8', 'divide b.top into 5', 'line 7 below'],
		['size 1\nfill r triangles\nfill r structured', 'fill r triangles', 'line 6 below'],
		['size 1\nfill r triangles\nsize 2', 'size 1', 'line 6 below'],
		[
			'size 1\nfill r triangles\nlayers on b.top first 0.1 growth 1.2 count 3\nlayers on b.top, b.left first 0.2 growth 1.2 count 3',
			'layers on b.top first 0.1 growth 1.2 count 3',
			'line 7 below'
		]
	])('is told, with the lines of both: %s', (text, earlier, later) => {
		expect(told(text)).toEqual([[earlier, expect.stringContaining(later)]]);
	});

	it.each([
		'size 1\nfill r triangles\ndivide b into 8\ndivide b.top into 5',
		'size 1\nfill r triangles\ndivide b.top into 8\ndivide b.top first 0.1 at both',
		'size 1 growth 1.3\nsize 2\nfill r triangles',
		'size 1\nfill r triangles\nlayers on b.top first 0.1 growth 1.2 count 3 left\nlayers on b.top first 0.2 growth 1.2 count 3 right'
	])('is none where something of it holds: %s', (text) => {
		expect(told(text)).toEqual([]);
	});
});
