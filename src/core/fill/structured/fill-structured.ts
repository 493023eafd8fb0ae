import { hypot } from '../../numeric/elementary.ts';
import { atOnce, finish, part, type Work } from '../../numeric/work.ts';
import { type Fill, FillError, type FillInput } from '../method.ts';
import type { NodeLayout, SideHeights, Stacks } from '../node-layout.ts';
import { smoothBlock } from './smooth-block.ts';
import { growthOfBlock, largestGrowth, smoothQuads, type Stencils, stencils, worstCorner } from './smooth.ts';
import { fillTransfinite, gridNode } from './transfinite.ts';
import { slideToNormals } from './control-map.ts';
import { bendToNormals, type BlockNodes, keepWallHeights, wallFigures, type WallFigures } from './walls.ts';

/** Below this scaled Jacobian a block is smoothed without being asked. */
const poorCorner = 0.15;
/** What smoothing may lose at the worst corner, as a scaled Jacobian, for gaining elsewhere. */
const rounding = 1e-3;
/** By so much the largest growth of cells may rise for what is gained elsewhere. */
const littleGrowth = 1.02;
/** Below this growth of neighbouring cells a larger one is no harm. */
const mildGrowth = 1.4;
/** Shares of the length of lines within which they turn to the normal of a wall, the widest first. */
const reaches = [0.5, 0.3, 0.15, 0.06, 0.02, 0.008, 0.003];
/** A mean lean, or a gain by it, below this many degrees is not worth a sharper turn. */
export const littleLean = 0.5;

/**
 * Fills a layout with quadrilaterals by transfinite interpolation, block by block, and smooths them
 * where it was asked, or where a corner is poor or folded. Of all that smoothing goes through the best is kept, which may
 * be what it started from: it never folds what was not folded, nor makes the worst corner or the largest growth worse.
 *
 * @param sweeps smoothing sweeps; undefined leaves it to the fill
 * @throws FillError when corners stay folded, with the place of the worst
 */
export function* fillStructured({ x: givenX, y: givenY, edges }: FillInput, layout: NodeLayout, sweeps?: number): Work<Fill> {
	const fill = blocksOf(givenX, givenY, layout);
	const isLong = sweeps !== undefined && sweeps > 0;
	yield isLong ? 0.05 : 0.4;
	const { quads } = fill;
	const given = givenX.length;
	const x = new Float64Array(given + fill.x.length);
	const y = new Float64Array(x.length);
	x.set(givenX);
	x.set(fill.x, given);
	y.set(givenY);
	y.set(fill.y, given);
	const isWalled = layout.kind === 'block' && layout.walls.some(Boolean);
	const settle = (xs: Float64Array, ys: Float64Array) => {
		if (isWalled) keepHeights(xs, ys, given, layout);
	};
	settle(x, y);
	yield isLong ? 0.1 : 0.6;
	// The growth of cells costs a look at every node's neighbours, and is taken only where it is compared.
	const start = isLong ? 0.1 : 0.6;
	const { value, node, mean } = yield* part(worstCorner(x, y, quads), start, start);
	let best: GridQuality = { corner: value, node, mean, growth: NaN };
	let around: Stencils | undefined;
	const growth = (xs: Float64Array, ys: Float64Array) =>
		layout.kind === 'block'
			? growthOfBlock(xs, ys, layout.sides, given)
			: atOnce(() => largestGrowth(xs, ys, (around ??= stencils(x.length, quads, given))));
	const isSimple = layout.kind === 'block' || layout.kind === 'ring';
	function* attempt(count: number, controlled: boolean, better = isBetter): Work<void> {
		const [xs, ys] = [x.slice(), y.slice()];
		if (layout.kind !== 'block') around ??= stencils(x.length, quads, given);
		yield 0;
		best = yield* part(measured(x, y, quads, growth), 0, 0);
		// Looked at as it goes: more sweeps are never worse than fewer.
		let done = 0;
		for (let step = 4; done < count; step *= 2) {
			const more = Math.min(step, count - done);
			const work =
				layout.kind === 'block'
					? smoothBlock(xs, ys, layout.sides, given, more, controlled)
					: smoothQuads(xs, ys, quads, given, more, controlled, around);
			yield* part(work, done / count, (done + more) / count);
			done += more;
			const [xt, yt] = [xs.slice(), ys.slice()];
			settle(xt, yt);
			yield done / count;
			const judged = yield* part(measured(xt, yt, quads, growth), done / count, done / count);
			if (!better(judged, best)) continue;
			x.set(xt);
			y.set(yt);
			best = judged;
		}
	}
	// What it would be without, lines turned to walls and all, is what smoothing must not fall behind.
	const plain =
		isLong && best.corner > 0 ? yield* part(fillStructured({ x: givenX, y: givenY, edges }, layout, 0), 0.1, 0.2) : undefined;
	if (isLong) yield* part(attempt(sweeps, isSimple), 0.2, 0.9);
	if (sweeps === undefined ? best.corner < poorCorner || !isSimple : !(best.corner > 0)) {
		yield* part(attempt(30, true, isSounder), isLong ? 0.9 : 0.6, 0.9);
		yield* part(attempt(60, false, isSounder), 0.9, 0.95);
	}
	if (isWalled && best.corner > 0) turnToWalls(x, y, given, layout, quads);
	yield 0.95;
	if (!(best.corner > 0)) {
		const at = { x: x[best.node]!, y: y[best.node]! };
		throw new FillError(
			'folded',
			`its quadrilaterals fold over at (${brief(at.x)}, ${brief(at.y)}), and smoothing does not cure it; choose other corners, or cut the region in two there`,
			at
		);
	}
	if (plain) {
		const [px, py] = [x.slice(), y.slice()];
		px.set(plain.x, given);
		py.set(plain.y, given);
		const judged = yield* part(measured(x, y, quads, growth), 0.95, 0.97);
		if (!isBetter(judged, yield* part(measured(px, py, quads, growth), 0.97, 1))) return plain;
	}
	return { x: x.subarray(given), y: y.subarray(given), triangles: fill.triangles, quads, layout };
}

