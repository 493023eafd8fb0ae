import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { hypot, square } from '../../numeric/elementary.ts';
import type { FillInput } from '../method.ts';
import { numbersBelow, Uint32List } from '../../numeric/lists.ts';
import { lengthened } from '../../numeric/lengthened.ts';
import type { Work } from '../../numeric/work.ts';
import { boxOf } from '../../numeric/box.ts';
import { enclosedArea } from './constrained.ts';
import { sizeOrField, type SizeRule } from '../../sizing/size-rule.ts';
import { SizeTree } from '../../sizing/size-tree.ts';

/** A cell whose size varies by no more than this, from its smallest to its largest, is summed as it is. */
const mostVariation = 1;
/** A cell is no larger, in sizes over the slope, than what could hide a finer place … */
const mostReach = 2;
/** … unless its size looks constant, and it is this small a part of the whole. */
const smallPart = 1 / 128;
/**
 * A cell with a piece of the boundary in it is cut until its half diagonal is at most this many sizes:
 * along a long boundary what lies inside and what lies outside by mistake make up for one another.
 */
const boundaryReach = (edges: number): number => Math.min(4, Math.max(1, Math.sqrt(edges / 1000)));
/** Sizes that grow to that of the region within so many sizes of its edges are summed at once. */
const grownWithin = 2;
/** Sizes that grow from given nodes are not told more exactly than this. */
const tolerance = 1.02;
/** The first cells that are looked at are so few that about so many edges lie in each. */
const edgesPerCell = 8;
/** Cells, and edges in them, visited between two yields. */
const chunkSize = 20_000;
/** A level with more cells than this, or than four to a given node, is the last. */
const leastBudget = 20_000;

/** The mean length of the given edges at each given node; the region's size, or the field, where that is less or there are no edges. */
export function givenSizes({ x, y, edges }: FillInput, { size, field }: SizeRule): Float64Array {
	const sum = new Float64Array(x.length);
	const ends = new Float64Array(x.length);
	for (let k = 0; k < edges.length; k += 2) {
		const [a, b] = [edges[k]!, edges[k + 1]!];
		const length = hypot(x[b]! - x[a]!, y[b]! - y[a]!);
		sum[a]! += length;
		sum[b]! += length;
		ends[a]!++;
		ends[b]!++;
	}
	for (let i = 0; i < sum.length; i++) {
		const startSize = ends[i]! > 0 ? Math.min(size, sum[i]! / ends[i]!) : size;
		sum[i] = sizeOrField(startSize, field, x[i]!, y[i]!);
	}
	return sum;
}

/** A square of the quadtree, with the range of its edges in the list of its level. */
interface Cell {
	x: number;
	y: number;
	/** Whether its centre lies in the region. */
	isInside: boolean;
	firstEdge: number;
	lastEdge: number;
}

/**
 * About how many triangles a fill will make: the integral of 4 / (√3 h²) over the region, where h
 * is the wanted size, summed level by level over a quadtree that is fine where the size varies and
 * along the boundary. A cell passes on to its quarters only the edges that cross it; whether a centre lies in the region
 * follows from the one before.
 *
 * @param sizes size at each given node
 */
export function* expectedTriangles(input: FillInput, rule: SizeRule, sizes = givenSizes(input, rule)): Work<number> {
	const { x, y, edges } = input;
	const { size, growth, field } = rule;
	if (edges.length === 0) return 0;
	const slope = growth - 1;
	if (!field && size < Infinity) {
		let finest = size;
		for (const size of sizes) if (size < finest) finest = size;
		if (finest >= size * Math.max(0.5, 1 - grownWithin * slope)) return nearlyEven(input, size, slope, sizes);
	}
	const [minX, minY, maxX, maxY] = boxOf(x, y);
	// Off the middle, so that no centre of a cell lies on a line of symmetry.
	const rootHalf = 0.5123 * Math.max(maxX - minX, maxY - minY);
	const [rootX, rootY] = [(minX + maxX) / 2 + 0.00717 * rootHalf, (minY + maxY) / 2 - 0.00431 * rootHalf];
	const finer = numbersBelow(x.length).filter((i) => sizes[i]! < size);
	const grown = new SizeTree(x, y, sizes, slope, finer, tolerance);
	yield 0;
	// The first level: large enough to go on from, so that not every edge is looked at on every level above it.
	let perSide = 1;
	while (4 * perSide * perSide * edgesPerCell <= edges.length / 2) perSide *= 2;
	const start = firstLevel(input, rootX, rootY, rootHalf, perSide);
	const cells = new CellSizes(rule, grown, boundaryReach(edges.length / 2), smallPart * rootHalf);
	const levels = new Levels(input, cells, start.level, start.crossing);
	const mostCells = Math.max(leastBudget, 4 * x.length);
	for (let half = rootHalf / perSide; levels.level.length > 0; half /= 2) {
		const isLast = levels.level.length > mostCells;
		for (let k = 0; k < levels.level.length;) {
			k = levels.cut(k, half, isLast);
			yield 0;
		}
		levels.goOn();
	}
	return (4 / Math.sqrt(3)) * levels.sum;
}

