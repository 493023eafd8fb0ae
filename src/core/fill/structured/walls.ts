import { acos, hypot } from '../../numeric/elementary.ts';
import type { SideHeights } from '../node-layout.ts';
import { stretchToEnds } from '../../numeric/stretching.ts';

/** Nodes of a block as a grid: n + 1 by m + 1, row by row from side 0; rows run along side 0. */
export interface BlockNodes {
	n: number;
	m: number;
	x: Float64Array;
	y: Float64Array;
}

/** What the cells at one wall of a block came to. */
export interface WallFigures {
	/** Heights of the cells along the wall, square to it, over the height asked for. */
	min: number;
	mean: number;
	max: number;
	/** How far the lines lean off the normal of the wall, in degrees: the mean, and the most. */
	meanLean: number;
	maxLean: number;
}

/** A grid seen from one of its rows: how to step from it inward. */
interface WallView {
	at: (i: number, j: number) => number;
	n: number;
	m: number;
}

const viewFrom = ({ n, m }: BlockNodes, isLow: boolean): WallView => ({
	n,
	m,
	at: (i, j) => (isLow ? j : m - j) * (n + 1) + i
});

/** The unit normal of the wall at node i, into the grid, of the parabola through it and its neighbours. */
function normalAt({ x, y }: BlockNodes, { at, n }: WallView, i: number): { x: number; y: number } {
	const k = Math.min(n - 1, Math.max(1, i));
	const [a, b, c] = [at(k - 1, 0), at(k, 0), at(k + 1, 0)];
	const [back, ahead] = [hypot(x[b]! - x[a]!, y[b]! - y[a]!), hypot(x[c]! - x[b]!, y[c]! - y[b]!)];
	const [ux, uy] = [(x[b]! - x[a]!) / back, (y[b]! - y[a]!) / back];
	const [vx, vy] = [(x[c]! - x[b]!) / ahead, (y[c]! - y[b]!) / ahead];
	// The slopes of the two chords stand at their middles; at the node itself they are weighted by the other's length.
	const share = i < k ? -back / (back + ahead) : i > k ? 1 + ahead / (back + ahead) : back / (back + ahead);
	const [tx, ty] = [ux + share * (vx - ux), uy + share * (vy - uy)];
	const length = hypot(tx, ty) || 1;
	const [nx, ny] = [-ty / length, tx / length];
	const inward = (x[at(i, 1)]! - x[at(i, 0)]!) * nx + (y[at(i, 1)]! - y[at(i, 0)]!) * ny;
	return inward < 0 ? { x: -nx, y: -ny } : { x: nx, y: ny };
}

/** The height of the cell at node i of the wall, square to it, and the sine of the angle between its line and the wall. */
function heightAt(grid: BlockNodes, view: WallView, i: number): { height: number; sine: number } {
	const { x, y } = grid;
	const normal = normalAt(grid, view, i);
	const [dx, dy] = [x[view.at(i, 1)]! - x[view.at(i, 0)]!, y[view.at(i, 1)]! - y[view.at(i, 0)]!];
	const height = dx * normal.x + dy * normal.y;
	return { height, sine: Math.min(1, height / (hypot(dx, dy) || 1)) };
}

/** How far along the wall each of its nodes stands, from 0 to 1. */
function sharesAlong({ x, y }: BlockNodes, { at, n }: WallView): Float64Array {
	const sum = new Float64Array(n + 1);
	for (let i = 1; i <= n; i++) sum[i] = sum[i - 1]! + hypot(x[at(i, 0)]! - x[at(i - 1, 0)]!, y[at(i, 0)]! - y[at(i - 1, 0)]!);
	return sum.map((s) => s / sum[n]!);
}

