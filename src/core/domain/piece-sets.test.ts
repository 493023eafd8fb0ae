import { isBoundary } from '../mesh/mesh.ts';
import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { deleteThings } from '../recipe/edits/intents.ts';
import { parseRecipe } from '../recipe/language/parse.ts';
import { pieceNames } from './references.ts';

const base = `recipe 1
rectangle box = (0, 0) to (60, 40)
circle pin = around (15, 20) radius 4
circle slug = around (45, 20) radius 5
line wall = (30, 0) to (30, 40)
region water at (5, 5)
region oil at (55, 5)
region core at (45, 20)
region bore at (15, 20)
size 3
fill bore none
fill water, oil, core triangles
`;
const run = (more: string, text = base) => {
	const result = finish(new Pipeline(() => 0).run({ text: text + more, files: {} }));
	const names = pieceNames(result.arrangement);
	const group = (name: string) =>
		result.mesh.groups
			.filter(isBoundary)
			.find((g) => g.name === name)
			?.pieces.map((p) => names[p])
			.sort();
	const messages = result.findings.filter((f) => f.code !== 'unlabelled').map((f) => f.message);
	return { ...result, names, group, messages };
};

describe('sets of pieces by description', () => {
	it('are the outline, what faces a way, holes, and what two regions share', () => {
		const { group, messages } = run(`group bottom = outer facing down within 30 deg
group rest = outer facing up, outer facing left within 10 deg, outer facing 0 deg
group pins = holes of water
group contact = between water, oil as wall
group skin = between oil, core`);
		expect(messages).toEqual([]);
		expect(group('bottom')).toEqual(['box.bottom[1]', 'box.bottom[2]']);
		expect(group('rest')).toEqual(['box.left', 'box.right', 'box.top[1]', 'box.top[2]']);
		expect(group('pins')).toEqual(['pin']);
		expect(group('contact')).toEqual(['wall']);
		expect(group('skin')).toEqual(['slug']);
	});

	it('are the whole outline without a direction, unless a curve has that name', () => {
		expect(run('group skin = outer').group('skin')).toEqual([
			'box.bottom[1]',
			'box.bottom[2]',
			'box.left',
			'box.right',
			'box.top[1]',
			'box.top[2]'
		]);
		const named = base.replace('line wall', 'line outer');
		expect(run('group skin = outer', named).group('skin')).toEqual(['outer']);
	});

	it('count a hole that several regions surround, and what lies beyond an empty region outside', () => {
		const halves = `recipe 1
circle ring = around (0, 0) radius 10
circle bore = around (0, 0) radius 4
line up = (0, 4) to (0, 10)
line down = (0, -4) to (0, -10)
region west at (-7, 0)
region east at (7, 0)
region inside at (0, 0)
size 2
fill inside none
fill west, east triangles
group holes1 = holes of west, holes of east
group skin = outer`;
		const { group, messages } = run('', halves);
		expect(messages).toEqual([]);
		expect(group('holes1')).toEqual(['bore[1]', 'bore[2]']);
		expect(group('skin')).toEqual(['ring[1]', 'ring[2]']);
		const empty = base.replace('fill water, oil, core', 'fill water, core');
		expect(run('fill oil none\ngroup skin = outer', empty).group('skin')).toEqual([
			'box.bottom[1]',
			'box.left',
			'box.top[2]',
			'slug',
			'wall'
		]);
	});

	it('are chains, along a curve or over several, and what touches a box', () => {
		const { group } = run('group way = box.bottom[1] to box.right\ngroup near = touching box (-1, -1) to (1, 50)');
		expect(group('way')).toEqual(['box.bottom[1]', 'box.bottom[2]', 'box.right']);
		expect(group('near')).toEqual(['box.bottom[1]', 'box.left', 'box.top[2]']);
	});

	it('stand wherever a statement names pieces, and follow the shape', () => {
		const { divisions, names, layerFigures, messages } = run(
			'divide outer facing up into 7\nlayers on holes of water first 0.1 growth 1.3 count 7\nsize 1 near holes of water within 2'
		);
		expect(messages).toEqual([]);
		expect(divisions.pieces[names.indexOf('box.top[1]')]!.count).toBe(7);
		expect(layerFigures[0]).toMatchObject({ walls: ['holes of water'] });
		const text = base.replace('circle pin', 'let n = 2\ncircle pin').replace('at (5, 5)', 'at (2, 2)');
		const more = 'circle pin2 = around (15, 32) radius 3\n';
		expect(run(`${more}group pins = holes of water`, text).group('pins')).toEqual(['pin', 'pin2']);
	});

	it('that find nothing, or name what is not there, are findings in their place', () => {
		const nothing = run('group pins = holes of core');
		expect(nothing.messages).toEqual(['“holes of core” finds no piece']);
		const way = run('group pins = holes of water facing 20 deg within 1 deg');
		expect(way.messages[0]).toBe(
			'“holes of water facing 20 deg within 1 deg” finds no piece: none of the 1 piece faces that way'
		);
		const unknown = run('group pins = holes of watr');
		expect(unknown.messages[0]).toMatch(/no region is named “watr”.*water/);
		expect(run('group c = between water, oli').messages[0]).toMatch(/no region is named “oli”/);
		expect(run('group c = outer facing up within 200 deg').messages[0]).toMatch(/within more than 0° and up to 180°/);
	});

	it('keep up when regions are renamed or deleted', () => {
		const recipe = parseRecipe(`${base}group pins = box.left, holes of water\ngroup c = between water, oil`);
		const after = deleteThings(recipe, { regions: ['water'] });
		expect(after).toContain('group pins = box.left\n');
		expect(after).not.toContain('between water');
	});

	it('are all but some, what is in no group, and the piece on which a place lies', () => {
		const { group, messages } = run(`group low = box.bottom
group left_low = box.top at (10, 40)
group others = outer except box.bottom, box.top at (10, 40), box.left
group left = rest`);
		expect(messages).toEqual([]);
		expect(group('left_low')).toEqual(['box.top[2]']);
		expect(group('others')).toEqual(['box.right', 'box.top[1]']);
		expect(group('left')).toEqual(['box.left', 'pin']);
		// The place stays on its piece when others are cut.
		expect(run('line more = (20, 40) to (20, 30)\ngroup left_low = box.top at (10, 40)').group('left_low')).toHaveLength(1);
		expect(run('group off = box.top at (10, 20)').messages[0]).toContain('does not lie on “box.top”, but 20 from it');
		expect(run('circle rest = around (45, 10) radius 1\ngroup r = rest').group('r')).toEqual(['rest']);
	});

	it('are kept in other statements as well', () => {
		const { divisions, arrangement, messages } = run(
			'divide outer except box.left into 7\nlayers on box.bottom at (10, 0) first 0.2 growth 1.2 count 3'
		);
		expect(messages.filter((m) => !m.includes('layers') && !m.includes('elements behind'))).toEqual([]);
		const counts = new Map(pieceNames(arrangement).map((name, p) => [name, divisions.pieces[p]!.count]));
		expect([counts.get('box.right'), counts.get('box.top[1]')]).toEqual([7, 7]);
		expect(counts.get('box.left')).not.toBe(7);
	});
});
