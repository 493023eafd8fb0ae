import { UniqueNames } from './cgns.ts';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { XMLParser } from 'fast-xml-parser';
import h5wasm, { type Dataset, type Group } from 'h5wasm';
import { beforeAll, describe, expect, it } from 'vitest';
import { finish } from '../core/numeric/work.ts';
import { groupEdges, isBoundary } from '../core/mesh/mesh.ts';
import { Pipeline, type Result } from '../core/pipeline.ts';
import { readCoordinates } from './coordinates.ts';
import { deliver, deliverFile, deliveryFormats, deliveryName, formatByEnding } from './delivery.ts';
import { drawPicture } from './picture.ts';
import { report } from './report.ts';

const files = { 'throat-wall.csv': readCoordinates(readFileSync('demo/throat-wall.csv')) };
const run = (text: string): Result => finish(new Pipeline(() => 0).run({ text, files }));
const demos = ['venturi', 'cold-plate'].map((name) => ({ name, result: run(readFileSync(`demo/${name}.tessellon`, 'utf8')) }));
const folder = mkdtempSync(join(tmpdir(), 'delivery-'));

describe.each(demos)('CGNS of $name', ({ name, result }) => {
	const path = join(folder, `${name}.cgns`);
	let bytes: Uint8Array;
	beforeAll(async () => {
		bytes = await deliver(result, formatByEnding('cgns')!);
		writeFileSync(path, bytes);
	});

	it('is accepted by cgnscheck without an error or a warning', () => {
		const said = execFileSync('cgnscheck', [path], { encoding: 'utf8' });
		expect(said).toContain('checking complete');
		expect(said).not.toMatch(/error|warning/i);
	});

	it('is the same, byte for byte, at another time of day', async () => {
		const now = Date.now;
		Date.now = () => 1e12;
		try {
			expect(Buffer.compare(await deliver(result, formatByEnding('cgns')!), bytes)).toBe(0);
		} finally {
			Date.now = now;
		}
	});

	it('keeps names, kinds and edge counts of the groups, and every digit of the coordinates', async () => {
		const { FS } = await h5wasm.ready;
		FS.writeFile('/read.cgns', bytes);
		const file = new h5wasm.File('/read.cgns', 'r');
		const value = (at: string) => (file.get(`${at}/ data`) as Dataset).value as Float64Array;
		const word = (at: string) => String.fromCharCode(...value(at)).trim();
		expect(value('/Base/Zone/GridCoordinates/CoordinateX')).toEqual(result.mesh.x);
		expect(value('/Base/Zone/GridCoordinates/CoordinateY')).toEqual(result.mesh.y);
		expect(word('/Base/DimensionalUnits').replace(/\s+/g, ' ')).toContain('Millimeter');
		const kinds = {
			inflow: 'BCInflow',
			outflow: 'BCOutflow',
			wall: 'BCWall',
			axis: 'BCSymmetryPolar',
			no_slip_wall: 'BCWallViscous',
			heat_flux_wall: 'BCWallViscousHeatFlux'
		} as Record<string, string>;
		for (const group of result.mesh.groups) {
			if (group.members !== 'edges') {
				expect((file.get(`/Base/Zone/${group.name}`) as Group).get_attribute('label', false)).toBe('ZoneSubRegion_t');
				continue;
			}
			expect(word(`/Base/Zone/ZoneBC/${group.name}`)).toBe(kinds[group.kind]);
			const [first, last] = value(`/Base/Zone/${group.name}/ElementRange`);
			expect(last! - first! + 1).toBe(groupEdges(result.mesh, group).length);
			expect(value(`/Base/Zone/ZoneBC/${group.name}/PointRange`)).toEqual(Int32Array.of(first!, last!));
		}
		file.close();
	});
});

describe('names in a file of limited names', () => {
	it('are cut by bytes, at whole characters, and stay apart', () => {
		const names = new UniqueNames();
		const long = 'strömungsbegrenzungsfläche_außen';
		const [first, second] = [names.take(long), names.take(long)];
		for (const name of [first, second]) expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(32);
		expect(long.startsWith(first)).toBe(true);
		expect(second).not.toBe(first);
		expect(names.take('wall')).toBe('wall');
	});
});