/** What a structured mesh is judged by. */
export interface GridQuality {
	/** The smallest scaled Jacobian of a corner, and its node. */
	corner: number;
	node: number;
	/** The mean over all corners. */
	mean: number;
	/** The largest ratio of neighbouring cells along lines. */
	growth: number;
}

/** @param growth tells the largest growth of the cells of a mesh */
export function* measured(
	x: Float64Array,
	y: Float64Array,
	quads: Uint32Array,
	growth: (x: Float64Array, y: Float64Array) => Work<number>
): Work<GridQuality> {
	const { value, node, mean } = yield* part(worstCorner(x, y, quads), 0, 0.5);
	return { corner: value, node, mean, growth: yield* part(growth(x, y), 0.5, 1) };
}

/** Whether a mesh is better than another: where one of them is poor, by its worst corner, and otherwise on the whole, while nothing gets worse. */
function isBetter(candidate: GridQuality, other: GridQuality): boolean {
	if (!(other.corner > poorCorner)) return candidate.corner > other.corner;
	return isNoWorse(candidate, other) && candidate.mean > other.mean + 1e-9;
}

/** Whether neither the worst corner nor the growth of cells suffers. */
export const isNoWorse = (candidate: GridQuality, other: GridQuality): boolean =>
	candidate.corner >= other.corner - rounding && candidate.growth <= Math.max(other.growth * littleGrowth, mildGrowth);

/** Whether the worst corner is better, as it is looked for unasked, and cells do not grow wildly for it. */
const isSounder = (candidate: GridQuality, other: GridQuality): boolean =>
	candidate.corner > other.corner && (!(other.corner > 0) || candidate.growth <= Math.max(1.5 * other.growth, 2));

/**
 * Turns the lines at walls to their normals, by the control map or within that share of their length by which they lean
 * least, as long as no corner suffers.
 *
 * @param quads those that must not suffer
 */
export function turnToWalls(
	x: Float64Array,
	y: Float64Array,
	given: number,
	layout: Extract<NodeLayout, { kind: 'block' }>,
	quads: Uint32Array
): void {
	const lean = (xs: Float64Array, ys: Float64Array) => leanAtWalls(xs, ys, given, layout);
	const least = Math.min(finish(worstCorner(x, y, quads)).value, 0.5) - rounding;
	let best = lean(x, y);
	const [fromX, fromY] = [x.slice(), y.slice()];
	for (const turn of ['slid', ...reaches] as const) {
		if (best < littleLean) return;
		const [xs, ys] = [fromX.slice(), fromY.slice()];
		keepHeights(xs, ys, given, layout, turn);
		const tilt = lean(xs, ys);
		if (tilt > best - littleLean || finish(worstCorner(xs, ys, quads)).value < least) continue;
		x.set(xs);
		y.set(ys);
		best = tilt;
	}
}

const brief = (value: number) => String(Number(value.toPrecision(5)));

