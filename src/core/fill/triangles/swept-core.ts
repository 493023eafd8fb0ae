import { hypot, square } from '../../numeric/elementary.ts';
import { numbersBelow } from '../../numeric/lists.ts';
import { lengthened } from '../../numeric/lengthened.ts';
import { part, type Work } from '../../numeric/work.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
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
const breath = 0xffff;
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
	const wanted = sizesIn(grid, input, rule, sizes, expected);
	yield 0;
	const swept = yield* part(sweep(box, wanted.sweep, expected, 1.6 * expected + leastNodes), 0, 0.65);
	if (!swept) return undefined;
	const mesh = Triangulation.of(swept.x, swept.y, swept.count, swept.from, swept.twin, swept.triangleCount);
	yield* part(mesh.makeDelaunay(), 0.65, 0.74);
	const isKept = yield* part(withRoom(mesh, swept.size, input, wanted.inside), 0.74, 0.8);
	yield* part(leaveInside(mesh, isKept, grid, wanted.isOuter), 0.8, 0.88);
	return yield* part(laidOut(mesh, swept.size, isKept), 0.88, 1);
}

type SizeAt = (px: number, py: number) => number;

/**
 * The size that a rule asks for at any place of a region, and what a sweep gets to know: outside of the region sizes soon
 * become coarse, as nothing of it is kept. Where the grid does not know, the edges at the given node that a size grows from
 * tell the side; that may be wrong on either side.
 *
 * A node takes the given node that its size grows from over from those beside it, as far as sizes cannot have changed
 * much on the way; then it is looked for again.
 */
function sizesIn(
	grid: InsideGrid,
	{ x, y, edges }: FillInput,
	{ size, growth, field }: SizeRule,
	sizes: Float64Array,
	expected: number
): { inside: SizeAt; sweep: SweepSizes; isOuter: (v: number) => boolean } {
	const all = numbersBelow(x.length);
	const slope = growth - 1;
	const finer = all.filter((i) => sizes[i]! < size);
	const tree = new SizeTree(x, y, sizes, slope, finer, tolerance);
	const outer = new SizeTree(x, y, sizes, Math.max(outerSlope, slope), all, tolerance);
	const inside = (px: number, py: number) => tree.smallest(px, py, field ? Math.min(size, field(px, py)) : size);
	// The nodes before and after each on its outline.
	const several = -2;
	const before = new Int32Array(x.length).fill(-1);
	const after = new Int32Array(x.length).fill(-1);
	for (let k = 0; k < edges.length; k += 2) {
		const [a, b] = [edges[k]!, edges[k + 1]!];
		after[a] = after[a] === -1 ? b : several;
		before[b] = before[b] === -1 ? a : several;
	}
	const isLeft = (a: number, b: number, px: number, py: number) =>
		(x[b]! - x[a]!) * (py - y[a]!) - (y[b]! - y[a]!) * (px - x[a]!) > 0;
	const seemsOutside = (i: number, px: number, py: number) => {
		const a = before[i]!;
		const b = after[i]!;
		// Nothing is told at nodes of several outlines, nor of an edge that has the region on both sides.
		if (a < 0 || b < 0 || a === b) return false;
		return isLeft(a, i, x[b]!, y[b]!)
			? !(isLeft(a, i, px, py) && isLeft(i, b, px, py))
			: !(isLeft(a, i, px, py) || isLeft(i, b, px, py));
	};
	const most = Math.min(100, Math.floor(mostChange / slope));
	/** The given node that the size of each node grows from, and how many nodes ago that was looked for. */
	let sources = new Int32Array(Math.ceil(1.2 * expected));
	let ages = new Uint8Array(sources.length);
	/** The age of a node that was taken for one outside. */
	const isOutside = 255;
	let source = 0;
	let age = 0;
	const at = (px: number, py: number, a: number, b: number) => {
		const kind = grid.at(px, py);
		if (kind === OUTSIDE) {
			age = isOutside;
			return outer.smallest(px, py, Infinity);
		}
		const asked = field ? Math.min(size, field(px, py)) : size;
		if (finer.length === 0) {
			age = 0;
			return asked;
		}
		let own: number;
		age = a < 0 ? most : Math.max(ages[a]!, ages[b]!);
		if (age < most) {
			age++;
			source = sources[a]!;
			own = tree.grown(source, px, py);
			const other = tree.grown(sources[b]!, px, py);
			if (other < own) {
				own = other;
				source = sources[b]!;
			}
		} else {
			age = 0;
			own = tree.smallest(px, py, Infinity);
			source = tree.source;
		}
		if (kind !== INSIDE && own < (1 + trusted * slope) * sizes[source]! && seemsOutside(source, px, py)) {
			age = isOutside;
			return outer.smallest(px, py, Infinity);
		}
		return own < asked ? own : asked;
	};
	const keep = (node: number) => {
		if (node >= sources.length) {
			sources = lengthened(sources, 2 * node);
			ages = lengthened(ages, 2 * node);
		}
		sources[node] = source;
		ages[node] = age;
	};
	return { inside, sweep: { at, keep }, isOuter: (v) => ages[v] === isOutside };
}

