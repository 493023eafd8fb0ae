import { hypot, square } from '../../numeric/elementary.ts';
import { inStretches, type Work } from '../../numeric/work.ts';
import { gridNode } from './transfinite.ts';

/** Nodes or elements visited between two yields. */
const chunkSize = 100_000;

/**
 * Smooths a quadrilateral mesh by the elliptic equations of Winslow (1966) and Thompson, Thames &
 * Mastin (1977): α(r_ξξ + φ r_ξ) − 2β r_ξη + γ(r_ηη + ψ r_η) = 0, by Gauss–Seidel sweeps. The control
 * functions φ and ψ come from the spacing that the mesh has along its lines (Thomas & Middlecoff
 * 1980), so that clustered lines stay clustered. A node where other than four quadrilaterals meet
 * goes to the mean of its neighbours.
 *
 * @param x, y one per node; changed in place
 * @param quads four nodes to a quadrilateral, counter-clockwise
 * @param fixed the nodes below this number stay
 * @param controlled whether the spacing of the mesh as it is shall be kept
 * @param around the nodes around free ones, where they are known
 */
export function* smoothQuads(
	x: Float64Array,
	y: Float64Array,
	quads: Uint32Array,
	fixed: number,
	sweeps: number,
	controlled: boolean,
	around?: Stencils
): Work<void> {
	const { regular, ring, others } = around ?? stencils(x.length, quads, fixed);
	const count = regular.length;
	const phi = new Float64Array(count);
	const psi = new Float64Array(count);
	if (controlled)
		for (let k = 0; k < count; k++) {
			const r = 8 * k;
			phi[k] = stretch(x, y, ring[r + 4]!, regular[k]!, ring[r]!);
			psi[k] = stretch(x, y, ring[r + 6]!, regular[k]!, ring[r + 2]!);
		}
	for (let sweep = 0; sweep < sweeps; sweep++) {
		yield sweep / sweeps;
		for (let k = 0; k < count; k++) {
			const r = 8 * k;
			const [e, ne, n, nw] = [ring[r]!, ring[r + 1]!, ring[r + 2]!, ring[r + 3]!];
			const [w, sw, s, se] = [ring[r + 4]!, ring[r + 5]!, ring[r + 6]!, ring[r + 7]!];
			const xXi = 0.5 * (x[e]! - x[w]!);
			const yXi = 0.5 * (y[e]! - y[w]!);
			const xEta = 0.5 * (x[n]! - x[s]!);
			const yEta = 0.5 * (y[n]! - y[s]!);
			const alpha = xEta * xEta + yEta * yEta;
			const gamma = xXi * xXi + yXi * yXi;
			const whole = 2 * (alpha + gamma);
			if (!(whole > 0)) continue;
			const beta = 0.5 * (xXi * xEta + yXi * yEta);
			const f = alpha * phi[k]!;
			const g = gamma * psi[k]!;
			const p = regular[k]!;
			x[p] =
				(alpha * (x[e]! + x[w]!) + gamma * (x[n]! + x[s]!) - beta * (x[ne]! - x[nw]! + x[sw]! - x[se]!) + f * xXi + g * xEta) /
				whole;
			y[p] =
				(alpha * (y[e]! + y[w]!) + gamma * (y[n]! + y[s]!) - beta * (y[ne]! - y[nw]! + y[sw]! - y[se]!) + f * yXi + g * yEta) /
				whole;
		}
		for (const [p, around] of others) {
			let [sx, sy] = [0, 0];
			for (const q of around) {
				sx += x[q]!;
				sy += y[q]!;
			}
			x[p] = sx / around.length;
			y[p] = sy / around.length;
		}
	}
}

/** The nodes around free nodes. */
export interface Stencils {
	/** Those with four quadrilaterals, and eight neighbours to each. */
	regular: Uint32Array;
	ring: Uint32Array;
	/** The others, with their neighbours along edges. */
	others: [number, number[]][];
}

/** For every free node with four quadrilaterals its eight neighbours, counter-clockwise from one along a line; for the others those along edges. */
export function stencils(nodes: number, quads: Uint32Array, fixed: number): Stencils {
	// Phase 1: the corners of quadrilaterals at every node.
	const first = new Uint32Array(nodes + 1);
	for (const p of quads) first[p + 1]!++;
	for (let p = 0; p < nodes; p++) first[p + 1]! += first[p]!;
	const corners = new Uint32Array(quads.length);
	const filled = first.slice(0, nodes);
	for (let c = 0; c < quads.length; c++) corners[filled[quads[c]!]!++] = c;
	const ahead = (c: number) => quads[(c & ~3) | ((c + 1) & 3)]!;
	const across = (c: number) => quads[(c & ~3) | ((c + 2) & 3)]!;
	const behind = (c: number) => quads[(c & ~3) | ((c + 3) & 3)]!;
	// Phase 2: around every free node, from quadrilateral to quadrilateral.
	const regular = new Uint32Array(Math.max(0, nodes - fixed));
	const ring = new Uint32Array(8 * regular.length);
	let count = 0;
	const others: [number, number[]][] = [];
	for (let p = fixed; p < nodes; p++) {
		const [from, to] = [first[p]!, first[p + 1]!];
		if (to - from !== 4) {
			const around = new Set<number>();
			for (let k = from; k < to; k++) around.add(ahead(corners[k]!)).add(behind(corners[k]!));
			if (around.size > 0) others.push([p, [...around]]);
			continue;
		}
		regular[count] = p;
		let c = corners[from]!;
		for (let k = 0; k < 4; k++) {
			ring[8 * count + 2 * k] = ahead(c);
			ring[8 * count + 2 * k + 1] = across(c);
			const next = behind(c);
			for (let i = from; i < to; i++)
				if (ahead(corners[i]!) === next) {
					c = corners[i]!;
					break;
				}
		}
		count++;
	}
	return { regular: regular.subarray(0, count), ring, others };
}

