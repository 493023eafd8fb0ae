import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { boundaryKinds, groupColours } from './boundary-kinds.ts';
import { Pipeline } from '../../pipeline.ts';
import { circleCurve } from '../../geometry/build.ts';
import { functionNames } from './functions.ts';
import { language } from './language.ts';
import { knownUnits } from './units.ts';

const page = readFileSync('docs/recipe.md', 'utf8');
const examples = [...page.matchAll(/```recipe(?: (file|drawing|mesh)=(\S+))?\n([\s\S]*?)```/g)].map(([, kind, file, text]) => ({
	kind,
	file,
	text: text!
}));
const words = (text: string) => new Set([...text.matchAll(/`([a-z_0-9]+)/g)].map((m) => m[1]));

describe('docs/recipe.md', () => {
	it.each(examples)('has an example that holds, $#', ({ kind, file, text }) => {
		const outline = { x: Float64Array.of(0, 40, 80), y: Float64Array.of(0, 9, 5) };
		const outlines = [outline, { x: outline.x, y: Float64Array.of(-9, -9, -8) }].map((o) => ({
			...o,
			lines: Uint32Array.of(1, 2, 3)
		}));
		const circle = { curve: circleCurve('', { x: 0, y: 0 }, 5), layer: 'walls' };
		const drawing = { unit: 'cm', curves: [circle], points: [], skipped: [] };
		const files = file
			? { [file]: kind === 'file' ? { outlines } : { drawing: kind === 'mesh' ? { ...drawing, mesh: { kinds: {} } } : drawing } }
			: {};
		const { findings } = finish(new Pipeline(() => 0).run({ text, files }));
		expect(findings.filter((f) => f.severity === 'error').map((f) => f.message)).toEqual([]);
	});

	it('shows every kind of statement', () => {
		const shown = new Set(examples.flatMap(({ text }) => text.split('\n').map((line) => line.split(' ', 1)[0])));
		for (const kind of language().starts) expect(shown).toContain(kind);
	});

	it('names every unit, function, kind and colour, and no other kind', () => {
		const named = words(page);
		for (const word of [...knownUnits, ...functionNames, ...Object.keys(boundaryKinds), ...Object.keys(groupColours)])
			expect(named).toContain(word);
		const rows = [...page.matchAll(/^\| `(\w+)` \| (BC\w+) \|$/gm)].map(([, kind, cgns]) => [kind, cgns]);
		expect(rows).toEqual(Object.entries(boundaryKinds).map(([kind, { cgns }]) => [kind, cgns]));
	});
});
