import h5wasm, { type File as Hdf5File } from 'h5wasm';
import { boundaryKinds } from '../core/recipe/boundary-kinds.ts';
import { groupEdges, triangleCount, type Mesh } from '../core/mesh/mesh.ts';
import { metres } from '../core/recipe/units.ts';

/** Element types of the SIDS (ElementType_t). */
const BAR_2 = 3;
const TRI_3 = 5;
const QUAD_4 = 7;

/** SIDS names of the recipe units that have one; coordinates in the others are delivered in metres. */
const lengthUnits: Record<string, string> = { m: 'Meter', cm: 'Centimeter', mm: 'Millimeter', ft: 'Foot', in: 'Inch' };

/** Longest node name in a CGNS file. */
const nameLimit = 32;

/** What the file says besides the mesh. */
export interface CgnsOptions {
	title: string;
	units: string;
}

type NodeValue =
	| { type: 'C1'; text: string | string[] }
	| { type: 'I4'; data: Int32Array; shape: number[] }
	| { type: 'R4'; data: Float32Array; shape: number[] }
	| { type: 'R8'; data: Float64Array; shape: number[] };

/** One node of the CGNS tree; `shape` is as HDF5 stores it, the reverse of the SIDS order. */
interface CgnsNode {
	name: string;
	label: string;
	value?: NodeValue;
	children?: CgnsNode[];
}

/**
 * Writes a CGNS file (SIDS 3.4 on HDF5, which older readers take too): one 2D base with one unstructured zone. Each region is
 * a section of elements, each boundary group a section of edges with the group's name, a family,
 * and a boundary condition of its kind; each material group a sub-region with its family.
 *
 * The bytes depend on the mesh alone.
 */
export async function writeCgns(mesh: Mesh, options: CgnsOptions): Promise<Uint8Array> {
	const { FS } = await h5wasm.ready;
	const path = '/delivery.cgns';
	// HDF5 stamps objects with the time of day; a fixed clock keeps equal meshes equal byte for byte.
	const now = Date.now;
	Date.now = () => 0;
	try {
		const file = new h5wasm.File(path, 'w', { track_order: true });
		try {
			writeRoot(file);
			for (const node of buildTree(mesh, options)) writeNode(file, '', node);
		} finally {
			file.close();
		}
		return FS.readFile(path) as Uint8Array;
	} finally {
		Date.now = now;
		if (FS.analyzePath(path).exists) FS.unlink(path);
	}
}

function buildTree(mesh: Mesh, { title, units }: CgnsOptions): CgnsNode[] {
	const names = new UniqueNames();
	const boundary = mesh.groups.filter((g) => g.regions.length === 0);
	const materials = mesh.groups.filter((g) => g.regions.length > 0);
	// Groups take their names first: those are what a solver reads.
	const groupName = new Map(mesh.groups.map((g) => [g, names.take(g.name)]));
	const sections: CgnsNode[] = [];
	const conditions: CgnsNode[] = [];
	let element = 0;
	const rangeOfRegion: [number, number][] = [];
	mesh.regions.forEach((region, r) => {
		const first = element + 1;
		for (const [type, nodes, size, owner] of [
			[TRI_3, mesh.triangles, 3, mesh.triangleRegion],
			[QUAD_4, mesh.quads, 4, mesh.quadRegion]
		] as const) {
			const from = owner.indexOf(r);
			if (from < 0) continue;
			const to = owner.lastIndexOf(r) + 1;
			sections.push(section(names.take(region), type, element + 1, nodes.subarray(size * from, size * to), size));
			element += to - from;
		}
		rangeOfRegion.push([first, element]);
	});
	for (const group of boundary) {
		const list = groupEdges(mesh, group);
		if (list.length === 0) continue;
		const nodes = new Uint32Array(2 * list.length);
		list.forEach((e, k) => nodes.set(mesh.edges.subarray(2 * e, 2 * e + 2), 2 * k));
		const name = groupName.get(group)!;
		sections.push(section(name, BAR_2, element + 1, nodes, 2));
		conditions.push({
			name,
			label: 'BC_t',
			value: { type: 'C1', text: boundaryKinds[group.kind].cgns },
			children: [
				{
					name: 'PointRange',
					label: 'IndexRange_t',
					value: { type: 'I4', data: Int32Array.of(element + 1, element + list.length), shape: [2, 1] }
				},
				text('GridLocation', 'GridLocation_t', 'EdgeCenter'),
				text('FamilyName', 'FamilyName_t', name)
			]
		});
		element += list.length;
	}
	const subregions = materials
		.map((group): CgnsNode => {
			const name = groupName.get(group)!;
			const cells = group.regions.flatMap((r) => {
				const [first, last] = rangeOfRegion[r]!;
				return Array.from({ length: last - first + 1 }, (_, k) => first + k);
			});
			return {
				name,
				label: 'ZoneSubRegion_t',
				value: { type: 'I4', data: Int32Array.of(2), shape: [1] },
				children: [
					{
						name: 'PointList',
						label: 'IndexArray_t',
						value: { type: 'I4', data: Int32Array.from(cells), shape: [cells.length, 1] }
					},
					text('GridLocation', 'GridLocation_t', 'CellCenter'),
					text('FamilyName', 'FamilyName_t', name)
				]
			};
		})
		.filter((node) => (node.children![0]!.value as { data: Int32Array }).data.length > 0);

	const cells = triangleCount(mesh) + mesh.quadRegion.length;
	const scale = units in lengthUnits ? 1 : metres(units);
	const coordinate = (name: string, data: Float64Array): CgnsNode => ({
		name,
		label: 'DataArray_t',
		value: { type: 'R8', data: scale === 1 ? data : data.map((v) => v * scale), shape: [data.length] },
		children: [
			{
				name: 'DimensionalExponents',
				label: 'DimensionalExponents_t',
				value: { type: 'R4', data: Float32Array.of(0, 1, 0, 0, 0), shape: [5] }
			}
		]
	});
	const zone: CgnsNode = {
		name: 'Zone',
		label: 'Zone_t',
		value: { type: 'I4', data: Int32Array.of(mesh.x.length, cells, 0), shape: [3, 1] },
		children: [
			text('ZoneType', 'ZoneType_t', 'Unstructured'),
			{
				name: 'GridCoordinates',
				label: 'GridCoordinates_t',
				children: [coordinate('CoordinateX', mesh.x), coordinate('CoordinateY', mesh.y)]
			},
			...sections,
			...(conditions.length > 0 ? [{ name: 'ZoneBC', label: 'ZoneBC_t', children: conditions }] : []),
			...subregions
		]
	};
	const base: CgnsNode = {
		name: 'Base',
		label: 'CGNSBase_t',
		value: { type: 'I4', data: Int32Array.of(2, 2), shape: [2] },
		children: [
			text('Description', 'Descriptor_t', title === '' ? 'mesh' : title),
			text('DataClass', 'DataClass_t', 'Dimensional'),
			{
				name: 'DimensionalUnits',
				label: 'DimensionalUnits_t',
				value: { type: 'C1', text: ['Kilogram', lengthUnits[units] ?? 'Meter', 'Second', 'Kelvin', 'Radian'] }
			},
			...mesh.groups.map((group): CgnsNode => ({
				name: groupName.get(group)!,
				label: 'Family_t',
				children: group.regions.length > 0 ? [] : [text('FamilyBC', 'FamilyBC_t', boundaryKinds[group.kind].cgns)]
			})),
			zone
		]
	};
	return [
		{ name: 'CGNSLibraryVersion', label: 'CGNSLibraryVersion_t', value: { type: 'R4', data: Float32Array.of(3.4), shape: [1] } },
		base
	];
}

