import type { FillInput } from '../method.ts';

/** A side of a coarse quadrilateral is divided into so many. */
export const DIVISION = 4;

/** The outlines of a region with about one edge for {@link DIVISION} of theirs. */
export interface CoarseOutlines {
	input: FillInput;
	/** The given node that each coarse one is. */
	given: Int32Array;
	/** By the first and the second node of a coarse edge: the given nodes along it, where there are one more than {@link DIVISION}. */
	fitting: Map<number, Map<number, number[]>>;
}

/** An outline may turn by so much, in radians, along one coarse edge. */
const mostTurn = 0.5;
/** At a given node where the outline turns by more than this it has a corner, which a coarse outline has too. */
const sharp = 0.4;
/** A closed outline without a corner has at least so many coarse edges. */
const fewestAround = 6;

/**
 * The outlines of a region with a fraction of their edges. Nodes that stand alone are left out, as are the edges between those
 * that are kept.
 *
 * Most coarse edges have just as many edges as a quadrilateral's side is divided into. The others stand at the ends of straight
 * or smooth stretches. Between one with an odd number and the next one with an odd number no edge is called fitting: so that whatever
 * is left out along an outline has an even number of edges.
 *
 * @returns undefined where an outline, or all together, have an odd number of edges
 */
export function coarseOutlines({ x, y, edges }: FillInput): CoarseOutlines | undefined {
	if ((edges.length / 2) % 2 === 1) return undefined;
	const ways = waysOf(edges, x.length);
	if (ways.some(({ nodes, isLoop }) => isLoop && nodes.length % 2 === 0)) return undefined;
	const number = new Int32Array(x.length).fill(-1);
	const given: number[] = [];
	const numberOf = (v: number) => {
		if (number[v]! < 0) {
			number[v] = given.length;
			given.push(v);
		}
		return number[v]!;
	};
	const turnAt = (a: number, v: number, b: number) => {
		const [ux, uy, wx, wy] = [x[v]! - x[a]!, y[v]! - y[a]!, x[b]! - x[v]!, y[b]! - y[v]!];
		const cosine = ux * wx + uy * wy;
		// As good as the angle where it is small, and large where it is not.
		return cosine > 0 ? Math.abs(ux * wy - uy * wx) / cosine : Infinity;
	};
	const coarse: number[] = [];
	const fitting: CoarseOutlines['fitting'] = new Map();
	/** Whether an odd number of edges has been left out since the last odd one. */
	let isOpen = false;
	/** How many edges each coarse one of a stretch gets. */
	const chooseCounts = (nodes: readonly number[], isLoop: boolean, isWhole: boolean): number[] => {
		const n = nodes.length - 1;
		let turned = 0;
		for (let k = 1; k < n; k++) turned += turnAt(nodes[k - 1]!, nodes[k]!, nodes[k + 1]!);
		const least = Math.max(Math.ceil(turned / mostTurn), isWhole ? fewestAround : 1);
		const counts =
			isLoop && least <= n / DIVISION ? countsOf(n, isOpen) : evenCounts(n, Math.max(least, Math.round(n / DIVISION)));
		for (const count of counts) if (count % 2 === 1) isOpen = !isOpen;
		return counts;
	};
	const divide = (nodes: readonly number[], counts: readonly number[], isLoop: boolean, sides: number) => {
		let at = 0;
		for (const count of counts) {
			const side = nodes.slice(at, at + count + 1);
			at += count;
			const [a, b] = [numberOf(side[0]!), numberOf(side[count]!)];
			if (sides & 1) coarse.push(a, b);
			if (sides & 2) coarse.push(b, a);
			if (count % 2 === 1) isOpen = !isOpen;
			if (!isLoop || isOpen || count !== DIVISION) continue;
			const fromA = fitting.get(a) ?? new Map<number, number[]>();
			fromA.set(b, side);
			fitting.set(a, fromA);
		}
	};
	for (const { nodes, isClosed, isLoop, sides } of ways) {
		// Corners part a way.
		const corners: number[] = [];
		const n = nodes.length - 1;
		for (let k = isClosed ? 0 : 1; k < n; k++)
			if (turnAt(nodes[k === 0 ? n - 1 : k - 1]!, nodes[k]!, nodes[k + 1]!) > sharp) corners.push(k);
		const stretches: (readonly number[])[] = [];
		if (corners.length === 0) stretches.push(nodes);
		else {
			const first = isClosed ? corners[0]! : 0;
			const round = isClosed ? [...nodes.slice(first, n), ...nodes.slice(0, first + 1)] : nodes;
			const ends = isClosed ? [...corners.map((k) => k - first), n] : [0, ...corners, n];
			for (let k = 0; k + 1 < ends.length; k++) stretches.push(round.slice(ends[k], ends[k + 1]! + 1));
		}
		isOpen = false;
		const counts = stretches.map((stretch) => chooseCounts(stretch, isLoop, isClosed && corners.length === 0));
		if (isLoop) makeEven(counts);
		isOpen = false;
		for (const [k, stretch] of stretches.entries()) divide(stretch, counts[k]!, isLoop, sides);
	}
	return {
		input: {
			x: Float64Array.from(given, (v) => x[v]!),
			y: Float64Array.from(given, (v) => y[v]!),
			edges: Uint32Array.from(coarse)
		},
		given: Int32Array.from(given),
		fitting
	};
}

