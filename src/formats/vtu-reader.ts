import { XMLParser } from 'fast-xml-parser';
import { kindOfCgns } from '../core/recipe/language/boundary-kinds.ts';
import { ElementLists, type MeshFile, MeshFileError } from './mesh-file.ts';
import { ReadingBudget } from './reading-budget.ts';

/** Corners of the plane cells of the VTK formats. */
const plane: Record<number, 3 | 4> = { 5: 3, 9: 4, 22: 3, 23: 4, 28: 4 };
const lines = new Set([3, 21]);
const ignored = new Set([0, 1, 2]);

interface ArrayElement {
	'@type': string;
	'@Name'?: string;
	'@format': string;
	'@offset'?: string;
	'@NumberOfComponents'?: string;
	'#text'?: string | number;
}

/**
 * Reads the plane mesh of a VTK XML unstructured grid: arrays as text, in base64 or appended, raw or packed by zlib. Throws a
 * {@link MeshFileError} for what holds none.
 */
export function readVtu(bytes: Uint8Array): MeshFile {
	const { xml, appended } = split(bytes);
	const root = new XMLParser({
		ignoreAttributes: false,
		attributeNamePrefix: '@',
		parseAttributeValue: false,
		parseTagValue: false,
		isArray: (name) => name === 'DataArray' || name === 'Piece'
	}).parse(xml).VTKFile as VtkFile | undefined;
	if (!root?.UnstructuredGrid?.Piece)
		throw new MeshFileError(
			`the file holds a VTK data set of another kind${root?.['@type'] ? ` (${root['@type']})` : ''}; an UnstructuredGrid is wanted`
		);
	const read = new ArrayReader(root, appended, new ReadingBudget(bytes.length));
	const grid = root.UnstructuredGrid;
	const fields = grid.FieldData?.DataArray ?? [];
	const names = (name: string) => {
		const found = fields.find((a) => a['@Name'] === name);
		if (!found) return undefined;
		const codes = read.numbers(found, Infinity);
		return new TextDecoder().decode(Uint8Array.from(codes)).split('\0').slice(0, -1);
	};
	const [regionNames, groupNames, groupKinds] = ['region_names', 'group_names', 'group_kinds'].map(names);

	const pieces = root.UnstructuredGrid.Piece.map((piece) => pieceOf(piece, read));
	const count = pieces.reduce((sum, { points }) => sum + points.length / 3, 0);
	const [x, y] = [new Float64Array(count), new Float64Array(count)];
	const fieldsOfNodes = new Map<string, Float64Array>();
	const lists = new ElementLists();
	const regions = [...(regionNames ?? [])];
	const regionOf = (value: number): number => {
		if (regionNames) return Math.max(0, value);
		const name = `region_${value}`;
		return regions.includes(name) ? regions.indexOf(name) : regions.push(name) - 1;
	};
	const groups = new Map<number, number[]>();
	let first = 0;
	for (const { points, nodal, connectivity, offsets, types, regionArray, groupArray } of pieces) {
		for (let k = 0; 3 * k < points.length; k++) {
			x[first + k] = points[3 * k]!;
			y[first + k] = points[3 * k + 1]!;
		}
		for (const [name, values] of nodal) {
			const all = fieldsOfNodes.get(name) ?? new Float64Array(count).fill(NaN);
			fieldsOfNodes.set(name, all);
			all.set(values, first);
		}
		const elements = new Map<number, { region: number; corners: 3 | 4; nodes: number[] }>();
		for (let c = 0; c < types.length; c++) {
			const from = c === 0 ? 0 : offsets[c - 1]!;
			const type = types[c]!;
			const corners = plane[type];
			if (corners) {
				const region = regionOf(regionArray?.[c] ?? 0);
				const key = 8 * region + corners;
				const list = elements.get(key) ?? { region, corners, nodes: [] };
				elements.set(key, list);
				for (let k = 0; k < corners; k++) list.nodes.push(connectivity[from + k]! + first);
			} else if (lines.has(type)) {
				const group = groupArray?.[c] ?? 0;
				const list = groups.get(group) ?? [];
				groups.set(group, list);
				list.push(connectivity[from]! + first, connectivity[from + 1]! + first);
			}
		}
		for (const { region, corners, nodes } of elements.values()) lists.add(region, corners, nodes);
		first += points.length / 3;
	}
	for (const sides of groups.values())
		if (sides.some((node) => !(node >= 0 && node < count)))
			throw new MeshFileError(`a line names a node that the file has not; it has ${count}, so it is damaged`);
	const { turned, ...all } = lists.gathered(x, y);
	if (all.triangles.length + all.quads.length === 0) throw new MeshFileError('the file holds no triangles or quadrilaterals');
	return {
		x,
		y,
		...all,
		regions: regions.length > 0 ? regions : ['region'],
		...(fieldsOfNodes.size > 0 ? { fields: fieldsOfNodes } : {}),
		groups: [...groups]
			.filter(([group]) => group >= 0)
			.map(([group, sides]) => {
				const kind = kindOfCgns(groupKinds?.[group] ?? '');
				return { name: groupNames?.[group] ?? `group_${group}`, ...(kind ? { kind } : {}), sides: Uint32Array.from(sides) };
			}),
		notes: turned > 0 ? [`${turned} elements ran clockwise`] : []
	};
}

