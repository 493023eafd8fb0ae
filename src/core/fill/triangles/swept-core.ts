import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { hypot, square } from '../../numeric/elementary.ts';
import { numbersBelow } from '../../numeric/lists.ts';
import { lengthened } from '../../numeric/lengthened.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';
import { sizeOrField, type SizeRule } from '../../sizing/size-rule.ts';
import { SizeTree } from '../../sizing/size-tree.ts';
import type { FillInput } from '../method.ts';
import { boxOf } from '../../numeric/box.ts';
import { INSIDE, InsideGrid, OUTSIDE } from './inside-grid.ts';
import { sweep, type SweepSizes } from './sweep.ts';
import { next, previous, Triangulation } from './triangulation.ts';

/**
 * The part of a region whose sizes vary that is filled by a sweep, away from its boundary. It knows nothing of its outline,
 * so that what lies between has to be filled.
 */
export interface SweptCore {
	/** Its nodes and triangles; room for more. */
	mesh: Triangulation;
	/** The nodes of its rim. */
	rim: Int32Array;
	/** Their places and wanted sizes. */
	rimX: Float64Array;
	rimY: Float64Array;
	rimSizes: Float64Array;
	/** Edges of the rim as pairs of places in these, the core on the right. */
	edges: Uint32Array;
}

/** The core keeps this far from given edges and nodes, in sizes. */
const gap = 1.3;
/** Edges are looked at from place to place, no more than so many sizes apart. */
const lookEvery = 0.6;
/** Fewer nodes than this are not worth a core. */
const leastNodes = 400;
/** A look outside after so many nodes, or triangles: one less than a power of two. */
const chunkSize = 0xffff;
/** Outside of the region sizes grow by this slope, as nothing of it is kept. */
const outerSlope = 0.4;
/** Sizes that grow from given nodes are not told more exactly than this. */
const tolerance = 1.01;
/** The size that grows from one given node is used until another one could have made it smaller by such a part. */
const mostChange = 0.1;
/** The edges at a given node tell the side of a place no more than so many sizes away. */
const trusted = 6;
/** So many nodes, in the mean, to a cell of the grid that tells what lies outside. */
const nodesToCell = 4;
const fewestCells = 8;
const mostCells = 1024;

/**
 * Fills the rectangle around a region by a sweep, and keeps what lies inside with room to its edges and nodes.
 *
 * @param input the region, its edges with the inside on their left
 * @param sizes size at each given node
 * @param expected about how many nodes the region will have
 * @returns undefined where too little is left, or the sizes are such that a sweep cannot go on
 */
export function* findSweptCore(
	input: FillInput,
	rule: SizeRule,
	sizes: Float64Array,
	expected: number
): Work<SweptCore | undefined> {
	const box = boxOf(input.x, input.y);
	const cells = Math.min(mostCells, Math.max(fewestCells, Math.round(Math.sqrt(expected / nodesToCell))));
	const grid = new InsideGrid(input, box, cells);
	yield 0;
	const wanted = new SizesToSweep(grid, input, rule, sizes, expected);
	yield 0;
	const swept = yield* part(sweep(box, wanted, expected, 1.6 * expected + leastNodes), 0, 0.65);
	if (!swept) return undefined;
	const mesh = Triangulation.of(swept.x, swept.y, swept.count, swept.from, swept.twin, swept.triangleCount);
	yield* part(mesh.makeDelaunay(), 0.65, 0.74);
	const isKept = yield* part(withRoom(mesh, swept.size, input, wanted), 0.74, 0.8);
	yield* part(leaveInside(mesh, isKept, grid, wanted), 0.8, 0.88);
	return yield* part(laidOut(mesh, swept.size, isKept), 0.88, 1);
}

/** What {@link SizesToSweep} knows of the outline at a node that lies on several. */
const several = -2;
/** The age of a node that was taken for one outside. */
const isOutside = 255;

