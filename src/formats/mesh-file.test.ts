import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { type BoundaryGroup, isBoundary, regionAreas } from '../core/mesh/mesh.ts';
import { finish } from '../core/numeric/work.ts';
import { Pipeline, type Result } from '../core/pipeline.ts';
import type { DrawingFile } from '../core/recipe/model/model.ts';
import { qualityOf } from '../core/quality/quality.ts';
import { readCoordinates } from './coordinates.ts';
import { deliver, formatByEnding } from './delivery.ts';
import { compared, figuresOf } from './mesh-figures.ts';
import { readFileOfRecipe, readMeshFile } from './read-file.ts';
import { recipeOfFiles } from './recipe-of-files.ts';

const files = { 'throat-wall.csv': readCoordinates(readFileSync('demo/throat-wall.csv')) };
const run = (text: string, input = files as Parameters<Pipeline['run']>[0]['files']): Result =>
	finish(new Pipeline(() => 0).run({ text, files: input }));
const demo = (name: string) => run(`${readFileSync(`demo/${name}.tessellon`, 'utf8')}\n`);
/** Whether a group lies between two regions of rows. */
const isInside = ({ arrangement, regions }: Result, { pieces }: BoundaryGroup): boolean => {
	const rows = new Set(regions.filter((r) => r.fill === 'structured' || r.fill === 'quads').map((r) => r.face));
	return pieces.length > 0 && pieces.every((p) => [0, 1].every((side) => rows.has(arrangement.sides[2 * p + side]!)));
};
const sum = (values: Iterable<number>) => [...values].reduce((a, b) => a + b, 0);

describe.each(['venturi', 'cold-plate', 'relief-valve', 'splitter-elbow', 'gasket-groove'])(
	'%s, delivered and read again',
	(name) => {
		const result = demo(name);
		const made = (format: string, options: Record<string, string> = {}) =>
			deliver(result, formatByEnding(format)!, { plane: 'yes', ...options });

		it.each([
			['cgns', {}],
			['vtu', {}],
			['cgns', { zones: 'structured' }]
		])('has in %s the counts of the recipe, and every digit', async (format, options) => {
			const file = await readMeshFile(await made(format, options as Record<string, string>));
			const isWhole = !('zones' in options);
			const rows = compared(figuresOf(file), figuresOf(result));
			expect(rows.length).toBeGreaterThan(5);
			// Walls of two sides are one node where they are drawn by zones alone; all else agrees.
			const isSplit = result.mesh.groups.filter(isBoundary).some((g) => g.baffle !== undefined) && !isWhole;
			// Between two zones there is no condition.
			const between = isWhole
				? []
				: result.mesh.groups
						.filter(isBoundary)
						.filter((g) => isInside(result, g))
						.map((g) => `group ${g.name}`);
			expect(
				rows.filter((row) => row.file !== row.recipe && !(isSplit && row.what === 'nodes') && !between.includes(row.what))
			).toEqual([]);
			if (isWhole) {
				expect(file.x).toEqual(result.mesh.x);
				expect(file.y).toEqual(result.mesh.y);
			}
			const [read, other] = [qualityOf(file), result.quality];
			for (const key of ['scaled-jacobian', 'minimum-angle'].filter((k) => k in other.all())) {
				expect(read.of(key).min).toBeCloseTo(other.of(key).min, 12);
				expect(read.of(key).mean).toBeCloseTo(other.of(key).mean, 9);
			}
			for (const group of file.groups) expect(group.kind).toBe(result.mesh.groups.find((g) => g.name === group.name)!.kind);
		});

		it('gives its outline to a new recipe, which meshes to the same area', async () => {
			const bytes = await made('cgns');
			const read = { 'old.cgns': await readFileOfRecipe(bytes) };
			const text = recipeOfFiles(read);
			expect(text).toContain('boundary part1 = from "old.cgns"');
			const again = run(text, read);
			expect(again.findings.filter((f) => f.severity === 'error').map((f) => f.message)).toEqual([]);
			const area = sum(regionAreas(result.mesh));
			expect(sum(regionAreas(again.mesh)) / area).toBeCloseTo(1, 2);
			// The two sides of a wall are one curve, named after one of them.
			for (const { name: group } of figuresOf(result).groups)
				if (group !== 'vane_inner') expect(again.model.curvesByName.has(`part1.${group}`), group).toBe(true);
		});
	}
);

