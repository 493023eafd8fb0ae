import { hypot } from '../../numeric/elementary.ts';
import { select } from '../../numeric/select.ts';

/**
 * Nodes that sizes grow from, gathered in halves of halves: a cluster stands for its nodes where it is
 * far away for its width. Cluster 0 holds all.
 */
export interface Clusters {
	count: number;
	/** Middle and half diagonal of the box of each cluster, and its smallest size. */
	x: Float64Array;
	y: Float64Array;
	radius: Float64Array;
	size: Float64Array;
	/** The first of the two clusters that each consists of, the other follows it; −1 for a single node. */
	first: Int32Array;
}

/** @param nodes which of the places take part; reordered */
export function clustersOf(x: Float64Array, y: Float64Array, sizes: Float64Array, nodes: Int32Array): Clusters {
	const room = Math.max(0, 2 * nodes.length - 1);
	const out: Clusters = {
		count: room,
		x: new Float64Array(room),
		y: new Float64Array(room),
		radius: new Float64Array(room),
		size: new Float64Array(room),
		first: new Int32Array(room).fill(-1)
	};
	let used = 1;
	if (nodes.length > 0) gather(0, 0, nodes.length);
	return out;

	/** Makes a cluster of nodes[from … to − 1]. */
	function gather(own: number, from: number, to: number): void {
		let [minX, minY, maxX, maxY, least] = [Infinity, Infinity, -Infinity, -Infinity, Infinity];
		for (let k = from; k < to; k++) {
			const i = nodes[k]!;
			if (x[i]! < minX) minX = x[i]!;
			if (x[i]! > maxX) maxX = x[i]!;
			if (y[i]! < minY) minY = y[i]!;
			if (y[i]! > maxY) maxY = y[i]!;
			if (sizes[i]! < least) least = sizes[i]!;
		}
		out.x[own] = (minX + maxX) / 2;
		out.y[own] = (minY + maxY) / 2;
		out.radius[own] = hypot(maxX - minX, maxY - minY) / 2;
		out.size[own] = least;
		if (to - from === 1) return;
		const halves = used;
		out.first[own] = halves;
		used += 2;
		const middle = (from + to) >> 1;
		select(nodes, from, to - 1, middle, maxX - minX >= maxY - minY ? x : y);
		gather(halves, from, middle);
		gather(halves + 1, middle, to);
	}
}
