import type { Division } from '../../core/divide/division.ts';
import { fillMethods } from '../../core/fill/methods.ts';
import type { Face, Arrangement, CurvePiece, Piece, Walk } from '../../core/geometry/pieces.ts';
import type { Mesh } from '../../core/mesh/mesh.ts';
import type { Result } from '../../core/pipeline.ts';
import type { MeasureResult } from '../../core/quality/quality.ts';
import type { Model } from '../../core/recipe/model/model.ts';
import { parseRecipe } from '../../core/recipe/language/parse.ts';

/** What is shown of a result, but for measures of quality. */
export type Shown = Omit<Result, 'quality'>;

/** A result as the desk has it: with the measure that it looks at in place of all. */
export interface DeskResult extends Shown {
	measure: { key: string; taken: MeasureResult };
}

/** Lists of numbers of different lengths, one after the other; `from[k]` is where list k starts. */
interface Lists {
	values: Int32Array;
	from: Int32Array;
}

/** An arrangement as typed arrays, and its curves. */
interface PackedArrangement extends Omit<Arrangement, 'pieces' | 'byCurve' | 'faces'> {
	/** Five numbers to a piece: curve, start, end; and three more: t0, t1, length. */
	ends: Int32Array;
	spans: Float64Array;
	/** The pieces of each curve, `2 p + reversed`. */
	byCurve: Lists;
	/** The walks of all faces, and how many each face has. */
	walks: Lists;
	walkCount: Int32Array;
	areas: Float64Array;
}

/** Divisions without their arrays, which stand in one: fractions, x and y of all nodes, piece by piece. */
interface PackedDivisions {
	rows: Omit<Division, 'at' | 'x' | 'y'>[];
	nodes: Float64Array;
}

/** The typed arrays of a mesh. */
type MeshArrays = Omit<Mesh, 'regions' | 'groups' | 'owners' | 'periodic'>;

/**
 * What crosses from the worker after a run: typed arrays and small tables. The text stands for the parsed recipe; what the
 * desk has from the run before is left out.
 */
export interface Snapshot extends Omit<Result, 'recipe' | 'model' | 'arrangement' | 'plans' | 'divisions' | 'mesh' | 'quality'> {
	text: string;
	model: Omit<Model, 'recipe' | 'curves' | 'findings'>;
	arrangement?: PackedArrangement;
	plans: (Omit<Result['plans'][number], 'method'> & { source: string })[];
	divisions: { clashing: Set<number>; inner: number[][]; pieces?: PackedDivisions };
	mesh: Pick<Mesh, 'regions' | 'groups' | 'owners' | 'periodic'> & { arrays?: MeshArrays };
	measure?: { key: string; taken: MeasureResult };
}

/** Packs results for one desk. */
export class Packer {
	private arrangement: Arrangement | undefined;
	private nodes: Float64Array | undefined;
	private triangles: Uint32Array | undefined;
	private divisions: readonly Division[] = [];
	private measured = '';

	/** The snapshot, and the buffers that may be handed over with it. */
	pack(result: Result, measure: string): { snapshot: Snapshot; transfer: ArrayBuffer[] } {
		const { recipe, model, arrangement, plans, divisions, mesh, quality, ...rest } = result;
		const { recipe: _text, curves: _drawn, findings: _told, ...tables } = model;
		const { regions, groups, owners, periodic, ...arrays } = mesh;
		const hasArrangement = arrangement === this.arrangement;
		const hasMesh = mesh.x === this.nodes && mesh.triangles === this.triangles;
		this.arrangement = arrangement;
		this.nodes = mesh.x;
		this.triangles = mesh.triangles;
		const copies = hasMesh
			? undefined
			: (Object.fromEntries(Object.entries(arrays).map(([k, a]) => [k, a.slice()])) as MeshArrays);
		const { pieces, ...settled } = divisions;
		const packed = hasArrangement && areAlike(pieces, this.divisions) ? undefined : packDivisions(pieces);
		this.divisions = pieces;
		const isMeasured = hasMesh && this.measured === measure;
		this.measured = measure;
		const taken = isMeasured ? undefined : quality.of(measure);
		const values = taken?.values.slice();
		return {
			snapshot: {
				...rest,
				text: recipe.text,
				model: tables,
				...(hasArrangement ? {} : { arrangement: packArrangement(arrangement) }),
				plans: plans.map(({ method, ...plan }) => ({ ...plan, source: method.source })),
				divisions: { ...settled, ...(packed ? { pieces: packed } : {}) },
				mesh: {
					regions,
					groups,
					...(owners ? { owners } : {}),
					...(periodic ? { periodic } : {}),
					...(copies ? { arrays: copies } : {})
				},
				...(taken && values ? { measure: { key: measure, taken: { ...taken, values } } } : {})
			},
			transfer: [
				...Object.values(copies ?? {}).map((array) => array.buffer as ArrayBuffer),
				...(packed ? [packed.nodes.buffer as ArrayBuffer] : []),
				...(values ? [values.buffer] : [])
			]
		};
	}
}

