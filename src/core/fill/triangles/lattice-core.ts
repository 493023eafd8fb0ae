import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';

/**
 * The part of a region that is filled with equilateral triangles of the wanted size, node by node
 * of a lattice. Its own triangles need no triangulation; around it lies one layer of nodes more,
 * which may move.
 */
export interface Core {
	/** Nodes on the rim of the core, then those of the layer around it. */
	rimX: Float64Array;
	rimY: Float64Array;
	/** Their sizes. */
	rimSizes: Float64Array;
	/** How many of them are on the rim itself. */
	rimCount: number;
	/** Edges of the rim as pairs of these nodes, the core on the right. */
	edges: Uint32Array;
	/** Nodes inside the rim. */
	innerX: Float64Array;
	innerY: Float64Array;
	/** Three nodes to a triangle of the core: those of the rim and the layer come first, then those inside. */
	triangles: Uint32Array;
}

/** Fewer lattice nodes than this are not worth a core. */
export const leastNodes = 60;
/** Places visited between two yields. */
export const chunkSize = 100_000;

/** The direction of a lattice, and the place of its node (0, 0). */
export interface Frame {
	c: number;
	s: number;
	ax: number;
	ay: number;
}

/** Height of a row of the lattice, in sizes; also what a way along lattice lines is to the straight one at the least. */
export const rowHeight = Math.sqrt(3) / 2;

/** A lattice of one size: its places, and where things lie in it. Node (i, j) lies at ((i + ½ (j odd)) h, j √3/2 h) in its own frame. */
export class Lattice {
	readonly grid: LatticeWindow;
	private readonly c: number;
	private readonly s: number;
	private readonly ax: number;
	private readonly ay: number;

	/** @param box minX, minY, maxX, maxY of what its grid covers */
	constructor(
		{ c, s, ax, ay }: Frame,
		private readonly h: number,
		box: readonly [number, number, number, number]
	) {
		[this.c, this.s, this.ax, this.ay] = [c, s, ax, ay];
		let [minU, minV, maxU, maxV] = [Infinity, Infinity, -Infinity, -Infinity];
		for (const [x, y] of [
			[box[0], box[1]],
			[box[2], box[1]],
			[box[2], box[3]],
			[box[0], box[3]]
		] as const) {
			minU = Math.min(minU, this.across(x, y));
			maxU = Math.max(maxU, this.across(x, y));
			minV = Math.min(minV, this.up(x, y));
			maxV = Math.max(maxV, this.up(x, y));
		}
		// An even row first, so that the parity of a row is that of its place.
		const j0 = 2 * Math.floor(minV / rowHeight / 2) - 2;
		const i0 = Math.floor(minU) - 2;
		const width = Math.ceil(maxU) + 3 - i0;
		const height = Math.ceil(maxV / rowHeight) + 3 - j0;
		this.grid = { i0, j0, width, height };
	}

	/** Where a place lies in its frame, in sizes. */
	across(x: number, y: number): number {
		return ((x - this.ax) * this.c + (y - this.ay) * this.s) / this.h;
	}

	up(x: number, y: number): number {
		return (-(x - this.ax) * this.s + (y - this.ay) * this.c) / this.h;
	}

	/** The place of node (i, j). */
	xOf(i: number, j: number): number {
		return this.ax + (i + (j & 1) / 2) * this.h * this.c - j * rowHeight * this.h * this.s;
	}

	yOf(i: number, j: number): number {
		return this.ay + (i + (j & 1) / 2) * this.h * this.s + j * rowHeight * this.h * this.c;
	}
}

export interface LatticeWindow {
	i0: number;
	j0: number;
	width: number;
	height: number;
}

/**
 * The core that free places of a lattice make room for.
 *
 * @param isFree 1 for each place of the grid that a node may take
 * @returns undefined where they are too few together
 */
export function* layCore(lattice: Lattice, isFree: Uint8Array, h: number): Work<Core | undefined> {
	const { width } = lattice.grid;
	// Core nodes are those with free nodes all round.
	const neighbours = [neighbourSteps(width, 0), neighbourSteps(width, 1)] as const;
	const isCore = yield* part(surrounded(isFree, lattice.grid, neighbours), 0, 0.08);
	// A core node belongs to the inside when all six triangles around it are there.
	const triangles = yield* part(trianglesOf(isCore, lattice.grid, neighbours), 0.08, 0.23);
	if (triangles.length < 3 * leastNodes) return undefined;
	const around = new Uint8Array(isFree.length);
	const count = (from: number, to: number) => countAt(triangles, around, from, to);
	yield* part(inStretches(triangles.length, 3 * chunkSize, count), 0.23, 0.31);
	return yield* part(laidOut(lattice, isCore, around, triangles, neighbours, h), 0.31, 1);
}