/** How many edges each of the coarse edges of a stretch gets: as many as fit, and others at one end. */
function countsOf(n: number, isFirst: boolean): number[] {
	const rest = n % DIVISION;
	// One too many goes along with the last; two, with the last, are two of three.
	const others = rest === 0 ? [] : rest === 1 ? [DIVISION + 1] : rest === 2 ? [3, 3] : [3];
	const counts = new Array<number>((n - others.reduce((sum, count) => sum + count, 0)) / DIVISION).fill(DIVISION);
	return isFirst ? [...others, ...counts] : [...counts, ...others];
}

/** Parts one of the coarse edges where there is an odd number of them: of an odd outline quadrilaterals cannot fill the inside. */
function makeEven(counts: readonly number[][]): void {
	if (counts.reduce((sum, list) => sum + list.length, 0) % 2 === 0) return;
	for (const list of [...counts].reverse()) {
		const at = list.findLastIndex((count) => count > 1);
		if (at < 0) continue;
		const half = list[at]! >> 1;
		list.splice(at, 1, half, list[at]! - half);
		return;
	}
}

function evenCounts(n: number, wanted: number): number[] {
	const count = Math.min(n, wanted);
	return Array.from({ length: count }, (_, k) => Math.round(((k + 1) * n) / count) - Math.round((k * n) / count));
}

/**
 * Nodes one after the other along edges; sides is 1 where the region lies left of them, 2 where right, 3 for both. A loop is closed,
 * has no fork, and the region on its left.
 */
interface Route {
	nodes: number[];
	isClosed: boolean;
	isLoop: boolean;
	sides: number;
}

/** Outlines and inner edges as ways from fork to fork, or all around. */
function waysOf(edges: Uint32Array, count: number): Route[] {
	// Phase 1: the neighbours of each node, where it has one or two, with the sides of the edges to them, as seen from it.
	const [one, two] = [new Int32Array(count).fill(-1), new Int32Array(count).fill(-1)];
	const [sidesOfOne, sidesOfTwo] = [new Uint8Array(count), new Uint8Array(count)];
	const isFork = new Uint8Array(count);
	const beside: [number, number, number][] = [];
	const meet = (v: number, w: number, side: number) => {
		if (one[v] === w || one[v]! < 0) {
			one[v] = w;
			sidesOfOne[v]! |= side;
		} else if (two[v] === w || two[v]! < 0) {
			two[v] = w;
			sidesOfTwo[v]! |= side;
		} else isFork[v] = 1;
		if (isFork[v]) beside.push([v, w, side]);
	};
	for (let k = 0; k < edges.length; k += 2) {
		meet(edges[k]!, edges[k + 1]!, 1);
		meet(edges[k + 1]!, edges[k]!, 2);
	}
	const flipped = (sides: number) => ((sides & 1) << 1) | (sides >> 1);
	const isEnd = (v: number) => isFork[v] === 1 || two[v]! < 0 || flipped(sidesOfOne[v]!) !== sidesOfTwo[v]!;

	// Phase 2: ways that start at ends, then those that go round.
	const ways: Route[] = [];
	const isDone = new Uint8Array(count);
	const follow = (start: number, second: number, sides: number) => {
		const nodes = [start];
		let [last, v] = [start, second];
		while (v !== start && !isEnd(v)) {
			isDone[v] = 1;
			nodes.push(v);
			[last, v] = [v, one[v] === last ? two[v]! : one[v]!];
		}
		nodes.push(v);
		// A way between two ends is met from both.
		if (isEnd(start) && (v < start || (v === start && nodes[1]! > nodes.at(-2)!))) return;
		const isClosed = v === start;
		ways.push({ nodes, isClosed, isLoop: isClosed && !isEnd(start) && sides === 1, sides });
	};
	const starts = new Map<number, Map<number, number>>();
	const startAt = (v: number, w: number, sides: number) => {
		const ends = starts.get(v) ?? new Map<number, number>();
		ends.set(w, (ends.get(w) ?? 0) | sides);
		starts.set(v, ends);
	};
	for (let v = 0; v < count; v++) {
		if (one[v]! < 0 || !isEnd(v)) continue;
		startAt(v, one[v]!, sidesOfOne[v]!);
		if (two[v]! >= 0) startAt(v, two[v]!, sidesOfTwo[v]!);
	}
	for (const [v, w, side] of beside) startAt(v, w, side);
	for (const [v, ends] of starts) for (const [w, sides] of ends) follow(v, w, sides);
	for (let v = 0; v < count; v++) {
		if (one[v]! < 0 || isEnd(v) || isDone[v]) continue;
		isDone[v] = 1;
		// With the region on the left.
		if (sidesOfOne[v] === 2) follow(v, two[v]!, sidesOfTwo[v]!);
		else follow(v, one[v]!, sidesOfOne[v]!);
	}
	return ways;
}
