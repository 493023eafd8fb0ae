import type { Curve } from './curve.ts';
import type { CurvePart } from './parts.ts';

/** The part of a curve between two junctions. Where curves lie on one another they share one piece. */
export interface Piece extends CurvePart {
	/** Index of the curve that gives the piece its shape and direction. */
	owner: number;
	start: number;
	end: number;
	length: number;
}

/** A piece as a curve sees it: `reversed` when the curve runs against the piece. */
export interface CurvePiece {
	piece: number;
	reversed: boolean;
}

/**
 * A walk along pieces: `2 p` is piece p from start to end, `2 p + 1` from end to start.
 */
export type Walk = number[];

/** The length of a walk. */
export const walkLength = (pieces: readonly Piece[], walk: Walk): number =>
	walk.reduce((sum, h) => sum + pieces[h >> 1]!.length, 0);

/** A bounded face: its outer walk runs counter-clockwise, its inner walks (holes, loose pieces) keep it on their left too. */
export interface Face {
	outer: Walk;
	inner: Walk[];
	/** Area without the holes, on the true curves. */
	area: number;
}

/** The plane cut up by curves. */
export interface Arrangement {
	curves: Curve[];
	/** Two points nearer than this are one: 1e-9 of the model's diagonal, or the rounding of its coordinates. */
	tolerance: number;
	/** Diagonal of the box around everything. */
	diagonal: number;
	/** Junction coordinates, one each. */
	x: Float64Array;
	y: Float64Array;
	/** How many piece ends meet at each junction. */
	degree: Uint32Array;
	pieces: Piece[];
	/** For each curve its pieces in order from its start: `wall[2]` is `byCurve[wall][1]`. */
	byCurve: CurvePiece[][];
	faces: Face[];
	/** Points that are to be nodes, but lie on no curve: isolated junctions, with the face around each (−1 outside). */
	isolated: { junction: number; face: number }[];
	/** A piece of each closed walk that encloses less than the resolution, so that it has no face. */
	vanished: number[];
	/** Curves that meet others, or themselves, more often than a drawing may: they are left out, and have no piece. */
	tangled: number[];
	/** Left and right face of each piece, −1 for the outside: `sides[2 p]` left, `sides[2 p + 1]` right. */
	sides: Int32Array;
}
