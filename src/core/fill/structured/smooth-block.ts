import { hypot } from '../../numeric/elementary.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';
import { gridNode } from './transfinite.ts';

/** So many nodes move between one look outside and the next. */
const breath = 500_000;

/**
 * Smooths one block by the elliptic equations of {@link smoothQuads}, row by row: a row is moved
 * from the place of the row before it in this sweep and of itself and the next in the last, so that
 * no node waits for its neighbour.
 *
 * @param x, y one per node; changed in place
 * @param sides the nodes of the four sides, counter-clockwise, each from corner to corner
 * @param given the number of the first inner node; they follow one another as the interpolation numbers them
 * @param controlled whether the spacing of the block as it is shall be kept
 */
export function* smoothBlock(
	x: Float64Array,
	y: Float64Array,
	sides: readonly [Uint32Array, Uint32Array, Uint32Array, Uint32Array],
	given: number,
	sweeps: number,
	controlled: boolean
): Work<void> {
	const [bottom, right] = sides;
	const n = bottom.length - 1;
	const m = right.length - 1;
	if (n < 2 || m < 2) return;
	// Phase 1: the nodes as a grid, row by row from side 0.
	const width = n + 1;
	const node = gridNode(bottom, right, sides[2].slice().reverse(), sides[3].slice().reverse(), given);
	const gx = new Float64Array(width * (m + 1));
	const gy = new Float64Array(gx.length);
	const take = (i: number, j: number) => {
		const p = node(i, j);
		gx[j * width + i] = x[p]!;
		gy[j * width + i] = y[p]!;
	};
	for (let i = 0; i <= n; i++) for (const j of [0, m]) take(i, j);
	for (let j = 1; j < m; j++) {
		for (const i of [0, n]) take(i, j);
		const first = given + (j - 1) * (n - 1);
		gx.set(x.subarray(first, first + n - 1), j * width + 1);
		gy.set(y.subarray(first, first + n - 1), j * width + 1);
	}
	// Phase 2: control functions, one pair a node, halved.
	const control = new Float64Array(2 * gx.length);
	yield 0;
	if (controlled) {
		const below = new Float64Array(width);
		for (let i = 1; i < n; i++) below[i] = lengthBetween(gx, gy, i, width + i);
		const rows = Math.max(1, Math.round(breath / (5 * width)));
		yield* part(
			inStretches(m, rows, (from, to) => putControl(gx, gy, control, below, Math.max(1, from), to)),
			0,
			0
		);
	}
	// Phase 3: sweeps.
	// All sweeps go through the rows together, each two rows behind the one before it, while those are in the cache.
	const last = m + 2 * (sweeps - 1);
	let moved = 0;
	for (let first = 1; first < last; first++) {
		for (let j = first, sweep = 0; j > 0 && sweep < sweeps; j -= 2, sweep++) {
			if (j >= m) continue;
			sweepRow(gx, gy, control, j * width, width, n);
			moved += n;
		}
		if (moved < breath) continue;
		moved = 0;
		yield first / last;
	}
	// Phase 4: back to the nodes.
	for (let j = 1; j < m; j++) {
		const first = given + (j - 1) * (n - 1);
		x.set(gx.subarray(j * width + 1, j * width + n), first);
		y.set(gy.subarray(j * width + 1, j * width + n), first);
	}
}

/**
 * Moves the inner nodes of one row. Of the columns before and at the node is kept what the next step needs, as it was before
 * the node moved: its place, and the way from the node below to the one above.
 */
function sweepRow(gx: Float64Array, gy: Float64Array, control: Float64Array, row: number, width: number, n: number): void {
	let wX = gx[row]!;
	let wY = gy[row]!;
	let upWX = gx[row + width]! - gx[row - width]!;
	let upWY = gy[row + width]! - gy[row - width]!;
	let pX = gx[row + 1]!;
	let pY = gy[row + 1]!;
	let upX = gx[row + width + 1]! - gx[row - width + 1]!;
	let upY = gy[row + width + 1]! - gy[row - width + 1]!;
	let sumX = gx[row + width + 1]! + gx[row - width + 1]!;
	let sumY = gy[row + width + 1]! + gy[row - width + 1]!;
	const end = row + n;
	for (let k = row + 1; k < end; k++) {
		const seX = gx[k - width + 1]!;
		const seY = gy[k - width + 1]!;
		const neX = gx[k + width + 1]!;
		const neY = gy[k + width + 1]!;
		const eX = gx[k + 1]!;
		const eY = gy[k + 1]!;
		const upEX = neX - seX;
		const upEY = neY - seY;
		const xXi = eX - wX;
		const yXi = eY - wY;
		const alpha = upX * upX + upY * upY;
		const gamma = xXi * xXi + yXi * yXi;
		const whole = 2 * (alpha + gamma);
		if (whole > 0) {
			const share = 1 / whole;
			const beta = 0.5 * (xXi * upX + yXi * upY);
			const f = alpha * control[2 * k]!;
			const g = gamma * control[2 * k + 1]!;
			gx[k] = share * (alpha * (eX + wX) + gamma * sumX - beta * (upEX - upWX) + f * xXi + g * upX);
			gy[k] = share * (alpha * (eY + wY) + gamma * sumY - beta * (upEY - upWY) + f * yXi + g * upY);
		}
		wX = pX;
		wY = pY;
		pX = eX;
		pY = eY;
		upWX = upX;
		upWY = upY;
		upX = upEX;
		upY = upEY;
		sumX = neX + seX;
		sumY = neY + seY;
	}
}

/**
 * Puts the control functions of the inner nodes of some rows in their places, halved; every length is worked out once.
 *
 * @param below the lengths from the nodes of the row before the first to those of it; then those behind the last
 */
function putControl(
	gx: Float64Array,
	gy: Float64Array,
	control: Float64Array,
	below: Float64Array,
	first: number,
	last: number
): void {
	const width = below.length;
	const n = width - 1;
	for (let j = first; j < last; j++) {
		let before = lengthBetween(gx, gy, j * width, j * width + 1);
		for (let i = 1, k = j * width + 1; i < n; i++, k++) {
			const after = lengthBetween(gx, gy, k, k + 1);
			const above = lengthBetween(gx, gy, k, k + width);
			control[2 * k] = 0.5 * stretchOf(after, before);
			control[2 * k + 1] = 0.5 * stretchOf(above, below[i]!);
			before = after;
			below[i] = above;
		}
	}
}

const lengthBetween = (gx: Float64Array, gy: Float64Array, p: number, q: number): number =>
	hypot(gx[q]! - gx[p]!, gy[q]! - gy[p]!);

/** The control function along a line of three nodes: what keeps the middle one where it is, between −1.9 and 1.9. */
export const stretch = (x: Float64Array, y: Float64Array, behind: number, p: number, ahead: number): number =>
	stretchOf(hypot(x[ahead]! - x[p]!, y[ahead]! - y[p]!), hypot(x[p]! - x[behind]!, y[p]! - y[behind]!));

/** The same from the lengths ahead of the middle one and behind it. */
const stretchOf = (a: number, b: number): number => (a + b > 0 ? Math.max(-1.9, Math.min(1.9, (-2 * (a - b)) / (a + b))) : 0);
