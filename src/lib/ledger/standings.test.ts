import { expect, it } from 'vitest';
import { unlabelledPieces } from '../../core/domain/groups.ts';
import { pieceNames } from '../../core/domain/references.ts';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { standings } from './standings.ts';

const of = (lines: string) => {
	const result = finish(new Pipeline(() => 0).run({ text: `recipe 1\n${lines}\n`, files: {} }));
	return standings(
		result,
		pieceNames(result.arrangement),
		unlabelledPieces(result.arrangement, result.regions, result.mesh.groups)
	);
};
const said = (lines: string) => of(lines).map(({ ok, text }) => `${ok ? '' : '! '}${text}`);
const plate = 'rectangle b = (0, 0) to (30, 20)\nregion p at (1, 1)\nsize 5\nfill p triangles';

it('nothing is ticked of what is not there', () => {
	expect(said('units mm')).toEqual(['! nothing is drawn yet']);
	const bare = said('rectangle b = (0, 0) to (30, 20)');
	expect(bare.at(-1)).toBe('! no region yet: click into an outline to make it one');
	expect(bare.some((text) => /group|material/.test(text))).toBe(false);
});

it('what is so stands with its count, what is wrong with what to show', () => {
	expect(said(`${plate}\ngroup walls = b as wall`)).toEqual([
		'every outline is closed',
		'nothing is drawn twice',
		'no curve crosses itself',
		expect.stringMatching(/^1 region, \d+ elements$/),
		'every boundary piece is in exactly one group: 4',
		'no corner that groups share',
		'all regions are one material: none is named',
		expect.stringMatching(/^\d+ numbers? as asked$/)
	]);
	const two = of(`${plate}\ngroup inlet = b.left as inflow\ngroup rest = b.right as wall`);
	expect(two[4]).toMatchObject({ ok: false, text: '2 boundary pieces in no group', keys: ['piece b.bottom', 'piece b.top'] });
	expect(said(`${plate}\ngroup inlet = b.left as inflow\ngroup rest = b except b.left as wall`)[5]).toBe(
		'2 corners between groups, each owned by one'
	);
	const crossing = of('polyline z = (0, 0) to (10, 10) to (10, 0) to (0, 10)');
	expect(crossing[2]).toMatchObject({ ok: false, places: [{ x: 5, y: 5 }] });
	const mixed = said(`${plate}\nrectangle c = (40, 0) to (50, 5)\nregion q at (41, 1)\nfill q triangles\ngroup steel = region p`);
	expect(mixed).toContain('! 1 region of no material');
});
