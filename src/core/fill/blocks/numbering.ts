import { DisjointSets } from '../../numeric/disjoint-sets.ts';
import type { Arc, Patches } from './patches.ts';

/** Numbers for the nodes of blocks: first those at which arcs meet, then those within arcs, arc after arc. */
export interface Numbering {
	count: number;
	/** The number of the node at place k of an arc, from 0 to its count. */
	at(arc: number, k: number): number;
	/** The same number for nodes that are one. */
	root(number: number): number;
}

/**
 * Numbers the nodes of blocks with their counts. An arc without a division makes its ends one; a block without any in one direction
 * makes its two other sides one.
 */
export function numberingOf({ arcs, patches, nodeCount }: Patches, counts: ArrayLike<number>): Numbering {
	const first = new Int32Array(arcs.length);
	let count = nodeCount;
	for (let a = 0; a < arcs.length; a++) {
		first[a] = count;
		count += Math.max(0, counts[a]! - 1);
	}
	const sets = new DisjointSets(count);
	const at = (a: number, k: number): number => (k === 0 ? arcs[a]!.from : k >= counts[a]! ? arcs[a]!.to : first[a]! + k - 1);
	for (let a = 0; a < arcs.length; a++) if (counts[a] === 0) sets.join(arcs[a]!.from, arcs[a]!.to);
	for (const patch of patches)
		for (const s of [0, 1] as const) {
			if (patch[s].some((h) => counts[h >> 1]! > 0)) continue;
			const one = along(arcs, patch[s + 1]!, counts, at);
			const other = along(arcs, patch[(s + 3) % 4]!, counts, at).reverse();
			for (let k = 0; k < one.length; k++) sets.join(one[k]!, other[k]!);
		}
	return { count, at, root: (n) => sets.root(n) };
}

/** The numbers of the nodes along a side of a block, in its direction. */
export function along(
	arcs: readonly Arc[],
	side: readonly number[],
	counts: ArrayLike<number>,
	at: (arc: number, k: number) => number
): number[] {
	const [first] = side as [number];
	const list = [first & 1 ? arcs[first >> 1]!.to : arcs[first >> 1]!.from];
	for (const h of side) {
		const n = counts[h >> 1]!;
		for (let k = 1; k <= n; k++) list.push(at(h >> 1, h & 1 ? n - k : k));
	}
	return list;
}