describe('VTU', () => {
	it('decodes to the mesh with any XML reader, its arrays where their offsets say', async () => {
		const { result } = demos[1]!;
		const { mesh } = result;
		const bytes = Buffer.from(await deliver(result, formatByEnding('vtu')!));
		const start = bytes.indexOf('_', bytes.indexOf('<AppendedData')) + 1;
		const text = `${bytes.toString('utf8', 0, start)}</AppendedData></VTKFile>`;
		const document = new XMLParser({
			ignoreAttributes: false,
			attributeNamePrefix: '',
			isArray: (tag) => tag === 'DataArray'
		}).parse(text);
		const { UnstructuredGrid: grid } = document.VTKFile;
		const arrays = [
			...grid.FieldData.DataArray,
			...['Points', 'Cells', 'CellData'].flatMap((part) => grid.Piece[part].DataArray)
		] as { Name: string; offset: string; '#text': string }[];
		const textOf = (name: string): string => arrays.find((a) => a.Name === name)!['#text'];
		const payload = (name: string) => {
			const at = start + Number(arrays.find((a) => a.Name === name)!.offset);
			const length = Number(bytes.readBigUInt64LE(at));
			return new Uint8Array(bytes.subarray(at + 8, at + 8 + length)).buffer;
		};
		const points = new Float64Array(payload('Points'));
		for (let i = 0; i < mesh.x.length; i++)
			expect([points[3 * i], points[3 * i + 1], points[3 * i + 2]]).toEqual([mesh.x[i], mesh.y[i], 0]);
		const cells = Number(grid.Piece.NumberOfCells);
		const connectivity = new Int32Array(payload('connectivity'));
		const types = new Uint8Array(payload('types'));
		const offsets = new Int32Array(payload('offsets'));
		const regions = new Int32Array(payload('region'));
		expect(types).toHaveLength(cells);
		expect(offsets[cells - 1]).toBe(connectivity.length);
		/** The cells of a type of VTK, in their order: 5 is a triangle, 9 a quadrilateral. */
		const ofType = (type: number) => [...types.keys()].filter((c) => types[c] === type);
		const nodesOf = (type: number) => ofType(type).flatMap((c) => [...connectivity.subarray(offsets[c - 1] ?? 0, offsets[c])]);
		expect(nodesOf(5)).toEqual([...mesh.triangles]);
		expect(nodesOf(9)).toEqual([...mesh.quads]);
		expect(mesh.quads.length).toBeGreaterThan(0);
		expect(ofType(5).map((c) => regions[c])).toEqual([...mesh.triangleRegion]);
		expect(ofType(9).map((c) => regions[c])).toEqual([...mesh.quadRegion]);
		const names = (name: string) =>
			String.fromCharCode(...textOf(name).split(' ').map(Number))
				.split('\0')
				.slice(0, -1);
		expect(new Set(names('group_names'))).toEqual(new Set(mesh.groups.map((g) => g.name)));
		expect(names('region_names')).toEqual(mesh.regions);
		const group = new Int32Array(payload('group'));
		const order = names('group_names');
		for (const g of mesh.groups) {
			const count = group.filter((v) => v === order.indexOf(g.name)).length;
			const regions = g.members === 'elements' ? g.regions : [];
			const inside = [...mesh.triangleRegion, ...mesh.quadRegion].filter((r) => regions.includes(r)).length;
			expect(count).toBe(isBoundary(g) ? groupEdges(mesh, g).length : inside);
		}
		expect(bytes.toString('latin1').endsWith('\n</AppendedData>\n</VTKFile>\n')).toBe(true);
	});
});

