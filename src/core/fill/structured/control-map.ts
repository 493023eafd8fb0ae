import { mapped } from '../../text/typed.ts';
import { choleskySolve } from '../../numeric/cholesky.ts';
import { hypot } from '../../numeric/elementary.ts';
import { monotoneCubic } from '../../numeric/monotone.ts';
import type { BlockNodes } from './walls.ts';

/** So many columns and rows are looked at, at most: the map is smooth, and the grid is finer than it. */
const mostColumns = 160;
const mostRows = 48;

/**
 * Slides the inner nodes of a grid along its rows so that its lines leave rows 0 and m at right angles, by the control map
 * of S. P. Spekreijse, J. Comp. Phys. 118 (1995): a harmonic function s that is 0 on the first line and 1 on the last and
 * whose slope across both rows is nothing has level lines that meet them squarely. Where these lines end tells which s every node of a
 * row has; between the rows it goes over from the one to the other as t²(3 − 2t), so that lines still leave along
 * level lines. As s rises along every row, no two lines meet.
 *
 * s is found on at most 160 × 48 cells of the grid, linear in triangles (the mean of both ways to halve every cell), by a
 * banded Cholesky factorisation.
 *
 * @returns whether nodes were moved; they are not where a cell is folded or s does not rise along some row
 */
export function slideToNormals(grid: BlockNodes): boolean {
	const { n, m, x, y } = grid;
	if (m < 3 || n < 2) return false;
	const columns = chosen(n, mostColumns);
	const rows = chosen(m, mostRows);
	const coarse = harmonic(grid, columns, rows);
	if (!coarse) return false;
	// Phase 1: s of every node, from the rows and columns that were looked at.
	const wide = n + 1;
	const s = new Float64Array(wide * (m + 1));
	for (let r = 0; r < rows.length; r++) {
		const along = coarse.subarray(r * columns.length, (r + 1) * columns.length);
		for (let k = 1; k < columns.length; k++) if (!(along[k]! > along[k - 1]!)) return false;
		const at = monotoneCubic(columns, along);
		for (let i = 0; i <= n; i++) s[rows[r]! * wide + i] = at(i);
		if (r === 0) continue;
		const [from, to] = [rows[r - 1]!, rows[r]!];
		for (let j = from + 1; j < to; j++) {
			const t = (j - from) / (to - from);
			for (let i = 0; i <= n; i++) s[j * wide + i] = (1 - t) * s[from * wide + i]! + t * s[to * wide + i]!;
		}
	}
	// Phase 2: every row is gone along until s is what the map asks.
	const share = sharesAcross(grid);
	const [px, py] = [new Float64Array(wide), new Float64Array(wide)];
	for (let j = 1; j < m; j++) {
		const row = j * wide;
		const t = share[j]!;
		const ease = t * t * (3 - 2 * t);
		const chord = new Float64Array(wide);
		for (let i = 1; i <= n; i++) chord[i] = chord[i - 1]! + hypot(x[row + i]! - x[row + i - 1]!, y[row + i]! - y[row + i - 1]!);
		let k = 0;
		for (let i = 1; i < n; i++) {
			const wanted = (1 - ease) * s[i]! + ease * s[m * wide + i]!;
			while (k < n - 1 && s[row + k + 1]! <= wanted) k++;
			const [low, high] = [s[row + k]!, s[row + k + 1]!];
			const along = chord[k]! + ((wanted - low) / (high - low)) * (chord[k + 1]! - chord[k]!);
			px[i] = cubicAt(x, row, chord, k, n, along);
			py[i] = cubicAt(y, row, chord, k, n, along);
		}
		x.set(px.subarray(1, n), row + 1);
		y.set(py.subarray(1, n), row + 1);
	}
	return true;
}

/** At most `most` + 1 whole numbers from 0 to n, evenly among them. */
const chosen = (n: number, most: number): number[] =>
	n <= most ? Array.from({ length: n + 1 }, (_, k) => k) : Array.from({ length: most + 1 }, (_, k) => Math.round((k * n) / most));

