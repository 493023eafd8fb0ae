import h5wasm, { type Dataset, type Group } from 'h5wasm';
import { type BoundaryKind, kindOfCgns } from '../core/recipe/language/boundary-kinds.ts';
import { ElementLists, type MeshFile, MeshFileError, type ReadGroup } from './mesh-file.ts';
import { mergedNodes } from './merged-nodes.ts';
import { ReadingBudget } from './reading-budget.ts';

/** Number of nodes, and of corners, of the element types of the SIDS that a plane mesh may have (section 7.3). */
const elements: Record<number, { nodes: number; corners: number }> = {
	2: { nodes: 1, corners: 1 },
	3: { nodes: 2, corners: 2 },
	4: { nodes: 3, corners: 2 },
	5: { nodes: 3, corners: 3 },
	6: { nodes: 6, corners: 3 },
	7: { nodes: 4, corners: 4 },
	8: { nodes: 8, corners: 4 },
	9: { nodes: 9, corners: 4 },
	24: { nodes: 4, corners: 2 },
	25: { nodes: 9, corners: 3 },
	26: { nodes: 10, corners: 3 },
	27: { nodes: 12, corners: 4 },
	28: { nodes: 16, corners: 4 }
};
/** Elements of any shape one after another, each behind its type. */
const mixed = 20;

const unitNames: Record<string, string> = { Meter: 'm', Centimeter: 'cm', Millimeter: 'mm', Foot: 'ft', Inch: 'in' };

/** More nodes of the tree than this are not looked at, and no name or label is longer than this. */
const [mostTreeNodes, longestText] = [500_000, 4096];

/** What reading a file shares: its budget, and how many nodes of the tree have been looked at. */
interface Reading {
	budget: ReadingBudget;
	visited: number;
}

/** A node of the tree that the SIDS describe. */
class Node {
	private all: Node[] | undefined;

	constructor(
		private readonly group: Group,
		private readonly reading: Reading
	) {}

	get name(): string {
		return this.group.path.split('/').at(-1)!;
	}

	get label(): string {
		const attribute = this.group.attrs.label?.value;
		return typeof attribute === 'string' ? attribute : '';
	}

	children(label?: string): Node[] {
		this.all ??= this.group.keys().flatMap((key) => {
			if (++this.reading.visited > mostTreeNodes)
				throw new MeshFileError(`the file has more than ${mostTreeNodes} nodes in its tree; it is damaged, or has to be split`);
			// A link to another file leads nowhere here.
			const child = key.startsWith(' ') ? undefined : this.group.get(key);
			return child instanceof h5wasm.Group ? [new Node(child, this.reading)] : [];
		});
		return label === undefined ? this.all : this.all.filter((child) => child.label === label);
	}

	child(name: string): Node | undefined {
		return this.children().find((child) => child.name === name);
	}

	private get data(): Dataset | undefined {
		return this.group.keys().includes(' data') ? (this.group.get(' data') as Dataset) : undefined;
	}

	/** Its numbers; 64-bit integers become numbers. The header says how many there are, before any is unpacked. */
	get numbers(): number[] | Float64Array {
		const { data } = this;
		if (!data) return [];
		const { shape, chunks, size, type } = data.metadata;
		if (type !== integers && type !== floats)
			throw new MeshFileError(`the node “${this.name}” does not hold numbers; the file is damaged`);
		const product = (list: readonly number[] | null) => (list ?? []).reduce((a, b) => a * b, 1);
		this.reading.budget.take(product(shape), size + 8);
		this.reading.budget.take(product(chunks), size);
		const value = data.value as ArrayLike<number | bigint> | null;
		if (!value) return [];
		if (value instanceof Float64Array) return value;
		return Array.from(value, Number);
	}

	get text(): string {
		return new TextDecoder('latin1').decode(Uint8Array.from(this.numbers.slice(0, longestText))).trim();
	}
}

/** The classes of HDF5 types that hold numbers. */
const [integers, floats] = [0, 1];

/** One zone, its nodes in a numbering of its own. */
interface Zone {
	x: Float64Array;
	y: Float64Array;
	/** Elements of two dimensions by section. */
	sections: { name: string; type: number; nodes: ArrayLike<number> }[];
	groups: ReadGroup[];
}

/** Reads the plane mesh of a CGNS file (HDF5); throws a {@link MeshFileError} for what holds none. */
export async function readCgns(bytes: Uint8Array): Promise<MeshFile> {
	const library = await h5wasm.ready;
	const { FS } = library;
	const path = '/read.cgns';
	const budget = new ReadingBudget(bytes.length);
	FS.writeFile(path, bytes);
	// What is wrong with a file is thrown, and not written to the standard error of the process.
	library.activate_throwing_error_handler();
	try {
		const file = new h5wasm.File(path, 'r');
		try {
			return meshOf(new Node(file as unknown as Group, { budget, visited: 0 }), budget);
		} finally {
			file.close();
		}
	} finally {
		library.deactivate_throwing_error_handler();
		FS.unlink(path);
	}
}

