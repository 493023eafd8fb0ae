import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { XMLParser } from 'fast-xml-parser';
import h5wasm, { type Dataset } from 'h5wasm';
import { beforeAll, describe, expect, it } from 'vitest';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { readCoordinates } from './coordinates.ts';
import { deliver, deliverParts, formatByEnding, gridFor } from './delivery.ts';

const files = { 'throat-wall.csv': readCoordinates(readFileSync('demo/throat-wall.csv')) };
const run = (text: string) => finish(new Pipeline(() => 0).run({ text, files }));
const folder = mkdtempSync(join(tmpdir(), 'solids-'));

/** Every demo in the plane, of both orders, as a slab, and as a wedge where it is a half-section. */
const cases = ['venturi', 'cold-plate', 'relief-valve', 'splitter-elbow', 'gasket-groove'].flatMap((name) => {
	const text = readFileSync(`demo/${name}.tessellon`, 'utf8').replace(/^(solid|deliver) .*$/gm, '');
	const forms = ['', 'order 2', 'order 2 serendipity', 'solid slab 10 layers 2 growth 1.2 sides front_side, back_side'];
	if (text.includes('axisymmetric'))
		forms.push('solid wedge 4 deg sides wedge_front, wedge_back', 'solid revolve 180 deg into 5 sides low_side, high_side');
	return forms.map((solid) => ({ name, solid, text: `${text}\n${solid}\n` }));
});

describe.each(cases)('$name $solid', ({ name, solid, text }) => {
	it('is accepted by cgnscheck without an error or a warning', async () => {
		const result = run(text);
		const path = join(folder, `${name}-${solid.replaceAll(' ', '-')}.cgns`);
		writeFileSync(path, await deliver(result, formatByEnding('cgns')!));
		const said = execFileSync('cgnscheck', [path], { encoding: 'utf8' });
		expect(said).toContain('checking complete');
		expect(said).not.toMatch(/error|warning/i);
	});
});

describe('structured zones', () => {
	it.each(['venturi', 'splitter-elbow', 'cold-plate'])(
		'of %s are accepted by cgnscheck without an error or a warning',
		async (name) => {
			const result = run(readFileSync(`demo/${name}.tessellon`, 'utf8'));
			const path = join(folder, `${name}-zones.cgns`);
			writeFileSync(path, await deliver(result, formatByEnding('cgns')!, { zones: 'structured', plane: 'yes' }));
			expect(execFileSync('cgnscheck', [path], { encoding: 'utf8' })).not.toMatch(/error|warning/i);
		}
	);

	it('stand beside an unstructured one that is joined to them', async () => {
		const result = run(`recipe 1
rectangle a = (0, 0) to (10, 10)
rectangle b = (10, 0) to (20, 10)
region r at (5, 5)
region s at (15, 5)
size 2
fill r structured
fill s triangles
group left = a.left as inflow
group right = b.right as outflow
group rest = outer facing up, outer facing down as wall`);
		const path = join(folder, 'mixed-zones.cgns');
		writeFileSync(path, await deliver(result, formatByEnding('cgns')!, { zones: 'structured' }));
		const said = execFileSync('cgnscheck', ['-V', path], { encoding: 'utf8' });
		expect(said).not.toMatch(/error|warning/i);
		expect(said).toContain('Zone Type=Structured');
		expect(said).toContain('Zone Type=Unstructured');
		await expect(
			deliver(run(`${result.recipe.text}\nsolid slab 1`), formatByEnding('cgns')!, { zones: 'structured' })
		).rejects.toThrow(/structured zones are those of the plane mesh/);
	});
});

describe('XDMF', () => {
	const result = run(`recipe 1
frame axisymmetric about x
rectangle box = (0, 0) to (20, 8)
region r at (1, 1)
size 2
fill r triangles
group wall = box.top as wall
group rest = box.left, box.right, box.bottom
group water = region r
solid wedge 6 deg sides front_side, back_side`);
	const grid = gridFor(result, { plane: 'no' });
	let xml: string;
	let file: InstanceType<typeof h5wasm.File>;
	beforeAll(async () => {
		const parts = await deliverParts(result, formatByEnding('xdmf')!, {}, { stem: 'duct' });
		expect(parts.map((p) => p.name)).toEqual(['duct.xdmf', 'duct.h5']);
		xml = new TextDecoder().decode(parts[0]!.bytes);
		const { FS } = await h5wasm.ready;
		FS.writeFile('/duct.h5', parts[1]!.bytes);
		file = new h5wasm.File('/duct.h5', 'r');
	});

	it('is XML whose items name arrays of their sizes in the file beside it', () => {
		const items = [...xml.matchAll(/<DataItem [^>]*Dimensions="([^"]+)"[^>]*>duct\.h5:\/(\w+)<\/DataItem>/g)];
		expect(items.length).toBeGreaterThan(6);
		for (const [, dimensions, array] of items) expect((file.get(array!) as Dataset).shape!.join(' ')).toBe(dimensions);
		const parsed = new XMLParser({ ignoreAttributes: false }).parse(xml) as {
			Xdmf: { Domain: { Grid: { '@_Name': string }[] } };
		};
		expect(parsed.Xdmf.Domain.Grid.map((g) => g['@_Name'])).toEqual(['mesh', 'boundary']);
	});

	it('has every coordinate, and every element with its type', () => {
		const geometry = (file.get('geometry') as Dataset).value as Float64Array;
		grid.coordinates.forEach((values, axis) => expect(geometry.filter((_, k) => k % 3 === axis)).toEqual(values));
		const elements = [...((file.get('elements') as Dataset).value as Int32Array)];
		const sizes: Record<number, number> = { 6: 4, 7: 5, 8: 6, 9: 8 };
		let count = 0;
		for (let k = 0; k < elements.length; k += 1 + sizes[elements[k]!]!) count++;
		expect(count).toBe(((file.get('region') as Dataset).value as Int32Array).length);
		expect(xml).toContain(`NumberOfElements="${count}"`);
	});

	it('has the nodes of groups, all and owned, and materials as sets', () => {
		expect(xml).toMatch(/<Set Name="wall owned" SetType="Node">/);
		expect(xml).toMatch(/<Set Name="water" SetType="Cell">/);
		const all = (file.get('nodes_0') as Dataset).value as Int32Array;
		expect(Uint32Array.from(all)).toEqual(grid.nodeSets()[0]!.all);
	});
});