/** The cells of a level, and their quarters, which are those of the next. */
class Levels {
	/** Of the cells that need no quarters. */
	sum = 0;
	private quarters: Cell[] = [];
	private edgeCount = 0;
	private nextCrossing: Int32Array;

	/** @param crossing edges that the cells of the level look at, one cell after the other */
	constructor(
		private readonly input: FillInput,
		private readonly cells: CellSizes,
		public level: Cell[],
		private crossing: Int32Array
	) {
		this.nextCrossing = new Int32Array(2 * crossing.length);
	}

	/** Sums up cells of the level, from one on, or cuts them; answers where to go on after a while. */
	cut(first: number, half: number, isLast: boolean): number {
		const { level } = this;
		let k = first;
		for (let visited = 0; k < level.length && visited <= chunkSize; k++) {
			const cell = level[k]!;
			visited += 1 + cell.lastEdge - cell.firstEdge;
			const value = this.cells.integral(cell, half, isLast);
			if (value >= 0) this.sum += value;
			else this.quarter(cell, half);
		}
		return k;
	}

	/** The quarters of all are the next level. */
	goOn(): void {
		this.level = this.quarters;
		[this.crossing, this.nextCrossing] = [this.nextCrossing, this.crossing];
		this.quarters = [];
		this.edgeCount = 0;
	}

	private quarter(cell: Cell, half: number): void {
		const { input, crossing } = this;
		for (let k = 0; k < 4; k++) {
			const x = cell.x + (k & 1 ? half / 2 : -half / 2);
			const y = cell.y + (k & 2 ? half / 2 : -half / 2);
			const firstEdge = this.edgeCount;
			const most = firstEdge + cell.lastEdge - cell.firstEdge;
			if (this.nextCrossing.length < most) this.nextCrossing = lengthened(this.nextCrossing, 2 * most);
			let lastEdge = firstEdge;
			for (let n = cell.firstEdge; n < cell.lastEdge; n++)
				if (meets(input, crossing[n]!, x, y, half / 2)) this.nextCrossing[lastEdge++] = crossing[n]!;
			this.edgeCount = lastEdge;
			const isInside = cell.isInside !== crosses(input, crossing, cell, x, y);
			if (isInside || lastEdge > firstEdge) this.quarters.push({ x, y, isInside, firstEdge, lastEdge });
		}
	}
}

/** The sizes that are wanted in cells. */
class CellSizes {
	private readonly size: number;
	private readonly slope: number;
	private readonly field: SizeRule['field'];

	/**
	 * @param grown the sizes that grow from given nodes
	 * @param cutReach a cell with edges is cut until its half diagonal is at most this many sizes …
	 * @param smallHalf … or, where its size looks constant, half its side is at most this
	 */
	constructor(
		{ size, growth, field }: SizeRule,
		private readonly grown: SizeTree,
		private readonly cutReach: number,
		private readonly smallHalf: number
	) {
		this.size = size;
		this.slope = growth - 1;
		this.field = field;
	}

	/** The integral of 1/h² over the part of a cell that lies in the region; negative where it must be cut further. */
	integral(cell: Cell, half: number, isLast: boolean): number {
		const { size, slope, field, grown, cutReach, smallHalf } = this;
		const h = this.at(cell.x, cell.y);
		const area = 4 * half * half;
		const reach = Math.SQRT2 * half;
		/** Whether nothing but the size of the region counts. */
		const most = size + slope * reach;
		const isConstant = !field && h === size && grown.smallest(cell.x, cell.y, most) >= most;
		if (cell.lastEdge > cell.firstEdge) {
			const isFine = reach <= cutReach * h || (isConstant && half <= smallHalf);
			return !isFine && !isLast ? -1 : cell.isInside ? area / (h * h) : 0;
		}
		if (isConstant) return area / (h * h);
		// Smaller in a corner than in the middle it needs no look at the corners to be told too large.
		if (!isLast && !field && h < size && slope * reach > mostReach * h) return -1;
		// The integral of a quadratic over a square, from its middle and its corners.
		let low = h;
		let high = h;
		let sum = 8 / (h * h);
		for (let k = 0; k < 4; k++) {
			const corner = this.at(cell.x + (k & 1 ? half : -half), cell.y + (k & 2 ? half : -half));
			low = Math.min(low, corner);
			high = Math.max(high, corner);
			sum += 1 / (corner * corner);
		}
		const isFine = slope * reach <= mostReach * low || (high === low && half <= smallHalf);
		return (high - low <= mostVariation * low && isFine) || isLast ? (sum / 12) * area : -1;
	}

