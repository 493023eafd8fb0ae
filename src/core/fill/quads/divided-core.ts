import Flatbush from 'flatbush';
import type { Point } from '../../geometry/curve.ts';
import { distanceToSegment } from '../../geometry/segments.ts';
import { hypot, square } from '../../numeric/elementary.ts';
import { concatenated, numbersBelow } from '../../numeric/lists.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';
import { sizeOrField, type SizeRule } from '../../sizing/size-rule.ts';
import { SizeTree } from '../../sizing/size-tree.ts';
import type { FillInput } from '../method.ts';
import { givenSizes } from '../triangles/expected.ts';
import { type CoarseOutlines, DIVISION } from './coarse-outlines.ts';
import type { QuadMesh } from './quad-mesh.ts';

/**
 * The part of a large region that comes from a coarse fill: quadrilaterals of that, each divided into {@link DIVISION}² others. Where
 * the outline has as many edges as it takes they reach to it; what is left between them and the rest of it has to be filled.
 */
export interface DividedCore {
	/** Its own nodes, numbered from the last given one on; those of its rim come first. */
	x: Float64Array;
	y: Float64Array;
	rimCount: number;
	/** Edges of what is left, the inside of it on their left: those of the rim, and given ones. */
	rest: Uint32Array;
	/** Four nodes to each quadrilateral. */
	quads: Uint32Array;
}

/** A coarse quadrilateral is taken where no corner of it is worse than this … */
const leastShape = 0.5;
/** … its sides are this long, in wanted sizes of the divided ones … */
const [shortest, longest] = [0.5, 1.9];
/** … and nothing of the outline but its own comes nearer to it than this, in lengths of its longest side. */
const room = 0.2;
/** A core with fewer coarse quadrilaterals is not worth its rim. */
const fewest = 40;
/** So many times the nodes of a core move to the middle of those beside them: the bends between coarse quadrilaterals go. */
const sweeps = 3;

/**
 * The quadrilaterals of a coarse fill that are fair, of the size that they should have, and have the outline beside them only where
 * its edges fit, divided.
 *
 * @param input the region, its edges with the inside on their left
 * @param coarse the fill of its coarse outlines
 * @returns undefined where they are too few
 */
export function* divideCore(
	input: FillInput,
	rule: SizeRule,
	outlines: CoarseOutlines,
	coarse: QuadMesh
): Work<DividedCore | undefined> {
	const isTaken = yield* part(fitting(input, rule, outlines, coarse), 0, 0.3);
	const count = yield* part(leaveClean(outlines, coarse, isTaken), 0.3, 0.35);
	yield 0.35;
	if (count < fewest) return undefined;
	const core = yield* part(divided(input, outlines, coarse, isTaken, count), 0.35, 0.6);
	yield* part(evenOut(core, input), 0.6, 1);
	return core;
}

/** The given nodes along a side of an element, where it is one of the outline whose edges fit. */
const nodesOn = ({ fitting }: CoarseOutlines, coarse: QuadMesh, e: number, k: number): readonly number[] | undefined => {
	const a = coarse.nodes[4 * e + k]!;
	const b = coarse.nodes[4 * e + ((k + 1) & 3)]!;
	return a < coarse.given && b < coarse.given ? fitting.get(a)?.get(b) : undefined;
};

/** 1 for each element that may be in the core. */
function* fitting(input: FillInput, rule: SizeRule, outlines: CoarseOutlines, coarse: QuadMesh): Work<Uint8Array> {
	const isTaken = new Uint8Array(coarse.elementCount);
	const fit = new Fit(input, rule, outlines, coarse);
	const look = (from: number, to: number) => {
		for (let e = from; e < to; e++) if (fit.has(e)) isTaken[e] = 1;
	};
	yield* inStretches(coarse.elementCount, 0x800, look);
	return isTaken;
}

/** Finds which coarse elements are fair, of the right size, and have no other outline beside them. */
class Fit {
	private readonly tree: SizeTree;
	private readonly outline: Flatbush;

	constructor(
		private readonly input: FillInput,
		private readonly rule: SizeRule,
		private readonly outlines: CoarseOutlines,
		private readonly coarse: QuadMesh
	) {
		const { size, growth } = rule;
		const { x, y, edges } = input;
		const sizes = givenSizes(input, rule);
		const finer = numbersBelow(x.length).filter((i) => sizes[i]! < size);
		this.tree = new SizeTree(x, y, sizes, growth - 1, finer, 1.02);
		this.outline = new Flatbush(edges.length / 2 + x.length);
		for (let k = 0; k < edges.length; k += 2) {
			const [a, b] = [edges[k]!, edges[k + 1]!];
			this.outline.add(Math.min(x[a]!, x[b]!), Math.min(y[a]!, y[b]!), Math.max(x[a]!, x[b]!), Math.max(y[a]!, y[b]!));
		}
		for (let i = 0; i < x.length; i++) this.outline.add(x[i]!, y[i]!, x[i]!, y[i]!);
		this.outline.finish();
	}