/** A core from its nodes and triangles: numbers, places, and the edges of its rim. */
function* laidOut(
	lattice: Lattice,
	isCore: Uint8Array,
	around: Uint8Array,
	triangles: Uint32Array,
	neighbours: Neighbours,
	h: number
): Work<Core> {
	const { grid } = lattice;
	const { height } = grid;
	// Phase 1: numbers: the rim, the layer around it, the inside.
	const number = new Int32Array(around.length).fill(-1);
	const rim: number[] = [];
	const findRim = (from: number, to: number) => numberRim(around, number, rim, from, to);
	yield* part(inStretches(around.length, 2 * chunkSize, findRim), 0, 0.1);
	const rimCount = rim.length;
	const findLayer = (from: number, to: number) => numberLayer(grid, neighbours, around, number, rim, from, to);
	yield* part(inStretches(rimCount, rimBreath, findLayer), 0.1, 0.15);
	let next = rim.length;
	const findInside = (from: number, to: number) => {
		next = numberInside(around, number, next, from, to);
	};
	yield* part(inStretches(around.length, 2 * chunkSize, findInside), 0.15, 0.3);
	// Phase 2: places, triangles, and the edges of the rim.
	const [rimX, rimY] = [new Float64Array(rim.length), new Float64Array(rim.length)];
	const putRim = (from: number, to: number) => putPlacesOf(lattice, rim, rimX, rimY, from, to);
	yield* part(inStretches(rim.length, rimBreath, putRim), 0.3, 0.3);
	const [innerX, innerY] = [new Float64Array(next - rim.length), new Float64Array(next - rim.length)];
	const inside = { around, number, first: rim.length, x: innerX, y: innerY };
	const putInside = (from: number, to: number) => putPlaces(lattice, inside, from, to);
	yield* part(inStretches(height, rowsAtOnce(grid), putInside), 0.3, 0.6);
	const renumber = (from: number, to: number) => numberAnew(triangles, number, from, to);
	yield* part(inStretches(triangles.length, 3 * chunkSize, renumber), 0.6, 0.9);
	const edges: number[] = [];
	const findEdges = (from: number, to: number) => takeEdges(grid, neighbours, isCore, number, rim, edges, from, to);
	yield* part(inStretches(rim.length, rimBreath, findEdges), 0.9, 1);
	return {
		rimX,
		rimY,
		rimSizes: new Float64Array(rim.length).fill(h),
		rimCount,
		edges: Uint32Array.from(edges),
		innerX,
		innerY,
		triangles
	};
}

/** Nodes of a rim visited between two yields. */
const rimBreath = 20_000;

/** Numbers what lies around the core beside some nodes of its rim, and lists it. */
function numberLayer(
	{ width }: LatticeWindow,
	neighbours: Neighbours,
	around: Uint8Array,
	number: Int32Array,
	rim: number[],
	from: number,
	to: number
): void {
	for (let r = from; r < to; r++) {
		const k = rim[r]!;
		const steps = neighbours[((k / width) | 0) & 1]!;
		for (let q = 0; q < 6; q++) {
			const other = k + steps[q]!;
			if (number[other]! >= 0 || around[other]! > 0) continue;
			number[other] = rim.length;
			rim.push(other);
		}
	}
}

/** Puts the places of some nodes of a list. */
function putPlacesOf(
	lattice: Lattice,
	nodes: readonly number[],
	x: Float64Array,
	y: Float64Array,
	from: number,
	to: number
): void {
	const { i0, j0, width } = lattice.grid;
	for (let r = from; r < to; r++) {
		const row = (nodes[r]! / width) | 0;
		const column = nodes[r]! - row * width;
		x[r] = lattice.xOf(column + i0, row + j0);
		y[r] = lattice.yOf(column + i0, row + j0);
	}
}

/** Takes the edges of the rim from some of its nodes on: each has a triangle of the core on one side only, the right one as it is written. */
function takeEdges(
	{ width }: LatticeWindow,
	neighbours: Neighbours,
	isCore: Uint8Array,
	number: Int32Array,
	rim: readonly number[],
	edges: number[],
	from: number,
	to: number
): void {
	for (let r = from; r < to; r++) {
		const k = rim[r]!;
		if (!isCore[k]) continue;
		const steps = neighbours[((k / width) | 0) & 1]!;
		for (let q = 0; q < 6; q++) {
			const ahead = k + steps[q]!;
			if (!isCore[ahead]) continue;
			const right = k + steps[(q + 5) % 6]!;
			const left = k + steps[(q + 1) % 6]!;
			if (isCore[right] && !isCore[left]) edges.push(number[k]!, number[ahead]!);
		}
	}
}

/** Rows of a grid visited between two yields. */
const rowsAtOnce = ({ width }: LatticeWindow): number => Math.max(1, Math.round(chunkSize / width));