/** The largest ratio of neighbouring cells along the lines through free nodes with four quadrilaterals. */
export function largestGrowth(x: Float64Array, y: Float64Array, { regular, ring }: Stencils): number {
	let largest = 1;
	for (let k = 0; k < regular.length; k++) {
		const p = regular[k]!;
		const px = x[p]!;
		const py = y[p]!;
		for (let side = 8 * k; side < 8 * k + 4; side += 2) {
			const q = ring[side]!;
			const r = ring[side + 4]!;
			const a = square(x[q]! - px) + square(y[q]! - py);
			const b = square(x[r]! - px) + square(y[r]! - py);
			const ratio = a > b ? a / b : b / a;
			if (ratio > largest) largest = ratio;
		}
	}
	return Math.sqrt(largest);
}

/** The same for a block, whose inner nodes follow one another row by row from `given`. */
export function* growthOfBlock(
	x: Float64Array,
	y: Float64Array,
	[bottom, right, top, left]: readonly [Uint32Array, Uint32Array, Uint32Array, Uint32Array],
	given: number
): Work<number> {
	const node = gridNode(bottom, right, top.slice().reverse(), left.slice().reverse(), given);
	const n = bottom.length - 1;
	const m = right.length - 1;
	/** The places of one row, and the squares of the ways from those of the row before. */
	const [rowX, rowY, rise] = [new Float64Array(n + 1), new Float64Array(n + 1), new Float64Array(n + 1)];
	const takeRow = (j: number) => {
		for (let i = 0; i <= n; i++) {
			const p = node(i, j);
			const [px, py] = [x[p]!, y[p]!];
			rise[i] = square(px - rowX[i]!) + square(py - rowY[i]!);
			rowX[i] = px;
			rowY[i] = py;
		}
	};
	let largest = 1;
	const take = (a: number, b: number) => {
		const ratio = a > b ? a / b : b / a;
		if (ratio > largest) largest = ratio;
	};
	takeRow(0);
	takeRow(1);
	const below = new Float64Array(n + 1);
	const takeRows = (from: number, to: number) => {
		for (let j = Math.max(1, from); j < to; j++) lookAtRow(j);
	};
	const lookAtRow = (j: number) => {
		let before = 0;
		for (let i = 1; i <= n; i++) {
			const along = square(rowX[i]! - rowX[i - 1]!) + square(rowY[i]! - rowY[i - 1]!);
			if (i > 1) take(along, before);
			before = along;
		}
		below.set(rise);
		takeRow(j + 1);
		for (let i = 1; i < n; i++) take(rise[i]!, below[i]!);
	};
	yield* inStretches(m, Math.max(1, Math.round(chunkSize / (n + 1))), takeRows);
	return Math.sqrt(largest);
}

/** The smallest scaled Jacobian over all corners of all quadrilaterals, the node at which it stands, and the mean of all. */
export function* worstCorner(
	x: Float64Array,
	y: Float64Array,
	quads: Uint32Array
): Work<{ value: number; node: number; mean: number }> {
	const worst = { value: Infinity, node: -1, sum: 0 };
	yield* inStretches(quads.length / 4, chunkSize, (from, to) => takeCorners(x, y, quads, from, to, worst));
	return { value: worst.value, node: worst.node, mean: worst.sum / quads.length };
}

/** Takes the corners of some quadrilaterals into what is known of those before. */
function takeCorners(
	x: Float64Array,
	y: Float64Array,
	quads: Uint32Array,
	from: number,
	to: number,
	worst: { value: number; node: number; sum: number }
): void {
	let { value, node, sum } = worst;
	for (let q = 4 * from; q < 4 * to; q += 4) {
		let p = quads[q]!;
		// The side into the corner, and the square of its length.
		const last = quads[q + 3]!;
		let vx = x[p]! - x[last]!;
		let vy = y[p]! - y[last]!;
		let v = vx * vx + vy * vy;
		for (let k = 1; k <= 4; k++) {
			const a = quads[q + (k & 3)]!;
			const ux = x[a]! - x[p]!;
			const uy = y[a]! - y[p]!;
			const u = ux * ux + uy * uy;
			const size = Math.sqrt(u * v);
			const sine = size > 0 ? (vx * uy - vy * ux) / size : -1;
			sum += sine;
			if (sine < value) {
				value = sine;
				node = p;
			}
			p = a;
			vx = ux;
			vy = uy;
			v = u;
		}
	}
	[worst.value, worst.node, worst.sum] = [value, node, sum];
}

/** The control function along a line of three nodes: what keeps the middle one where it is, between −1.9 and 1.9. */
function stretch(x: Float64Array, y: Float64Array, behind: number, p: number, ahead: number): number {
	const a = hypot(x[ahead]! - x[p]!, y[ahead]! - y[p]!);
	const b = hypot(x[p]! - x[behind]!, y[p]! - y[behind]!);
	return a + b > 0 ? Math.max(-1.9, Math.min(1.9, (-2 * (a - b)) / (a + b))) : 0;
}