	/** Whether an element may be in the core. */
	has(e: number): boolean {
		const { outlines, coarse } = this;
		const { nodes } = coarse;
		if (coarse.sizeOf(e) !== 4 || coarse.shape(e) < leastShape) return false;
		const givenNodes = new Set<number>();
		const corners: Point[] = [];
		let reach = 0;
		for (let k = 0; k < 4; k++) {
			const a = nodes[4 * e + k]!;
			const b = nodes[4 * e + ((k + 1) & 3)]!;
			const [ax, ay, bx, by] = [coarse.x[a]!, coarse.y[a]!, coarse.x[b]!, coarse.y[b]!];
			const length = hypot(bx - ax, by - ay);
			reach = Math.max(reach, length);
			corners.push({ x: ax, y: ay });
			if (a < coarse.given) givenNodes.add(outlines.given[a]!);
			const side = nodesOn(outlines, coarse, e, k);
			if (side) for (const v of side) givenNodes.add(v);
			else {
				const share = length / DIVISION / this.wanted((ax + bx) / 2, (ay + by) / 2);
				if (!(share >= shortest && share <= longest)) return false;
			}
		}
		return this.isAlone(corners, room * reach, givenNodes);
	}

	private wanted(px: number, py: number): number {
		const { size, field } = this.rule;
		return this.tree.smallest(px, py, sizeOrField(size, field, px, py));
	}

	/** Whether nothing of the outline but what is at some nodes comes nearer to an element than this. */
	private isAlone(corners: readonly Point[], by: number, allowed: ReadonlySet<number>): boolean {
		const { x, y, edges } = this.input;
		const xs = corners.map((p) => p.x);
		const ys = corners.map((p) => p.y);
		const near = this.outline.search(Math.min(...xs) - by, Math.min(...ys) - by, Math.max(...xs) + by, Math.max(...ys) + by);
		for (const found of near) {
			const k = 2 * found;
			const isNode = k >= edges.length;
			const a = isNode ? found - edges.length / 2 : edges[k]!;
			const b = isNode ? a : edges[k + 1]!;
			if (allowed.has(a) || allowed.has(b)) continue;
			if (!(distanceFrom(corners, { x: x[a]!, y: y[a]! }, { x: x[b]!, y: y[b]! }) > by)) return false;
		}
		return true;
	}
}

