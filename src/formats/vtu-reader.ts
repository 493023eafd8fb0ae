import { XMLParser } from 'fast-xml-parser';
import { unzlibSync } from 'fflate';
import { kindOfCgns } from '../core/recipe/boundary-kinds.ts';
import { ElementLists, type MeshFile, MeshFileError } from './mesh-file.ts';

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
	const read = new ArrayReader(root, appended);
	const grid = root.UnstructuredGrid;
	const pieces = root.UnstructuredGrid.Piece;
	const fields = grid.FieldData?.DataArray ?? [];
	const names = (name: string) => {
		const found = fields.find((a) => a['@Name'] === name);
		if (!found) return undefined;
		const codes = read.numbers(found);
		return new TextDecoder().decode(Uint8Array.from(codes)).split('\0').slice(0, -1);
	};
	const [regionNames, groupNames, groupKinds] = ['region_names', 'group_names', 'group_kinds'].map(names);

	const [xs, ys]: [number[], number[]] = [[], []];
	const elements = new Map<number, { region: number; corners: 3 | 4; nodes: number[] }>();
	const regions = [...(regionNames ?? [])];
	const regionOf = (value: number): number => {
		if (regionNames) return Math.max(0, value);
		const name = `region_${value}`;
		return regions.includes(name) ? regions.indexOf(name) : regions.push(name) - 1;
	};
	const groups = new Map<number, number[]>();
	const nodal = new Map<string, number[]>();
	for (const piece of pieces) {
		const first = xs.length;
		const points = read.numbers(piece.Points?.DataArray?.[0]);
		let isFlat = true;
		for (let k = 0; k + 2 < points.length; k += 3) {
			isFlat &&= points[k + 2] === points[2];
			xs.push(points[k]!);
			ys.push(points[k + 1]!);
		}
		for (const array of piece.PointData?.DataArray ?? []) {
			const name = array['@Name'];
			if (!name || !array['@type'].match(/^(Float|Int|UInt)/)) continue;
			const values = lengthsOf(read.numbers(array), Number(array['@NumberOfComponents'] ?? 1));
			if (values.length !== points.length / 3)
				throw new MeshFileError(
					`the field \`${name}\` has ${values.length} values for ${points.length / 3} nodes; the file is damaged`
				);
			const list = nodal.get(name) ?? new Array<number>(first).fill(NaN);
			for (let k = 0; k < values.length; k++) list.push(values[k]!);
			nodal.set(name, list);
		}
		const cell = (name: string) => read.numbers(piece.Cells?.DataArray?.find((a) => a['@Name'] === name));
		const data = (name: string) => {
			const found = piece.CellData?.DataArray?.find((a) => a['@Name'] === name);
			return found && read.numbers(found);
		};
		const [connectivity, offsets, types] = [cell('connectivity'), cell('offsets'), cell('types')];
		const solid = Array.from(types).find((type) => !plane[type] && !lines.has(type) && !ignored.has(type));
		if (solid !== undefined)
			throw new MeshFileError(
				`the grid has cells of type ${solid}; a plane mesh of triangles and quadrilaterals is wanted (a delivery has one with \`plane yes\`)`
			);
		if (!isFlat) throw new MeshFileError('the mesh does not lie in the plane: its z varies');
		const [regionArray, groupArray] = [data('region'), data('group')];
		for (let c = 0; c < types.length; c++) {
			const from = c === 0 ? 0 : offsets[c - 1]!;
			const type = types[c]!;
			const corners = plane[type];
			if (corners) {
				const region = regionOf(regionArray?.[c] ?? 0);
				const key = 8 * region + corners;
				const own = elements.get(key) ?? { region, corners, nodes: [] };
				elements.set(key, own);
				for (let k = 0; k < corners; k++) own.nodes.push(connectivity[from + k]! + first);
			} else if (lines.has(type)) {
				const group = groupArray?.[c] ?? 0;
				const list = groups.get(group) ?? [];
				groups.set(group, list);
				list.push(connectivity[from]! + first, connectivity[from + 1]! + first);
			}
		}
	}
	const [x, y] = [Float64Array.from(xs), Float64Array.from(ys)];
	const lists = new ElementLists();
	for (const { region, corners, nodes } of elements.values()) lists.add(region, corners, nodes);
	const { turned, ...all } = lists.gathered(x, y);
	if (all.triangles.length + all.quads.length === 0) throw new MeshFileError('the file holds no triangles or quadrilaterals');
	return {
		x,
		y,
		...all,
		regions: regions.length > 0 ? regions : ['region'],
		...(nodal.size > 0
			? { fields: new Map(Array.from(nodal, ([name, list]) => [name, Float64Array.from(x, (_, k) => list[k] ?? NaN)])) }
			: {}),
		groups: [...groups]
			.filter(([group]) => group >= 0)
			.map(([group, sides]) => {
				const kind = kindOfCgns(groupKinds?.[group] ?? '');
				return { name: groupNames?.[group] ?? `group_${group}`, ...(kind ? { kind } : {}), sides: Uint32Array.from(sides) };
			}),
		notes: turned > 0 ? [`${turned} elements ran clockwise`] : []
	};
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
		Piece?: {
			Points?: { DataArray?: ArrayElement[] };
			Cells?: { DataArray?: ArrayElement[] };
			CellData?: { DataArray?: ArrayElement[] };
			PointData?: { DataArray?: ArrayElement[] };
		}[];
	};
	AppendedData?: { '@encoding'?: string };
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
		private readonly appended: Uint8Array
	) {
		this.little = root['@byte_order'] !== 'BigEndian';
		this.headSize = root['@header_type'] === 'UInt64' ? 8 : 4;
		this.encoded = root.AppendedData?.['@encoding'] === 'base64';
		this.packed = root['@compressor'] !== undefined;
		if (this.packed && root['@compressor'] !== 'vtkZLibDataCompressor')
			throw new MeshFileError(`the arrays are packed by ${root['@compressor']}; write them with zlib, or not packed`);
	}

	numbers(element: ArrayElement | undefined): ArrayLike<number> {
		if (!element) throw new MeshFileError('an array that a grid must have is not there: points, connectivity, offsets or types');
		const content = String(element['#text'] ?? '').trim();
		switch (element['@format']) {
			case 'ascii':
				return content === '' ? [] : content.split(/\s+/).map(Number);
			case 'binary':
				return this.typed(this.unpacked(content), element['@type']);
			case 'appended': {
				const offset = Number(element['@offset'] ?? 0);
				if (!this.encoded) return this.typed(this.unpackedRaw(this.appended.subarray(offset)), element['@type']);
				return this.typed(this.unpacked(new TextDecoder('latin1').decode(this.appended.subarray(offset))), element['@type']);
			}
			default:
				throw new MeshFileError(`an array has the format \`${element['@format']}\`; there are ascii, binary and appended`);
		}
	}

	/** The bytes of an array from base64: its head, and what follows, are coded apart where it is packed. */
	private unpacked(content: string): Uint8Array {
		const bytesOf = (count: number, from: number) => decoded(content.slice(from, from + 4 * Math.ceil(count / 3)));
		if (!this.packed) {
			const head = this.words(bytesOf(this.headSize, 0), 1);
			return bytesOf(this.headSize + head[0]!, 0).subarray(this.headSize, this.headSize + head[0]!);
		}
		const blocks = this.words(bytesOf(this.headSize, 0), 1)[0]!;
		const headBytes = (3 + blocks) * this.headSize;
		const head = this.words(bytesOf(headBytes, 0), 3 + blocks);
		const total = head.slice(3).reduce((a, b) => a + b, 0);
		return this.inflated(head, bytesOf(total, 4 * Math.ceil(headBytes / 3)));
	}

	private unpackedRaw(bytes: Uint8Array): Uint8Array {
		const first = this.words(bytes, 1)[0]!;
		if (!this.packed) {
			if (this.headSize + first > bytes.length)
				throw new MeshFileError('the file is cut off: an array is longer than what is there');
			return bytes.subarray(this.headSize, this.headSize + first);
		}
		const head = this.words(bytes, 3 + first);
		return this.inflated(head, bytes.subarray((3 + first) * this.headSize));
	}

	/** Blocks, each packed by itself: their number, the size of one, of the last, and what each takes packed. */
	private inflated(head: readonly number[], bytes: Uint8Array): Uint8Array {
		const parts: Uint8Array[] = [];
		let at = 0;
		for (const size of head.slice(3)) {
			parts.push(unzlibSync(bytes.subarray(at, at + size)));
			at += size;
		}
		const all = new Uint8Array(parts.reduce((sum, p) => sum + p.length, 0));
		let to = 0;
		for (const part of parts) {
			all.set(part, to);
			to += part.length;
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

	private typed(bytes: Uint8Array, type: string): ArrayLike<number> {
		const [, kind, bits] = /^(Float|Int|UInt)(8|16|32|64)$/.exec(type) ?? [];
		if (!kind || !bits) throw new MeshFileError(`an array is of a type \`${type}\` that cannot be read`);
		const size = Number(bits) / 8;
		const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
		const { little } = this;
		const get = (at: number): number => {
			if (kind === 'Float') return size === 8 ? view.getFloat64(at, little) : view.getFloat32(at, little);
			if (size === 8) return Number(kind === 'Int' ? view.getBigInt64(at, little) : view.getBigUint64(at, little));
			if (size === 4) return kind === 'Int' ? view.getInt32(at, little) : view.getUint32(at, little);
			if (size === 2) return kind === 'Int' ? view.getInt16(at, little) : view.getUint16(at, little);
			return kind === 'Int' ? view.getInt8(at) : view.getUint8(at);
		};
		return Float64Array.from({ length: Math.floor(bytes.length / size) }, (_, k) => get(size * k));
	}
}

const decoded = (content: string): Uint8Array => Uint8Array.from(atob(content), (c) => c.charCodeAt(0));
