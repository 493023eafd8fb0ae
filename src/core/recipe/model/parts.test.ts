import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { Pipeline } from '../../pipeline.ts';
import type { Mesh } from '../../mesh/mesh.ts';
import type { CoordinateFiles } from './model.ts';

const run = (text: string, files: CoordinateFiles = {}) =>
	finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files }));
const errors = (text: string, files?: CoordinateFiles) =>
	run(text, files)
		.findings.filter((f) => f.severity === 'error')
		.map((f) => f.message);

/** The nodes and elements of a mesh, bit for bit. */
function meshHash({ x, y, triangles, quads }: Mesh): string {
	const hash = createHash('sha256');
	for (const list of [x, y, triangles, quads]) hash.update(new Uint8Array(list.buffer, list.byteOffset, list.byteLength));
	return hash.digest('hex');
}

const pin = `part pin with r = 2, n = 16
  point o = (0, 0)
  circle head = around o radius r
  region body at o
  fill body triangles size 0.8
  divide head into n
  layers on head outside first 0.05 growth 1.25 count 6
  size 0.4 behind head length 4
  group wetted = head as no_slip_wall
end
`;
const box = 'rectangle box = (0, 0) to (60, 20)\nregion water at (1, 1)\nfill water triangles size 2\n';

describe('a part', () => {
	it('brings its curves, regions, fills, divisions, layers, sizes and groups, wherever it is placed', () => {
		const result = run(`${box}${pin}place p = pin at (10, 10)\nplace q = pin at (30, 10) turned 90 deg with r = 3, n = 20`);
		expect(result.findings.filter((f) => f.severity === 'error')).toEqual([]);
		expect(result.regions.map((r) => r.name)).toEqual(['water', 'p.body', 'q.body']);
		const { curvesByName, curves } = result.model;
		expect(curvesByName.get('pin.head')!.map((c) => curves[c]!.name)).toEqual(['p.head', 'q.head']);
		const pieces = (name: string) => result.arrangement.byCurve[curvesByName.get(name)![0]!]!.map(({ piece }) => piece);
		const counted = (name: string) => pieces(name).reduce((sum, p) => sum + result.divisions.pieces[p]!.count, 0);
		expect([counted('p.head'), counted('q.head')]).toEqual([16, 20]);
		expect(result.mesh.groups.filter((g) => g.name === 'wetted')).toHaveLength(1);
		expect(result.layerFigures.flatMap(({ cells }) => cells).reduce((a, b) => Math.max(a, b), 0)).toBeGreaterThan(0);
		expect(result.promises.every((p) => p.isKept)).toBe(true);
	});

	it('is the same as its statements written out for every copy', () => {
		const written = (name: string, x: number) => `circle ${name}_head = around (${x}, 10) radius 2
region ${name}_body at (${x}, 10)
fill ${name}_body triangles size 0.8
divide ${name}_head into 16`;
		const short =
			'part pin\n  circle head = around (0, 0) radius 2\n  region body at (0, 0)\n  fill body triangles size 0.8\n  divide head into 16\nend\n';
		const placed = run(`${box}${short}place row = pin at (10, 10) by (16, 0) count 3`);
		const out = run(`${box}${[10, 26, 42].map((x, k) => written(`row_${k + 1}`, x)).join('\n')}`);
		expect(meshHash(placed.mesh)).toBe(meshHash(out.mesh));
	});

	it('is placed no time, once, or many times in a row, its copies named one by one and together', () => {
		const of = (count: number) => run(`let n = ${count}\n${box}${pin}place row = pin at (8, 10) by (12, 0) count n`);
		expect(of(0).regions.map((r) => r.name)).toEqual(['water']);
		expect(of(0).findings.filter((f) => f.severity === 'error')).toEqual([]);
		expect(of(1).regions.map((r) => r.name)).toEqual(['water', 'row_1.body']);
		const three = of(3);
		for (const name of ['row', 'row.head', 'pin.head']) expect(three.model.curvesByName.get(name)).toHaveLength(3);
		const groups = run(
			`${box}${pin}place row = pin at (8, 10) by (12, 0) count 3\ngroup metal = region pin.body\ngroup second = region row_2.body\ngroup fluid = region water\ndivide row_2.head into 40\nline tie = row_1.o to (8, 20)`
		);
		expect(groups.findings.filter((f) => f.severity === 'error')).toEqual([]);
		expect(groups.mesh.groups.map((g) => [g.name, g.members === 'elements' ? g.regions.length : -1])).toEqual(
			expect.arrayContaining([
				['metal', 3],
				['second', 1]
			])
		);
	});

	it('keeps the groups of its copies apart where the placement says so', () => {
		const { mesh } = run(`${box}${pin}place p = pin at (10, 10) own groups\nplace q = pin at (30, 10)`);
		expect(mesh.groups.map((g) => g.name)).toEqual(['p.wetted', 'wetted']);
	});

	it('holds other parts', () => {
		const text = `${box}part hole\n  circle rim = around (0, 0) radius 1\nend\npart pair with d = 4\n  place a = hole at (-d/2, 0)\n  place b = hole at (d/2, 0)\nend\nplace p = pair at (20, 10) turned 90 deg with d = 8`;
		const { model, findings } = run(text);
		expect(findings.filter((f) => f.severity === 'error')).toEqual([]);
		const rim = model.curves[model.curvesByName.get('p.b.rim')![0]!]!;
		expect([rim.data[4], rim.data[5]]).toEqual([expect.closeTo(20, 12), expect.closeTo(14, 12)]);
		expect(errors(`part a\n  place b = a at (1, 0)\nend\nplace c = a at (0, 0)`)[0]).toContain('does one place itself?');
	});

	it('is read from a recipe beside, whose parameters are its arguments, or from a file of parts', () => {
		const text = 'recipe 1\ntitle "Vane"\nlet chord = 10\nline top = (0, 0) to (chord, 0)\nsize 3\ndeliver cgns\n';
		const files = {
			'vane.tessellon': { error: 'no geometry', text },
			'parts.tessellon': { error: '', text: `recipe 1\n${pin}` }
		};
		const { model } = run(
			'part vane from "vane.tessellon"\npart pin from "parts.tessellon" with n = 12\nplace v = vane at (1, 2) with chord = 30\nplace p = pin at (40, 0)',
			files
		);
		const top = model.curves[model.curvesByName.get('v.top')![0]!]!;
		expect([top.data[0], top.data[1], top.data[2], top.data[3]].map(Number)).toEqual(expect.arrayContaining([1, 2]));
		expect(model.curvesByName.has('p.head')).toBe(true);
		expect(errors('part vane from "vain.tessellon"', files)[0]).toContain('did you mean “vane.tessellon”');
	});

	it.each([
		['part a\n  line l = (0, 0) to (1, 0)', 'has no “end”'],
		['end', 'ends no part'],
		['place p = pin at (0, 0)', 'no part is named “pin”; a part begins with'],
		[`${pin}place p = pn at (0, 0)`, 'did you mean “pin”?'],
		[`${pin}place p = pin at (0, 0) with width = 3`, 'no parameter “width”; there are r, n'],
		[`${pin}place p = pin at (0, 0) count 2`, 'says the step'],
		[`${pin}place p = pin at (0, 0) by (1, 0) count 1.5`, 'whole number of copies'],
		['part a\n  deliver cgns\nend\nplace p = a at (0, 0)', '“deliver” does not stand in a part'],
		['part a\n  size 2\nend\nplace p = a at (0, 0)', 'its fill has one'],
		['let r = 3\npart a\n  circle c = around (0, 0) radius r\nend\nplace p = a at (0, 0)', 'stands outside this part'],
		[`${pin}${pin}`, 'exists already']
	])('is refused with a sentence where it is wrong: %s', (text, message) => {
		expect(errors(text).join('\n')).toContain(message);
	});

	it('says once what is wrong in it, at its line, and as what it is placed', () => {
		const text = `part a\n  circle c = around (0, 0) radius -1\nend\nplace row = a at (0, 0) by (5, 0) count 4`;
		const { findings, recipe } = run(text);
		const found = findings.filter((f) => f.severity === 'error');
		expect(found.map((f) => f.message)).toEqual(['a radius is above zero, found -1 (in the part that is placed as “row_1”)']);
		expect(recipe.text.slice(found[0]!.span!.from, found[0]!.span!.to)).toBe('-1');
	});
});