/** The height that is asked of every cell along a wall: that at its two ends, blended along it, or as it is said to vary between them. */
function heightsOf({ x, y, ...size }: BlockNodes, view: WallView, { ends, heights }: Exclude<SideHeights, false>): Float64Array {
	const shares = sharesAlong({ x, y, ...size }, view);
	const cell = (i: number) => hypot(x[view.at(i, 1)]! - x[view.at(i, 0)]!, y[view.at(i, 1)]! - y[view.at(i, 0)]!);
	const [from, to] = [ends[0] * cell(0), ends[1] * cell(view.n)];
	if (!heights) return shares.map((share) => (1 - share) * from + share * to);
	const [atStart, atEnd] = [from / heights[0]!, to / heights[view.n]!];
	return heights.map((height, i) => height * ((1 - shares[i]!) * atStart + shares[i]! * atEnd));
}

/** Lines lean off the normal by so much, as a sine, at most where a height along the line is asked for. */
const leastSine = 0.3;

/**
 * Moves the inner nodes along the lines that leave a wall so that the cell at the wall has, square to the wall, the height
 * that its two neighbours at the ends of the wall have, however the line leans and whatever its length: the fractions
 * along every line are stretched by the function of Vinokur (1983), whose slopes at the ends are corrected until the
 * heights are met.
 *
 * @param low, high whether the lines start (rows 0 and 1) and end (rows m − 1 and m) at such a wall
 */
export function keepWallHeights(grid: BlockNodes, low: SideHeights, high: SideHeights): void {
	const { n, m, x, y } = grid;
	if ((!low && !high) || m < 3 || n < 2) return;
	const [lowView, highView] = [viewFrom(grid, true), viewFrom(grid, false)];
	const asked = [low ? heightsOf(grid, lowView, low) : undefined, high ? heightsOf(grid, highView, high) : undefined];
	const cell = (view: WallView, heights: Float64Array | undefined, i: number): number => {
		if (heights) return heights[i]! / Math.max(leastSine, heightAt(grid, view, i).sine);
		return hypot(x[view.at(i, 1)]! - x[view.at(i, 0)]!, y[view.at(i, 1)]! - y[view.at(i, 0)]!);
	};
	for (let i = 1; i < n; i++) {
		const line = Array.from({ length: m + 1 }, (_, j) => lowView.at(i, j));
		// The first cell of a bent line leans a little otherwise once it is moved.
		for (let turn = 0; turn < 3; turn++) {
			const [px, py] = [line.map((k) => x[k]!), line.map((k) => y[k]!)];
			const moved = stretchLine(px, py, cell(lowView, asked[0], i), cell(highView, asked[1], i));
			if (!moved) break;
			for (let j = 1; j < m; j++) {
				x[line[j]!] = moved.x[j]!;
				y[line[j]!] = moved.y[j]!;
			}
		}
		if (asked[0]) setHeight(grid, lowView, i, asked[0][i]!);
		if (asked[1]) setHeight(grid, highView, i, asked[1][i]!);
	}
}

/** Moves the first node off the wall along its line by the little that is missing from its height. */
function setHeight(grid: BlockNodes, view: WallView, i: number, wanted: number): void {
	const { x, y } = grid;
	const factor = wanted / heightAt(grid, view, i).height;
	if (!(factor > 0.8 && factor < 1.25)) return;
	const [a, b] = [view.at(i, 0), view.at(i, 1)];
	x[b] = x[a]! + factor * (x[b]! - x[a]!);
	y[b] = y[a]! + factor * (y[b]! - y[a]!);
}

/**
 * Bends the lines so that they leave a wall along its normal, and come back to where they ran within `reach` of their
 * length. Lines near the ends of the wall, where the sides of the block lean as they are drawn, follow by and by.
 *
 * @param reach share of the length of each line, above zero
 */
