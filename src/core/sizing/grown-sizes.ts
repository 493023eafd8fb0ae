import { boxOf } from '../numeric/box.ts';
import { numbersBelow } from '../numeric/lists.ts';
import { numbersIn } from '../numeric/numbers-in.ts';
import { pooledOf } from '../numeric/pooled.ts';
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
	const source = numbersBelow(size.length);
	const [least, most] = span(size);
	// Where all are alike none grows into another.
	if (!(most > least)) return { grown, source };
	new SizeTree(x, y, size, slope, source).growEach(grown, source);
	return { grown, source };
}

/** What is known of a group of points. */
interface GrownGroup<Group> {
	/** Its own lists, which stay as they are. */
	sized: SizedPoints;
	/** Its sizes grown; its own list where none of them is smaller. */
	grown: Float64Array;
	/** Groups other than itself that its sizes have grown from, and perhaps some that they have not. */
	sources: Set<Group>;
	/** minX, minY, maxX, maxY of its points, the smallest of its own sizes and the largest of the grown ones. */
	box: readonly [number, number, number, number];
	least: number;
	most: number;
}

/** Where more points than this have changed, or stand in a group that grew from one that has, all are grown anew. */
const mostAgain = 500;

/** Grows the sizes of groups of points again and again, after some of them have changed: the same numbers as {@link grownSizes} of all. */
export class GrowthCache<Group extends object> {
	private slope = NaN;
	private groups: readonly Group[] = [];
	/** What is known of each of them. */
	private last: readonly GrownGroup<Group>[] = [];

	/**
	 * @param groups each of them once
	 * @param points of each group; they are remembered, and must stay as they are
	 * @returns the grown sizes of each group: its own list where none is smaller, and the same list as before where none has changed
	 */
	grown(groups: readonly Group[], points: readonly SizedPoints[], slope: number): Float64Array[] {
		const result = (slope === this.slope && this.onlyChanged(groups, points, slope)) || growAll(groups, points, slope);
		this.slope = slope;
		this.groups = groups;
		this.last = result;
		return result.map((group) => group.grown);
	}

	/** What is the same as before keeps its sizes, unless they grew from what has changed, or what has changed asks for less. */
	private onlyChanged(groups: readonly Group[], points: readonly SizedPoints[], slope: number): GrownGroup<Group>[] | undefined {
		const { last } = this;
		const numbers = numbersIn(groups, this.groups);
		// Phase 1: what is the same.
		const all: GrownGroup<Group>[] = [];
		const isSame = new Uint8Array(groups.length);
		const isStill = new Uint8Array(last.length);
		const changed: number[] = [];
		let count = 0;
		for (let g = 0; g < groups.length; g++) {
			const before = last[numbers[g]!];
			const current = points[g]!;
			if (before && samePoints(before.sized, current)) {
				isSame[g] = isStill[numbers[g]!] = 1;
				all.push(before);
				continue;
			}
			changed.push(g);
			all.push(ungrown(current));
			if ((count += current.size.length) > mostAgain) return undefined;
		}
		const gone = new Set<Group>();
		for (let k = 0; k < last.length; k++) if (!isStill[k]) gone.add(this.groups[k]!);
		if (changed.length === 0 && gone.size === 0) return all;
		const again = [...changed];
		for (let g = 0; g < groups.length; g++) {
			if (!isSame[g] || !hasAny(gone, all[g]!.sources)) continue;
			again.push(g);
			all[g] = ungrown(all[g]!.sized);
			if ((count += all[g]!.sized.size.length) > mostAgain) return undefined;
		}
		// Phase 2: what has changed may ask for less.
		const isAgain = new Uint8Array(groups.length);
		for (const g of again) isAgain[g] = 1;
		const made = [...all];
		for (const [g, group] of all.entries()) {
			if (isAgain[g]) continue;
			let grown = group;
			for (const c of changed) {
				// The box of a group promises the least that it can ask of another.
				if (!(all[c]!.least + slope * between(group.box, all[c]!.box) < grown.most)) continue;
				const { size, x, y } = all[c]!.sized;
				for (let j = 0; j < size.length; j++) {
					if (!(size[j]! + slope * wayTo(group.box, x[j]!, y[j]!) < grown.most)) continue;
					if (grown === group) grown = { ...group, grown: pooledOf(group.grown), sources: new Set(group.sources) };
					if (growFrom(grown, all[c]!, j, slope)) grown.sources.add(groups[c]!);
				}
			}
			if (grown !== group) made[g] = withMost(grown, group.grown);
		}
		// Phase 3: what has changed, or grew from what has.
		for (const g of again) {
			const grown = { ...all[g]!, grown: pooledOf(all[g]!.sized.size) };
			for (const [k, other] of all.entries()) {
				if (!(other.least + slope * between(grown.box, other.box) < grown.most)) continue;
				let isSource = false;
				for (let j = 0; j < other.sized.size.length; j++) if (growFrom(grown, other, j, slope)) isSource = true;
				if (isSource && k !== g) grown.sources.add(groups[k]!);
			}
			made[g] = withMost(grown, last[numbers[g]!]?.grown);
		}
		return made;
	}
}

