import { arithmetic } from '../../numeric/arithmetic.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';
import elliptic from './elliptic.as.ts?bytes';
import { gridNode } from './transfinite.ts';

/** What elliptic.as.ts exports: both take the lists of places and of control functions, the first node of a row and the nodes in it. */
type RowOf = (x: number, y: number, phi: number, psi: number, row: number, width: number) => void;

/** Nodes that move between two yields. */
const chunkSize = 500_000;

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
	const size = width * (m + 1);
	const { functions, lists, at } = arithmetic<{ sweepRow: RowOf; controlRow: RowOf }>(elliptic, [size, size, size, size]);
	const [gx, gy] = lists as [Float64Array, Float64Array];
	const [atX, atY, atPhi, atPsi] = at as [number, number, number, number];
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
	yield 0;
	if (controlled) {
		const rows = Math.max(1, Math.round(chunkSize / (3 * width)));
		const putControl = (from: number, to: number) => {
			for (let j = Math.max(1, from); j < to; j++) functions.controlRow(atX, atY, atPhi, atPsi, j * width, width);
		};
		yield* part(inStretches(m, rows, putControl), 0, 0);
	}
	// Phase 3: sweeps.
	// All sweeps go through the rows together, each two rows behind the one before it, while those are in the cache.
	const last = m + 2 * (sweeps - 1);
	let moved = 0;
	for (let first = 1; first < last; first++) {
		for (let j = first, sweep = 0; j > 0 && sweep < sweeps; j -= 2, sweep++) {
			if (j >= m) continue;
			functions.sweepRow(atX, atY, atPhi, atPsi, j * width, width);
			moved += n;
		}
		if (moved < chunkSize) continue;
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