	private at(px: number, py: number): number {
		return this.grown.smallest(px, py, sizeOrField(this.size, this.field, px, py));
	}
}

/** An even grid of squares, perSide by perSide, from its corner at the left and low. */
interface StartGrid {
	left: number;
	low: number;
	half: number;
	perSide: number;
	/** 1 where an odd number of edges crosses the line of centres between the centre of a cell and the one before. */
	crossed: Uint8Array;
	/** Cells and the edges in them, in pairs. */
	cells: Uint32List;
	edges: Uint32List;
}

const cellAt = ({ half, perSide }: StartGrid, way: number) => Math.min(perSide - 1, Math.max(0, Math.floor(way / (2 * half))));

/**
 * The cells of an even grid over a square that lie in the region or have an edge in them, with the edges that each is to look at.
 * Whether a centre lies inside follows row by row from the edges that the line of centres crosses to its left.
 */
function firstLevel(
	input: FillInput,
	rootX: number,
	rootY: number,
	rootHalf: number,
	perSide: number
): { level: Cell[]; crossing: Int32Array } {
	const [left, low, half] = [rootX - rootHalf, rootY - rootHalf, rootHalf / perSide];
	const { length } = input.edges;
	const grid: StartGrid = {
		left,
		low,
		half,
		perSide,
		crossed: new Uint8Array(perSide * perSide),
		cells: new Uint32List(length),
		edges: new Uint32List(length)
	};
	for (let k = 0; k < length; k += 2) putEdge(grid, input, k);
	const { crossed } = grid;
	const [cells, edges] = [grid.cells.taken(), grid.edges.taken()];
	const first = new Uint32Array(crossed.length + 1);
	for (let n = 0; n < cells.length; n++) first[cells[n]! + 1]!++;
	for (let cell = 0; cell < crossed.length; cell++) first[cell + 1]! += first[cell]!;
	const crossing = new Int32Array(cells.length);
	const filled = first.slice(0, crossed.length);
	for (let n = 0; n < cells.length; n++) crossing[filled[cells[n]!]!++] = edges[n]!;
	const level: Cell[] = [];
	let isInside = false;
	for (let cell = 0; cell < crossed.length; cell++) {
		if (cell % perSide === 0) isInside = false;
		if (crossed[cell]) isInside = !isInside;
		const [firstEdge, lastEdge] = [first[cell]!, first[cell + 1]!];
		if (!isInside && lastEdge === firstEdge) continue;
		const [column, row] = [cell % perSide, Math.floor(cell / perSide)];
		level.push({ x: left + (2 * column + 1) * half, y: low + (2 * row + 1) * half, isInside, firstEdge, lastEdge });
	}
	return { level, crossing };
}