/**
 * The size that a rule asks for at any place of a region, and what the sweep gets to know: outside of the region sizes soon
 * become coarse, as nothing of it is kept. Where the grid does not know, the edges at the given node that a size grows from
 * tell the side; that may be wrong on either side.
 *
 * A node takes the given node that its size grows from over from those beside it, as far as sizes cannot have changed
 * much on the way; then it is looked for again.
 */
class SizesToSweep implements SweepSizes {
	private readonly x: Float64Array;
	private readonly y: Float64Array;
	private readonly size: number;
	private readonly slope: number;
	private readonly field: SizeRule['field'];
	private readonly hasFiner: boolean;
	private readonly tree: SizeTree;
	private readonly outer: SizeTree;
	/** The nodes before and after each given one on its outline. */
	private readonly before: Int32Array;
	private readonly after: Int32Array;
	private readonly most: number;
	/** The given node that the size of each node grows from, and how many nodes ago that was looked for. */
	private sources: Int32Array;
	private ages: Uint8Array;
	private source = 0;
	private age = 0;

	constructor(
		private readonly grid: InsideGrid,
		{ x, y, edges }: FillInput,
		{ size, growth, field }: SizeRule,
		private readonly sizes: Float64Array,
		expected: number
	) {
		const all = numbersBelow(x.length);
		const slope = growth - 1;
		const finer = all.filter((i) => sizes[i]! < size);
		[this.x, this.y, this.size, this.slope, this.field] = [x, y, size, slope, field];
		this.hasFiner = finer.length > 0;
		this.tree = new SizeTree(x, y, sizes, slope, finer, tolerance);
		this.outer = new SizeTree(x, y, sizes, Math.max(outerSlope, slope), all, tolerance);
		const before = new Int32Array(x.length).fill(-1);
		const after = new Int32Array(x.length).fill(-1);
		for (let k = 0; k < edges.length; k += 2) {
			const [a, b] = [edges[k]!, edges[k + 1]!];
			after[a] = after[a] === -1 ? b : several;
			before[b] = before[b] === -1 ? a : several;
		}
		[this.before, this.after] = [before, after];
		this.most = Math.min(100, Math.floor(mostChange / slope));
		this.sources = new Int32Array(Math.ceil(1.2 * expected));
		this.ages = new Uint8Array(this.sources.length);
	}

	/** The size at a place of the region. */
	inside(px: number, py: number): number {
		return this.tree.smallest(px, py, sizeOrField(this.size, this.field, px, py));
	}

	at(px: number, py: number, a: number, b: number): number {
		const kind = this.grid.at(px, py);
		if (kind === OUTSIDE) return this.outsideAt(px, py);
		const asked = sizeOrField(this.size, this.field, px, py);
		if (!this.hasFiner) {
			this.age = 0;
			return asked;
		}
		const { tree, sources, ages } = this;
		let size: number;
		this.age = a < 0 ? this.most : Math.max(ages[a]!, ages[b]!);
		if (this.age < this.most) {
			this.age++;
			this.source = sources[a]!;
			size = tree.grown(this.source, px, py);
			const other = tree.grown(sources[b]!, px, py);
			if (other < size) {
				size = other;
				this.source = sources[b]!;
			}
		} else {
			this.age = 0;
			size = tree.smallest(px, py, Infinity);
			this.source = tree.source;
		}
		const isNear = kind !== INSIDE && size < (1 + trusted * this.slope) * this.sizes[this.source]!;
		if (isNear && this.seemsOutside(this.source, px, py)) return this.outsideAt(px, py);
		return size < asked ? size : asked;
	}

	keep(node: number): void {
		if (node >= this.sources.length) {
			this.sources = lengthened(this.sources, 2 * node);
			this.ages = lengthened(this.ages, 2 * node);
		}
		this.sources[node] = this.source;
		this.ages[node] = this.age;
	}

	/** Whether a node was taken for one outside. */
	isOuter(node: number): boolean {
		return this.ages[node] === isOutside;
	}

	private outsideAt(px: number, py: number): number {
		this.age = isOutside;
		return this.outer.smallest(px, py, Infinity);
	}

