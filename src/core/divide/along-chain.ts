import type { Arrangement } from '../geometry/pieces.ts';
import type { Division } from './division.ts';
import { goesOnInto } from './jumps.ts';

/** Cells along pieces that go on from one another, and of their two neighbours. */
export interface CellsAlong {
	/** Distance of the middle of each cell from the start of the chosen pieces; below zero in the neighbour before them. */
	along: number[];
	length: number[];
	/** The middle of each cell. */
	x: number[];
	y: number[];
	/** Whether the cell is of a piece that was chosen, rather than of a neighbour. */
	isChosen: boolean[];
	/** Where pieces meet: the distance, and the larger of the two cells there over the smaller. */
	joints: { along: number; ratio: number }[];
}

/** Pieces with all that go on from them, one after the other, while they turn by less than an angle, in radians. */
export function chainFrom(arrangement: Arrangement, seeds: readonly number[], within: number): number[] {
	const found = new Set(seeds);
	for (const seed of seeds)
		for (const way of ['start', 'end'] as const)
			for (let at = goesOnInto(arrangement, seed, way, within); at && !found.has(at.piece);) {
				found.add(at.piece);
				at = goesOnInto(arrangement, at.piece, at.end === 'start' ? 'end' : 'start', within);
			}
	return [...found].sort((a, b) => a - b);
}

/** A piece as it is walked: from its start to its end, or turned. */
interface Step {
	piece: number;
	turned: boolean;
}

/** The lengths of cells along chosen pieces, chain by chain, each with the pieces that it goes on from and into. */
export function cellsAlong(arrangement: Arrangement, divisions: readonly Division[], chosen: readonly number[]): CellsAlong[] {
	const left = new Set(chosen);
	const chains: CellsAlong[] = [];
	for (const first of chosen) {
		if (!left.has(first)) continue;
		left.delete(first);
		const ahead = walk({ piece: first, turned: false }, left);
		const behind = walk({ piece: first, turned: true }, left).map((s) => ({ ...s, turned: !s.turned }));
		chains.push(measured([...behind.reverse(), { piece: first, turned: false }, ...ahead]));
	}
	return chains;

	/** The piece that goes on from the end of a step. */
	function next({ piece, turned }: Step): Step | undefined {
		const on = goesOnInto(arrangement, piece, turned ? 'start' : 'end');
		return on && { piece: on.piece, turned: on.end === 'end' };
	}

	function walk(from: Step, among: Set<number>): Step[] {
		const steps: Step[] = [];
		for (let at = next(from); at && among.has(at.piece); at = next(at)) {
			among.delete(at.piece);
			steps.push(at);
		}
		return steps;
	}

	function measured(steps: readonly Step[]): CellsAlong {
		const chainPieces = new Set(steps.map((s) => s.piece));
		const before = next({ piece: steps[0]!.piece, turned: !steps[0]!.turned });
		const after = next(steps.at(-1)!);
		const isOther = (s: Step | undefined): s is Step => s !== undefined && !chainPieces.has(s.piece);
		const all = [
			...(isOther(before) ? [{ piece: before.piece, turned: !before.turned }] : []),
			...steps,
			...(isOther(after) && after.piece !== before?.piece ? [after] : [])
		];
		const cells: CellsAlong = { along: [], length: [], x: [], y: [], isChosen: [], joints: [] };
		let from = isOther(before) ? -arrangement.pieces[before.piece]!.length : 0;
		let last: number | undefined;
		for (const { piece, turned } of all) {
			const { at, x, y, count } = divisions[piece]!;
			const { length } = arrangement.pieces[piece]!;
			for (let k = 0; k < count; k++) {
				const c = turned ? count - 1 - k : k;
				const cell = (at[c + 1]! - at[c]!) * length;
				const middle = ((at[c]! + at[c + 1]!) / 2) * length;
				if (k === 0 && last !== undefined) cells.joints.push({ along: from, ratio: Math.max(cell / last, last / cell) });
				cells.along.push(from + (turned ? length - middle : middle));
				cells.length.push(cell);
				cells.x.push((x[c]! + x[c + 1]!) / 2);
				cells.y.push((y[c]! + y[c + 1]!) / 2);
				cells.isChosen.push(chainPieces.has(piece));
				last = cell;
			}
			from += length;
		}
		return cells;
	}
}
