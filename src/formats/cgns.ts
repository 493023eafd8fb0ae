import type { File as Hdf5File } from 'h5wasm';
import { cellCount, nodesOfShape, type CellShape, type DeliveryGrid } from '../core/mesh/grid.ts';
import type { Movement } from '../core/geometry/movement.ts';
import type { PeriodicNodes } from '../core/mesh/mesh.ts';
import { boundaryKinds } from '../core/recipe/language/boundary-kinds.ts';
import { type GridOptions, inUnits } from './grid-options.ts';
import { writtenHdf5 } from './hdf5-file.ts';

/** Element types of the SIDS (ElementType_t). */
const elementTypes: Record<CellShape, number> = {
	vertex: 2,
	line: 3,
	triangle: 5,
	quadrilateral: 7,
	tetrahedron: 10,
	pyramid: 12,
	prism: 14,
	hexahedron: 17,
	line3: 4,
	triangle6: 6,
	quadrilateral8: 8,
	tetrahedron10: 11,
	pyramid13: 21,
	prism15: 15,
	hexahedron20: 18,
	quadrilateral9: 9
};

/** SIDS names of the recipe units that have one; coordinates in the others are delivered in metres. */
const lengthUnits: Record<string, string> = { m: 'Meter', cm: 'Centimeter', mm: 'Millimeter', ft: 'Foot', in: 'Inch' };

/** Longest node name in a CGNS file. */
const nameLimit = 32;

export type NodeValue =
	| { type: 'C1'; text: string | string[] }
	| { type: 'I4'; data: Int32Array; shape: number[] }
	| { type: 'R4'; data: Float32Array; shape: number[] }
	| { type: 'R8'; data: Float64Array; shape: number[] };

/** One node of the CGNS tree; `shape` is as HDF5 stores it, the reverse of the SIDS order. */
export interface CgnsNode {
	name: string;
	label: string;
	value?: NodeValue;
	children?: CgnsNode[];
}

/**
 * Writes a CGNS file (SIDS 3.4 on HDF5, which older readers take too): one base with one unstructured zone. Each region is
 * a section of elements, each boundary group a section of sides with the group's name, a family,
 * and a boundary condition of its kind; each material group a sub-region with its family.
 *
 * The bytes depend on the grid alone.
 *
 * @param zones what else than one unstructured zone stands in the base
 */
export async function writeCgns(
	grid: DeliveryGrid,
	options: GridOptions,
	zones: (grid: DeliveryGrid, names: GridNames) => CgnsNode[] = (wholeGrid, names) => [zoneOf(wholeGrid, names)]
): Promise<Uint8Array> {
	return writtenHdf5((file) => {
		writeRoot(file);
		// Units that the SIDS have no name for are delivered in metres.
		const delivered = inUnits(grid, grid.units in lengthUnits ? options : { units: 'm' });
		for (const node of buildTree(delivered, (names) => zones(delivered, names))) writeNode(file, '', node);
	});
}

/** The names of all that is delivered, each once within the limit of the format; groups take theirs first: those are what a solver reads. */
export interface GridNames {
	patches: string[];
	points: string[];
	materials: string[];
	/** By section. */
	sections: string[];
	/** A name for sides of another shape of a patch. */
	further: (name: string) => string;
}

function buildTree(grid: DeliveryGrid, zones: (names: GridNames) => CgnsNode[]): CgnsNode[] {
	const { title, units, coordinates, sections, patches, points, materials } = grid;
	const taken = new UniqueNames();
	const names: GridNames = {
		patches: patches.map((p) => taken.take(p.name)),
		points: points.map((p) => taken.take(p.name)),
		materials: materials.map((m) => taken.take(m.name)),
		sections: sections.map((s) => taken.take(grid.regions[s.region]!)),
		further: (name) => taken.take(name)
	};
	const base: CgnsNode = {
		name: 'Base',
		label: 'CGNSBase_t',
		value: { type: 'I4', data: Int32Array.of(coordinates.length, spaceOf(grid).length), shape: [2] },
		children: [
			text('Description', 'Descriptor_t', title === '' ? 'mesh' : title),
			text('DataClass', 'DataClass_t', 'Dimensional'),
			{
				name: 'DimensionalUnits',
				label: 'DimensionalUnits_t',
				value: { type: 'C1', text: ['Kilogram', lengthUnits[units]!, 'Second', 'Kelvin', 'Radian'] }
			},
			...[...patches, ...points].map(({ kind }, p): CgnsNode => ({
				name: [...names.patches, ...names.points][p]!,
				label: 'Family_t',
				children: [text('FamilyBC', 'FamilyBC_t', boundaryKinds[kind].cgns)]
			})),
			...names.materials.map((name): CgnsNode => ({ name, label: 'Family_t', children: [] })),
			...zones(names)
		]
	};
	return [
		{ name: 'CGNSLibraryVersion', label: 'CGNSLibraryVersion_t', value: { type: 'R4', data: Float32Array.of(3.4), shape: [1] } },
		base
	];
}

