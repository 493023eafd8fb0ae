import { atan2 } from '../numeric/elementary.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { leavingDirection } from '../geometry/parts.ts';
import type { Division } from './division.ts';

/** Where two pieces meet along a line: the cells that touch, in units of length. */
export interface Jump {
	/** The piece that goes on from the end. */
	piece: number;
	/** The last cell on this side, and the first beyond. */
	cell: number;
	other: number;
	/** The larger over the smaller. */
	ratio: number;
}

/** Pieces that turn by less than this at a junction go on from one another. */
const goesOn = (45 * Math.PI) / 180;

/**
 * The jump at one end of a piece: against the piece that goes on most nearly straight; undefined
 * where none goes on.
 */
export function jumpAt(
	arrangement: Arrangement,
	divisions: readonly Division[],
	piece: number,
	end: 'start' | 'end'
): Jump | undefined {
	const beyond = goesOnInto(arrangement, piece, end);
	if (!beyond) return undefined;
	const lastCell = (p: number, at: 'start' | 'end') => divisions[p]!.figures[at === 'start' ? 'first' : 'last'];
	const [cell, other] = [lastCell(piece, end), lastCell(beyond.piece, beyond.end)];
	return { piece: beyond.piece, cell, other, ratio: Math.max(cell / other, other / cell) };
}

/** The piece that goes on most nearly straight from an end of another, and at which of its own ends; undefined where none turns by less than `within`, in radians. */
export function goesOnInto(
	arrangement: Arrangement,
	piece: number,
	end: 'start' | 'end',
	within = goesOn
): { piece: number; end: 'start' | 'end' } | undefined {
	const { pieces } = arrangement;
	const junction = pieces[piece]![end];
	const out = leavingDirection(pieces[piece]!, end);
	let best: { piece: number; end: 'start' | 'end'; turn: number } | undefined;
	for (const q of piecesAround(arrangement)[junction]!) {
		if (q === piece) continue;
		for (const at of ['start', 'end'] as const) {
			if (pieces[q]![at] !== junction) continue;
			const d = leavingDirection(pieces[q]!, at);
			const turn = Math.abs(atan2(-out.x * d.y + out.y * d.x, -out.x * d.x - out.y * d.y));
			if (turn < within && turn < (best?.turn ?? Infinity)) best = { piece: q, end: at, turn };
		}
	}
	return best && { piece: best.piece, end: best.end };
}

/** A jump between two pieces, told from the one with the larger cell. */
export interface JumpBetween extends Jump {
	coarser: number;
	end: 'start' | 'end';
}

/** All jumps between pieces that count, each once; two cells that are equal make a jump of 1. */
export function jumpsBetween(
	arrangement: Arrangement,
	divisions: readonly Division[],
	counts: (piece: number) => boolean
): JumpBetween[] {
	return arrangement.pieces.flatMap((_, coarser) =>
		!counts(coarser)
			? []
			: (['start', 'end'] as const).flatMap((end) => {
					const jump = jumpAt(arrangement, divisions, coarser, end);
					return jump && counts(jump.piece) && jump.cell >= jump.other ? [{ ...jump, coarser, end }] : [];
				})
	);
}

/** The largest jump of all, and the piece at whose end it is; undefined where no piece goes on from another. */
export function largestJump(jumps: readonly JumpBetween[]): { ratio: number; piece: number } | undefined {
	let largest: JumpBetween | undefined;
	for (const jump of jumps) if (jump.ratio > (largest?.ratio ?? 0)) largest = jump;
	return largest && { ratio: largest.ratio, piece: largest.coarser };
}

const aroundOf = new WeakMap<Arrangement, number[][]>();

/** The pieces at every junction. */
export function piecesAround(arrangement: Arrangement): number[][] {
	let cached = aroundOf.get(arrangement);
	if (!cached) {
		cached = Array.from({ length: arrangement.x.length }, (): number[] => []);
		for (const [p, { start, end }] of arrangement.pieces.entries()) {
			cached[start]!.push(p);
			if (end !== start) cached[end]!.push(p);
		}
		aroundOf.set(arrangement, cached);
	}
	return cached;
}