describe('labels of every kind', () => {
	const text = (more: string) => `recipe 1
rectangle box = (0, 0) to (40, 20)
line plate = (10, 10) to (30, 10)
region r at (1, 1)
size 2
fill r triangles
node (5, 5)
group inlet = box.left as inflow
group outlet = box.right as outflow
group probe = points (5, 5)
group water = region r
baffle vane = plate as no_slip_wall sides upper, lower
${more}`;

	it.each([
		['a shift', 'group rest = box.bottom, box.top as symmetry\nperiodic box.bottom with box.top'],
		['a turn', 'group rest = box.bottom as wall\ngroup lid = box.top as wall\nperiodic box.bottom with box.top about (20, 10)']
	])('are accepted by cgnscheck, and equal the table, with %s', async (_, more) => {
		const result = run(text(more));
		expect(result.findings.filter((f) => f.severity === 'error')).toEqual([]);
		const bytes = await deliver(result, formatByEnding('cgns')!, { units: 'm' });
		const path = join(folder, 'labels.cgns');
		writeFileSync(path, bytes);
		// A turn in the plane is about the third axis, along which the mesh has no extent.
		const said = execFileSync('cgnscheck', ['-V', path], { encoding: 'utf8' });
		expect(said.replaceAll('WARNING:coordinate range is 0', '').replace(/\d+ warnings \(\d+ shown\)/, '')).not.toMatch(
			/error|warning/i
		);
		const { FS } = await h5wasm.ready;
		FS.writeFile('/labels.cgns', bytes);
		const file = new h5wasm.File('/labels.cgns', 'r');
		const value = (at: string) => (file.get(`/Base/Zone/${at}/ data`) as Dataset).value as Int32Array;
		for (const group of result.mesh.groups.filter(isBoundary)) {
			const [first, last] = value(`${group.name}/ElementRange`);
			expect(last! - first! + 1).toBe(groupEdges(result.mesh, group).length);
		}
		expect(value('ZoneBC/probe/PointList')).toHaveLength(1);
		const [near, other] = ['PointList', 'PointListDonor'].map((name) => value(`ZoneGridConnectivity/Periodic1/${name}`));
		expect([...near!].map((k) => k - 1)).toEqual([...result.mesh.periodic![0]!.from]);
		expect([...other!].map((k) => k - 1)).toEqual([...result.mesh.periodic![0]!.to]);
		const movement = (name: string) =>
			value(`ZoneGridConnectivity/Periodic1/GridConnectivityProperty/Periodic/${name}`) as unknown as Float32Array;
		const [shift, angle, centre] = [movement('Translation'), movement('RotationAngle'), movement('RotationCenter')];
		if (more.includes('about')) {
			expect([...angle].map(Math.abs)).toEqual([0, 0, Math.fround(Math.PI)]);
			expect([...centre]).toEqual([Math.fround(0.02), Math.fround(0.01), 0]);
			expect(value('GridCoordinates/CoordinateZ').every((z) => z === 0)).toBe(true);
		} else expect([angle.length, angle[0], angle[1]]).toEqual([2, 0, 0]);
		expect(shift[1]).toBeCloseTo(more.includes('about') ? 0 : 0.02, 8);
		file.close();
	});

	it('pair zones of rows with one another and with what is unstructured', async () => {
		const source = (fill: string, more = '') => `recipe 1
rectangle o = (0, 0) to (10, 4)
line cut = (5, 0) to (5, 4)
region r at (2, 2)
region s at (7, 2)
size 1
fill r structured
fill s ${fill}
group ends = o.left, o.right as general
group walls = o.top, o.bottom as wall
periodic o.left with o.right${more}`;
		for (const fill of ['structured', 'triangles']) {
			const result = run(`${source(fill)}\ndeliver cgns zones structured`);
			const { bytes } = await deliverFile(result, { statement: 0 });
			const path = join(folder, 'zones.cgns');
			writeFileSync(path, bytes);
			expect(execFileSync('cgnscheck', ['-V', path], { encoding: 'utf8' })).not.toMatch(/error|warning/i);
			const { FS } = await h5wasm.ready;
			FS.writeFile('/zones.cgns', bytes);
			const file = new h5wasm.File('/zones.cgns', 'r');
			const joins = (zone: string) =>
				(file.get(`/Base/${zone}/ZoneGridConnectivity`) as Group).keys().filter((k) => k.startsWith('Periodic'));
			const other = fill === 'structured' ? 's zone' : 'Rest';
			expect([joins('r zone'), joins(other)]).toEqual([['Periodic1'], ['Periodic1 back']]);
			const value = (at: string) => (file.get(`/Base/${at}/ data`) as Dataset).value as Int32Array;
			// Both lists lead to places that differ by the shift alone.
			const place = (zone: string, index: readonly number[]) => {
				const [x, y] = ['X', 'Y'].map((axis) => value(`${zone}/GridCoordinates/Coordinate${axis}`)) as [Int32Array, Int32Array];
				const ni = value(zone)[0]!;
				const at = index.length === 2 ? index[0]! - 1 + ni * (index[1]! - 1) : index[0]! - 1;
				return [x[at]!, y[at]!];
			};
			const list = (zone: string, name: string) => {
				const flat = [...value(`${zone}/ZoneGridConnectivity/${name}`)];
				const size = flat.length / 5;
				return Array.from({ length: 5 }, (_, k) => flat.slice(k * size, (k + 1) * size));
			};
			const [near, donor] = [list('r zone', 'Periodic1/PointList'), list('r zone', 'Periodic1/PointListDonor')];
			near.forEach((index, k) => {
				const [from, to] = [place('r zone', index), place(other, donor[k]!)];
				expect(to[0]! - from[0]!).toBeCloseTo(10, 12);
				expect(to[1]).toBeCloseTo(from[1]!, 12);
			});
			file.close();
		}
	});
});

