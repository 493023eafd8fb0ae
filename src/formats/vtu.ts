import { cellCount, type CellShape, type DeliveryGrid } from '../core/mesh/grid.ts';
import { boundaryKinds } from '../core/recipe/language/boundary-kinds.ts';
import { inUnits, type GridOptions } from './grid-options.ts';
import { inVtkOrder } from './vtk-order.ts';

/** Cell types of the VTK file formats. */
const cellTypes: Record<CellShape, number> = {
	vertex: 1,
	line: 3,
	triangle: 5,
	quadrilateral: 9,
	tetrahedron: 10,
	hexahedron: 12,
	prism: 13,
	pyramid: 14,
	line3: 21,
	triangle6: 22,
	quadrilateral8: 23,
	tetrahedron10: 24,
	hexahedron20: 25,
	prism15: 26,
	pyramid13: 27,
	quadrilateral9: 28
};

type Numbers = Float64Array | Int32Array | Uint8Array;

/**
 * Writes a VTK XML unstructured grid (serial, little-endian, Float64 points), its arrays appended raw after the XML, each
 * behind its length in bytes as 64 bits. Cells: section by section, then a cell for every side of a boundary group, and a vertex for every node of a group of points.
 *
 * Cell arrays: `region` (index into the field array `region_names`, −1 on sides) and `group`
 * (index into `group_names`: the boundary groups, then the materials; −1 where none). A side in two
 * groups has a cell for each; of a region in several materials `group_2`, `group_3` … have the others.
 */
export function writeVtu(grid: DeliveryGrid, options: GridOptions): Uint8Array {
	const { sections, patches, points: single, materials, regions } = grid;
	const named = [...patches, ...single];
	const materialsOf = (region: number) => materials.flatMap((m, k) => (m.regions.includes(region) ? [named.length + k] : []));
	const most = regions.reduce((most, _, r) => Math.max(most, materialsOf(r).length), 1);
	const parts = [
		...sections.map((section) => ({ ...inVtkOrder(section), region: section.region, groups: materialsOf(section.region) })),
		...patches.flatMap(({ sides }, group) => sides.map((cells) => ({ ...cells, region: -1, groups: [group] }))),
		...single.map(({ nodes }, k) => ({ shape: 'vertex' as const, nodes, region: -1, groups: [patches.length + k] }))
	];
	const cells = parts.reduce((sum, part) => sum + cellCount(part), 0);

	// Phase 1: the arrays.
	const [x, y, z] = inUnits(grid, options).coordinates;
	const points = new Float64Array(3 * x.length);
	for (let i = 0; i < x.length; i++) {
		points[3 * i] = x[i]!;
		points[3 * i + 1] = y[i]!;
		if (z) points[3 * i + 2] = z[i]!;
	}
	const connectivity = new Int32Array(parts.reduce((sum, { nodes }) => sum + nodes.length, 0));
	const offsets = new Int32Array(cells);
	const types = new Uint8Array(cells);
	const region = new Int32Array(cells);
	const groups = Array.from({ length: most }, () => new Int32Array(cells));
	let [cell, at] = [0, 0];
	for (const part of parts) {
		const count = cellCount(part);
		const size = part.nodes.length / Math.max(1, count);
		connectivity.set(part.nodes, at);
		for (let k = 0; k < count; k++) offsets[cell + k] = at + size * (k + 1);
		types.fill(cellTypes[part.shape], cell, cell + count);
		region.fill(part.region, cell, cell + count);
		groups.forEach((group, k) => group.fill(part.groups[k] ?? -1, cell, cell + count));
		cell += count;
		at += part.nodes.length;
	}

	// Phase 2: the XML, with the place of each array behind it.
	const arrays: Numbers[] = [];
	let offset = 0;
	const array = (type: string, name: string, data: Numbers, components = 1): string => {
		const count = components > 1 ? ` NumberOfComponents="${components}"` : '';
		const element = `<DataArray type="${type}" Name="${name}"${count} format="appended" offset="${offset}"/>`;
		arrays.push(data);
		offset += 8 + data.byteLength;
		return element;
	};
	const head = [
		'<?xml version="1.0"?>',
		'<VTKFile type="UnstructuredGrid" version="1.0" byte_order="LittleEndian" header_type="UInt64">',
		'<UnstructuredGrid>',
		'<FieldData>',
		strings('region_names', regions),
		strings(
			'group_names',
			[...named, ...materials].map((g) => g.name)
		),
		strings('group_kinds', [...named.map((p) => boundaryKinds[p.kind].cgns), ...materials.map(() => 'region')]),
		'</FieldData>',
		`<Piece NumberOfPoints="${x.length}" NumberOfCells="${cells}">`,
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
		...groups.map((group, k) => array('Int32', k === 0 ? 'group' : `group_${k + 1}`, group)),
		'</CellData>',
		'</Piece>',
		'</UnstructuredGrid>',
		'<AppendedData encoding="raw">',
		'_'
	].join('\n');
	return joined(new TextEncoder().encode(head), arrays, new TextEncoder().encode('\n</AppendedData>\n</VTKFile>\n'));
}

function joined(head: Uint8Array, arrays: readonly Numbers[], tail: Uint8Array): Uint8Array {
	const total = arrays.reduce((sum, a) => sum + 8 + a.byteLength, head.length + tail.length);
	const bytes = new Uint8Array(total);
	const view = new DataView(bytes.buffer);
	bytes.set(head);
	let at = head.length;
	for (const data of arrays) {
		view.setBigUint64(at, BigInt(data.byteLength), true);
		bytes.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), at + 8);
		at += 8 + data.byteLength;
	}
	bytes.set(tail, at);
	return bytes;
}

/** A field array of strings: the codes of their UTF-8 bytes, each string closed by a zero. */
function strings(name: string, list: readonly string[]): string {
	const bytes = list.flatMap((s) => [...new TextEncoder().encode(s), 0]);
	return `<DataArray type="String" Name="${name}" NumberOfTuples="${list.length}" format="ascii">${bytes.join(' ')}</DataArray>`;
}