function blocksOf(x: Float64Array, y: Float64Array, layout: NodeLayout): Fill {
	switch (layout.kind) {
		case 'block':
			return fillTransfinite(x, y, layout.sides);
		case 'star':
			return fillStar(new Builder(x, y), layout);
		case 'ring':
			return fillRing(new Builder(x, y), layout);
		case 'disc':
			return fillDisc(new Builder(x, y), layout);
	}
}

/** Collects nodes and quadrilaterals. */
class Builder {
	readonly x: number[];
	readonly y: number[];
	readonly quads: number[] = [];
	private readonly given: number;

	constructor(x: Float64Array, y: Float64Array) {
		this.x = Array.from(x);
		this.y = Array.from(y);
		this.given = x.length;
	}

	node(x: number, y: number): number {
		this.x.push(x);
		this.y.push(y);
		return this.x.length - 1;
	}

	/** Nodes on the straight line from a to b at the inner ones of the fractions, with a and b. */
	line(a: number, b: number, fractions: ArrayLike<number>): Uint32Array {
		const out = [a];
		for (let k = 1; k + 1 < fractions.length; k++) {
			const t = fractions[k]!;
			out.push(this.node((1 - t) * this.x[a]! + t * this.x[b]!, (1 - t) * this.y[a]! + t * this.y[b]!));
		}
		out.push(b);
		return Uint32Array.from(out);
	}

	block(sides: [Uint32Array, Uint32Array, Uint32Array, Uint32Array]): void {
		const inner = fillTransfinite(Float64Array.from(this.x), Float64Array.from(this.y), sides);
		for (let k = 0; k < inner.x.length; k++) this.node(inner.x[k]!, inner.y[k]!);
		for (const q of inner.quads) this.quads.push(q);
	}

	/** Quadrilaterals between two closed rows of nodes, the first outside. */
	ring(outer: readonly number[], inner: readonly number[]): void {
		const n = outer.length;
		for (let k = 0; k < n; k++) this.quads.push(outer[k]!, outer[(k + 1) % n]!, inner[(k + 1) % n]!, inner[k]!);
	}

	finish(): Fill {
		return {
			x: Float64Array.from(this.x.slice(this.given)),
			y: Float64Array.from(this.y.slice(this.given)),
			triangles: new Uint32Array(0),
			quads: Uint32Array.from(this.quads)
		};
	}

	/** Chord-length fractions of a row of nodes. */
	fractions(nodes: ArrayLike<number>): number[] {
		const at = [0];
		for (let k = 1; k < nodes.length; k++)
			at.push(at[k - 1]! + hypot(this.x[nodes[k]!]! - this.x[nodes[k - 1]!]!, this.y[nodes[k]!]! - this.y[nodes[k - 1]!]!));
		return at.map((s) => s / at.at(-1)!);
	}
}

/** Blocks at the corners that meet in the middle (the midpoint subdivision of Li, McKeag & Armstrong 1995). */
function fillStar(build: Builder, { sides, spokes }: Extract<NodeLayout, { kind: 'star' }>): Fill {
	const k = sides.length;
	const before = (i: number) => (i + k - 1) % k;
	// Phase 1: side i is cut after the count of the spoke before it.
	const heads = sides.map((side, i) => side.slice(0, spokes[before(i)]! + 1));
	const tails = sides.map((side, i) => side.slice(spokes[before(i)]!));
	// Phase 2: the middle, the centroid of the outline.
	const centre = centroid(
		build,
		sides.flatMap((side) => [...side.slice(1)])
	);
	const middle = build.node(centre.x, centre.y);
	// Phase 3: spokes take the mean spacing of the two parts of sides that they face.
	const lines = heads.map((head, i) => {
		const one = build.fractions(tails[before(i)]!.slice().reverse());
		const other = build.fractions(heads[(i + 1) % k]!);
		return build.line(
			head.at(-1)!,
			middle,
			one.map((f, j) => (f + other[j]!) / 2)
		);
	});
	// Phase 4: the block at corner i.
	for (let i = 0; i < k; i++) build.block([heads[i]!, lines[i]!, lines[before(i)]!.slice().reverse(), tails[before(i)]!]);
	return build.finish();
}

