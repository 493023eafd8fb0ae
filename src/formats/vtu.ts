import { boundaryKinds } from '../core/recipe/boundary-kinds.ts';
import { elementCount, groupEdges, quadCount, triangleCount, type Mesh } from '../core/mesh/mesh.ts';
import { toBase64 } from './base64.ts';

/** Cell types of the VTK file formats. */
const VTK_LINE = 3;
const VTK_TRIANGLE = 5;
const VTK_QUAD = 9;

/**
 * Writes a VTK XML unstructured grid (serial, inline base64, little-endian, Float64 points with
 * z = 0). Cells: triangles, quadrilaterals, then a line for every edge of a boundary group.
 *
 * Cell arrays: `region` (index into the field array `region_names`, −1 on lines) and `group`
 * (index into `group_names`, −1 where none; on elements, the material group). An edge in two
 * groups has a line for each.
 */
export function writeVtu(mesh: Mesh): Uint8Array {
	const triangles = triangleCount(mesh);
	const quads = quadCount(mesh);
	const elements = elementCount(mesh);
	const lines = mesh.groups.map((group) => groupEdges(mesh, group));
	const lineTotal = lines.reduce((sum, list) => sum + list.length, 0);
	const cells = elements + lineTotal;

	const points = new Float64Array(3 * mesh.x.length);
	for (let i = 0; i < mesh.x.length; i++) {
		points[3 * i] = mesh.x[i]!;
		points[3 * i + 1] = mesh.y[i]!;
	}
	const connectivity = new Int32Array(3 * triangles + 4 * quads + 2 * lineTotal);
	connectivity.set(mesh.triangles);
	connectivity.set(mesh.quads, 3 * triangles);
	const offsets = new Int32Array(cells);
	for (let e = 0; e < triangles; e++) offsets[e] = 3 * (e + 1);
	for (let e = 0; e < quads; e++) offsets[triangles + e] = 3 * triangles + 4 * (e + 1);
	const types = new Uint8Array(cells)
		.fill(VTK_TRIANGLE, 0, triangles)
		.fill(VTK_QUAD, triangles, elements)
		.fill(VTK_LINE, elements);
	const region = new Int32Array(cells).fill(-1);
	region.set(mesh.triangleRegion);
	region.set(mesh.quadRegion, triangles);
	const group = new Int32Array(cells).fill(-1);
	mesh.groups.forEach(({ regions }, g) => {
		if (regions.length > 0) for (let e = 0; e < elements; e++) if (regions.includes(region[e]!)) group[e] = g;
	});
	let cell = elements;
	let at = 3 * triangles + 4 * quads;
	lines.forEach((list, g) => {
		for (const e of list) {
			connectivity[at++] = mesh.edges[2 * e]!;
			connectivity[at++] = mesh.edges[2 * e + 1]!;
			offsets[cell] = at;
			group[cell++] = g;
		}
	});

	const text = [
		'<?xml version="1.0"?>',
		'<VTKFile type="UnstructuredGrid" version="1.0" byte_order="LittleEndian" header_type="UInt64">',
		'<UnstructuredGrid>',
		'<FieldData>',
		strings('region_names', mesh.regions),
		strings(
			'group_names',
			mesh.groups.map((g) => g.name)
		),
		strings(
			'group_kinds',
			mesh.groups.map((g) => (g.regions.length > 0 ? 'region' : boundaryKinds[g.kind].cgns))
		),
		'</FieldData>',
		`<Piece NumberOfPoints="${mesh.x.length}" NumberOfCells="${cells}">`,
		'<Points>',
		array('Float64', 'Points', points, 3),
		'</Points>',
		'<Cells>',
		array('Int32', 'connectivity', connectivity),
		array('Int32', 'offsets', offsets),
		array('UInt8', 'types', types),
		'</Cells>',
		'<CellData>',
		array('Int32', 'region', region),
		array('Int32', 'group', group),
		'</CellData>',
		'</Piece>',
		'</UnstructuredGrid>',
		'</VTKFile>',
		''
	].join('\n');
	return new TextEncoder().encode(text);
}

function array(type: string, name: string, data: Float64Array | Int32Array | Uint8Array, components = 1): string {
	const bytes = new Uint8Array(8 + data.byteLength);
	new DataView(bytes.buffer).setBigUint64(0, BigInt(data.byteLength), true);
	bytes.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), 8);
	const count = components > 1 ? ` NumberOfComponents="${components}"` : '';
	return `<DataArray type="${type}" Name="${name}"${count} format="binary">${toBase64(bytes)}</DataArray>`;
}

/** A field array of strings: the codes of their UTF-8 bytes, each string closed by a zero. */
function strings(name: string, list: string[]): string {
	const bytes = list.flatMap((s) => [...new TextEncoder().encode(s), 0]);
	return `<DataArray type="String" Name="${name}" NumberOfTuples="${list.length}" format="ascii">${bytes.join(' ')}</DataArray>`;
}