describe('a mesh file of others', () => {
	const folder = mkdtempSync(join(tmpdir(), 'mesh-file-'));
	/** A triangle and a quadrilateral that share a side, the second clockwise. */
	const vtu = (arrays: (type: string, name: string, values: number[]) => string, head = '', tail = '') =>
		`<?xml version="1.0"?>\n<VTKFile type="UnstructuredGrid" version="0.1" byte_order="LittleEndian" ${head}>\n<UnstructuredGrid><Piece NumberOfPoints="5" NumberOfCells="3">
<Points>${arrays('Float64', 'Points', [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 2, 0.5, 0])}</Points>
<Cells>${arrays('Int64', 'connectivity', [0, 3, 2, 1, 1, 4, 2, 1, 4])}${arrays('Int64', 'offsets', [4, 7, 9])}${arrays('UInt8', 'types', [9, 5, 3])}</Cells>
</Piece></UnstructuredGrid>${tail}</VTKFile>\n`;
	const bytesOf = (type: string, values: number[]) =>
		type === 'Float64'
			? new Uint8Array(Float64Array.from(values).buffer)
			: type === 'Int64'
				? new Uint8Array(BigInt64Array.from(values, BigInt).buffer)
				: Uint8Array.from(values);
	const headed = (bytes: Uint8Array) => Buffer.concat([Buffer.from(Uint32Array.of(bytes.length).buffer), bytes]);
	const inText = (type: string, name: string, values: number[]) =>
		`<DataArray type="${type}" Name="${name}" NumberOfComponents="3" format="ascii">${values.join(' ')}</DataArray>`;
	const inBase64 = (type: string, name: string, values: number[]) =>
		`<DataArray type="${type}" Name="${name}" format="binary">${headed(bytesOf(type, values)).toString('base64')}</DataArray>`;
	const encode = (text: string) => new TextEncoder().encode(text);

	it.each([
		['as text', encode(vtu(inText))],
		['in base64', encode(vtu(inBase64))]
	])('is read with its arrays %s, clockwise elements turned', async (_, bytes) => {
		const file = await readMeshFile(bytes);
		expect([[...file.triangles], [...file.quads]]).toEqual([
			[1, 4, 2],
			[0, 1, 2, 3]
		]);
		expect(file.groups.map((g) => [g.name, [...g.sides]])).toEqual([['group_0', [1, 4]]]);
		expect(file.notes).toEqual(['1 elements ran clockwise']);
	});

	it('is read as an independent writer packs it, appended and compressed', async () => {
		const script = `
import vtkmodules.all as vtk, sys
g = vtk.vtkUnstructuredGrid(); p = vtk.vtkPoints(); p.SetDataTypeToDouble()
for i in range(60):
    for j in range(40): p.InsertNextPoint(i * 0.1, j * 0.2, 0)
g.SetPoints(p)
for i in range(59):
    for j in range(39):
        a = i * 40 + j
        g.InsertNextCell(9, 4, (a, a + 40, a + 41, a + 1))
t = vtk.vtkDoubleArray(); t.SetName('temperature'); u = vtk.vtkDoubleArray(); u.SetName('velocity'); u.SetNumberOfComponents(3)
for k in range(2400): t.InsertNextValue(0.5 * k); u.InsertNextTuple3(3.0 * k, 4.0 * k, 0)
g.GetPointData().AddArray(t); g.GetPointData().AddArray(u)
w = vtk.vtkXMLUnstructuredGridWriter(); w.SetFileName(sys.argv[1]); w.SetInputData(g)
getattr(w, sys.argv[2])(); getattr(w, sys.argv[3])(); w.Write()
`;
		for (const [mode, packer] of [
			['SetDataModeToAppended', 'SetCompressorTypeToZLib'],
			['SetDataModeToBinary', 'SetCompressorTypeToZLib'],
			['SetDataModeToAppended', 'SetCompressorTypeToNone'],
			['SetDataModeToAscii', 'SetCompressorTypeToNone']
		]) {
			const path = join(folder, `${mode}${packer}.vtu`);
			execFileSync('/usr/bin/python3', ['-c', script, path, mode!, packer!]);
			const file = await readMeshFile(readFileSync(path));
			expect([file.x.length, file.quadRegion.length, file.x.at(-1)]).toEqual([2400, 59 * 39, 59 * 0.1]);
			// Values at nodes, of vectors their length.
			expect([...file.fields!.keys()]).toEqual(['temperature', 'velocity']);
			expect([file.fields!.get('temperature')![7], file.fields!.get('velocity')![7]]).toEqual([3.5, 35]);
			const { result } = ((await readFileOfRecipe(readFileSync(path))) as { drawing: DrawingFile }).drawing;
			expect([result!.fields.size, result!.triangles!.length]).toEqual([2, 59 * 39 * 6]);
			expect(sum(regionAreas({ ...file } as unknown as Parameters<typeof regionAreas>[0]))).toBeCloseTo(5.9 * 7.8, 10);
		}
	});

	it('says in a sentence what is wrong with it', async () => {
		const reason = (bytes: Uint8Array) => readMeshFile(bytes).then(String, (error: Error) => error.message);
		const slab = run(
			'recipe 1\nrectangle o = (0, 0) to (2, 1)\nregion r at (1, 0.5)\nsize 1\nfill r triangles\nsolid slab 1 into 1'
		);
		const good = await deliver(slab, formatByEnding('vtu')!, { plane: 'yes' });
		expect(await reason(encode('x,y\n1,2\n'))).toMatch(/neither CGNS \(HDF5\) nor a VTK XML/);
		expect(await reason(await deliver(slab, formatByEnding('vtu')!))).toMatch(/cells of type 13; a plane mesh/);
		expect(await reason(await deliver(slab, formatByEnding('cgns')!))).toMatch(/cells of 3 dimensions/);
		expect(await reason(good.slice(0, good.length - 200))).toMatch(/cut off/);
		expect(
			await reason(encode(vtu(inText).replace('UnstructuredGrid"', 'ImageData"').replaceAll('<UnstructuredGrid>', '<ImageData>')))
		).toMatch(/another kind|no XML/);
		const cgns = await deliver(slab, formatByEnding('cgns')!, { plane: 'yes' });
		for (const cut of [40, 400, 3000, cgns.length - 2000]) expect(await reason(cgns.slice(0, cut))).toMatch(/damaged|no CGNS/);
		writeFileSync(join(folder, 'old.cgns'), cgns.slice(0, 400));
		expect(await readFileOfRecipe(cgns.slice(0, 400))).toMatchObject({ error: expect.stringMatching(/damaged|no CGNS/) });
	});
});