function meshOf(root: Node, budget: ReadingBudget): MeshFile {
	const base = root.children('CGNSBase_t')[0];
	if (!base) throw new MeshFileError('the file holds HDF5 data, but no CGNS base; a mesh in CGNS is wanted');
	if (base.numbers[0] !== 2)
		throw new MeshFileError(
			`the mesh has cells of ${base.numbers[0] ?? 'no'} dimensions; a plane mesh is wanted (a delivery has one with “plane yes”)`
		);
	const notes: string[] = [];
	const families = new Map(base.children('Family_t').map((f) => [f.name, f.child('FamilyBC')?.text ?? '']));
	const zones = base.children('Zone_t').map((zone) => zoneOf(zone, families, notes, budget));
	if (zones.length === 0) throw new MeshFileError('the CGNS base holds no zone');

	// Phase 2: nodes of different zones at one place become one.
	const { x, y, number } = mergedNodes(zones);
	const lists = new ElementLists();
	const regions: string[] = [];
	const groups = new Map<string, { kind?: BoundaryKind; sides: number[] }>();
	zones.forEach((zone, z) => {
		const numbers = number[z]!;
		for (const { name: written, type, nodes } of zone.sections) {
			// A second shape of a region has its name with a number.
			const base = written.replace(/ \d+$/, '');
			const name = zone.sections.some((s) => s.name === base) ? base : written;
			const region = regions.indexOf(name) < 0 ? regions.push(name) - 1 : regions.indexOf(name);
			const { nodes: stride, corners } = elements[type]!;
			lists.add(
				region,
				corners as 3 | 4,
				Array.from(nodes, (n) => numbers[n - 1] ?? Number.MAX_SAFE_INTEGER),
				stride
			);
		}
		for (const { name, kind, sides } of zone.groups) {
			const group = groups.get(name) ?? { ...(kind ? { kind } : {}), sides: [] };
			groups.set(name, group);
			for (const n of sides) group.sides.push(numbers[n]!);
		}
	});
	const { turned, ...all } = lists.gathered(x, y);
	if (all.triangles.length + all.quads.length === 0) throw new MeshFileError('the file holds no triangles or quadrilaterals');
	if (turned > 0) notes.push(`${turned} elements ran clockwise`);
	const units = base.child('DimensionalUnits')?.text ?? '';
	const unit = Object.entries(unitNames).find(([name]) => units.includes(name))?.[1];
	return {
		...(unit ? { unit } : {}),
		x,
		y,
		...all,
		regions,
		groups: [...groups].map(([name, { kind, sides }]) => ({
			name,
			...(kind ? { kind } : {}),
			sides: Uint32Array.from(sides)
		})),
		notes
	};
}

