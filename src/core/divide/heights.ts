import { countAlong, positionsAlong, sizeAt, type SizesAlong } from '../sizing/size-along.ts';
import { grownFrom, lowerOf } from './profiles.ts';
import type { DivisionRequest } from './requests.ts';
import type { DivideContext } from './division.ts';

/** Distances of the nodes that fills demand near the two ends of a piece, each rising from its end. */
export interface Heights {
	start: readonly number[];
	end: readonly number[];
	/** The largest slope at which the sizes between them grow away from the last cells; without, they are as they are. */
	slope?: number;
}

/**
 * The demanded heights of pieces that are free to carry them: no statement gives their spacing, and they have room. Of a count that is
 * given to the side of a block they take what there is, and leave a division at least to the rest.
 */
export function heightsOf(
	{ demands, arrangement, field }: DivideContext,
	requests: readonly (DivisionRequest | undefined)[],
	inLayout: ReadonlySet<number>
): Map<number, Heights> {
	const found = new Map<number, Heights>();
	for (const { demands: needs } of demands)
		for (const [h, distances] of needs.heights ?? []) {
			const { start = [], end = [] } = found.get(h >> 1) ?? {};
			found.set(h >> 1, h & 1 ? { start, end: longer(end, distances) } : { start: longer(start, distances), end });
		}
	for (const [p, heights] of found) {
		const request = requests[p];
		// Beside triangles a count alone means even divisions; in a block they grow with what is finer beside them.
		const isCounted = (request?.countLine ?? -1) >= 0 && !inLayout.has(p);
		const isSpaced =
			isCounted || (request && (request.spacing ?? request.like ?? request.chain ?? request.follows) !== undefined);
		const fitting = isSpaced ? { start: [], end: [] } : fitted(heights, arrangement.pieces[p]!.length, request?.count);
		// Rows grow away from layers; beside triangles the sizes know of them already.
		if (fitting.start.length + fitting.end.length > 0)
			found.set(p, { ...fitting, ...(inLayout.has(p) ? { slope: field.slope } : {}) });
		else found.delete(p);
	}
	return found;
}

/** As many of the heights at both ends as a length, and a count, have room for: what reaches farthest goes first. */
export function fitted(heights: Heights, length: number, count = Infinity): Heights {
	const { start, end } = heights;
	let [from, to] = [start.length, end.length];
	const reach = () => (start[from - 1] ?? 0) + (end[to - 1] ?? 0);
	while (from + to > 0 && (reach() > length * (1 - 1e-6) || from + to >= count)) {
		const isFirst = reach() > length * (1 - 1e-6) ? (start[from - 1] ?? 0) >= (end[to - 1] ?? 0) : from >= to;
		if (isFirst) from--;
		else to--;
	}
	return { ...heights, start: start.slice(0, from), end: end.slice(0, to) };
}

const longer = (a: readonly number[], b: readonly number[]) => (a.length >= b.length ? a : b);

/** The divisions of a piece with heights at its ends: theirs, and between them what the sizes ask. */
export function countBetween(heights: Heights, sizes: SizesAlong, length: number): number {
	const { start, end } = heights;
	const rest = length - (start.at(-1) ?? 0) - (end.at(-1) ?? 0);
	const between = restOf(heights, sizes, length);
	return start.length + end.length + Math.max(1, Math.round(countAlong(between, rest)));
}

/** Fractions of the length of all nodes: those demanded, and `count` divisions in all. */
export function positionsBetween(heights: Heights, sizes: SizesAlong, length: number, count: number): Float64Array {
	const { start, end } = heights;
	const [from, to] = [(start.at(-1) ?? 0) / length, 1 - (end.at(-1) ?? 0) / length];
	const inner = positionsAlong(restOf(heights, sizes, length), Math.max(1, count - start.length - end.length));
	return Float64Array.from([
		0,
		...start.slice(0, -1).map((d) => d / length),
		...Array.from(inner, (t) => from + t * (to - from)).slice(start.length > 0 ? 0 : 1, end.length > 0 ? undefined : -1),
		...end
			.slice(0, -1)
			.reverse()
			.map((d) => 1 - d / length),
		1
	]);
}

/** The sizes along what lies between the heights, its fractions from 0 to 1 anew; with a slope they grow away from the last cells. */
function restOf({ start, end, slope }: Heights, sizes: SizesAlong, length: number): SizesAlong {
	const { at, size } = sizes;
	const [from, to] = [(start.at(-1) ?? 0) / length, 1 - (end.at(-1) ?? 0) / length];
	const inside = Array.from(at, (_, k) => k).filter((k) => at[k]! > from && at[k]! < to);
	let rest: SizesAlong = {
		at: Float64Array.from([0, ...inside.map((k) => (at[k]! - from) / (to - from)), 1]),
		size: Float64Array.from([sizeAt(sizes, from), ...inside.map((k) => size[k]!), sizeAt(sizes, to)])
	};
	if (slope === undefined) return rest;
	const most = rest.size.reduce((a, b) => Math.max(a, b), 0);
	for (const [stack, which] of [
		[start, 'start'],
		[end, 'end']
	] as const) {
		if (stack.length === 0) continue;
		const last = stack.at(-1)! - (stack.at(-2) ?? 0);
		rest = lowerOf(rest, grownFrom(last, slope, most, (to - from) * length, which));
	}
	return rest;
}
