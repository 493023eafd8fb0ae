import type { Point } from '../../geometry/curve.ts';

/**
 * What a statement says, as values. Every position is an offset from the start of the statement,
 * so that an unchanged line keeps its parsed form wherever it moves.
 */
export interface Word {
	text: string;
	from: number;
	to: number;
}

/** An expression; `from` and `to` span its text. */
export type Expression =
	| { kind: 'number'; value: number; unit?: string; from: number; to: number }
	| { kind: 'name'; name: string; from: number; to: number }
	| { kind: 'member'; object: string; member: string; from: number; to: number }
	| { kind: 'negate'; operand: Expression; from: number; to: number }
	| { kind: 'binary'; operator: '+' | '-' | '*' | '/' | '^'; left: Expression; right: Expression; from: number; to: number }
	| { kind: 'call'; callee: Word; arguments: Expression[]; from: number; to: number }
	| { kind: 'pair'; x: Expression; y: Expression; from: number; to: number };

/** A curve, one of its pieces (`wall[2]`, counted from 1), or a side of a rectangle (`box.left`). */
export interface CurveReference {
	/** The curve's full name, `box.left` for a side. */
	name: string;
	/** The piece, counted from 1 at the curve's start; absent for the whole curve. */
	piece?: number;
	/** A written place, where one may stand for the name of a point. */
	point?: Expression;
	/** The last piece of a chain that this one starts: `wall[2] to wall[5]`. */
	through?: CurveReference;
	/** A description in place of a name, which is empty; as it is written, and worked out. */
	set?: PieceSetSyntax;
	source?: string;
	found?: PieceSet;
	from: number;
	to: number;
}

/** A set of pieces that follows from the shape, worked out: lengths in recipe units, angles in radians. */
export type PieceSet = { facing?: { angle: number; within: number } } & (
	| { kind: 'outer' }
	/** Outlines of the holes of regions. */
	| { kind: 'holes'; regions: readonly string[] }
	/** Pieces that two regions, or two materials, share. */
	| { kind: 'between'; regions: readonly [string, string] }
	/** Curves of a layer of a drawing. */
	| { kind: 'layer'; layer: string }
	/** Pieces of which any part lies in a box. */
	| { kind: 'touching'; box: readonly [Point, Point] }
	/** Boundary pieces that are in no group. */
	| { kind: 'rest' }
	/** All of some pieces but others. */
	| { kind: 'except'; of: readonly CurveReference[]; but: readonly CurveReference[] }
	/** The piece of a curve on which a place lies. */
	| { kind: 'piece'; curve: CurveReference; at: Point }
);

/** A set of pieces that follows from the shape, as it is written: `outer facing down within 30 deg`, `holes of r`. */
export interface PieceSetSyntax {
	kind: 'outer' | 'holes' | 'between' | 'layer' | 'touching' | 'except' | 'piece';
	/** Of `except`. */
	of?: CurveReference[];
	but?: CurveReference[];
	/** Of a piece by a place on it. */
	curve?: CurveReference;
	at?: Expression;
	regions?: Word[];
	layer?: CurveReference;
	box?: [Expression, Expression];
	facing?: { direction: string | Expression; within?: Expression };
}

/**
 * A replaceable stretch of a statement, like `into 40`. Clauses of one kind of statement stand in
 * the fixed order that its record lists.
 */
export interface Clause {
	name: string;
	from: number;
	to: number;
}

/** How what comes from a file is laid into the drawing: scaled, then turned, both about the origin, then moved. */
export interface Placing {
	scaled?: Expression;
	turned?: Expression;
	moved?: Expression;
}

/** One parsed statement: what its record reads, and its clauses with their places. */
export interface Statement {
	kind: string;
	/** What it draws only helps, and is no part of the domain: `guide circle c = …`. */
	isGuide?: true;
	clauses: Clause[];
}

/** A parameter of a part, with its value unless a placement gives another; or what a placement gives. */
export interface Argument {
	name: Word;
	value: Expression;
}

export interface PartSyntax extends Statement {
	kind: 'part';
	name: Word;
	/** The recipe that it is read from; without, it goes on to `end`. */
	file?: Word;
	parameters: Argument[];
}

export interface PlaceSyntax extends Statement {
	kind: 'place';
	name: Word;
	part: Word;
	at: Expression;
	turned?: Expression;
	/** The step from one copy to the next. */
	by?: Expression;
	count?: Expression;
	arguments?: Argument[];
	/** Its groups have the name of the placement before theirs, and are not one with those of other placements. */
	ownGroups?: true;
}