function countAt(places: Uint32Array, counts: Uint8Array, from: number, to: number): void {
	for (let e = from; e < to; e++) counts[places[e]!]!++;
}

/** Numbers nodes that have some triangles around them, but not all six. */
function numberRim(around: Uint8Array, number: Int32Array, rim: number[], from: number, to: number): void {
	for (let k = from; k < to; k++) {
		if (!(around[k]! > 0 && around[k]! < 6)) continue;
		number[k] = rim.length;
		rim.push(k);
	}
}

/** Numbers nodes that have all six, from the next number on; returns the one after them. */
function numberInside(around: Uint8Array, number: Int32Array, next: number, from: number, to: number): number {
	for (let k = from; k < to; k++) if (around[k] === 6) number[k] = next++;
	return next;
}

/** Puts the places of such nodes, of some rows, where their numbers less the first one have them. */
function putPlaces(
	lattice: Lattice,
	{ around, number, first, x, y }: { around: Uint8Array; number: Int32Array; first: number; x: Float64Array; y: Float64Array },
	from: number,
	to: number
): void {
	const { i0, j0, width } = lattice.grid;
	for (let row = from, k = from * width; row < to; row++)
		for (let i = 0; i < width; i++, k++) {
			if (around[k] !== 6) continue;
			const at = number[k]! - first;
			x[at] = lattice.xOf(i + i0, row + j0);
			y[at] = lattice.yOf(i + i0, row + j0);
		}
}

function numberAnew(nodes: Uint32Array, number: Int32Array, from: number, to: number): void {
	for (let e = from; e < to; e++) nodes[e] = number[nodes[e]!]!;
}

type Neighbours = readonly [readonly number[], readonly number[]];

/** Nodes that are free and have free nodes all round. */
function* surrounded(isFree: Uint8Array, grid: LatticeWindow, neighbours: Neighbours): Work<Uint8Array> {
	const out = new Uint8Array(isFree.length);
	const rows = (from: number, to: number) => markSurrounded(isFree, grid, neighbours, out, from, to);
	yield* inStretches(grid.height, rowsAtOnce(grid), rows);
	return out;
}

function markSurrounded(
	isFree: Uint8Array,
	{ width, height }: LatticeWindow,
	neighbours: Neighbours,
	out: Uint8Array,
	from: number,
	to: number
): void {
	for (let j = Math.max(1, from); j < Math.min(to, height - 1); j++) {
		const [e, ne, nw, w, sw, se] = neighbours[j & 1]! as [number, number, number, number, number, number];
		for (let i = 1, k = j * width + 1; i + 1 < width; i++, k++)
			if (isFree[k])
				out[k] = isFree[k + e]! & isFree[k + ne]! & isFree[k + nw]! & isFree[k + w]! & isFree[k + sw]! & isFree[k + se]!;
	}
}

/** The triangles between core nodes, three places in the grid to each. */
function* trianglesOf(isCore: Uint8Array, grid: LatticeWindow, neighbours: Neighbours): Work<Uint32Array> {
	let count = 0;
	for (let k = 0; k < isCore.length; k++) count += isCore[k]!;
	// No more than two to a node.
	const out = new Uint32Array(6 * count);
	let end = 0;
	yield* inStretches(grid.height, rowsAtOnce(grid), (from, to) => {
		end = putTriangles(isCore, grid, neighbours, out, end, from, to);
	});
	return out.slice(0, end);
}

/** Puts the triangles of some rows into a list, from a place on; returns the place after them. */
function putTriangles(
	isCore: Uint8Array,
	{ width, height }: LatticeWindow,
	neighbours: Neighbours,
	out: Uint32Array,
	e: number,
	from: number,
	to: number
): number {
	for (let j = Math.max(1, from); j < Math.min(to, height - 1); j++) {
		const [east, northEast, northWest] = neighbours[j & 1]! as [number, number, number];
		for (let i = 1, k = j * width + 1; i + 1 < width; i++, k++) {
			if (!isCore[k] || !isCore[k + northEast]) continue;
			if (isCore[k + east]) {
				out[e++] = k;
				out[e++] = k + east;
				out[e++] = k + northEast;
			}
			if (isCore[k + northWest]) {
				out[e++] = k;
				out[e++] = k + northEast;
				out[e++] = k + northWest;
			}
		}
	}
	return e;
}

/** Steps in the grid to the six neighbours of a node, counter-clockwise from the one ahead in its row. */
const neighbourSteps = (width: number, odd: 0 | 1): number[] =>
	odd ? [1, width + 1, width, -1, -width, -width + 1] : [1, width, width - 1, -1, -width - 1, -width];

keepHiddenClass(new Lattice({ c: 0.8, s: 0.6, ax: 0.5, ay: 0.5 }, 0.5, [0, 0, 1, 1]));