describe('“boundary from”', () => {
	it('takes the outline with and without a name, in the units of the recipe, and says what it cannot take', async () => {
		const plate = run(
			'recipe 1\nunits cm\nrectangle o = (0, 0) to (2, 1)\nregion r at (1, 0.5)\nsize 0.25\nfill r triangles\ngroup low = o.bottom as wall\ngroup rest = o.left, o.top, o.right as wall'
		);
		const read = {
			'old.cgns': await readFileOfRecipe(await deliver(plate, formatByEnding('cgns')!)),
			'line.csv': readCoordinates(encodeText('0,0\n1,2\n3,4\n'))
		};
		const named = run(
			'recipe 1\nunits mm\nboundary old = from "old.cgns"\nregion r at (10, 5)\nsize 1\nfill r triangles\ngroup low = all of old.low as wall\ngroup rest = old.rest as wall',
			read
		);
		expect(named.findings.filter((f) => f.severity !== 'note').map((f) => f.message)).toEqual([]);
		expect(sum(regionAreas(named.mesh))).toBeCloseTo(200, 9);
		const bare = run('recipe 1\nboundary from "old.cgns"\nregion r at (10, 5)\nfill r triangles', read);
		expect([...bare.model.curvesByName.keys()]).toEqual(expect.arrayContaining(['boundary.low', 'boundary.rest', 'boundary']));
		const wrong = (text: string) => run(`recipe 1\n${text}`, read).findings.find((f) => f.severity === 'error')?.message;
		expect(wrong('boundary from "line.csv"')).toContain('take its points with “polyline name = from "line.csv"”');
		expect(wrong('drawing d = from "old.cgns"')).toContain('take its outline with “boundary name = from "old.cgns"”');
		expect(wrong('boundary from "older.cgns"')).toContain('there is no file “older.cgns”');
		expect(wrong('boundary b = from "old.cgns" only "lows"')).toContain('no curves on a layer “lows”');
	});

	it('takes a wall of two sides as one curve, on the group of its first side', async () => {
		const walled = run(
			'recipe 1\nrectangle o = (0, 0) to (30, 20)\nline v = (10, 0) to (10, 8)\nline w = (20, 5) to (20, 12)\nregion r at (2, 2)\nsize 2\nfill r triangles\nbaffle vane = v as wall\nbaffle fin = w as wall sides near, off\ngroup sides = o as wall'
		);
		for (const ending of ['cgns', 'vtu']) {
			const read = { 'old.cgns': await readFileOfRecipe(await deliver(walled, formatByEnding(ending)!)) };
			const anew = run(
				'recipe 1\nboundary old = from "old.cgns"\nregion r at (2, 2)\nsize 2\nfill r triangles\nbaffle vane = old.vane as wall\nbaffle fin = old.near as wall\ngroup sides = old.sides as wall',
				read
			);
			expect(anew.findings.filter((f) => f.severity !== 'note').map((f) => f.message)).toEqual([]);
			expect([...anew.model.curvesByName.keys()]).toEqual(expect.arrayContaining(['old.vane', 'old.near']));
			expect(sum(regionAreas(anew.mesh))).toBeCloseTo(600, 9);
		}
	});
});

const encodeText = (text: string) => new TextEncoder().encode(text);