	private seemsOutside(i: number, px: number, py: number): boolean {
		const a = this.before[i]!;
		const b = this.after[i]!;
		// Nodes of several outlines decide nothing, nor does an edge that has the region on both sides.
		if (a < 0 || b < 0 || a === b) return false;
		return this.isLeft(a, i, this.x[b]!, this.y[b]!)
			? !(this.isLeft(a, i, px, py) && this.isLeft(i, b, px, py))
			: !(this.isLeft(a, i, px, py) || this.isLeft(i, b, px, py));
	}

	private isLeft(a: number, b: number, px: number, py: number): boolean {
		const { x, y } = this;
		return (x[b]! - x[a]!) * (py - y[a]!) - (y[b]! - y[a]!) * (px - x[a]!) > 0;
	}
}

/** 1 for each node that keeps its distance to all edges and given nodes. */
function* withRoom(mesh: Triangulation, size: Float64Array, { x, y, edges }: FillInput, wanted: SizesToSweep): Work<Uint8Array> {
	const room = new Room(mesh, size);
	const isEnd = new Uint8Array(x.length);
	for (let k = 0; k < edges.length; k += 2) {
		if ((k & 0xfff) === 0) yield k / edges.length;
		const [a, b] = [edges[k]!, edges[k + 1]!];
		isEnd[a] = isEnd[b] = 1;
		room.takeAlong(x[a]!, y[a]!, x[b]!, y[b]!, wanted);
	}
	for (let i = 0; i < x.length; i++) if (!isEnd[i]) room.take(x[i]!, y[i]!);
	return room.hasRoom;
}

/** Which nodes keep their distance to places that come one after the other. */
class Room {
	/** 1 for each that does. */
	readonly hasRoom: Uint8Array;
	private readonly visited: Int32Array;
	private readonly reached: number[] = [];
	private round = 0;
	/** The node nearest to the last place. */
	private last = 0;

	constructor(
		private readonly mesh: Triangulation,
		private readonly size: Float64Array
	) {
		this.hasRoom = new Uint8Array(mesh.vertexCount).fill(1);
		this.visited = new Int32Array(mesh.vertexCount);
	}

	/** Takes the room from all around an edge; its end is where another one starts. */
	takeAlong(ax: number, ay: number, bx: number, by: number, wanted: SizesToSweep): void {
		const dx = bx - ax;
		const dy = by - ay;
		const length = hypot(dx, dy);
		for (let way = 0; way < length;) {
			const px = ax + (way / length) * dx;
			const py = ay + (way / length) * dy;
			this.take(px, py);
			way += lookEvery * wanted.inside(px, py);
		}
	}

	/** Takes the room from all around a place. */
	take(px: number, py: number): void {
		const { mesh, size, hasRoom, visited, reached } = this;
		const { x, y } = mesh;
		const v = nearest(mesh, px, py, this.last, size);
		this.last = v;
		const round = ++this.round;
		visited[v] = round;
		hasRoom[v] = 0;
		reached.push(v);
		for (let node = reached.pop(); node !== undefined; node = reached.pop()) {
			const count = neighboursOf(mesh, node);
			for (let k = 0; k < count; k++) {
				const other = ring[k]!;
				if (visited[other] === round) continue;
				visited[other] = round;
				if (square(x[other]! - px) + square(y[other]! - py) >= square(gap * size[other]!)) continue;
				hasRoom[other] = 0;
				reached.push(other);
			}
		}
	}
}