const text = (name: string, label: string, value: string): CgnsNode => ({ name, label, value: { type: 'C1', text: value } });

function section(name: string, type: number, first: number, nodes: Uint32Array, size: number): CgnsNode {
	const count = nodes.length / size;
	return {
		name,
		label: 'Elements_t',
		value: { type: 'I4', data: Int32Array.of(type, 0), shape: [2] },
		children: [
			{
				name: 'ElementRange',
				label: 'IndexRange_t',
				value: { type: 'I4', data: Int32Array.of(first, first + count - 1), shape: [2] }
			},
			{
				name: 'ElementConnectivity',
				label: 'DataArray_t',
				value: { type: 'I4', data: Int32Array.from(nodes, (n) => n + 1), shape: [nodes.length] }
			}
		]
	};
}

/** Gives every node of a zone a name of its own within the limit of the format. */
class UniqueNames {
	private readonly taken = new Set([
		'ZoneType',
		'GridCoordinates',
		'ZoneBC',
		'Zone',
		'Description',
		'DataClass',
		'DimensionalUnits'
	]);

	take(wanted: string): string {
		let name = wanted.slice(0, nameLimit);
		for (let k = 2; this.taken.has(name); k++) name = `${wanted.slice(0, nameLimit - 4)} ${k}`;
		this.taken.add(name);
		return name;
	}
}

function writeRoot(file: Hdf5File): void {
	writeAttributes(file, 'HDF5 MotherNode', 'Root Node of HDF5 File', 'MT');
	file.create_dataset({ name: ' format', data: bytes('IEEE_LITTLE_32', 15), shape: [15], dtype: '<b' });
	file.create_dataset({ name: ' hdf5version', data: bytes('HDF5 Version 1.14.6', 33), shape: [33], dtype: '<b' });
}

function writeNode(file: Hdf5File, parent: string, node: CgnsNode): void {
	const path = `${parent}/${node.name}`;
	const group = file.create_group(path.slice(1), true);
	writeAttributes(group, node.name, node.label, node.value?.type ?? 'MT');
	group.create_attribute('flags', Int32Array.of(1), [1], '<i');
	if (node.value) {
		const { value } = node;
		if (value.type === 'C1') {
			const lines = typeof value.text === 'string' ? [value.text] : value.text;
			const width = typeof value.text === 'string' ? new TextEncoder().encode(value.text).length : nameLimit;
			const data = new Int8Array(width * lines.length).fill(32);
			lines.forEach((line, k) => data.set(new TextEncoder().encode(line), k * width));
			group.create_dataset({ name: ' data', data, shape: lines.length > 1 ? [lines.length, width] : [width], dtype: '<b' });
		} else {
			const dtype = { I4: '<i', R4: '<f', R8: '<d' }[value.type];
			group.create_dataset({ name: ' data', data: value.data, shape: value.shape, dtype });
		}
	}
	for (const child of node.children ?? []) writeNode(file, path, child);
}

function writeAttributes(
	target: { create_attribute: Hdf5File['create_attribute'] },
	name: string,
	label: string,
	type: string
): void {
	target.create_attribute('name', name, [], 'S33');
	target.create_attribute('label', label, [], 'S33');
	target.create_attribute('type', type, [], 'S3');
}

/** Text in a field of a fixed width, filled up with zero bytes. */
function bytes(value: string, width: number): Int8Array {
	const data = new Int8Array(width);
	data.set(new TextEncoder().encode(value));
	return data;
}
