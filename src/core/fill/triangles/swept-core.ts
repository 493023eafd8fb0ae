import { hypot, square } from '../../numeric/elementary.ts';
import { part, type Work } from '../../numeric/work.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
import { SizeTree } from '../../sizing/size-tree.ts';
import type { FillInput } from '../method.ts';
import { boxOf } from './constrained.ts';
import { INSIDE, InsideGrid, OUTSIDE } from './inside-grid.ts';
import { sweep } from './sweep.ts';
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
/** Outside of the region sizes grow by this slope, as nothing of it is kept. */
const outerSlope = 0.4;
/** So many nodes, in the mean, to a cell of the grid that tells what lies outside. */
const nodesToCell = 12;
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
	const swept = yield* part(sweep(box, sizeIn(grid, input, rule, sizes), expected, 2 * expected + leastNodes), 0, 0.8);
	if (!swept) return undefined;
	const mesh = Triangulation.of(swept.x, swept.y, swept.count, swept.from, swept.twin, swept.triangleCount);
	mesh.makeDelaunay();
	yield 0.9;
	const isKept = withRoom(mesh, swept.size, input);
	leaveInside(mesh, isKept, grid);
	return laidOut(mesh, swept.size, isKept);
}

/** The wanted size: in the region as the rule says, outside whatever soon becomes coarse. */
function sizeIn(grid: InsideGrid, { x, y }: FillInput, rule: SizeRule, sizes: Float64Array): (px: number, py: number) => number {
	const { size, growth, field } = rule;
	const finer = Int32Array.from(x.keys()).filter((i) => sizes[i]! < size);
	const inner = new SizeTree(x, y, sizes, growth - 1, finer);
	const outer = new SizeTree(x, y, sizes, Math.max(outerSlope, growth - 1), Int32Array.from(x.keys()));
	return (px, py) =>
		grid.at(px, py) === OUTSIDE
			? outer.smallest(px, py, Infinity)
			: inner.smallest(px, py, field ? Math.min(size, field(px, py)) : size);
}

/** 1 for each node that keeps its distance to all edges and given nodes. */
function withRoom(mesh: Triangulation, size: Float64Array, { x, y, edges }: FillInput): Uint8Array {
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
		for (let own = reached.pop(); own !== undefined; own = reached.pop())
			eachNeighbour(mesh, own, (other) => {
				if (looked[other] === round) return;
				looked[other] = round;
				if (square(mesh.x[other]! - px) + square(mesh.y[other]! - py) >= square(gap * size[other]!)) return;
				hasRoom[other] = 0;
				reached.push(other);
			});
	};
	const isEnd = new Uint8Array(x.length);
	for (let k = 0; k < edges.length; k += 2) {
		const [a, b] = [edges[k]!, edges[k + 1]!];
		const [dx, dy] = [x[b]! - x[a]!, y[b]! - y[a]!];
		const length = hypot(dx, dy);
		isEnd[a] = isEnd[b] = 1;
		for (let way = 0; way < length; way += lookEvery * size[v]!) look(x[a]! + (way / length) * dx, y[a]! + (way / length) * dy);
		look(x[b]!, y[b]!);
	}
	for (let i = 0; i < x.length; i++) if (!isEnd[i]) look(x[i]!, y[i]!);
	return hasRoom;
}

/** The node nearest to a place: from node to node, always nearer, as can be done where all edges are Delaunay. */
function nearest(mesh: Triangulation, px: number, py: number, start: number, size: Float64Array): number {
	const { x, y } = mesh;
	let best = start;
	let least = square(x[best]! - px) + square(y[best]! - py);
	const closer = (v: number) => {
		const own = square(x[v]! - px) + square(y[v]! - py);
		if (own < least) [best, least] = [v, own];
	};
	for (let last = -1; last !== best;) {
		last = best;
		eachNeighbour(mesh, last, closer);
	}
	// At the rim of the rectangle the way may end too early.
	if (least > square(gap * size[best]!)) for (let v = 0; v < mesh.vertexCount; v++) closer(v);
	return best;
}

/** Calls back with every node that a node has an edge to. */
function eachNeighbour({ from, twin, outgoing }: Triangulation, v: number, visit: (other: number) => void): void {
	const first = outgoing[v]!;
	let e = first;
	do {
		visit(from[next(e)]!);
		const back = previous(e);
		if (twin[back]! < 0) {
			// At the rim: what lies the other way round from the first edge.
			visit(from[back]!);
			for (let f = twin[first]!; f >= 0; f = twin[f]!) {
				f = next(f);
				visit(from[next(f)]!);
			}
			return;
		}
		e = twin[back]!;
	} while (e !== first);
}

/**
 * Leaves of the nodes with room those that lie inside. Where the grid does not know, a node does what its neighbours with
 * room do, as there is no edge between them.
 */
function leaveInside(mesh: Triangulation, isKept: Uint8Array, grid: InsideGrid): void {
	const { x, y } = mesh;
	const unknown = 2;
	const known: number[] = [];
	for (let v = 0; v < mesh.vertexCount; v++) {
		if (!isKept[v]) continue;
		const kind = grid.at(x[v]!, y[v]!);
		isKept[v] = kind === INSIDE ? 1 : kind === OUTSIDE ? 0 : unknown;
	}
	for (let v = 0; v < mesh.vertexCount; v++) {
		if (isKept[v] !== unknown) continue;
		eachNeighbour(mesh, v, (other) => {
			if (isKept[other] === 1) known.push(v);
		});
		for (let own = known.pop(); own !== undefined; own = known.pop()) {
			isKept[own] = 1;
			eachNeighbour(mesh, own, (other) => {
				if (isKept[other] === unknown) known.push(other);
			});
		}
	}
	for (let v = 0; v < mesh.vertexCount; v++) if (isKept[v] === unknown) isKept[v] = 0;
}

/** A core from the triangles all of whose nodes are kept, in the arrays of the mesh itself. */
function laidOut(mesh: Triangulation, size: Float64Array, isKept: Uint8Array): SweptCore | undefined {
	const { x, y, from, twin, triangleCount, vertexCount } = mesh;
	// Phase 1: what is kept, under new numbers.
	const triangleOf = new Int32Array(triangleCount);
	const vertexOf = new Int32Array(vertexCount).fill(-1);
	let triangles = 0;
	for (let t = 0; t < triangleCount; t++) {
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
		if (vertexOf[v]! < 0) continue;
		x[vertices] = x[v]!;
		y[vertices] = y[v]!;
		size[vertices] = size[v]!;
		vertexOf[v] = vertices++;
	}
	// Phase 2: the half-edges move to the front; those without another side are the rim.
	const rim: number[] = [];
	for (let t = 0; t < triangleCount; t++) {
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
	// Phase 3: the rim, in the order of its nodes.
	const nodes = Int32Array.from(rim, (e) => from[e]!).sort();
	const once = nodes.filter((v, k) => v !== nodes[k - 1]);
	const placeOf = new Map(Array.from(once, (v, k) => [v, k]));
	return {
		mesh: Triangulation.of(x, y, vertices, from, twin, triangles),
		rim: once,
		rimX: Float64Array.from(once, (v) => x[v]!),
		rimY: Float64Array.from(once, (v) => y[v]!),
		rimSizes: Float64Array.from(once, (v) => size[v]!),
		edges: Uint32Array.from(rim.flatMap((e) => [placeOf.get(from[next(e)]!)!, placeOf.get(from[e]!)!]))
	};
}