/** The node nearest to a place: from node to node, always nearer, as can be done where all edges are Delaunay. */
function nearest(mesh: Triangulation, px: number, py: number, start: number, size: Float64Array): number {
	const { x, y } = mesh;
	let best = start;
	let least = square(x[best]! - px) + square(y[best]! - py);
	let isAtRim = false;
	for (let last = -1; last !== best;) {
		last = best;
		const count = neighboursOf(mesh, last);
		for (let k = 0; k < count; k++) {
			const v = ring[k]!;
			const distance = square(x[v]! - px) + square(y[v]! - py);
			if (distance >= least) continue;
			best = v;
			least = distance;
		}
		isAtRim = isOpen;
	}
	// At the rim of the rectangle, above all over its steps, the way may end too early.
	if (!isAtRim || least <= square(gap * size[best]!)) return best;
	for (let v = 0; v < mesh.vertexCount; v++) {
		const distance = square(x[v]! - px) + square(y[v]! - py);
		if (distance >= least) continue;
		best = v;
		least = distance;
	}
	return best;
}

/** What {@link neighboursOf} found, and whether the node lies on the rim of the mesh. */
let ring = new Int32Array(64);
let isOpen = false;

/** Writes the nodes that a node has an edge to into the ring, and returns how many there are. */
function neighboursOf({ from, twin, outgoing }: Triangulation, v: number): number {
	const first = outgoing[v]!;
	let e = first;
	let count = 0;
	isOpen = false;
	do {
		if (count + 2 > ring.length) ring = lengthened(ring, 2 * ring.length);
		ring[count++] = from[next(e)]!;
		const back = previous(e);
		e = twin[back]!;
		if (e < 0) {
			// What lies the other way round from the first edge.
			isOpen = true;
			ring[count++] = from[back]!;
			for (let f = twin[first]!; f >= 0; f = twin[f]!) {
				f = next(f);
				if (count === ring.length) ring = lengthened(ring, 2 * ring.length);
				ring[count++] = from[next(f)]!;
			}
			return count;
		}
	} while (e !== first);
	return count;
}

/**
 * Leaves of the nodes with room those that lie inside. Where the grid does not know, a node does what its neighbours with
 * room do, as there is no edge between them; unless the sweep took it for one outside: it is too coarse.
 */
function* leaveInside(mesh: Triangulation, isKept: Uint8Array, grid: InsideGrid, wanted: SizesToSweep): Work<void> {
	const { vertexCount } = mesh;
	yield* part(
		inStretches(vertexCount, chunkSize, (from, to) => askGrid(mesh, isKept, grid, wanted, from, to)),
		0,
		0.3
	);
	const path: number[] = [];
	for (let v = 0; v < vertexCount;) {
		v = goOnInside(mesh, isKept, path, v);
		yield 0.3 + (0.7 * v) / vertexCount;
	}
	dropUnknown(isKept);
}

/** What {@link leaveInside} marks where the grid does not know. */
const unknown = 2;

function askGrid(
	mesh: Triangulation,
	isKept: Uint8Array,
	grid: InsideGrid,
	wanted: SizesToSweep,
	from: number,
	to: number
): void {
	const { x, y } = mesh;
	for (let v = from; v < to; v++) {
		if (!isKept[v]) continue;
		const kind = grid.at(x[v]!, y[v]!);
		isKept[v] = kind === INSIDE ? 1 : kind === OUTSIDE || wanted.isOuter(v) ? 0 : unknown;
	}
}

/**
 * Keeps nodes that are not known, from one on, beside those that are kept, and what can be reached from them.
 *
 * @param pending nodes whose neighbours are to be looked at first; those that are left over
 * @returns the node to go on from, after a while
 */
function goOnInside(mesh: Triangulation, isKept: Uint8Array, pending: number[], from: number): number {
	let left = chunkSize;
	let v = from;
	for (; v < mesh.vertexCount && left > 0; left--) {
		const next = pending.pop();
		if (next !== undefined) {
			const around = neighboursOf(mesh, next);
			for (let k = 0; k < around; k++) {
				const other = ring[k]!;
				if (isKept[other] !== unknown) continue;
				isKept[other] = 1;
				pending.push(other);
			}
		} else if (isKept[v] === unknown && isBesideKept(mesh, isKept, v)) {
			isKept[v] = 1;
			pending.push(v);
		} else v++;
	}
	return v;
}