describe('zones of rows', () => {
	it('carry groups between elements once, the names of regions as they are, and every material', async () => {
		for (const fill of ['structured', 'triangles']) {
			const result = run(`recipe 1
rectangle o = (0, 0) to (10, 4)
line cut = (5, 0) to (5, 4)
region r at (2, 2)
region s at (7, 2)
size 1
fill r structured
fill s ${fill}
group walls = outer as wall
group contact = cut as general
group steel = region r
group hot = region r, s
deliver cgns zones structured
deliver vtu`);
			const { bytes } = await deliverFile(result, { statement: 0 });
			const path = join(folder, 'contact.cgns');
			writeFileSync(path, bytes);
			expect(execFileSync('cgnscheck', ['-V', path], { encoding: 'utf8' })).not.toMatch(/error|warning/i);
			const { FS } = await h5wasm.ready;
			FS.writeFile('/contact.cgns', bytes);
			const file = new h5wasm.File('/contact.cgns', 'r');
			const zones = (file.get('/Base') as Group).keys().filter((k) => k.endsWith('zone') || k === 'Rest');
			const having = zones.filter((z) => (file.get(`/Base/${z}`) as Group).keys().includes('contact'));
			expect(having).toEqual(['r zone']);
			if (fill === 'triangles') expect((file.get('/Base/Rest') as Group).keys()).toContain('s');
			expect((file.get('/Base/r zone') as Group).keys()).toEqual(expect.arrayContaining(['FamilyName', 'Family2']));
			file.close();
			const vtu = new TextDecoder('latin1').decode((await deliverFile(result, { statement: 1 })).bytes);
			expect(vtu).toContain('Name="group_2"');
			expect(vtu).not.toContain('Name="group_3"');
		}
	});
});

