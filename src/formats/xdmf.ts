import { cellCount, type CellShape, type DeliveryGrid, type GridCells, nodesOfShape } from '../core/mesh/grid.ts';
import { boundaryKinds } from '../core/recipe/language/boundary-kinds.ts';
import { inUnits, type GridOptions } from './grid-options.ts';
import { writtenHdf5 } from './hdf5-file.ts';
import type { Part } from './parts.ts';
import { inVtkOrder } from './vtk-order.ts';

/** Topology types of XDMF 3 in mixed lists, and what stands between type and nodes: how many nodes there are, where the type leaves that open. */
const topology: Record<CellShape, { type: number; counted?: true; name: string }> = {
	vertex: { type: 1, counted: true, name: 'Polyvertex' },
	line: { type: 2, counted: true, name: 'Polyline' },
	triangle: { type: 4, name: 'Triangle' },
	quadrilateral: { type: 5, name: 'Quadrilateral' },
	tetrahedron: { type: 6, name: 'Tetrahedron' },
	pyramid: { type: 7, name: 'Pyramid' },
	prism: { type: 8, name: 'Wedge' },
	hexahedron: { type: 9, name: 'Hexahedron' },
	line3: { type: 34, name: 'Edge_3' },
	triangle6: { type: 36, name: 'Triangle_6' },
	quadrilateral8: { type: 37, name: 'Quadrilateral_8' },
	tetrahedron10: { type: 38, name: 'Tetrahedron_10' },
	pyramid13: { type: 39, name: 'Pyramid_13' },
	prism15: { type: 40, name: 'Wedge_15' },
	hexahedron20: { type: 48, name: 'Hexahedron_20' },
	quadrilateral9: { type: 35, name: 'Quadrilateral_9' }
};

/**
 * Writes an XDMF 3 file with its arrays in HDF5 beside it: one grid of the elements with their region, and one of the sides of groups with their
 * group, as indices into the names that stand in `Information`; the nodes of every group as a set, all and those that it owns;
 * materials as sets of cells. Cells of one shape only stand in a plain list, of several in a mixed one.
 */
