import { sameNumbers } from '../numeric/same.ts';
import { SizeTree } from './size-tree.ts';

/**
 * The smallest, at each of some points, of the sizes of all points, each grown by the slope over the
 * straight way from it: the largest function below the sizes that grows no faster (Persson 2006, for
 * scattered points); about n log n.
 *
 * @param x, y places
 * @param size size at each, positive
 */
export const grownSizes = (x: Float64Array, y: Float64Array, size: Float64Array, slope: number): Float64Array =>
	grow({ x, y, size }, slope).grown;

/** Points with a size at each. */
export interface SizedPoints {
	x: Float64Array;
	y: Float64Array;
	size: Float64Array;
}

interface Grown {
	grown: Float64Array;
	/** The point that the size at each has grown from. */
	source: Int32Array;
}

function grow({ x, y, size }: SizedPoints, slope: number): Grown {
	const grown = size.slice();
	const source = Int32Array.from(size.keys());
	let least = Infinity;
	let most = 0;
	for (const own of size) {
		if (own < least) least = own;
		if (own > most) most = own;
	}
	// Where all are alike none grows into another.
	if (!(most > least)) return { grown, source };
	const tree = new SizeTree(x, y, size, slope, source);
	for (let p = 0; p < size.length; p++) {
		const own = tree.smallest(x[p]!, y[p]!, size[p]!);
		if (!(own < size[p]!)) continue;
		grown[p] = own;
		source[p] = tree.source;
	}
	return { grown, source };
}

/** Where the points of each group stand among all, and the group's own lists of them, which stay as they are. */
type Ranges<Group> = Map<Group, { from: number; to: number; own: SizedPoints }>;

/** Where more points than this have changed, or grew from one that has, all are grown anew. */
const mostAgain = 200;

/** Grows the sizes of groups of points again and again, after some of them have changed: the same numbers as {@link grownSizes} of all. */
export class KnownGrowth<Group extends object> {
	private last: (Grown & { slope: number; ranges: Ranges<Group> }) | undefined;

	/**
	 * @param points of each group; they are remembered, and must stay as they are
	 * @returns the grown sizes of the groups, one after the other
	 */
	grown(groups: readonly Group[], points: readonly SizedPoints[], slope: number): Float64Array {
		const count = points.reduce((sum, own) => sum + own.size.length, 0);
		const all = { x: new Float64Array(count), y: new Float64Array(count), size: new Float64Array(count) };
		const ranges: Ranges<Group> = new Map();
		let end = 0;
		for (const [g, own] of points.entries()) {
			all.x.set(own.x, end);
			all.y.set(own.y, end);
			all.size.set(own.size, end);
			ranges.set(groups[g]!, { from: end, to: end + own.size.length, own });
			end += own.size.length;
		}
		const result = this.onlyChanged(all, ranges, slope) ?? grow(all, slope);
		this.last = { ...result, slope, ranges };
		return result.grown;
	}

	/** What is the same as before keeps its size, unless that grew from what has changed, or what has changed asks for less. */
	private onlyChanged({ x, y, size }: SizedPoints, ranges: Ranges<Group>, slope: number): Grown | undefined {
		const { last } = this;
		if (last?.slope !== slope) return undefined;
		// Phase 1: what is the same.
		const numberNow = new Int32Array(last.grown.length).fill(-1);
		const before = new Int32Array(x.length).fill(-1);
		for (const [group, { from, to, own }] of ranges) {
			const known = last.ranges.get(group);
			if (!known) continue;
			const { from: first, own: old } = known;
			if (!sameNumbers(own.x, old.x) || !sameNumbers(own.y, old.y) || !sameNumbers(own.size, old.size)) continue;
			for (let k = 0; k < to - from; k++) {
				numberNow[first + k] = from + k;
				before[from + k] = first + k;
			}
		}
		const changed: number[] = [];
		const again: number[] = [];
		for (let i = 0; i < x.length; i++) {
			if (before[i]! < 0) changed.push(i);
			else if (numberNow[last.source[before[i]!]!]! < 0) again.push(i);
			if (changed.length + again.length > mostAgain) return undefined;
		}

		// Phase 2: what has changed may ask for less.
		const grown = new Float64Array(x.length);
		const source = new Int32Array(x.length);
		/** Lets the size of a point grow to another. */
		const reach = (i: number, j: number) => {
			if (size[j]! >= grown[i]!) return;
			const dx = x[j]! - x[i]!;
			const dy = y[j]! - y[i]!;
			const own = size[j]! + slope * Math.sqrt(dx * dx + dy * dy);
			if (!(own < grown[i]!)) return;
			grown[i] = own;
			source[i] = j;
		};
		for (let i = 0; i < x.length; i++) {
			const known = before[i]!;
			if (known < 0) continue;
			grown[i] = last.grown[known]!;
			source[i] = numberNow[last.source[known]!]!;
			for (const j of changed) reach(i, j);
		}
		// Phase 3: what has changed, or grew from what has.
		for (const i of [...changed, ...again]) {
			grown[i] = size[i]!;
			source[i] = i;
			for (let j = 0; j < x.length; j++) reach(i, j);
		}
		return { grown, source };
	}
}