/** The arrays of one piece of a grid. */
interface PieceArrays {
	points: ArrayLike<number>;
	/** Fields at the nodes: of vectors their length. */
	nodal: Map<string, ArrayLike<number>>;
	connectivity: ArrayLike<number>;
	offsets: ArrayLike<number>;
	types: ArrayLike<number>;
	regionArray: ArrayLike<number> | undefined;
	groupArray: ArrayLike<number> | undefined;
}

/** Reads the arrays of a piece; none may be longer than the counts of its nodes and cells ask for. */
function pieceOf(piece: Piece, read: ArrayReader): PieceArrays {
	const [nodeCount, cellCount] = [countOf(piece['@NumberOfPoints']), countOf(piece['@NumberOfCells'])];
	const points = read.numbers(piece.Points?.DataArray?.[0], 3 * nodeCount);
	if (points.length !== 3 * nodeCount)
		throw new MeshFileError(
			`the file says that it has ${nodeCount} nodes, and has places for ${points.length / 3}; it is damaged`
		);
	const nodal = new Map<string, ArrayLike<number>>();
	for (const array of piece.PointData?.DataArray ?? []) {
		const name = array['@Name'];
		if (!name || !array['@type'].match(/^(Float|Int|UInt)/)) continue;
		const components = countOf(array['@NumberOfComponents'] ?? '1');
		const values = lengthsOf(read.numbers(array, components * nodeCount), components);
		if (values.length !== nodeCount)
			throw new MeshFileError(`the field “${name}” has ${values.length} values for ${nodeCount} nodes; the file is damaged`);
		nodal.set(name, values);
	}
	const cell = (name: string, most: number) =>
		read.numbers(
			piece.Cells?.DataArray?.find((a) => a['@Name'] === name),
			most
		);
	const data = (name: string) => {
		const found = piece.CellData?.DataArray?.find((a) => a['@Name'] === name);
		return found && read.numbers(found, cellCount);
	};
	const [offsets, types] = [cell('offsets', cellCount), cell('types', cellCount)];
	const connectivity = cell('connectivity', offsets[offsets.length - 1] ?? 0);
	if (offsets.length !== types.length || (offsets[offsets.length - 1] ?? 0) !== connectivity.length)
		throw new MeshFileError('the cells of the file do not fit together: their nodes, offsets and types; it is damaged');
	let solid: number | undefined;
	for (let c = 0; c < types.length; c++)
		if (!plane[types[c]!] && !lines.has(types[c]!) && !ignored.has(types[c]!)) solid ??= types[c]!;
	if (solid !== undefined)
		throw new MeshFileError(
			`the grid has cells of type ${solid}; a plane mesh of triangles and quadrilaterals is wanted (a delivery has one with “plane yes”)`
		);
	for (let k = 2; k < points.length; k += 3)
		if (points[k] !== points[2]) throw new MeshFileError('the mesh does not lie in the plane: its z varies');
	return { points, nodal, connectivity, offsets, types, regionArray: data('region'), groupArray: data('group') };
}

function countOf(text: string | undefined): number {
	const count = Number(text);
	if (!(Number.isSafeInteger(count) && count >= 0))
		throw new MeshFileError('the file does not say how many nodes and cells a piece of it has; it is damaged');
	return count;
}