function zoneOf(node: Node, families: ReadonlyMap<string, string>, notes: string[], budget: ReadingBudget): Zone {
	const coordinates = node.child('GridCoordinates');
	const [x, y, z] = ['X', 'Y', 'Z'].map((axis) => coordinates?.child(`Coordinate${axis}`)?.numbers);
	if (!x || !y) throw new MeshFileError(`the zone “${node.name}” has no CoordinateX and CoordinateY`);
	const flat = (z ?? []) as ArrayLike<number>;
	for (let k = 1; k < flat.length; k++)
		if (flat[k] !== flat[0]) throw new MeshFileError(`the zone “${node.name}” does not lie in the plane: its z varies`);
	const zone = { x: Float64Array.from(x), y: Float64Array.from(y) };
	const isStructured = node.child('ZoneType')?.text === 'Structured';
	const kindOf = (bc: Node): BoundaryKind | undefined =>
		kindOfCgns(bc.text) ?? kindOfCgns(families.get(bc.child('FamilyName')?.text ?? '') ?? '');
	const nameOf = (bc: Node) => bc.child('FamilyName')?.text || bc.name;
	const conditions = node.child('ZoneBC')?.children('BC_t') ?? [];
	if (isStructured) {
		const [ni, nj] = [node.numbers[0]!, node.numbers[1]!];
		if (ni * nj !== x.length)
			throw new MeshFileError(`the zone “${node.name}” says ${ni} × ${nj} nodes and has ${x.length}; the file is damaged`);
		const nodes: number[] = [];
		for (let j = 0; j + 1 < nj; j++)
			for (let i = 0; i + 1 < ni; i++) {
				const a = 1 + i + ni * j;
				nodes.push(a, a + 1, a + 1 + ni, a + ni);
			}
		const groups = conditions.map((bc): ReadGroup => {
			const kind = kindOf(bc);
			return { name: nameOf(bc), ...(kind ? { kind } : {}), sides: stretchSides(bc.child('PointRange')?.numbers ?? [], ni, nj) };
		});
		const name = node.name.replace(/ zone(?: \d+)?$/, '');
		return { ...zone, sections: [{ name, type: 7, nodes }], groups };
	}

	const sections: Zone['sections'] = [];
	/** Sides by the number of their element. */
	const sides = new Map<number, [number, number]>();
	for (const section of node.children('Elements_t')) {
		const type = section.numbers[0]!;
		const range = Array.from(section.child('ElementRange')?.numbers ?? []) as [number, number];
		const nodes = section.child('ElementConnectivity')?.numbers ?? [];
		const take = (type: number, list: ArrayLike<number>, first: number) => {
			const elementType = elements[type];
			if (!elementType)
				throw new MeshFileError(
					`the section “${section.name}” has elements of a type (${type}) that a plane mesh of triangles and quadrilaterals has not`
				);
			if (elementType.corners > 2) sections.push({ name: section.name, type, nodes: list });
			else if (elementType.corners === 2)
				for (let k = 0; (k + 1) * elementType.nodes <= list.length; k++)
					sides.set(first + k, [list[k * elementType.nodes]!, list[k * elementType.nodes + 1]!]);
			if (type !== 2 && elementType.nodes > elementType.corners && !notes.includes(higher)) notes.push(higher);
		};
		if (type !== mixed) take(type, nodes, range[0]);
		else {
			const list = Float64Array.from(nodes);
			const byType = new Map<number, number[]>();
			for (let [k, e] = [0, range[0]]; k < list.length; e++) {
				const type = list[k]!;
				const elementType = elements[type];
				if (!elementType) take(type, [], e);
				const end = k + 1 + (elementType?.nodes ?? 0);
				if (elementType!.corners === 2) take(type, list.subarray(k + 1, end), e);
				else {
					const all = byType.get(type) ?? [];
					byType.set(type, all);
					for (let i = k + 1; i < end; i++) all.push(list[i]!);
				}
				k = end;
			}
			for (const [type, all] of byType) take(type, all, range[0]);
		}
	}
	const groups = conditions.flatMap((bc): ReadGroup[] => {
		const kind = kindOf(bc);
		const [range, list] = [bc.child('PointRange') ?? bc.child('ElementRange'), bc.child('PointList') ?? bc.child('ElementList')];
		const location =
			bc.child('GridLocation')?.text ?? (bc.child('ElementRange') || bc.child('ElementList') ? 'EdgeCenter' : 'Vertex');
		const numbers = range ? upTo(range.numbers[0]!, range.numbers[1]!, budget) : Array.from(list?.numbers ?? []);
		const pairs = location === 'Vertex' ? [] : numbers.flatMap((e) => sides.get(e) ?? []);
		if (location === 'Vertex') {
			const nodes = new Set(numbers);
			for (const [a, b] of sides.values()) if (nodes.has(a) && nodes.has(b)) pairs.push(a, b);
		}
		return pairs.length > 0
			? [{ name: nameOf(bc), ...(kind ? { kind } : {}), sides: Uint32Array.from(pairs, (n) => n - 1) }]
			: [];
	});
	return { ...zone, sections, groups };
}

const higher = 'elements of higher order are read by their corners';

function upTo(first: number, last: number, budget: ReadingBudget): number[] {
	const count = Math.max(0, last - first + 1);
	budget.take(count);
	return Array.from({ length: count }, (_, k) => first + k);
}

/** The sides of a stretch of a zone of rows, whose two corners are given as i, j, i, j or as the file has it. */
function stretchSides(range: ArrayLike<number>, ni: number, nj: number): Uint32Array {
	const [i0, j0, i1, j1] = Array.from(range) as [number, number, number, number];
	if (![i0, i1].every((i) => i >= 1 && i <= ni) || ![j0, j1].every((j) => j >= 1 && j <= nj))
		throw new MeshFileError(`a boundary condition names rows that its zone of ${ni} × ${nj} nodes has not; the file is damaged`);
	const [di, dj] = [Math.sign(i1 - i0), Math.sign(j1 - j0)];
	const count = Math.max(Math.abs(i1 - i0), Math.abs(j1 - j0)) || 0;
	const sides = new Uint32Array(2 * count);
	for (let k = 0; k < count; k++) {
		const at = (s: number) => i0 - 1 + s * di + ni * (j0 - 1 + s * dj);
		sides.set([at(k), at(k + 1)], 2 * k);
	}
	return sides;
}