/** Puts results together again, from what came and what is there. */
export class Unpacker {
	private arrangement: Arrangement | undefined;
	private arrays: MeshArrays | undefined;
	private divisions: Division[] = [];
	private measure: DeskResult['measure'] | undefined;

	/** Every snapshot of a worker goes through here, in order, whether it is shown or not. */
	unpack({ text, model: tables, arrangement: packed, plans, divisions, mesh, measure, ...rest }: Snapshot): DeskResult {
		if (packed) this.arrangement = unpackArrangement(packed);
		if (mesh.arrays) this.arrays = mesh.arrays;
		if (divisions.pieces) this.divisions = unpackDivisions(divisions.pieces);
		const arrangement = this.arrangement!;
		if (measure) this.measure = measure;
		const recipe = parseRecipe(text);
		return {
			...rest,
			measure: this.measure!,
			recipe,
			model: { ...tables, recipe, curves: arrangement.curves, findings: [] },
			arrangement,
			plans: plans.map(({ source, ...plan }) => ({ ...plan, method: fillMethods.find((m) => m.source === source)! })),
			divisions: { ...divisions, pieces: this.divisions },
			mesh: {
				...this.arrays!,
				regions: mesh.regions,
				groups: mesh.groups,
				...(mesh.owners ? { owners: mesh.owners } : {}),
				...(mesh.periodic ? { periodic: mesh.periodic } : {})
			}
		};
	}
}

function packLists(lists: readonly (readonly number[])[]): Lists {
	const from = new Int32Array(lists.length + 1);
	lists.forEach((list, k) => (from[k + 1] = from[k]! + list.length));
	const values = new Int32Array(from[lists.length]!);
	lists.forEach((list, k) => values.set(list, from[k]));
	return { values, from };
}

const unpackLists = ({ values, from }: Lists): number[][] =>
	Array.from({ length: from.length - 1 }, (_, k) => Array.from(values.subarray(from[k], from[k + 1])));

function packArrangement({ pieces, byCurve, faces, ...rest }: Arrangement): PackedArrangement {
	const ends = new Int32Array(3 * pieces.length);
	const spans = new Float64Array(3 * pieces.length);
	pieces.forEach(({ owner, start, end, t0, t1, length }, p) => {
		ends.set([owner, start, end], 3 * p);
		spans.set([t0, t1, length], 3 * p);
	});
	return {
		...rest,
		ends,
		spans,
		byCurve: packLists(byCurve.map((list) => list.map(({ piece, reversed }) => 2 * piece + Number(reversed)))),
		walks: packLists(faces.flatMap(({ outer, inner }) => [outer, ...inner])),
		walkCount: Int32Array.from(faces, ({ inner }) => 1 + inner.length),
		areas: Float64Array.from(faces, ({ area }) => area)
	};
}

function unpackArrangement({ ends, spans, byCurve, walks, walkCount, areas, ...rest }: PackedArrangement): Arrangement {
	const { curves } = rest;
	const pieces = Array.from({ length: ends.length / 3 }, (_, p): Piece => {
		const owner = ends[3 * p]!;
		return {
			curve: curves[owner]!,
			t0: spans[3 * p]!,
			t1: spans[3 * p + 1]!,
			owner,
			start: ends[3 * p + 1]!,
			end: ends[3 * p + 2]!,
			length: spans[3 * p + 2]!
		};
	});
	const all: Walk[] = unpackLists(walks);
	let first = 0;
	const faces = Array.from(walkCount, (count, f): Face => {
		const [outer, ...inner] = all.slice(first, (first += count)) as [Walk, ...Walk[]];
		return { outer, inner, area: areas[f]! };
	});
	const lists = unpackLists(byCurve).map((list) => list.map((v): CurvePiece => ({ piece: v >> 1, reversed: (v & 1) === 1 })));
	return { ...rest, pieces, byCurve: lists, faces };
}

/** Whether pieces are divided as they were: nodes that have not moved are the same objects. */
function areAlike(a: readonly Division[], b: readonly Division[]): boolean {
	const tableOf = ({ at: _at, x: _x, y: _y, ...row }: Division) => JSON.stringify(row);
	return a.length === b.length && a.every((d, p) => d.x === b[p]!.x && d.y === b[p]!.y && tableOf(d) === tableOf(b[p]!));
}

function packDivisions(pieces: readonly Division[]): PackedDivisions {
	const total = pieces.reduce((sum, { at }) => sum + at.length, 0);
	const nodes = new Float64Array(3 * total);
	let k = 0;
	const rows = pieces.map(({ at, x, y, ...row }) => {
		nodes.set(at, k);
		nodes.set(x, total + k);
		nodes.set(y, 2 * total + k);
		k += at.length;
		return row;
	});
	return { rows, nodes };
}

function unpackDivisions({ rows, nodes }: PackedDivisions): Division[] {
	const total = nodes.length / 3;
	let k = 0;
	return rows.map((row): Division => {
		const n = row.count + 1;
		const part = (list: number) => nodes.subarray(list * total + k, list * total + k + n);
		const division = { ...row, at: part(0), x: part(1), y: part(2) };
		k += n;
		return division;
	});
}