/** 1 for each node that keeps its distance to all edges and given nodes. */
function* withRoom(mesh: Triangulation, size: Float64Array, { x, y, edges }: FillInput, wanted: SizeAt): Work<Uint8Array> {
	const hasRoom = new Uint8Array(mesh.vertexCount).fill(1);
	const looked = new Int32Array(mesh.vertexCount);
	const reached: number[] = [];
	let round = 0;
	let v = 0;
	/** Takes the room from all around a place; the nearest node is left in `v`. */
	const look = (px: number, py: number) => {
		v = nearest(mesh, px, py, v, size);
		round++;
		looked[v] = round;
		hasRoom[v] = 0;
		reached.push(v);
		for (let own = reached.pop(); own !== undefined; own = reached.pop()) {
			const count = neighboursOf(mesh, own);
			for (let k = 0; k < count; k++) {
				const other = ring[k]!;
				if (looked[other] === round) continue;
				looked[other] = round;
				if (square(mesh.x[other]! - px) + square(mesh.y[other]! - py) >= square(gap * size[other]!)) continue;
				hasRoom[other] = 0;
				reached.push(other);
			}
		}
	};
	const isEnd = new Uint8Array(x.length);
	for (let k = 0; k < edges.length; k += 2) {
		if ((k & 0xfff) === 0) yield k / edges.length;
		const [a, b] = [edges[k]!, edges[k + 1]!];
		const [dx, dy] = [x[b]! - x[a]!, y[b]! - y[a]!];
		const length = hypot(dx, dy);
		isEnd[a] = isEnd[b] = 1;
		// The end is where another edge starts.
		for (let way = 0; way < length;) {
			const px = x[a]! + (way / length) * dx;
			const py = y[a]! + (way / length) * dy;
			look(px, py);
			way += lookEvery * wanted(px, py);
		}
	}
	for (let i = 0; i < x.length; i++) if (!isEnd[i]) look(x[i]!, y[i]!);
	return hasRoom;
}

/** The node nearest to a place: from node to node, always nearer, as can be done where all edges are Delaunay. */
function nearest(mesh: Triangulation, px: number, py: number, start: number, size: Float64Array): number {
	const { x, y } = mesh;
	let best = start;
	let least = square(x[best]! - px) + square(y[best]! - py);
	const isCloser = (v: number) => {
		const own = square(x[v]! - px) + square(y[v]! - py);
		if (own >= least) return;
		best = v;
		least = own;
	};
	let isAtRim = false;
	for (let last = -1; last !== best;) {
		last = best;
		const count = neighboursOf(mesh, last);
		for (let k = 0; k < count; k++) isCloser(ring[k]!);
		isAtRim = isOpen;
	}
	// At the rim of the rectangle, above all over its steps, the way may end too early.
	if (isAtRim && least > square(gap * size[best]!)) for (let v = 0; v < mesh.vertexCount; v++) isCloser(v);
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
function* leaveInside(mesh: Triangulation, isKept: Uint8Array, grid: InsideGrid, isOuter: (v: number) => boolean): Work<void> {
	const { x, y } = mesh;
	const unknown = 2;
	const known: number[] = [];
	let looked = 0;
	for (let v = 0; v < mesh.vertexCount; v++) {
		if ((v & breath) === 0) yield (0.3 * v) / mesh.vertexCount;
		if (!isKept[v]) continue;
		const kind = grid.at(x[v]!, y[v]!);
		isKept[v] = kind === INSIDE ? 1 : kind === OUTSIDE || isOuter(v) ? 0 : unknown;
	}
	for (let v = 0; v < mesh.vertexCount; v++) {
		if ((v & breath) === 0) yield 0.3 + (0.7 * v) / mesh.vertexCount;
		if (isKept[v] !== unknown) continue;
		const count = neighboursOf(mesh, v);
		let isBesideKnown = false;
		for (let k = 0; k < count; k++) if (isKept[ring[k]!] === 1) isBesideKnown = true;
		if (!isBesideKnown) continue;
		isKept[v] = 1;
		known.push(v);
		for (let own = known.pop(); own !== undefined; own = known.pop()) {
			if ((++looked & breath) === 0) yield 0.3 + (0.7 * v) / mesh.vertexCount;
			const around = neighboursOf(mesh, own);
			for (let k = 0; k < around; k++) {
				const other = ring[k]!;
				if (isKept[other] !== unknown) continue;
				isKept[other] = 1;
				known.push(other);
			}
		}
	}
	for (let v = 0; v < mesh.vertexCount; v++) if (isKept[v] === unknown) isKept[v] = 0;
}

/** A core from the triangles all of whose nodes are kept, in the arrays of the mesh itself. */
function* laidOut(mesh: Triangulation, size: Float64Array, isKept: Uint8Array): Work<SweptCore | undefined> {
	const { x, y, from, twin, triangleCount, vertexCount } = mesh;
	// Phase 1: what is kept, under new numbers.
	const triangleOf = new Int32Array(triangleCount);
	const vertexOf = new Int32Array(vertexCount).fill(-1);
	let triangles = 0;
	for (let t = 0; t < triangleCount; t++) {
		if ((t & breath) === 0) yield (0.2 * t) / triangleCount;
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
		if ((v & breath) === 0) yield 0.2 + (0.1 * v) / vertexCount;
		if (vertexOf[v]! < 0) continue;
		x[vertices] = x[v]!;
		y[vertices] = y[v]!;
		size[vertices] = size[v]!;
		vertexOf[v] = vertices++;
	}
	// Phase 2: the half-edges move to the front; those without another side are the rim.
	const rim: number[] = [];
	for (let t = 0; t < triangleCount; t++) {
		if ((t & breath) === 0) yield 0.3 + (0.5 * t) / triangleCount;
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