/** Lines of nodes around a hole: the inner outline's nodes are matched with the outer ones so that the lines across are shortest, if no seam says how. */
function fillRing(build: Builder, { outer, inner, across, matched, stacks }: Extract<NodeLayout, { kind: 'ring' }>): Fill {
	const n = outer.length;
	let [shift, least] = [0, Infinity];
	for (let s = 0; s < (matched ? 1 : n); s++) {
		let sum = 0;
		for (let k = 0; k < n && sum < least; k++) {
			const [p, q] = [outer[k]!, inner[(k + s) % n]!];
			const [dx, dy] = [build.x[p]! - build.x[q]!, build.y[p]! - build.y[q]!];
			sum += dx * dx + dy * dy;
		}
		if (sum < least) [shift, least] = [s, sum];
	}
	const facing = Uint32Array.from(outer, (_, k) => inner[(k + shift) % n]!);
	const lines = Array.from(outer, (p, k) => build.line(p, facing[k]!, acrossOn(build, across, stacks, [outer, facing], k)));
	for (let j = 0; j + 1 < across.length; j++)
		build.ring(
			lines.map((line) => line[j]!),
			lines.map((line) => line[j + 1]!)
		);
	return build.finish();
}

/** A line that leans by more than this, as the cosine to the normal of the wall, is taken to lean by as much. */
const leastCosine = 0.3;
/** The cells that keep their height take this share of a line at most. */
const mostOfLine = 0.95;

/**
 * Fractions across on one line: cells of the stacks at its ends are as high as asked, square to the outlines, however long the line
 * is and however it leans; what lies between is in proportion.
 */
function acrossOn(
	{ x, y }: Builder,
	across: Float64Array,
	stacks: Stacks | undefined,
	[outer, inner]: readonly [Uint32Array, Uint32Array],
	k: number
): Float64Array {
	if (!stacks) return across;
	const n = outer.length;
	const [p, q] = [outer[k]!, inner[k]!];
	const [dx, dy] = [x[q]! - x[p]!, y[q]! - y[p]!];
	const length = hypot(dx, dy);
	const steepness = (walk: Uint32Array) => {
		const [a, b] = [walk[(k + n - 1) % n]!, walk[(k + 1) % n]!];
		const [tx, ty] = [x[b]! - x[a]!, y[b]! - y[a]!];
		return Math.max(leastCosine, Math.abs(dx * ty - dy * tx) / (length * hypot(tx, ty) || 1));
	};
	const last = across.length - 1;
	const [from, to] = [across[stacks.start]!, across[last - stacks.end]!];
	let low = stacks.start > 0 ? stacks.distance / (length * steepness(outer)) : 1;
	let high = stacks.end > 0 ? stacks.distance / (length * steepness(inner)) : 1;
	// Where a line has no room for both they become lower together.
	const taken = (stacks.start > 0 ? from * low : 0) + (stacks.end > 0 ? (1 - to) * high : 0);
	const fit = Math.min(1, mostOfLine / taken);
	[low, high] = [low * fit, high * fit];
	const [start, end] = [stacks.start > 0 ? from * low : from, stacks.end > 0 ? 1 - (1 - to) * high : to];
	return across.map((t, j) => {
		if (j <= stacks.start && stacks.start > 0) return t * low;
		if (j >= last - stacks.end && stacks.end > 0) return 1 - (1 - t) * high;
		return start + ((t - from) / (to - from)) * (end - start);
	});
}

/** A block in the core of a round outline, and rings of nodes from the outline to the core. */
function fillDisc(
	build: Builder,
	{ outline, first, across, core: share = 0.55, stacks }: Extract<NodeLayout, { kind: 'disc' }>
): Fill {
	const n = outline.length;
	const second = n / 2 - first;
	const centre = centroid(build, [...outline]);
	const corners = [0, first, first + second, 2 * first + second];
	// Phase 1: the outline of the core, its sides half way between straight and round.
	const core: number[] = [];
	for (let side = 0; side < 4; side++) {
		const [from, to] = [corners[side]!, corners[side + 1] ?? n];
		const [a, b] = [outline[from]!, outline[to % n]!];
		for (let k = from; k < to; k++) {
			const t = (k - from) / (to - from);
			const p = outline[k]!;
			const straight = { x: (1 - t) * build.x[a]! + t * build.x[b]!, y: (1 - t) * build.y[a]! + t * build.y[b]! };
			const out = { x: 0.4 * build.x[p]! + 0.6 * straight.x, y: 0.4 * build.y[p]! + 0.6 * straight.y };
			core.push(build.node(centre.x + share * (out.x - centre.x), centre.y + share * (out.y - centre.y)));
		}
	}
	// Phase 2: the rings.
	const within = Uint32Array.from(core);
	const lines = Array.from(outline, (p, k) => build.line(p, within[k]!, acrossOn(build, across, stacks, [outline, within], k)));
	for (let j = 0; j + 1 < across.length; j++)
		build.ring(
			lines.map((line) => line[j]!),
			lines.map((line) => line[j + 1]!)
		);
	// Phase 3: the core.
	const sides = corners.map((from, side) => {
		const to = corners[side + 1] ?? n;
		return Uint32Array.from([...core.slice(from, to), core[to % n]!]);
	});
	build.block(sides as [Uint32Array, Uint32Array, Uint32Array, Uint32Array]);
	return build.finish();
}