/** How far a segment is from a convex quadrilateral, its corners counter-clockwise; 0 where they overlap. */
function distanceFrom(corners: readonly Point[], a: Point, b: Point): number {
	let least = Infinity;
	let isInside = true;
	for (let k = 0; k < 4; k++) {
		const [p, q] = [corners[k]!, corners[(k + 1) & 3]!];
		const sideOf = (c: Point) => (q.x - p.x) * (c.y - p.y) - (q.y - p.y) * (c.x - p.x);
		const [sa, sb] = [sideOf(a), sideOf(b)];
		if (sa < 0) isInside = false;
		const across = (c: Point) => (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
		if (sa * sb < 0 && across(p) * across(q) < 0) return 0;
		least = Math.min(
			least,
			distanceToSegment(p.x, p.y, a.x, a.y, b.x, b.y),
			distanceToSegment(a.x, a.y, p.x, p.y, q.x, q.y),
			distanceToSegment(b.x, b.y, p.x, p.y, q.x, q.y)
		);
	}
	return isInside ? 0 : least;
}

/**
 * Takes out what would give the core a ragged rim: elements with one neighbour, those that meet others in a node only, those that
 * touch the outline without a side on it.
 *
 * @returns how many are left
 */
function* leaveClean(outlines: CoarseOutlines, coarse: QuadMesh, isTaken: Uint8Array): Work<number> {
	const { nodes } = coarse;
	const hasNeighbour = (e: number, k: number) => {
		const f = coarse.across(e, nodes[4 * e + k]!, nodes[4 * e + ((k + 1) & 3)]!);
		return f >= 0 && isTaken[f] === 1;
	};
	const isOnOutline = (e: number, k: number) => nodesOn(outlines, coarse, e, k) !== undefined;
	const pending: number[] = [];
	for (let e = 0; e < coarse.elementCount; e++) if (isTaken[e]) pending.push(e);
	/** Whether the taken elements at a node are one behind the other, and have a side on the outline if it lies there. */
	const isFan = (v: number) => {
		let starts = 0;
		let onOutline = 0;
		for (let c = coarse.corner[v]!; c >= 0; c = coarse.otherCorner[c]!) {
			const [e, k] = [c >> 2, c & 3];
			if (!isTaken[e]) continue;
			if (!hasNeighbour(e, k)) starts++;
			if (v < coarse.given && (isOnOutline(e, k) || isOnOutline(e, (k + 3) & 3))) onOutline++;
		}
		return starts <= 1 && (v >= coarse.given || onOutline > 0);
	};
	for (let e = pending.pop(), visited = 0; e !== undefined; e = pending.pop()) {
		if (!isTaken[e]) continue;
		if ((++visited & 0x1fff) === 0) yield Math.max(0, 1 - pending.length / coarse.elementCount);
		let beside = 0;
		for (let k = 0; k < 4; k++) if (hasNeighbour(e, k) || isOnOutline(e, k)) beside++;
		const corners = [nodes[4 * e]!, nodes[4 * e + 1]!, nodes[4 * e + 2]!, nodes[4 * e + 3]!];
		if (beside > 1 && corners.every(isFan)) continue;
		isTaken[e] = 0;
		for (const v of corners) for (const f of coarse.elementsAt(v)) if (isTaken[f]) pending.push(f);
	}
	return isTaken.reduce((sum, taken) => sum + taken, 0);
}

/** The nodes and quadrilaterals of a core. */
function* divided(
	input: FillInput,
	outlines: CoarseOutlines,
	coarse: QuadMesh,
	isTaken: Uint8Array,
	count: number
): Work<DividedCore> {
	const { nodes } = coarse;
	const n = DIVISION;
	const given = input.x.length;
	// Phase 1: the sides of the elements, each once.
	const sideOf = new Int32Array(4 * coarse.elementCount).fill(-1);
	const ends: number[] = [];
	const rimSides: number[] = [];
	const innerSides: number[] = [];
	/** The given nodes of a side that has such. */
	const givenOn = new Map<number, readonly number[]>();
	let sides = 0;
	for (let e = 0; e < coarse.elementCount; e++) {
		if (!isTaken[e]) continue;
		for (let k = 0; k < 4; k++) {
			if (sideOf[4 * e + k]! >= 0) continue;
			const [a, b] = [nodes[4 * e + k]!, nodes[4 * e + ((k + 1) & 3)]!];
			const s = sides++;
			ends.push(a, b);
			sideOf[4 * e + k] = s;
			const onOutline = nodesOn(outlines, coarse, e, k);
			if (onOutline) {
				givenOn.set(s, onOutline);
				continue;
			}
			const f = coarse.across(e, a, b);
			if (f >= 0 && isTaken[f]) {
				sideOf[4 * f + coarse.placeOf(f, b)] = s;
				innerSides.push(s);
			} else rimSides.push(s);
		}
	}

	// Phase 2: their nodes, those of the rim first.
	const x = new Float64Array(count * square(n) + 2 * sides * n);
	const y = new Float64Array(x.length);
	let next = 0;
	const put = (px: number, py: number) => {
		x[next] = px;
		y[next] = py;
		return given + next++;
	};
	const corner = new Int32Array(coarse.nodeCount).fill(-1);
	const firstOn = new Int32Array(sides);
	const layOut = (s: number) => {
		const [a, b] = [ends[2 * s]!, ends[2 * s + 1]!];
		for (const v of [a, b])
			if (corner[v]! < 0) corner[v] = v < coarse.given ? outlines.given[v]! : put(coarse.x[v]!, coarse.y[v]!);
		firstOn[s] = given + next;
		const [dx, dy] = [coarse.x[b]! - coarse.x[a]!, coarse.y[b]! - coarse.y[a]!];
		for (let i = 1; i < n; i++) put(coarse.x[a]! + (i / n) * dx, coarse.y[a]! + (i / n) * dy);
	};
	/** The node at i of a side, from its first end or from its other one. */
	const nodeOn = (s: number, i: number, isBackward: boolean): number => {
		const k = isBackward ? n - i : i;
		const onOutline = givenOn.get(s);
		if (onOutline) return onOutline[k]!;
		return k === 0 ? corner[ends[2 * s]!]! : k === n ? corner[ends[2 * s + 1]!]! : firstOn[s]! + k - 1;
	};
	for (const s of rimSides) layOut(s);
	const rimCount = next;
	for (const s of innerSides) layOut(s);
	const rest: number[] = [];
	for (const s of rimSides) for (let i = n; i > 0; i--) rest.push(nodeOn(s, i, false), nodeOn(s, i - 1, false));
	const isCovered = new Set<number>();
	for (const line of givenOn.values()) for (let i = 0; i < n; i++) isCovered.add(line[i]! * given + line[i + 1]!);
	const { edges } = input;
	for (let k = 0; k < edges.length; k += 2)
		if (!isCovered.has(edges[k]! * given + edges[k + 1]!)) rest.push(edges[k]!, edges[k + 1]!);

	yield 0.3;
	// Phase 3: inner nodes and quadrilaterals, row by row.
	const quads = new Uint32Array(4 * count * n * n);
	let to = 0;
	const grid = new Int32Array(square(n + 1));
	const xAt = (v: number) => (v < given ? input.x[v]! : x[v - given]!);
	const yAt = (v: number) => (v < given ? input.y[v]! : y[v - given]!);
	for (let e = 0; e < coarse.elementCount; e++) {
		if ((e & 0x7ff) === 0) yield 0.3 + (0.7 * e) / coarse.elementCount;
		if (!isTaken[e]) continue;
		for (let i = 0; i <= n; i++)
			for (let k = 0; k < 4; k++) {
				const s = sideOf[4 * e + k]!;
				const node = nodeOn(s, i, ends[2 * s] !== nodes[4 * e + k]!);
				grid[k === 0 ? i : k === 1 ? i * (n + 1) + n : k === 2 ? n * (n + 1) + n - i : (n - i) * (n + 1)] = node;
			}
		layInside(grid, xAt, yAt, put);
		for (let j = 0; j < n; j++)
			for (let i = 0; i < n; i++) {
				const at = j * (n + 1) + i;
				quads[to++] = grid[at]!;
				quads[to++] = grid[at + 1]!;
				quads[to++] = grid[at + n + 2]!;
				quads[to++] = grid[at + n + 1]!;
			}
	}
	return { x: x.slice(0, next), y: y.slice(0, next), rimCount, rest: Uint32Array.from(rest), quads };
}

/** The inner nodes of a divided quadrilateral by transfinite interpolation between its sides (W. Gordon & C. Hall 1973). */
function layInside(
	grid: Int32Array,
	x: (v: number) => number,
	y: (v: number) => number,
	put: (px: number, py: number) => number
): void {
	const n = DIVISION;
	const m = n + 1;
	for (let j = 1; j < n; j++)
		for (let i = 1; i < n; i++) {
			const [u, v] = [i / n, j / n];
			const between = (at: (v: number) => number) =>
				(1 - u) * at(grid[j * m]!) +
				u * at(grid[j * m + n]!) +
				(1 - v) * at(grid[i]!) +
				v * at(grid[n * m + i]!) -
				(1 - u) * (1 - v) * at(grid[0]!) -
				u * (1 - v) * at(grid[n]!) -
				u * v * at(grid[n * m + n]!) -
				(1 - u) * v * at(grid[n * m]!);
			grid[j * m + i] = put(between(x), between(y));
		}
}

/** Quadrilaterals visited between two yields. */
const chunkSize = 0x20000;

/** Moves all nodes of a core but those of its rim to the middle of those they have an edge to, all at once, a few times. */
function* evenOut({ x, y, rimCount, quads }: DividedCore, input: FillInput): Work<void> {
	const given = input.x.length;
	// By the numbers of the whole.
	const all: Ends = {
		x: concatenated(input.x, x),
		y: concatenated(input.y, y),
		sumX: new Float64Array(given + x.length),
		sumY: new Float64Array(given + x.length),
		count: new Uint8Array(given + x.length)
	};
	const first = given + rimCount;
	for (let sweep = 0; sweep < sweeps; sweep++) {
		all.sumX.fill(0);
		all.sumY.fill(0);
		all.count.fill(0);
		const sum = inStretches(quads.length / 4, chunkSize, (from, to) => sumEnds(all, quads, first, from, to));
		yield* part(sum, sweep / sweeps, (sweep + 1) / sweeps);
		goToMiddles(all, first);
	}
	x.set(all.x.subarray(given));
	y.set(all.y.subarray(given));
}

/** Places of nodes, the sums of those at the other ends of their edges, and how many these are. */
interface Ends {
	x: Float64Array;
	y: Float64Array;
	sumX: Float64Array;
	sumY: Float64Array;
	count: Uint8Array;
}

/** Sums up the other ends at the nodes from one on; every edge is met twice, once from each of its sides. */
function sumEnds({ x, y, sumX, sumY, count }: Ends, quads: Uint32Array, first: number, from: number, to: number): void {
	for (let q = 4 * from; q < 4 * to; q += 4)
		for (let k = 0; k < 4; k++) {
			const a = quads[q + k]!;
			if (a < first) continue;
			const b = quads[q + ((k + 1) & 3)]!;
			sumX[a]! += x[b]!;
			sumY[a]! += y[b]!;
			count[a]!++;
		}
}

function goToMiddles({ x, y, sumX, sumY, count }: Ends, first: number): void {
	for (let v = first; v < x.length; v++) {
		x[v] = sumX[v]! / count[v]!;
		y[v] = sumY[v]! / count[v]!;
	}
}
