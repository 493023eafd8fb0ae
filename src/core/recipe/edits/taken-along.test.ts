import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { Pipeline } from '../../pipeline.ts';
import { applyEdits } from '../../text/edit.ts';
import { parseRecipe } from '../language/parse.ts';
import { addStatements } from './intents.ts';
import { takenAlong } from './taken-along.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text, files: {} }));

const plate = `recipe 1
let d = 2
rectangle b = (0, 0) to (4, 3)
circle c = around (2, 1.5) radius 0.5
rectangle other = (20, 0) to (24, 3)
region p at (d/2, 0.5)
region q at (21, 1)
divide b.bottom into 9
fill p triangles
fill q triangles
size 0.5
size 0.2 inside circle around (3, 2) radius 0.5
layers on b.top first 0.02 growth 1.2 count 4
group floor = b.bottom as wall
group steel = region p
`;

/** The recipe after a statement with all that belongs to what it moves. */
function after(source: string, text = plate): { text: string; notes: string[] } {
	const recipe = parseRecipe(text);
	const { edits, statements, notes } = takenAlong(run(text), recipe, source);
	return { text: addStatements(parseRecipe(applyEdits(text, edits)), [source, ...statements]), notes };
}

/** Elements of each region, and the errors and warnings that are no matter of labels. */
function made(text: string) {
	const result = run(text);
	const elements = result.regions.map(({ name }) => [
		name,
		result.mesh.triangleRegion.filter((r) => result.mesh.regions[r] === name).length > 0
	]);
	const wrong = result.findings.filter(({ severity, code }) => severity === 'error' || code === 'not-as-asked');
	return {
		elements: Object.fromEntries(elements) as Record<string, boolean>,
		wrong: wrong.map(({ message }) => message),
		result
	};
}

describe('what belongs to curves', () => {
	it.each([
		['move b, c by (0, 20)', '(1, 20.5)', '(3, 22)'],
		['turn b, c by 90 deg about (0, 0)', '(-0.5, 1)', '(-2, 3)'],
		['scale b, c by 2 about (0, 0)', '(2, 1)', '(6, 4)'],
		['mirror b, c across y', '(-1, 0.5)', '(-3, 2)']
	])('goes along with %s: regions and zones', (source, place, zone) => {
		const { text, notes } = after(source);
		expect(text).toContain(`region p at ${place}`);
		expect(text).toContain(`size 0.2 inside circle around ${zone} radius 0.5`);
		// The other rectangle's region keeps its place.
		expect(text).toContain('region q at (21, 1)');
		expect(notes).toEqual(['A place that was written as “(d/2, 0.5)” is now one in numbers']);
		const { elements, wrong } = made(text);
		expect(elements).toEqual({ p: true, q: true });
		expect(wrong).toEqual([]);
	});

	it('stays where only a part of the outline moves', () => {
		expect(after('move c by (0.2, 0)').text).toContain('region p at (d/2, 0.5)');
	});

	it('is there for copies, too: regions, fills, materials, divisions, layers and labels', () => {
		const { text } = after('copy m = b, c moved (0, 10)');
		expect(text).toContain('region p_2 at (1, 10.5)');
		expect(text).toContain('fill p, p_2 triangles');
		expect(text).toContain('group steel = region p, p_2');
		expect(text).toContain('divide b.bottom, m.b_bottom into 9');
		expect(text).toContain('layers on b.top, m.b_top first');
		expect(text).toContain('group floor = b.bottom, m.b_bottom as wall');
		const { elements, wrong, result } = made(text);
		expect(elements).toEqual({ p: true, p_2: true, q: true });
		expect(wrong).toEqual([]);
		expect(result.layerFigures[0]!.complete).toBe(1);
	});

	it('is there for every copy of a row', () => {
		const { text } = after('repeat row = b, c by (0, 10) count 3');
		expect(text).toContain('region p_2 at (1, 10.5)');
		expect(text).toContain('region p_3 at (1, 20.5)');
		expect(text).toContain('fill p, p_2, p_3 triangles');
		expect(text).toContain('divide b.bottom, row.b_bottom_2, row.b_bottom_3 into 9');
		expect(made(text)).toMatchObject({ elements: { p: true, p_2: true, p_3: true, q: true }, wrong: [] });
	});

	it('is named by all copies together where all of the curves are', () => {
		const text = plate.replace('b.top first', 'b, c first');
		expect(after('repeat row = b, c by (0, 10) count 4', text).text).toContain('layers on b, c, row first');
	});

	it('is nothing of what draws something new, or is wrong', () => {
		for (const source of ['circle e = around (1, 1) radius 0.1', 'move nobody by (1, 0)', 'move b by'])
			expect(takenAlong(run(plate), parseRecipe(plate), source)).toEqual({ edits: [], statements: [], notes: [] });
	});
});