/** Puts an edge in the cells that it has a part in, and notes the lines of centres that it crosses: at the first centre to the right of it. */
function putEdge(grid: StartGrid, input: FillInput, k: number): void {
	const { x, y, edges } = input;
	const { left, low, half, perSide, crossed } = grid;
	const [ax, ay, bx, by] = [x[edges[k]!]!, y[edges[k]!]!, x[edges[k + 1]!]!, y[edges[k + 1]!]!];
	const [minX, maxX, minY, maxY] = [Math.min(ax, bx), Math.max(ax, bx), Math.min(ay, by), Math.max(ay, by)];
	// Wider than the rounding of where an edge leaves a cell.
	const slack = 0.01 * half;
	const [firstRow, lastRow] = [cellAt(grid, minY - low - slack), cellAt(grid, maxY - low + slack)];
	const firstColumn = cellAt(grid, minX - left - slack);
	const isInOne = firstRow === lastRow && firstColumn === cellAt(grid, maxX - left + slack);
	for (let row = firstRow; row <= lastRow; row++) {
		const centreY = low + (2 * row + 1) * half;
		if (ay > centreY !== by > centreY) {
			const at = ax + ((centreY - ay) * (bx - ax)) / (by - ay);
			let column = cellAt(grid, at - left);
			if (left + (2 * column + 1) * half <= at) column++;
			if (column < perSide) crossed[row * perSide + column]! ^= 1;
		}
		if (isInOne) {
			grid.cells.push(row * perSide + firstColumn);
			grid.edges.push(k);
			return;
		}
		// What of it lies in the row, and a little more.
		const from = Math.max(low + 2 * half * row - slack, minY);
		const to = Math.min(low + 2 * half * (row + 1) + slack, maxY);
		const u = ay === by ? ax : ax + ((from - ay) * (bx - ax)) / (by - ay);
		const v = ay === by ? bx : ax + ((to - ay) * (bx - ax)) / (by - ay);
		const lastColumn = cellAt(grid, Math.max(u, v) - left + slack);
		for (let column = cellAt(grid, Math.min(u, v) - left - slack); column <= lastColumn; column++) {
			if (!meets(input, k, left + (2 * column + 1) * half, centreY, half)) continue;
			grid.cells.push(row * perSide + column);
			grid.edges.push(k);
		}
	}
}

/**
 * The same where sizes reach that of the region right beside its edges: its area over the square of the size, and along each edge what
 * is finer there, ∫ (1/(s + slope t)² − 1/h²) dt.
 */
function nearlyEven(input: FillInput, h: number, slope: number, sizes: Float64Array): number {
	const { x, y, edges } = input;
	let finer = 0;
	for (let k = 0; k < edges.length; k += 2) {
		const a = edges[k]!;
		const b = edges[k + 1]!;
		const s = (sizes[a]! + sizes[b]!) / 2;
		if (s < h) finer += (hypot(x[b]! - x[a]!, y[b]! - y[a]!) * square(h - s)) / (slope * s * h * h);
	}
	return (4 / Math.sqrt(3)) * Math.max(0, enclosedArea(input) / (h * h) + finer);
}

/** Whether edges are crossed an odd number of times on the straight way from the centre of a cell to a place. */
function crosses(
	{ x, y, edges }: FillInput,
	crossing: Int32Array,
	cell: Omit<Cell, 'isInside'>,
	bx: number,
	by: number
): boolean {
	const { x: ax, y: ay } = cell;
	const dx = bx - ax;
	const dy = by - ay;
	let odd = false;
	for (let n = cell.firstEdge; n < cell.lastEdge; n++) {
		const p = edges[crossing[n]!]!;
		const q = edges[crossing[n]! + 1]!;
		const sp = dx * (y[p]! - ay) - dy * (x[p]! - ax);
		const sq = dx * (y[q]! - ay) - dy * (x[q]! - ax);
		if (sp > 0 === sq > 0) continue;
		const ux = x[q]! - x[p]!;
		const uy = y[q]! - y[p]!;
		const sa = ux * (ay - y[p]!) - uy * (ax - x[p]!);
		const sb = ux * (by - y[p]!) - uy * (bx - x[p]!);
		if (sa > 0 !== sb > 0) odd = !odd;
	}
	return odd;
}

/** Whether an edge and a square have a point in common (separating axes). */
function meets({ x, y, edges }: FillInput, k: number, cx: number, cy: number, half: number): boolean {
	const a = edges[k]!;
	const b = edges[k + 1]!;
	const px = x[a]! - cx;
	const py = y[a]! - cy;
	const qx = x[b]! - cx;
	const qy = y[b]! - cy;
	if (Math.min(px, qx) > half || Math.max(px, qx) < -half || Math.min(py, qy) > half || Math.max(py, qy) < -half) return false;
	const dx = qx - px;
	const dy = qy - py;
	return Math.abs(px * dy - py * dx) <= half * (Math.abs(dx) + Math.abs(dy));
}

const nothing: FillInput = { x: Float64Array.of(0.5), y: Float64Array.of(0.5), edges: new Uint32Array() };
const noSizes = new CellSizes(
	{ size: 0.5, growth: 1.2 },
	new SizeTree(nothing.x, nothing.y, nothing.x, 0.5, new Int32Array(1), tolerance),
	0.5,
	0.5
);
keepHiddenClass(noSizes);
keepHiddenClass(new Levels(nothing, noSizes, [], new Int32Array(0)));