/** Values of one component as they are, of more their length. */
function lengthsOf(values: ArrayLike<number>, components: number): ArrayLike<number> {
	if (!(components > 1)) return values;
	return Float64Array.from({ length: Math.floor(values.length / components) }, (_, k) => {
		let sum = 0;
		for (let c = 0; c < components; c++) sum += values[components * k + c]! ** 2;
		return Math.sqrt(sum);
	});
}

interface VtkFile {
	'@type'?: string;
	'@byte_order'?: string;
	'@header_type'?: string;
	'@compressor'?: string;
	UnstructuredGrid?: {
		FieldData?: { DataArray?: ArrayElement[] };
		Piece?: Piece[];
	};
	AppendedData?: { '@encoding'?: string };
}

interface Piece {
	'@NumberOfPoints'?: string;
	'@NumberOfCells'?: string;
	Points?: { DataArray?: ArrayElement[] };
	Cells?: { DataArray?: ArrayElement[] };
	CellData?: { DataArray?: ArrayElement[] };
	PointData?: { DataArray?: ArrayElement[] };
}

/** The XML alone, and the bytes that are appended behind its underscore: raw ones are no XML. */
function split(bytes: Uint8Array): { xml: string; appended: Uint8Array } {
	const text = (from: number, to: number) => new TextDecoder('latin1').decode(bytes.subarray(from, to));
	const tag = new TextEncoder().encode('<AppendedData');
	const start = indexOf(bytes, tag, 0);
	if (start < 0) return { xml: new TextDecoder().decode(bytes), appended: new Uint8Array(0) };
	const open = bytes.indexOf(0x3e, start);
	const underscore = bytes.indexOf(0x5f, open);
	if (open < 0 || underscore < 0) throw new MeshFileError('the appended data of the file are not there: it is cut off');
	// The last tag of the file closes them.
	const tail = text(Math.max(underscore, bytes.length - 200), bytes.length);
	const end = tail.lastIndexOf('</AppendedData>');
	const last = end < 0 ? bytes.length : bytes.length - tail.length + end;
	return {
		xml: `${new TextDecoder().decode(bytes.subarray(0, open + 1))}</AppendedData></VTKFile>`,
		appended: bytes.subarray(underscore + 1, last)
	};
}

function indexOf(bytes: Uint8Array, wanted: Uint8Array, from: number): number {
	for (let k = bytes.indexOf(wanted[0]!, from); k >= 0; k = bytes.indexOf(wanted[0]!, k + 1))
		if (wanted.every((byte, i) => bytes[k + i] === byte)) return k;
	return -1;
}

class ArrayReader {
	private readonly little: boolean;
	private readonly headSize: number;
	private readonly packed: boolean;
	private readonly encoded: boolean;

	constructor(
		root: VtkFile,
		private readonly appended: Uint8Array,
		private readonly budget: ReadingBudget
	) {
		this.little = root['@byte_order'] !== 'BigEndian';
		this.headSize = root['@header_type'] === 'UInt64' ? 8 : 4;
		this.encoded = root.AppendedData?.['@encoding'] === 'base64';
		this.packed = root['@compressor'] !== undefined;
		if (this.packed && root['@compressor'] !== 'vtkZLibDataCompressor')
			throw new MeshFileError(`the arrays are packed by ${root['@compressor']}; write them with zlib, or not packed`);
	}

	/** The numbers of an array, of which there are `most` at most. */
	numbers(element: ArrayElement | undefined, most: number): ArrayLike<number> {
		if (!element) throw new MeshFileError('an array that a grid must have is not there: points, connectivity, offsets or types');
		const content = String(element['#text'] ?? '').trim();
		if (element['@format'] === 'ascii') {
			const words = content === '' ? [] : content.split(/\s+/);
			if (words.length > most) throw new MeshFileError(tooLong);
			this.budget.take(words.length);
			return words.map(Number);
		}
		const [, kind, bits] = /^(Float|Int|UInt)(8|16|32|64)$/.exec(element['@type']) ?? [];
		if (!kind || !bits) throw new MeshFileError(`an array is of a type “${element['@type']}” that cannot be read`);
		const size = Number(bits) / 8;
		const bytes = this.bytesOf(element, content, most * size);
		this.budget.take(bytes.length / size);
		return typed(bytes, kind as NumberKind, size, this.little);
	}

