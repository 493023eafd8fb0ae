import { hypot } from '../../numeric/elementary.ts';
import { gridNode } from './transfinite.ts';

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
export function smoothBlock(
	x: Float64Array,
	y: Float64Array,
	sides: readonly [Uint32Array, Uint32Array, Uint32Array, Uint32Array],
	given: number,
	sweeps: number,
	controlled: boolean
): void {
	const [bottom, right] = sides;
	const n = bottom.length - 1;
	const m = right.length - 1;
	if (n < 2 || m < 2) return;
	// Phase 1: the nodes as a grid, row by row from side 0.
	const width = n + 1;
	const node = gridNode(bottom, right, sides[2].slice().reverse(), sides[3].slice().reverse(), given);
	const gx = new Float64Array(width * (m + 1));
	const gy = new Float64Array(gx.length);
	for (let j = 0; j <= m; j++)
		for (let i = 0; i <= n; i++) {
			const p = node(i, j);
			gx[j * width + i] = x[p]!;
			gy[j * width + i] = y[p]!;
		}
	// Phase 2: control functions, one pair a node.
	const control = new Float64Array(2 * gx.length);
	if (controlled)
		for (let j = 1; j < m; j++)
			for (let i = 1; i < n; i++) {
				const k = j * width + i;
				control[2 * k] = stretch(gx, gy, k - 1, k, k + 1);
				control[2 * k + 1] = stretch(gx, gy, k - width, k, k + width);
			}
	// Phase 3: sweeps.
	const rowX = new Float64Array(width);
	const rowY = new Float64Array(width);
	for (let sweep = 0; sweep < sweeps; sweep++)
		for (let j = 1; j < m; j++) {
			const row = j * width;
			sweepRow(gx, gy, control, row, width, n, rowX, rowY);
			for (let i = 1; i < n; i++) {
				gx[row + i] = rowX[i]!;
				gy[row + i] = rowY[i]!;
			}
		}
	// Phase 4: back to the nodes.
	for (let j = 1; j < m; j++) {
		const first = given + (j - 1) * (n - 1);
		x.set(gx.subarray(j * width + 1, j * width + n), first);
		y.set(gy.subarray(j * width + 1, j * width + n), first);
	}
}

/** The new places of the inner nodes of one row; the columns before and at the node are kept from step to step. */
function sweepRow(
	gx: Float64Array,
	gy: Float64Array,
	control: Float64Array,
	row: number,
	width: number,
	n: number,
	rowX: Float64Array,
	rowY: Float64Array
): void {
	let swX = gx[row - width]!;
	let wX = gx[row]!;
	let nwX = gx[row + width]!;
	let swY = gy[row - width]!;
	let wY = gy[row]!;
	let nwY = gy[row + width]!;
	let sX = gx[row - width + 1]!;
	let pX = gx[row + 1]!;
	let nX = gx[row + width + 1]!;
	let sY = gy[row - width + 1]!;
	let pY = gy[row + 1]!;
	let nY = gy[row + width + 1]!;
	for (let i = 1; i < n; i++) {
		const k = row + i;
		const seX = gx[k - width + 1]!;
		const eX = gx[k + 1]!;
		const neX = gx[k + width + 1]!;
		const seY = gy[k - width + 1]!;
		const eY = gy[k + 1]!;
		const neY = gy[k + width + 1]!;
		const xXi = eX - wX;
		const yXi = eY - wY;
		const xEta = nX - sX;
		const yEta = nY - sY;
		const alpha = xEta * xEta + yEta * yEta;
		const gamma = xXi * xXi + yXi * yXi;
		const whole = 2 * (alpha + gamma);
		if (whole > 0) {
			const beta = 0.5 * (xXi * xEta + yXi * yEta);
			const f = 0.5 * alpha * control[2 * k]!;
			const g = 0.5 * gamma * control[2 * k + 1]!;
			const share = 1 / whole;
			rowX[i] = share * (alpha * (eX + wX) + gamma * (nX + sX) - beta * (neX - nwX + swX - seX) + f * xXi + g * xEta);
			rowY[i] = share * (alpha * (eY + wY) + gamma * (nY + sY) - beta * (neY - nwY + swY - seY) + f * yXi + g * yEta);
		} else {
			rowX[i] = pX;
			rowY[i] = pY;
		}
		swX = sX;
		wX = pX;
		nwX = nX;
		sX = seX;
		pX = eX;
		nX = neX;
		swY = sY;
		wY = pY;
		nwY = nY;
		sY = seY;
		pY = eY;
		nY = neY;
	}
}

/** The control function along a line of three nodes: what keeps the middle one where it is, between −1.9 and 1.9. */
export function stretch(x: Float64Array, y: Float64Array, behind: number, p: number, ahead: number): number {
	const a = hypot(x[ahead]! - x[p]!, y[ahead]! - y[p]!);
	const b = hypot(x[p]! - x[behind]!, y[p]! - y[behind]!);
	if (!(a + b > 0)) return 0;
	return Math.max(-1.9, Math.min(1.9, (-2 * (a - b)) / (a + b)));
}