export function bendToNormals(grid: BlockNodes, isLow: boolean, reach: number): void {
	const { n, m, x, y } = grid;
	if (m < 3 || n < 2) return;
	const view = viewFrom(grid, isLow);
	const { at } = view;
	const normals = Array.from({ length: n + 1 }, (_, i) => normalAt(grid, view, i));
	const wall = sharesAlong(grid, view);
	let length = 0;
	for (let i = 0; i < n; i++) length += hypot(x[at(i + 1, 0)]! - x[at(i, 0)]!, y[at(i + 1, 0)]! - y[at(i, 0)]!);
	/** How far a side of the block leans off the normal of the wall, as a tangent. */
	const leanAt = (i: number) => {
		const { sine } = heightAt(grid, view, i);
		return Math.sqrt(Math.max(0, 1 - sine * sine)) / Math.max(0.05, sine);
	};
	const leans = [leanAt(0), leanAt(n)] as const;
	for (let i = 1; i < n; i++) {
		const along = new Float64Array(m + 1);
		for (let j = 1; j <= m; j++)
			along[j] = along[j - 1]! + hypot(x[at(i, j)]! - x[at(i, j - 1)]!, y[at(i, j)]! - y[at(i, j - 1)]!);
		const most = reach * along[m]!;
		// As far from a leaning side as it leads the lines aside, twice over, it is felt no more.
		const room = (lean: number, share: number) => Math.min(1, (share * length) / (2 * lean * most + 1e-30));
		const ease = (v: number) => v * v * (3 - 2 * v);
		const share = ease(room(leans[0], wall[i]!)) * ease(room(leans[1], 1 - wall[i]!));
		const [bx, by] = [x[at(i, 0)]!, y[at(i, 0)]!];
		for (let j = 1; j < m && along[j]! < most; j++) {
			const k = at(i, j);
			const rest = 1 - along[j]! / most;
			const weight = share * rest * rest * (1 + 2 * (1 - rest));
			x[k]! += weight * (bx + along[j]! * normals[i]!.x - x[k]!);
			y[k]! += weight * (by + along[j]! * normals[i]!.y - y[k]!);
		}
	}
}

/** What the cells at a wall came to, against the height at its ends. */
export function wallFigures(grid: BlockNodes, isLow: boolean, wall: Exclude<SideHeights, false>): WallFigures {
	const view = viewFrom(grid, isLow);
	const asked = heightsOf(grid, view, wall);
	let [min, max, sum, lean, most] = [Infinity, 0, 0, 0, 0];
	for (let i = 0; i <= grid.n; i++) {
		const { height, sine } = heightAt(grid, view, i);
		const share = height / asked[i]!;
		[min, max, sum] = [Math.min(min, share), Math.max(max, share), sum + share];
		const off = (acos(Math.max(-1, Math.min(1, sine))) * 180) / Math.PI;
		[lean, most] = [lean + off, Math.max(most, off)];
	}
	const count = grid.n + 1;
	return { min, mean: sum / count, max, meanLean: lean / count, maxLean: most };
}

/**
 * Moves the inner nodes of a line of nodes along it so that its end cells are as long as asked, by
 * the stretching of {@link stretchToEnds}; undefined when they leave no room.
 */
export function stretchLine(
	px: readonly number[],
	py: readonly number[],
	first: number,
	last: number
): { x: Float64Array; y: Float64Array } | undefined {
	const m = px.length - 1;
	const along = new Float64Array(m + 1);
	for (let j = 1; j <= m; j++) along[j] = along[j - 1]! + hypot(px[j]! - px[j - 1]!, py[j]! - py[j - 1]!);
	const length = along[m]!;
	const fractions = stretched(along, first / length, last / length);
	if (!fractions) return undefined;
	const [x, y] = [Float64Array.from(px), Float64Array.from(py)];
	let k = 0;
	for (let j = 1; j < m; j++) {
		const s = fractions[j]! * length;
		while (k < m - 1 && along[k + 1]! < s) k++;
		const t = (s - along[k]!) / (along[k + 1]! - along[k]!);
		x[j] = px[k]! + t * (px[k + 1]! - px[k]!);
		y[j] = py[k]! + t * (py[k + 1]! - py[k]!);
	}
	return { x, y };
}

/** The positions of a line as fractions, stretched so that its end cells are `first` and `last` of it; undefined when they leave no room. */
function stretched(along: Float64Array, first: number, last: number): Float64Array | undefined {
	const m = along.length - 1;
	if (!(first > 0 && last > 0 && first + last < 0.9)) return undefined;
	const out = stretchToEnds(
		along.map((s) => s / along[m]!),
		first,
		last
	);
	return Math.abs(out[1]! - first) < 1e-3 * first && Math.abs(1 - out[m - 1]! - last) < 1e-3 * last ? out : undefined;
}