export async function writeXdmf(whole: DeliveryGrid, options: GridOptions, stem: string): Promise<Part[]> {
	const grid = inUnits(whole, options);
	const { coordinates, sections, patches, points, materials, regions } = grid;
	const beside = `${stem}.h5`;
	const arrays: { name: string; data: Float64Array | Int32Array; shape: number[] }[] = [];
	const item = (name: string, data: Float64Array | Int32Array, columns = 1): string => {
		const rows = data.length / columns;
		const shape = columns > 1 ? [rows, columns] : [rows];
		arrays.push({ name, data, shape });
		const type = data instanceof Float64Array ? 'NumberType="Float" Precision="8"' : 'NumberType="Int" Precision="4"';
		return `<DataItem ${type} Dimensions="${shape.join(' ')}" Format="HDF">${escaped(beside)}:/${name}</DataItem>`;
	};
	const dimension = coordinates.length;
	const geometry = new Float64Array(dimension * coordinates[0]!.length);
	coordinates.forEach((values, axis) => values?.forEach((value, k) => (geometry[dimension * k + axis] = value)));
	const geometryItem = item('geometry', geometry, dimension);
	const geometryXml = `<Geometry GeometryType="${dimension === 2 ? 'XY' : 'XYZ'}">${geometryItem}</Geometry>`;
	const topologyOf = (name: string, cells: readonly GridCells[]): string => {
		const count = cells.reduce((sum, section) => sum + cellCount(section), 0);
		const shapes = new Set(cells.map(({ shape }) => shape));
		const [only] = shapes;
		if (shapes.size === 1) {
			const { name: type, counted } = topology[only!];
			const size = nodesOfShape[only!];
			const list = new Int32Array(cells.reduce((sum, { nodes }) => sum + nodes.length, 0));
			let filled = 0;
			for (const { nodes } of cells) {
				list.set(nodes, filled);
				filled += nodes.length;
			}
			const nodes = counted ? ` NodesPerElement="${size}"` : '';
			return `<Topology TopologyType="${type}" NumberOfElements="${count}"${nodes}>${item(name, list, size)}</Topology>`;
		}
		const list: number[] = [];
		for (const { shape, nodes } of cells) {
			const { type, counted } = topology[shape];
			const size = nodesOfShape[shape];
			for (let k = 0; k < nodes.length; k += size) {
				list.push(type);
				if (counted) list.push(size);
				for (let i = 0; i < size; i++) list.push(nodes[k + i]!);
			}
		}
		return `<Topology TopologyType="Mixed" NumberOfElements="${count}">${item(name, Int32Array.from(list))}</Topology>`;
	};
	const attribute = (name: string, cells: readonly { count: number; value: number }[]) => {
		const data = new Int32Array(cells.reduce((sum, { count }) => sum + count, 0));
		let at = 0;
		for (const { count, value } of cells) data.fill(value, at, (at += count));
		return `<Attribute Name="${name}" AttributeType="Scalar" Center="Cell">${item(name, data)}</Attribute>`;
	};
	const set = (name: string, kind: 'Node' | 'Cell', list: Uint32Array | Int32Array, key: string) =>
		`<Set Name="${escaped(name)}" SetType="${kind}">${item(key, Int32Array.from(list))}</Set>`;

	const starts: number[] = [];
	let at = 0;
	for (const section of sections) {
		starts.push(at);
		at += cellCount(section);
	}
	const cellsOf = (members: readonly number[]) =>
		Int32Array.from(
			sections.flatMap((section, k) =>
				members.includes(section.region) ? Array.from({ length: cellCount(section) }, (_, i) => starts[k]! + i) : []
			)
		);
	const named = [
		...patches.map(({ name, kind, sides }) => ({ name, kind, sides })),
		...points.map(({ name, kind, nodes }) => ({ name, kind, sides: [{ shape: 'vertex' as const, nodes }] }))
	];
	const groupSides = named.flatMap(({ sides }, k) => sides.map((cells) => ({ cells, value: k, count: cellCount(cells) })));
	const xml = [
		'<?xml version="1.0" encoding="utf-8"?>',
		'<Xdmf Version="3.0">',
		'<Domain>',
		`<Information Name="units" Value="${grid.units}"/>`,
		`<Information Name="region_names" Value="${escaped(regions.join(' '))}"/>`,
		`<Information Name="group_names" Value="${escaped(named.map((g) => g.name).join(' '))}"/>`,
		`<Information Name="group_kinds" Value="${named.map((g) => boundaryKinds[g.kind].cgns).join(' ')}"/>`,
		`<Grid Name="mesh" GridType="Uniform">`,
		geometryXml,
		topologyOf('elements', sections.map(inVtkOrder)),
		attribute(
			'region',
			sections.map((section) => ({ count: cellCount(section), value: section.region }))
		),
		...materials.map(({ name, regions: members }, k) => set(name, 'Cell', cellsOf(members), `material_${k}`)),
		...grid
			.nodeSets()
			.flatMap(({ name, all, owned }, k) => [
				set(`${name} nodes`, 'Node', all, `nodes_${k}`),
				set(`${name} owned`, 'Node', owned, `owned_${k}`)
			]),
		'</Grid>',
		...(groupSides.length > 0
			? [
					'<Grid Name="boundary" GridType="Uniform">',
					`<Geometry Reference="XML">/Xdmf/Domain/Grid[@Name="mesh"]/Geometry</Geometry>`,
					topologyOf(
						'sides',
						groupSides.map(({ cells }) => cells)
					),
					attribute('group', groupSides),
					'</Grid>'
				]
			: []),
		'</Domain>',
		'</Xdmf>',
		''
	].join('\n');
	return [
		{ name: `${stem}.xdmf`, bytes: new TextEncoder().encode(xml) },
		{ name: beside, bytes: await hdf5(arrays) }
	];
}

const hdf5 = (arrays: readonly { name: string; data: Float64Array | Int32Array; shape: number[] }[]): Promise<Uint8Array> =>
	writtenHdf5((file) => {
		for (const { name, data, shape } of arrays)
			file.create_dataset({ name, data, shape, dtype: data instanceof Float64Array ? '<d' : '<i' });
	});

const escaped = (text: string): string =>
	text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
