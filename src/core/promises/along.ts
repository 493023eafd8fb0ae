import { hypot } from '../numeric/elementary.ts';
import { pieceNames } from '../domain/references.ts';
import type { Point } from '../geometry/curve.ts';
import { nearestOnCurve } from '../geometry/meet.ts';
import { partPoint } from '../geometry/parts.ts';
import type { SpacingEnd } from '../recipe/language/promise.ts';
import type { MeshView } from './mesh-view.ts';

/** The cells along a piece, or along a chain of pieces that are divided as one, as a statement sees them. */
export interface Cells {
	/** The name of the piece, or of the first of a chain. */
	name: string;
	pieces: number[];
	/** Lengths along the curve, from the start. */
	lengths: number[];
	/** The nodes between and around them: one more than there are cells. */
	nodes: number[];
	/** Junctions of the arrangement at the two ends. */
	start: number;
	end: number;
	length: number;
}

/** The cells of each of some pieces, or of all of them in a row; pieces without an edge are left out. */
export function cellsOf(view: MeshView, pieces: readonly number[], asOne = false): Cells[] {
	const names = pieceNames(view.arrangement);
	const single = pieces.flatMap((p): Cells[] => {
		const along = view.nodesAlong(p);
		if (!along) return [];
		const { start, end, length } = view.arrangement.pieces[p]!;
		const lengths = Array.from(along.at.subarray(1), (t, k) => (t - along.at[k]!) * length);
		return [{ name: names[p]!, pieces: [p], lengths, nodes: [...along.nodes], start, end, length }];
	});
	if (!asOne || single.length < 2) return single;
	const row = inRow(single);
	return row && single.length === pieces.length ? [row] : [];
}

const reversed = (cells: Cells): Cells => ({
	...cells,
	lengths: cells.lengths.toReversed(),
	nodes: cells.nodes.toReversed(),
	start: cells.end,
	end: cells.start
});

/** Pieces that follow one another, as one; undefined where they do not. */
function inRow(list: Cells[]): Cells | undefined {
	const left = [...list];
	let row = left.shift()!;
	while (left.length > 0) {
		const k = left.findIndex(({ start, end }) => [start, end].some((j) => j === row.end || j === row.start));
		if (k < 0) return undefined;
		let [next] = left.splice(k, 1) as [Cells];
		const isBefore = ![next.start, next.end].includes(row.end);
		if (isBefore ? next.end !== row.start : next.start !== row.end) next = reversed(next);
		const [a, b] = isBefore ? [next, row] : [row, next];
		row = {
			name: list[0]!.name,
			pieces: [...a.pieces, ...b.pieces],
			lengths: [...a.lengths, ...b.lengths],
			nodes: [...a.nodes, ...b.nodes.slice(1)],
			start: a.start,
			end: b.end,
			length: a.length + b.length
		};
	}
	return row;
}

/** Cells as they are seen from the end at which a spacing starts, the first cell first. */
export type Directed = { kind: 'one'; cells: Cells } | { kind: 'both' | 'middle'; cells: Cells };

/** Cells from the end that a spacing names; undefined where it names none of the two. */
export function fromEnd(view: MeshView, cells: Cells, { toward, place }: SpacingEnd): Directed | undefined {
	if (toward === 'both' || toward === 'middle') return { kind: toward, cells };
	const at = endPoint(view, { toward, ...(place ? { place } : {}) });
	const { x, y, pieces, tolerance } = view.arrangement;
	let isAt: (j: number) => boolean;
	if (at) isAt = (j) => hypot(x[j]! - at.x, y[j]! - at.y) <= 8 * tolerance;
	else {
		const others = view.piecesOf([toward]).filter((p) => !cells.pieces.includes(p));
		const ends = new Set(others.flatMap((p) => [pieces[p]!.start, pieces[p]!.end]));
		isAt = (j) => ends.has(j);
	}
	const [atStart, atEnd] = [isAt(cells.start), isAt(cells.end)];
	if (atStart === atEnd) return undefined;
	return { kind: 'one', cells: atStart ? cells : reversed(cells) };
}

/** The point that an end is given by; undefined where it is given by a curve. */
function endPoint(view: MeshView, { toward, place }: SpacingEnd): Point | undefined {
	if (place || typeof toward === 'string') return place;
	return toward.piece === undefined ? view.model.points.find((p) => p.name === toward.name) : undefined;
}

/** Ratios of neighbouring cells, each away from the end at which a spacing starts; across the middle of `both` there is none. */
export function ratiosOf({ kind, cells: { lengths } }: Directed): number[] {
	const n = lengths.length;
	const ratios = Array.from({ length: n - 1 }, (_, k) => lengths[k + 1]! / lengths[k]!);
	if (kind === 'one') return ratios;
	const away = ratios.flatMap((r, k) => (2 * (k + 1) === n ? [] : [2 * (k + 1) < n ? r : 1 / r]));
	return kind === 'both' ? away : away.map((r) => 1 / r);
}

/** The cell or cells at which a spacing starts. */
export function firstCells({ kind, cells: { lengths } }: Directed): number[] {
	const n = lengths.length;
	if (kind === 'one') return [lengths[0]!];
	if (kind === 'both') return [lengths[0]!, lengths[n - 1]!];
	return n % 2 === 1 ? [lengths[(n - 1) / 2]!] : [lengths[n / 2 - 1]!, lengths[n / 2]!];
}

/** The cell or cells at which a spacing ends. */
export const lastCells = (directed: Directed): number[] => {
	const { kind, cells } = directed;
	if (kind === 'one') return [cells.lengths.at(-1)!];
	return firstCells({ kind: kind === 'both' ? 'middle' : 'both', cells });
};

/** The height of the first cell over the curve at which a spacing starts; its length where that is a point. */
export function firstHeight(view: MeshView, directed: Directed, end: SpacingEnd): number[] {
	const { kind, cells } = directed;
	if (kind !== 'one' || typeof end.toward === 'string' || endPoint(view, end)) return firstCells(directed);
	const { pieces, curves } = view.arrangement;
	const others = view.piecesOf([end.toward]).filter((p) => !cells.pieces.includes(p));
	const at = { x: view.mesh.x[cells.nodes[1]!]!, y: view.mesh.y[cells.nodes[1]!]! };
	const touching = others.filter((p) => [pieces[p]!.start, pieces[p]!.end].includes(cells.start));
	return [Math.min(...[...new Set(touching.map((p) => pieces[p]!.owner))].map((c) => nearestOnCurve(curves[c]!, at).distance))];
}

/** The middle of a row of cells, for a finding to point at. */
export function middleOf(view: MeshView, { pieces }: Cells): Point {
	const piece = view.arrangement.pieces[pieces[0]!]!;
	return partPoint(piece, 0.5, piece.length);
}