	private bytesOf(element: ArrayElement, content: string, most: number): Uint8Array {
		switch (element['@format']) {
			case 'binary':
				return this.unpacked(content, most);
			case 'appended': {
				const offset = Number(element['@offset'] ?? 0);
				if (!this.encoded) return this.unpackedRaw(this.appended.subarray(offset), most);
				return this.unpacked(new TextDecoder('latin1').decode(this.appended.subarray(offset)), most);
			}
			default:
				throw new MeshFileError(`an array has the format “${element['@format']}”; there are ascii, binary and appended`);
		}
	}

	/** The bytes of an array from base64: its head, and what follows, are coded apart where it is packed. */
	private unpacked(content: string, most: number): Uint8Array {
		const bytesOf = (count: number, from: number) => decoded(content.slice(from, from + 4 * Math.ceil(count / 3)));
		if (!this.packed) {
			const head = this.words(bytesOf(this.headSize, 0), 1);
			return this.whole(bytesOf(this.headSize + head[0]!, 0), head[0]!, most);
		}
		const blocks = this.words(bytesOf(this.headSize, 0), 1)[0]!;
		const headBytes = (3 + blocks) * this.headSize;
		const head = this.words(bytesOf(headBytes, 0), 3 + blocks);
		const total = head.slice(3).reduce((a, b) => a + b, 0);
		return this.inflated(head, bytesOf(total, 4 * Math.ceil(headBytes / 3)), most);
	}

	private unpackedRaw(bytes: Uint8Array, most: number): Uint8Array {
		const first = this.words(bytes, 1)[0]!;
		if (!this.packed) return this.whole(bytes, first, most);
		const head = this.words(bytes, 3 + first);
		return this.inflated(head, bytes.subarray((3 + first) * this.headSize), most);
	}

	/** The bytes of an array that is not packed, behind its head. */
	private whole(bytes: Uint8Array, length: number, most: number): Uint8Array {
		if (length > most) throw new MeshFileError(tooLong);
		if (this.headSize + length > bytes.length)
			throw new MeshFileError('the file is cut off: an array is longer than what is there');
		return bytes.subarray(this.headSize, this.headSize + length);
	}

	/** Blocks, each packed by itself: their number, the size of one, of the last, and what each takes packed. */
	private inflated(head: readonly number[], bytes: Uint8Array, most: number): Uint8Array {
		const [blocks, size, last] = head as [number, number, number];
		const lengths = Array.from({ length: blocks }, (_, k) => (k === blocks - 1 && last > 0 ? last : size));
		const total = lengths.reduce((sum, length) => sum + length, 0);
		if (total > most) throw new MeshFileError(tooLong);
		this.budget.take(total, 1);
		const all = new Uint8Array(total);
		let [from, to] = [0, 0];
		for (let k = 0; k < blocks; k++) {
			const packed = bytes.subarray(from, from + head[3 + k]!);
			all.set(this.budget.inflated(packed, lengths[k]!), to);
			from += packed.length;
			to += lengths[k]!;
		}
		return all;
	}

	private words(bytes: Uint8Array, count: number): number[] {
		const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
		if (count * this.headSize > bytes.length) throw new MeshFileError('the file is cut off: an array has no head');
		return Array.from({ length: count }, (_, k) =>
			this.headSize === 8 ? Number(view.getBigUint64(8 * k, this.little)) : view.getUint32(4 * k, this.little)
		);
	}
}

const tooLong = 'the file is damaged: an array is longer than the counts of its nodes and cells allow';

type NumberKind = 'Float' | 'Int' | 'UInt';

/** Bytes as numbers of a kind, `size` bytes to each. */
function typed(bytes: Uint8Array, kind: NumberKind, size: number, little: boolean): Float64Array {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	const get = (at: number): number => {
		if (kind === 'Float') return size === 8 ? view.getFloat64(at, little) : view.getFloat32(at, little);
		if (size === 8) return Number(kind === 'Int' ? view.getBigInt64(at, little) : view.getBigUint64(at, little));
		if (size === 4) return kind === 'Int' ? view.getInt32(at, little) : view.getUint32(at, little);
		if (size === 2) return kind === 'Int' ? view.getInt16(at, little) : view.getUint16(at, little);
		return kind === 'Int' ? view.getInt8(at) : view.getUint8(at);
	};
	const numbers = new Float64Array(Math.floor(bytes.length / size));
	for (let k = 0; k < numbers.length; k++) numbers[k] = get(size * k);
	return numbers;
}

const decoded = (content: string): Uint8Array => Uint8Array.from(atob(content), (c) => c.charCodeAt(0));
