import { hypot } from '../../numeric/elementary.ts';
import { stretchToEnds } from '../../numeric/stretching.ts';

/** Nodes of a block as a grid: n + 1 by m + 1, row by row from side 0; rows run along side 0. */
export interface Grid {
	n: number;
	m: number;
	x: Float64Array;
	y: Float64Array;
}

/**
 * Moves the inner nodes along the lines that leave a wall so that the cell at the wall has the
 * height that its two neighbours at the ends of the wall have, whatever the length of the line:
 * the fractions along every line are stretched by the function of Vinokur (1983), whose slopes at
 * the ends are corrected until the heights are met.
 *
 * @param low, high whether the lines start (rows 0 and 1) and end (rows m − 1 and m) at such a wall
 */
export function keepWallHeights({ n, m, x, y }: Grid, low: boolean, high: boolean): void {
	if ((!low && !high) || m < 3 || n < 2) return;
	const at = (i: number, j: number) => j * (n + 1) + i;
	const step = (i: number, j: number) => hypot(x[at(i, j + 1)]! - x[at(i, j)]!, y[at(i, j + 1)]! - y[at(i, j)]!);
	const ends = [step(0, 0), step(n, 0), step(0, m - 1), step(n, m - 1)] as const;
	// How far along the wall a line stands blends the heights of its ends.
	const share = (j: number) => {
		const sum = new Float64Array(n + 1);
		for (let i = 1; i <= n; i++) sum[i] = sum[i - 1]! + hypot(x[at(i, j)]! - x[at(i - 1, j)]!, y[at(i, j)]! - y[at(i - 1, j)]!);
		return sum.map((s) => s / sum[n]!);
	};
	const [shareLow, shareHigh] = [share(0), share(m)];
	for (let i = 1; i < n; i++) {
		const line = Array.from({ length: m + 1 }, (_, j) => at(i, j));
		const [px, py] = [line.map((k) => x[k]!), line.map((k) => y[k]!)];
		const first = low ? (1 - shareLow[i]!) * ends[0] + shareLow[i]! * ends[1] : step(i, 0);
		const last = high ? (1 - shareHigh[i]!) * ends[2] + shareHigh[i]! * ends[3] : step(i, m - 1);
		const moved = stretchLine(px, py, first, last);
		if (!moved) continue;
		for (let j = 1; j < m; j++) {
			x[line[j]!] = moved.x[j]!;
			y[line[j]!] = moved.y[j]!;
		}
	}
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
