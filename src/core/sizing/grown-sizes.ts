import { SizeTree } from './size-tree.ts';

/**
 * The smallest, at each of some points, of the sizes of all points, each grown by the slope over the
 * straight way from it: the largest function below the sizes that grows no faster (Persson 2006, for
 * scattered points); about n log n.
 *
 * @param x, y places
 * @param size size at each, positive
 */
export function grownSizes(x: Float64Array, y: Float64Array, size: Float64Array, slope: number): Float64Array {
	let least = Infinity;
	let most = 0;
	for (const own of size) {
		if (own < least) least = own;
		if (own > most) most = own;
	}
	const out = size.slice();
	// Where all are alike none grows into another.
	if (!(most > least)) return out;
	const tree = new SizeTree(
		x,
		y,
		size,
		slope,
		Int32Array.from(x, (_, i) => i)
	);
	// In the order of the tree, so that one question stands near the next.
	for (const p of tree.order) out[p] = tree.smallest(x[p]!, y[p]!, size[p]!);
	return out;
}