/** The zone: coordinates, sections of elements and of sides, conditions, sub-regions of materials. */
export function zoneOf(grid: DeliveryGrid, names: GridNames): CgnsNode {
	const { coordinates, sections, patches, points, materials } = grid;
	const periodic = grid.periodic.filter(({ from }) => from.length > 0);
	const children: CgnsNode[] = [];
	const conditions: CgnsNode[] = [];
	const dimension = coordinates.length;
	const space = spaceOf(grid);
	let element = 0;
	/** First and last element of each section. */
	const ranges = sections.map((part, k): [number, number] => {
		children.push(section(names.sections[k]!, part, element + 1));
		const first = element + 1;
		return [first, (element += cellCount(part))];
	});
	const cells = element;
	patches.forEach((patch, p) => {
		const sides = patch.sides.filter(({ nodes }) => nodes.length > 0);
		if (sides.length === 0) return;
		const name = names.patches[p]!;
		const first = element + 1;
		sides.forEach((cells, k) => {
			children.push(section(k === 0 ? name : names.further(name), cells, element + 1));
			element += cellCount(cells);
		});
		const range = Int32Array.of(first, element);
		// Between two materials there is no boundary of the zone: in space readers refuse a condition there, and the section with its
		// name is all of it; in the plane they take one.
		if (patch.inside && dimension === 3) return;
		conditions.push({
			name,
			label: 'BC_t',
			value: { type: 'C1', text: boundaryKinds[patch.kind].cgns },
			children: [
				{ name: 'PointRange', label: 'IndexRange_t', value: { type: 'I4', data: range, shape: [2, 1] } },
				text('GridLocation', 'GridLocation_t', dimension === 2 ? 'EdgeCenter' : 'FaceCenter'),
				text('FamilyName', 'FamilyName_t', name)
			]
		});
	});
	points.forEach(({ kind, nodes }, p) => {
		if (nodes.length === 0) return;
		conditions.push({
			name: names.points[p]!,
			label: 'BC_t',
			value: { type: 'C1', text: boundaryKinds[kind].cgns },
			children: [
				pointList('PointList', nodes),
				text('GridLocation', 'GridLocation_t', 'Vertex'),
				text('FamilyName', 'FamilyName_t', names.points[p]!)
			]
		});
	});
	const subregions = materials.flatMap(({ regions }, m) => {
		const parts = ranges.filter((_, k) => regions.includes(sections[k]!.region));
		return parts.length > 0 ? [subregion(names.materials[m]!, parts, dimension)] : [];
	});
	return {
		name: 'Zone',
		label: 'Zone_t',
		value: { type: 'I4', data: Int32Array.of(coordinates[0]!.length, cells, 0), shape: [3, 1] },
		children: [
			text('ZoneType', 'ZoneType_t', 'Unstructured'),
			{
				name: 'GridCoordinates',
				label: 'GridCoordinates_t',
				children: space.map((values, axis) => coordinate(values, axis))
			},
			...children,
			...(conditions.length > 0 ? [{ name: 'ZoneBC', label: 'ZoneBC_t', children: conditions }] : []),
			...(periodic.length > 0
				? [
						{
							name: 'ZoneGridConnectivity',
							label: 'ZoneGridConnectivity_t',
							children: periodic.flatMap((pair, k) => connections(pair, k, space.length))
						}
					]
				: []),
			...subregions
		]
	};
}

/** A periodic pair: node to node, there and back. */
function connections({ movement, from, to }: PeriodicNodes, k: number, dimension: number): CgnsNode[] {
	return [
		{ name: `Periodic${k + 1}`, near: from, other: to, sign: 1 as const },
		{ name: `Periodic${k + 1} back`, near: to, other: from, sign: -1 as const }
	].map(({ name, near, other, sign }) =>
		nodeJoin(
			name,
			'Zone',
			pointList('PointList', near),
			pointList('PointListDonor', other),
			periodicProperty(movement, sign, dimension)
		)
	);
}

/** Nodes of a zone that lie on nodes of another, one to one; with a property, once moved. */
export const nodeJoin = (name: string, donor: string, near: CgnsNode, other: CgnsNode, property?: CgnsNode): CgnsNode => ({
	name,
	label: 'GridConnectivity_t',
	value: { type: 'C1', text: donor },
	children: [
		text('GridConnectivityType', 'GridConnectivityType_t', 'Abutting1to1'),
		text('GridLocation', 'GridLocation_t', 'Vertex'),
		near,
		other,
		...(property ? [property] : [])
	]
});