/** The centroid of the area of a polygon of nodes. */
function centroid(build: Builder, nodes: readonly number[]): { x: number; y: number } {
	const [ox, oy] = [build.x[nodes[0]!]!, build.y[nodes[0]!]!];
	let [area, cx, cy] = [0, 0, 0];
	for (let k = 0; k < nodes.length; k++) {
		const [p, q] = [nodes[k]!, nodes[(k + 1) % nodes.length]!];
		const [ax, ay, bx, by] = [build.x[p]! - ox, build.y[p]! - oy, build.x[q]! - ox, build.y[q]! - oy];
		const cross = ax * by - bx * ay;
		area += cross;
		cx += (ax + bx) * cross;
		cy += (ay + by) * cross;
	}
	return { x: ox + cx / (3 * area), y: oy + cy / (3 * area) };
}

/** Calls back with every pair of facing sides that has a wall, as a grid whose rows run along it; what is done to the inner nodes is taken over. */
function onWallGrids(
	x: Float64Array,
	y: Float64Array,
	given: number,
	{ sides, walls }: Extract<NodeLayout, { kind: 'block' }>,
	work: (grid: BlockNodes, low: SideHeights, high: SideHeights) => void
): void {
	const [bottom, right] = sides;
	const top = sides[2].slice().reverse();
	const left = sides[3].slice().reverse();
	const n = bottom.length - 1;
	const m = left.length - 1;
	const node = gridNode(bottom, right, top, left, given);
	const rearranged = (wide: number, high: number, at: (i: number, j: number) => number, low: SideHeights, far: SideHeights) => {
		const grid: BlockNodes = {
			n: wide,
			m: high,
			x: new Float64Array((wide + 1) * (high + 1)),
			y: new Float64Array((wide + 1) * (high + 1))
		};
		for (let j = 0; j <= high; j++)
			for (let i = 0; i <= wide; i++) {
				grid.x[j * (wide + 1) + i] = x[at(i, j)]!;
				grid.y[j * (wide + 1) + i] = y[at(i, j)]!;
			}
		work(grid, low, far);
		for (let j = 1; j < high; j++)
			for (let i = 1; i < wide; i++) {
				x[at(i, j)] = grid.x[j * (wide + 1) + i]!;
				y[at(i, j)] = grid.y[j * (wide + 1) + i]!;
			}
	};
	// Sides 2 and 3 run against the rows and columns of the grid.
	const turned = (wall: SideHeights): SideHeights =>
		wall && { ends: [wall.ends[1], wall.ends[0]], ...(wall.heights ? { heights: wall.heights.toReversed() } : {}) };
	if (walls[0] || walls[2]) rearranged(n, m, node, walls[0], turned(walls[2]));
	if (walls[1] || walls[3]) rearranged(m, n, (i, j) => node(j, i), turned(walls[3]), walls[1]);
}

/**
 * Restores the heights of the cells at walls, square to them; inner nodes are numbered row by row from `given`.
 *
 * @param turn lines turn to the normal of a wall: along their rows by a control map, or within this share of their length
 */
export function keepHeights(
	x: Float64Array,
	y: Float64Array,
	given: number,
	layout: Extract<NodeLayout, { kind: 'block' }>,
	turn?: number | 'slid'
): void {
	onWallGrids(x, y, given, layout, (grid, low, high) => {
		if (turn === 'slid') slideToNormals(grid);
		else if (turn !== undefined) {
			if (low) bendToNormals(grid, true, turn);
			if (high) bendToNormals(grid, false, turn);
		}
		keepWallHeights(grid, low, high);
	});
}

/** How far the lines at all walls of a block lean off their normals: the sum of the means, in degrees. */
export const leanAtWalls = (...job: Parameters<typeof figuresAtWalls>): number =>
	figuresAtWalls(...job).reduce((sum, wall) => sum + wall.meanLean, 0);

/** What the cells at every wall of a block came to. */
export function figuresAtWalls(
	x: Float64Array,
	y: Float64Array,
	given: number,
	layout: Extract<NodeLayout, { kind: 'block' }>
): WallFigures[] {
	const figures: WallFigures[] = [];
	onWallGrids(x, y, given, layout, (grid, low, high) => {
		if (low) figures.push(wallFigures(grid, true, low));
		if (high) figures.push(wallFigures(grid, false, high));
	});
	return figures;
}