describe('delivery', () => {
	it('takes every word that an option may have where a recipe writes it', () => {
		let tried = 0;
		for (const format of deliveryFormats) {
			if (format.holds === 'drawing') continue;
			for (const [name, schema] of Object.entries(format.options.entries)) {
				const values = (schema as unknown as { wrapped?: { options?: string[] } }).wrapped?.options ?? [];
				for (const value of values.filter((word) => /^\w+$/.test(word))) {
					const { findings } = run(
						`recipe 1\ncircle c = around (0, 0) radius 1\nregion r at (0, 0)\ndeliver ${format.name} ${name} ${value}`
					);
					expect(findings.filter(({ severity }) => severity === 'error')).toEqual([]);
					tried++;
				}
			}
		}
		expect(tried).toBeGreaterThan(20);
	});

	it('has no file of an empty mesh, and says why', async () => {
		await expect(
			deliver(run('recipe 1\nrectangle b = (0, 0) to (1, 1)\nregion r at (0.5, 0.5)'), formatByEnding('vtu')!)
		).rejects.toThrow(/there is no mesh to deliver: region “r” has no fill/);
	});

	it('scales coordinates to metres where CGNS has no name for the unit', async () => {
		const result = run('recipe 1\nunits um\nrectangle b = (0, 0) to (1, 1)\nregion r at (0.5, 0.5)\nfill r triangles');
		const { FS } = await h5wasm.ready;
		FS.writeFile('/um.cgns', await deliver(result, formatByEnding('cgns')!));
		const file = new h5wasm.File('/um.cgns', 'r');
		expect(
			Math.max(...((file.get('/Base/Zone/GridCoordinates/CoordinateX/ data') as Dataset).value as Float64Array))
		).toBeCloseTo(1e-6, 18);
		file.close();
	});

	it('takes options by their names, and says which there are', async () => {
		const square = run('recipe 1\nunits mm\nrectangle b = (0, 0) to (1000, 500)\nregion r at (1, 1)\nfill r triangles');
		const vtu = formatByEnding('vtu')!;
		const [drawn, metres] = [await deliver(square, vtu), await deliver(square, vtu, { units: 'm' })];
		const reach = (bytes: Uint8Array) => {
			const at = Buffer.from(bytes).indexOf('_', Buffer.from(bytes).indexOf('<AppendedData')) + 9;
			return new Float64Array(bytes.slice(at, at + 24 * square.mesh.x.length).buffer).reduce((a, b) => Math.max(a, b), 0);
		};
		expect([reach(drawn), reach(metres)]).toEqual([1000, 1]);
		await expect(deliver(square, vtu, { units: 'ell' })).rejects.toThrow('the units of a delivery are “drawn” or “m”');
		await expect(deliver(square, vtu, { unit: 'm' })).rejects.toThrow('VTK XML has no option “unit”; did you mean “units”?');
		await expect(deliver(square, formatByEnding('svg')!, { units: 'm' })).rejects.toThrow('SVG has no option “units”');
	});

	it('gives regions and groups of one name different nodes', async () => {
		const result = run(
			'recipe 1\nrectangle b = (0, 0) to (1, 1)\nregion wall at (0.5, 0.5)\nfill wall triangles\ngroup wall = b as wall\ngroup a_name_that_is_longer_than_the_format_allows = region wall'
		);
		const path = join(folder, 'names.cgns');
		writeFileSync(path, await deliver(result, formatByEnding('cgns')!));
		expect(execFileSync('cgnscheck', [path], { encoding: 'utf8' })).not.toMatch(/error|warning/i);
	});

	it('names files after the title', () => {
		expect(deliveryName('Venturi tube, β = 0.6', 'cgns')).toBe('venturi-tube-β-0-6.cgns');
		expect(deliveryName('', 'vtu')).toBe('mesh.vtu');
	});

	it('reports counts, areas and lengths that can be checked by hand', () => {
		const figures = report(
			run(
				'recipe 1\nrectangle b = (0, 0) to (48, 30)\nregion r at (1, 1)\ndivide b.bottom into 48\ndivide b.left into 30\nfill r structured\ngroup rim = b as wall\nfrob'
			)
		);
		expect(figures).toMatchObject({ nodes: 1519, elements: 1440, triangles: 0, quads: 1440 });
		expect(figures.regions).toEqual([{ name: 'r', fill: 'structured', elements: 1440, area: expect.closeTo(1440, 9) }]);
		expect(figures.groups).toEqual([
			{ name: 'rim', kind: 'wall', pieces: 4, edges: 156, nodes: 156, owned: 156, length: expect.closeTo(156, 9) }
		]);
		expect(figures.findings[0]).toMatchObject({
			severity: 'error',
			code: 'syntax',
			statement: { line: 8, column: 1, text: 'frob' }
		});
	});

	it('draws every element of a picture that can be told from its neighbours, and shades the others', () => {
		const plate = (size: number) =>
			drawPicture(run(`recipe 1\nrectangle b = (0, 0) to (100, 50)\nregion r at (1, 1)\nsize ${size}\nfill r triangles\n`));
		const elements = (svg: string) => (/stroke-width="0.5"><path d="([^"]*)"/.exec(svg)![1]!.match(/Z/g) ?? []).length;
		const shades = (svg: string) => (/<path d="([^"]*)" fill="#8A97A3"/.exec(svg)![1]!.match(/M/g) ?? []).length;
		const coarse = plate(5);
		expect(elements(coarse)).toBe(
			run('recipe 1\nrectangle b = (0, 0) to (100, 50)\nregion r at (1, 1)\nsize 5\nfill r triangles\n').mesh.triangles.length / 3
		);
		expect(shades(coarse)).toBe(0);
		// At four pixels to a unit elements of a fifth are less than one pixel wide: squares of two cover the plate instead.
		const fine = plate(0.2);
		expect(elements(fine)).toBe(0);
		expect(shades(fine)).toBeGreaterThan(0.9 * (440 / 2) * (220 / 2));
		expect(fine.length).toBeLessThan(600_000);
	});

	it('draws a picture with the mesh and every piece', () => {
		const svg = drawPicture(demos[0]!.result);
		expect(svg).toMatch(/^<svg xmlns/);
		// The lines of the mesh, the shade where they are too near to one another, and the pieces.
		expect(svg.match(/<path /g)).toHaveLength(2 + demos[0]!.result.arrangement.pieces.length);
		expect(svg).not.toContain('NaN');
	});
});
