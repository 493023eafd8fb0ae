import { countAlong, positionsAlong, sizeAt, type SizesAlong } from '../sizing/size-along.ts';
import type { DivisionRequest } from './requests.ts';
import type { DivideContext } from './division.ts';

/** Distances of the nodes that fills demand near the two ends of a piece, each rising from its end. */
export interface Heights {
	start: readonly number[];
	end: readonly number[];
}

/** The demanded heights of pieces that are free to carry them: no statement gives their count or spacing, and they have room. */
export function heightsOf(
	{ demands, arrangement }: DivideContext,
	requests: readonly (DivisionRequest | undefined)[]
): Map<number, Heights> {
	const found = new Map<number, Heights>();
	for (const { demands: needs } of demands)
		for (const [h, distances] of needs.heights ?? []) {
			const p = h >> 1;
			const { start = [], end = [] } = found.get(p) ?? {};
			const next = h & 1 ? { start, end: longer(end, distances) } : { start: longer(start, distances), end };
			const taken = (next.start.at(-1) ?? 0) + (next.end.at(-1) ?? 0);
			if (!requests[p] && taken < arrangement.pieces[p]!.length) found.set(p, next);
		}
	return found;
}

const longer = (a: readonly number[], b: readonly number[]) => (a.length >= b.length ? a : b);

/** The divisions of a piece with heights at its ends: theirs, and between them what the sizes ask. */
export function countBetween({ start, end }: Heights, sizes: SizesAlong, length: number): number {
	const rest = length - (start.at(-1) ?? 0) - (end.at(-1) ?? 0);
	const between = restOf({ start, end }, sizes, length);
	return start.length + end.length + Math.max(1, Math.round(countAlong(between, rest)));
}

/** Fractions of the length of all nodes: those demanded, and `count` divisions in all. */
export function positionsBetween({ start, end }: Heights, sizes: SizesAlong, length: number, count: number): Float64Array {
	const [from, to] = [(start.at(-1) ?? 0) / length, 1 - (end.at(-1) ?? 0) / length];
	const inner = positionsAlong(restOf({ start, end }, sizes, length), Math.max(1, count - start.length - end.length));
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

/** The sizes along what lies between the heights, its fractions from 0 to 1 anew. */
function restOf({ start, end }: Heights, sizes: SizesAlong, length: number): SizesAlong {
	const { at, size } = sizes;
	const [from, to] = [(start.at(-1) ?? 0) / length, 1 - (end.at(-1) ?? 0) / length];
	const inside = Array.from(at, (_, k) => k).filter((k) => at[k]! > from && at[k]! < to);
	return {
		at: Float64Array.from([0, ...inside.map((k) => (at[k]! - from) / (to - from)), 1]),
		size: Float64Array.from([sizeAt(sizes, from), ...inside.map((k) => size[k]!), sizeAt(sizes, to)])
	};
}