function hasAny<T>(set: ReadonlySet<T>, some: ReadonlySet<T>): boolean {
	for (const one of some) if (set.has(one)) return true;
	return false;
}

const samePoints = (a: SizedPoints, b: SizedPoints): boolean =>
	a === b || (sameNumbers(a.x, b.x) && sameNumbers(a.y, b.y) && sameNumbers(a.size, b.size));

/** Lets the size of a point of a group grow to those of another; whether one of them became smaller. */
function growFrom({ sized: own, grown }: GrownGroup<object>, from: GrownGroup<object>, j: number, slope: number): boolean {
	const { x, y } = own;
	const [px, py, size] = [from.sized.x[j]!, from.sized.y[j]!, from.sized.size[j]!];
	let isSmaller = false;
	for (let i = 0; i < grown.length; i++) {
		if (size >= grown[i]!) continue;
		const dx = x[i]! - px;
		const dy = y[i]! - py;
		const other = size + slope * Math.sqrt(dx * dx + dy * dy);
		if (!(other < grown[i]!)) continue;
		grown[i] = other;
		isSmaller = true;
	}
	return isSmaller;
}

/** A group of which nothing has grown. */
function ungrown<Group>(points: SizedPoints): GrownGroup<Group> {
	const [least, most] = span(points.size);
	return { sized: points, grown: points.size, sources: new Set(), box: boxOf(points.x, points.y), least, most };
}

/** A group whose sizes have grown, its list that of before, or its own, where that holds the same. */
function withMost<Group>(group: GrownGroup<Group>, before: Float64Array | undefined): GrownGroup<Group> {
	const same = [group.sized.size, before].find((list) => list && sameNumbers(list, group.grown));
	return { ...group, grown: same ?? group.grown, most: span(group.grown)[1] };
}

/** The smallest and the largest of some numbers. */
function span(numbers: Float64Array): [number, number] {
	let [least, most] = [Infinity, -Infinity];
	for (const value of numbers) {
		if (value < least) least = value;
		if (value > most) most = value;
	}
	return [least, most];
}

/** The way from a point to a box. */
function wayTo([minX, minY, maxX, maxY]: GrownGroup<object>['box'], x: number, y: number): number {
	const dx = x < minX ? minX - x : x > maxX ? x - maxX : 0;
	const dy = y < minY ? minY - y : y > maxY ? y - maxY : 0;
	return Math.sqrt(dx * dx + dy * dy);
}

/** The way between two boxes. */
function between(a: GrownGroup<object>['box'], b: GrownGroup<object>['box']): number {
	const dx = Math.max(b[0] - a[2], 0, a[0] - b[2]);
	const dy = Math.max(b[1] - a[3], 0, a[1] - b[3]);
	return Math.sqrt(dx * dx + dy * dy);
}

/** All groups, grown together. */
function growAll<Group>(groups: readonly Group[], points: readonly SizedPoints[], slope: number): GrownGroup<Group>[] {
	const count = points.reduce((sum, group) => sum + group.size.length, 0);
	const all = { x: new Float64Array(count), y: new Float64Array(count), size: new Float64Array(count) };
	const groupOf = new Uint32Array(count);
	let end = 0;
	for (const [g, group] of points.entries()) {
		all.x.set(group.x, end);
		all.y.set(group.y, end);
		all.size.set(group.size, end);
		groupOf.fill(g, end, end + group.size.length);
		end += group.size.length;
	}
	const { grown, source } = grow(all, slope);
	let first = 0;
	return points.map((group, g) => {
		const start = ungrown<Group>(group);
		const last = first + group.size.length;
		let isGrown = false;
		for (let i = first; i < last; i++) {
			if (source[i] === i) continue;
			isGrown = true;
			const from = groupOf[source[i]!]!;
			if (from !== g) start.sources.add(groups[from]!);
		}
		if (isGrown) {
			start.grown = pooledOf(grown.subarray(first, last));
			start.most = span(start.grown)[1];
		}
		first = last;
		return start;
	});
}