/** What takes the nodes of a periodic side to the other: a shift, or a turn about an axis across the plane. */
export function periodicProperty(movement: Movement, sign: 1 | -1, dimension: number): CgnsNode {
	const numbers = (name: string, values: number[], unit: readonly number[] = length): CgnsNode => ({
		name,
		label: 'DataArray_t',
		value: { type: 'R4', data: Float32Array.from(values), shape: [values.length] },
		children: [exponents(unit)]
	});
	const inSpace = (x: number, y: number, z = 0) => [x, y, z].slice(0, dimension);
	const isTurn = movement.kind === 'turn';
	return {
		name: 'GridConnectivityProperty',
		label: 'GridConnectivityProperty_t',
		children: [
			{
				name: 'Periodic',
				label: 'Periodic_t',
				children: [
					numbers('RotationCenter', isTurn ? inSpace(movement.about.x, movement.about.y) : inSpace(0, 0)),
					numbers('RotationAngle', inSpace(0, 0, isTurn ? sign * movement.angle : 0), angular),
					numbers('Translation', isTurn ? inSpace(0, 0) : inSpace(sign * movement.x, sign * movement.y))
				]
			}
		]
	};
}

/**
 * The coordinates that a file has. A plane mesh lies in the plane, but for one whose sides are periodic by a turn: an axis across
 * the plane needs the third coordinate.
 */
export function spaceOf({ coordinates: [x, y, z], periodic }: DeliveryGrid): Float64Array[] {
	if (z) return [x, y, z];
	const isTurned = periodic.some(({ movement }) => movement.kind === 'turn');
	return isTurned ? [x, y, new Float64Array(x.length)] : [x, y];
}

/** Nodes counted from 1, as an index array. */
export const pointList = (name: string, nodes: Uint32Array): CgnsNode => ({
	name,
	label: 'IndexArray_t',
	value: { type: 'I4', data: Int32Array.from(nodes, (k) => k + 1), shape: [nodes.length, 1] }
});

/** A material: the elements of its sections, and its family. */
function subregion(name: string, ranges: readonly [number, number][], dimension: number): CgnsNode {
	const list = new Int32Array(ranges.reduce((sum, [first, last]) => sum + last - first + 1, 0));
	let k = 0;
	for (const [first, last] of ranges) for (let e = first; e <= last; e++) list[k++] = e;
	return {
		name,
		label: 'ZoneSubRegion_t',
		value: { type: 'I4', data: Int32Array.of(dimension), shape: [1] },
		children: [
			{ name: 'PointList', label: 'IndexArray_t', value: { type: 'I4', data: list, shape: [list.length, 1] } },
			text('GridLocation', 'GridLocation_t', 'CellCenter'),
			text('FamilyName', 'FamilyName_t', name)
		]
	};
}

export const coordinate = (data: Float64Array, axis: number, shape = [data.length]): CgnsNode => ({
	name: `Coordinate${'XYZ'[axis]}`,
	label: 'DataArray_t',
	value: { type: 'R8', data, shape },
	children: [exponents(length)]
});

/** Powers of mass, length, time, temperature and angle. */
const [length, angular] = [
	[0, 1, 0, 0, 0],
	[0, 0, 0, 0, 1]
] as const;

const exponents = (of: readonly number[]): CgnsNode => ({
	name: 'DimensionalExponents',
	label: 'DimensionalExponents_t',
	value: { type: 'R4', data: Float32Array.from(of), shape: [5] }
});

export const text = (name: string, label: string, value: string): CgnsNode => ({
	name,
	label,
	value: { type: 'C1', text: value }
});

function section(name: string, { shape, nodes }: { shape: CellShape; nodes: Uint32Array }, first: number): CgnsNode {
	const count = nodes.length / nodesOfShape[shape];
	const connectivity = new Int32Array(nodes.length);
	for (let k = 0; k < nodes.length; k++) connectivity[k] = nodes[k]! + 1;
	return {
		name,
		label: 'Elements_t',
		value: { type: 'I4', data: Int32Array.of(elementTypes[shape], 0), shape: [2] },
		children: [
			{
				name: 'ElementRange',
				label: 'IndexRange_t',
				value: { type: 'I4', data: Int32Array.of(first, first + count - 1), shape: [2] }
			},
			{
				name: 'ElementConnectivity',
				label: 'DataArray_t',
				value: { type: 'I4', data: connectivity, shape: [nodes.length] }
			}
		]
	};
}

/** The longest start of a text, in whole characters, that fits into `most` bytes of UTF-8. */
export function withinBytes(text: string, most: number): string {
	const encoder = new TextEncoder();
	let [length, bytes] = [0, 0];
	for (const character of text) {
		bytes += encoder.encode(character).length;
		if (bytes > most) break;
		length += character.length;
	}
	return text.slice(0, length);
}

/** Gives every node of a zone a name of its own within the limit of the format. */
export class UniqueNames {
	private readonly taken = new Set([
		'ZoneType',
		'GridCoordinates',
		'ZoneBC',
		'ZoneGridConnectivity',
		'Zone',
		'Description',
		'DataClass',
		'DimensionalUnits'
	]);

	take(wanted: string): string {
		let name = withinBytes(wanted, nameLimit);
		for (let k = 2; this.taken.has(name); k++) name = `${withinBytes(wanted, nameLimit - 1 - String(k).length)} ${k}`;
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
