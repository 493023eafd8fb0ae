import { hypot, square } from '../../numeric/elementary.ts';
import type { FillInput } from '../method.ts';
import { lengthened } from '../../numeric/lengthened.ts';
import type { Work } from '../../numeric/work.ts';
import { boxOf, enclosedArea } from './constrained.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
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
/** So many cells, and edges in them, are looked at between one look outside and the next. */
const breath = 20_000;
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
		const own = ends[i]! > 0 ? Math.min(size, sum[i]! / ends[i]!) : size;
		sum[i] = field ? Math.min(own, field(x[i]!, y[i]!)) : own;
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
		for (const own of sizes) if (own < finest) finest = own;
		if (finest >= size * Math.max(0.5, 1 - grownWithin * slope)) return nearlyEven(input, size, slope, sizes);
	}
	const [minX, minY, maxX, maxY] = boxOf(x, y);
	// Off the middle, so that no centre of a cell lies on a line of symmetry.
	const rootHalf = 0.5123 * Math.max(maxX - minX, maxY - minY);
	const [rootX, rootY] = [(minX + maxX) / 2 + 0.00717 * rootHalf, (minY + maxY) / 2 - 0.00431 * rootHalf];
	const finer = Int32Array.from(x.keys()).filter((i) => sizes[i]! < size);
	const grown = new SizeTree(x, y, sizes, slope, finer, tolerance);
	yield 0;
	/** Edges that the cells of a level look at, one cell after the other. */
	let crossing = Int32Array.from({ length: edges.length / 2 }, (_, k) => 2 * k);
	let nextCrossing = new Int32Array(2 * edges.length);
	const root = { x: rootX, y: rootY, firstEdge: 0, lastEdge: crossing.length };
	// Outside of the box there is only the outside; the way in from there tells of the first centre.
	const isInside = crosses(input, crossing, root, rootX + 3 * rootHalf, rootY + 0.123 * rootHalf);

	const cutReach = boundaryReach(edges.length / 2);
	const mostCells = Math.max(leastBudget, 4 * x.length);
	let sum = 0;
	let looked = 0;
	let level: Cell[] = [{ ...root, isInside }];
	for (let half = rootHalf; level.length > 0; half /= 2) {
		const quarters: Cell[] = [];
		let edgeCount = 0;
		const isLast = level.length > mostCells;
		for (const cell of level) {
			looked += 1 + cell.lastEdge - cell.firstEdge;
			if (looked > breath) {
				looked = 0;
				yield 0;
			}
			const own = integral(cell, half, isLast);
			if (own >= 0) {
				sum += own;
				continue;
			}
			for (let k = 0; k < 4; k++) {
				const [qx, qy] = [cell.x + (k & 1 ? half / 2 : -half / 2), cell.y + (k & 2 ? half / 2 : -half / 2)];
				const firstEdge = edgeCount;
				if (nextCrossing.length < edgeCount + cell.lastEdge - cell.firstEdge)
					nextCrossing = lengthened(nextCrossing, 2 * (edgeCount + cell.lastEdge - cell.firstEdge));
				for (let n = cell.firstEdge; n < cell.lastEdge; n++)
					if (meets(input, crossing[n]!, qx, qy, half / 2)) nextCrossing[edgeCount++] = crossing[n]!;
				const isQuarterInside = cell.isInside !== crosses(input, crossing, cell, qx, qy);
				if (isQuarterInside || edgeCount > firstEdge)
					quarters.push({ x: qx, y: qy, isInside: isQuarterInside, firstEdge, lastEdge: edgeCount });
			}
		}
		level = quarters;
		[crossing, nextCrossing] = [nextCrossing, crossing];
	}
	return (4 / Math.sqrt(3)) * sum;

	/** The integral of 1/h² over the part of a cell that lies in the region; negative where it must be cut further. */
	function integral(cell: Cell, half: number, isLast: boolean): number {
		const h = sizeAt(cell.x, cell.y);
		const area = 4 * half * half;
		const reach = Math.SQRT2 * half;
		/** Whether nothing but the size of the region counts. */
		const most = size + slope * reach;
		const isConstant = !field && h === size && grown.smallest(cell.x, cell.y, most) >= most;
		if (cell.lastEdge > cell.firstEdge) {
			const isFine = reach <= cutReach * h || (isConstant && half <= smallPart * rootHalf);
			return !isFine && !isLast ? -1 : cell.isInside ? area / (h * h) : 0;
		}
		if (isConstant) return area / (h * h);
		// The integral of a quadratic over a square, from its middle and its corners.
		let [low, high, sum] = [h, h, 8 / (h * h)];
		for (let k = 0; k < 4; k++) {
			const own = sizeAt(cell.x + (k & 1 ? half : -half), cell.y + (k & 2 ? half : -half));
			low = Math.min(low, own);
			high = Math.max(high, own);
			sum += 1 / (own * own);
		}
		const isFine = slope * reach <= mostReach * low || (high === low && half <= smallPart * rootHalf);
		return (high - low <= mostVariation * low && isFine) || isLast ? (sum / 12) * area : -1;
	}

	function sizeAt(px: number, py: number): number {
		return grown.smallest(px, py, field ? Math.min(size, field(px, py)) : size);
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
	const [dx, dy] = [bx - ax, by - ay];
	let odd = false;
	for (let n = cell.firstEdge; n < cell.lastEdge; n++) {
		const p = edges[crossing[n]!]!;
		const q = edges[crossing[n]! + 1]!;
		const sp = dx * (y[p]! - ay) - dy * (x[p]! - ax);
		const sq = dx * (y[q]! - ay) - dy * (x[q]! - ax);
		if (sp > 0 === sq > 0) continue;
		const [ux, uy] = [x[q]! - x[p]!, y[q]! - y[p]!];
		const [sa, sb] = [ux * (ay - y[p]!) - uy * (ax - x[p]!), ux * (by - y[p]!) - uy * (bx - x[p]!)];
		if (sa > 0 !== sb > 0) odd = !odd;
	}
	return odd;
}

/** Whether an edge and a square have a point in common (separating axes). */
function meets({ x, y, edges }: FillInput, k: number, cx: number, cy: number, half: number): boolean {
	const [px, py] = [x[edges[k]!]! - cx, y[edges[k]!]! - cy];
	const [qx, qy] = [x[edges[k + 1]!]! - cx, y[edges[k + 1]!]! - cy];
	if (Math.min(px, qx) > half || Math.max(px, qx) < -half || Math.min(py, qy) > half || Math.max(py, qy) < -half) return false;
	const [dx, dy] = [qx - px, qy - py];
	return Math.abs(px * dy - py * dx) <= half * (Math.abs(dx) + Math.abs(dy));
}