/** How far across the grid every row lies in the mean of all lines, from 0 to 1. */
function sharesAcross({ n, m, x, y }: BlockNodes): Float64Array {
	const mean = new Float64Array(m + 1);
	const along = new Float64Array(m + 1);
	for (let i = 0; i <= n; i++) {
		for (let j = 1; j <= m; j++) {
			const [k, before] = [j * (n + 1) + i, (j - 1) * (n + 1) + i];
			along[j] = along[j - 1]! + hypot(x[k]! - x[before]!, y[k]! - y[before]!);
		}
		for (let j = 1; j <= m; j++) mean[j]! += along[j]! / along[m]! / (n + 1);
	}
	return mean;
}

/** The cubic through the four nodes of a row around the stretch from k, at a chord length. */
function cubicAt(v: Float64Array, row: number, chord: Float64Array, k: number, n: number, at: number): number {
	const from = Math.max(0, Math.min(n - 3, k - 1));
	const count = Math.min(4, n + 1);
	let sum = 0;
	for (let a = from; a < from + count; a++) {
		let weight = 1;
		for (let b = from; b < from + count; b++) if (b !== a) weight *= (at - chord[b]!) / (chord[a]! - chord[b]!);
		sum += weight * v[row + a]!;
	}
	return sum;
}

/** The harmonic function on the chosen nodes, row by row; undefined where a cell is folded. */
function harmonic({ n, x, y }: BlockNodes, columns: readonly number[], rows: readonly number[]): Float64Array | undefined {
	const [wide, high] = [columns.length, rows.length];
	const inner = wide - 2;
	const node = (c: number, r: number) => rows[r]! * (n + 1) + columns[c]!;
	// Unknowns stand column by column, so that the band is as narrow as a column is high.
	const band = high + 1;
	const size = inner * high;
	const matrix = new Float64Array(size * (band + 1));
	const right = new Float64Array(size);
	/** Adds what one pair of corners of a triangle shares. */
	const add = (ca: number, ra: number, cb: number, rb: number, value: number) => {
		if (ca === 0 || ca > inner) return;
		const a = (ca - 1) * high + ra;
		if (cb > inner) right[a]! -= value;
		else if (cb > 0) {
			const b = (cb - 1) * high + rb;
			if (b <= a) matrix[a * (band + 1) + band + b - a]! += value;
		}
	};
	for (let c = 0; c + 1 < wide; c++)
		for (let r = 0; r + 1 < high; r++) {
			const corners = [
				[c, r],
				[c + 1, r],
				[c + 1, r + 1],
				[c, r + 1]
			] as const;
			for (let k = 0; k < 4; k++) {
				const three = [corners[k]!, corners[(k + 1) & 3]!, corners[(k + 2) & 3]!] as const;
				const [p, q, o] = mapped(three, ([a, b]) => node(a, b));
				const area = (x[q]! - x[p]!) * (y[o]! - y[p]!) - (x[o]! - x[p]!) * (y[q]! - y[p]!);
				if (area === 0) return undefined;
				// A corner's gradient is square to the edge that it faces.
				const ex = [x[o]! - x[q]!, x[p]! - x[o]!, x[q]! - x[p]!];
				const ey = [y[o]! - y[q]!, y[p]! - y[o]!, y[q]! - y[p]!];
				for (let a = 0; a < 3; a++)
					for (let b = 0; b < 3; b++) add(...three[a]!, ...three[b]!, (ex[a]! * ex[b]! + ey[a]! * ey[b]!) / (4 * Math.abs(area)));
			}
		}
	if (!choleskySolve(matrix, size, band, right)) return undefined;
	const out = new Float64Array(wide * high);
	for (let r = 0; r < high; r++) {
		out[r * wide + wide - 1] = 1;
		for (let c = 1; c <= inner; c++) out[r * wide + c] = right[(c - 1) * high + r]!;
	}
	return out;
}