function isBesideKept(mesh: Triangulation, isKept: Uint8Array, v: number): boolean {
	const count = neighboursOf(mesh, v);
	for (let k = 0; k < count; k++) if (isKept[ring[k]!] === 1) return true;
	return false;
}

function dropUnknown(isKept: Uint8Array): void {
	for (let v = 0; v < isKept.length; v++) if (isKept[v] === unknown) isKept[v] = 0;
}

/** A core from the triangles all of whose nodes are kept, in the arrays of the mesh itself. */
function* laidOut(mesh: Triangulation, size: Float64Array, isKept: Uint8Array): Work<SweptCore | undefined> {
	const { x, y, from, twin, triangleCount, vertexCount } = mesh;
	// Phase 1: what is kept, under new numbers.
	const triangleOf = new Int32Array(triangleCount);
	const vertexOf = new Int32Array(vertexCount).fill(-1);
	let triangles = 0;
	for (let t = 0; t < triangleCount; t++) {
		if ((t & chunkSize) === 0) yield (0.2 * t) / triangleCount;
		const a = from[3 * t]!;
		const b = from[3 * t + 1]!;
		const c = from[3 * t + 2]!;
		if (isKept[a]! & isKept[b]! & isKept[c]!) {
			triangleOf[t] = triangles++;
			vertexOf[a] = vertexOf[b] = vertexOf[c] = 0;
		} else triangleOf[t] = -1;
	}
	if (triangles < 2 * leastNodes) return undefined;
	let vertices = 0;
	for (let v = 0; v < vertexCount; v++) {
		if ((v & chunkSize) === 0) yield 0.2 + (0.1 * v) / vertexCount;
		if (vertexOf[v]! < 0) continue;
		x[vertices] = x[v]!;
		y[vertices] = y[v]!;
		size[vertices] = size[v]!;
		vertexOf[v] = vertices++;
	}
	// Phase 2: the half-edges move to the front; those without another side are the rim.
	const rim: number[] = [];
	for (let t = 0; t < triangleCount; t++) {
		if ((t & chunkSize) === 0) yield 0.3 + (0.5 * t) / triangleCount;
		if (triangleOf[t]! < 0) continue;
		let to = 3 * triangleOf[t]!;
		for (let e = 3 * t; e < 3 * t + 3; e++) {
			const f = twin[e]!;
			const other = (f / 3) | 0;
			from[to] = vertexOf[from[e]!]!;
			if (f < 0 || triangleOf[other]! < 0) {
				rim.push(to);
				twin[to++] = -1;
			} else twin[to++] = 3 * triangleOf[other]! + f - 3 * other;
		}
	}
	twin.fill(-1, 3 * triangles, 3 * triangleCount);
	yield 0.8;
	// Phase 3: the rim, in the order of its nodes.
	const nodes = Int32Array.from(rim, (e) => from[e]!).sort();
	const once = nodes.filter((v, k) => v !== nodes[k - 1]);
	// The places of its nodes in it, in an array that is no longer needed.
	const placeOf = vertexOf;
	for (let k = 0; k < once.length; k++) placeOf[once[k]!] = k;
	yield 0.9;
	return {
		mesh: Triangulation.of(x, y, vertices, from, twin, triangles),
		rim: once,
		rimX: Float64Array.from(once, (v) => x[v]!),
		rimY: Float64Array.from(once, (v) => y[v]!),
		rimSizes: Float64Array.from(once, (v) => size[v]!),
		edges: Uint32Array.from({ length: 2 * rim.length }, (_, k) => placeOf[from[k & 1 ? rim[k >> 1]! : next(rim[k >> 1]!)]!]!)
	};
}

const nothing: FillInput = { x: Float64Array.of(0.5), y: Float64Array.of(0.5), edges: new Uint32Array() };
keepHiddenClass(new Room(new Triangulation([0, 0, 1, 1], 1), new Float64Array(5)));
keepHiddenClass(
	new SizesToSweep(new InsideGrid(nothing, [0, 0, 1, 1], 1), nothing, { size: 0.5, growth: 1.2 }, Float64Array.of(0.5), 1)
);
