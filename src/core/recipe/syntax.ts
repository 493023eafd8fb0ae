import type { SplineParameter } from '../geometry/spline.ts';

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
	from: number;
	to: number;
}

/**
 * A replaceable stretch of a statement, like `into 40`. Clauses of one kind of statement stand in
 * the fixed order that `clauseOrder` lists.
 */
export interface Clause {
	name: string;
	from: number;
	to: number;
}

/** How an open spline ends; `clamped` with the directions at its start and end. */
export type SplineEnds = { kind: 'natural' | 'not-a-knot' } | { kind: 'clamped'; start: Expression; end: Expression };

/** How what comes from a file is laid into the drawing: scaled, then turned, both about the origin, then moved. */
export interface Placing {
	scaled?: Expression;
	turned?: Expression;
	moved?: Expression;
}

export type FillKind = 'structured' | 'triangles' | 'none';

type Body =
	| { kind: 'recipe'; version: number }
	| { kind: 'title'; title: string }
	| { kind: 'units'; unit: Word }
	| { kind: 'frame'; frame: 'planar' | 'axisymmetric'; axis?: 'x' | 'y' }
	| { kind: 'let'; name: Word; value: Expression; range?: { low: Expression; high: Expression } }
	| { kind: 'point'; name: Word; at: Expression }
	| { kind: 'node'; points: Expression[] }
	| { kind: 'line'; name: Word; start: Expression; end: Expression }
	| {
			kind: 'polyline' | 'spline';
			name: Word;
			/** Points in order, when the curve is written out in the recipe. */
			points: Expression[];
			/** The coordinate file, when the points come from one. */
			file?: Word;
			/** With a file: which of its outlines, counted from 1; the first when absent. */
			outline?: Word;
			/** With a file: the columns that hold x and y, counted from 1. */
			columns?: [number, number];
			/** With a file: the rows to leave out, by their line in the file. */
			without?: Word[];
			/** With a file: the point on which its first row lies. */
			start?: Expression;
			/** With a file: the point on which its last row lies. */
			end?: Expression;
			placing?: Placing;
			closed: boolean;
			parameter: SplineParameter;
			ends?: SplineEnds;
			/** The turn of the points' polygon from which it is a corner. */
			corners?: Expression;
	  }
	| {
			kind: 'rectangle';
			name: Word;
			corner?: Expression;
			opposite?: Expression;
			/** With three points: a point on the side opposite to that from corner to opposite. */
			third?: Expression;
			centre?: Expression;
			width?: Expression;
			height?: Expression;
			turned?: Expression;
	  }
	| { kind: 'polygon'; name: Word; centre: Expression; sides: Expression; radius: Expression; turned?: Expression }
	| {
			kind: 'arc';
			name: Word;
			start: Expression;
			end: Expression;
			centre?: Expression;
			through?: Expression;
			radius?: Expression;
			tangent?: CurveReference;
			clockwise: boolean;
			/** With a radius: the longer of the two arcs. */
			long?: boolean;
	  }
	| { kind: 'circle'; name: Word; centre: Expression; radius: Expression }
	| {
			kind: 'ellipse';
			name: Word;
			centre: Expression;
			radii: [Expression, Expression];
			turned?: Expression;
			from?: Expression;
			to?: Expression;
	  }
	| { kind: 'bezier'; name: Word; points: Expression[] }
	| {
			kind: 'bspline';
			name: Word;
			points: Expression[];
			degree: Expression;
			knots?: Expression[];
			weights?: Expression[];
	  }
	| { kind: 'curve'; name: Word; value: Expression; parameter: Word; from: Expression; to: Expression }
	| { kind: 'drawing'; name: Word; file: Word; layers?: Word[]; placing?: Placing }
	| {
			kind: 'fillet' | 'chamfer';
			name: Word;
			first: CurveReference;
			second: CurveReference;
			/** Where, when the two meet more than once. */
			near?: Expression;
			/** The radius of a fillet; the length or the two lengths that a chamfer takes away. */
			lengths: Expression[];
	  }
	| {
			kind: 'offset';
			name: Word;
			curves: CurveReference[];
			by: Expression;
			side: 'left' | 'right' | 'both' | 'inside' | 'outside';
			mitred: boolean;
	  }
	| { kind: 'trim'; curve: CurveReference; to: CurveReference; keep: Expression }
	| { kind: 'extend'; curve: CurveReference; to: CurveReference }
	| { kind: 'split'; curve: CurveReference; at?: Expression[]; into?: Expression }
	| { kind: 'join'; name: Word; curves: CurveReference[] }
	| { kind: 'mirror'; name: Word; curves: CurveReference[]; across: Expression; to?: Expression }
	| { kind: 'move'; name?: Word; curves: CurveReference[]; by: Expression }
	| { kind: 'turn' | 'scale'; name?: Word; curves: CurveReference[]; by: Expression; centre?: Expression }
	| { kind: 'repeat'; name: Word; curves: CurveReference[]; by?: Expression; centre?: Expression; count: Expression }
	| {
			kind: 'cut';
			name: Word;
			/** A point; or a curve, with the place on it as a share of its length. */
			start: Expression;
			share?: Expression;
			end: Expression;
			/** How far the cut turns from the square direction. */
			turned?: Expression;
			/** The direction of the cut, as an angle from the x axis. */
			heading?: Expression;
	  }
	| {
			kind: 'far';
			name: Word;
			shape: 'box' | 'circle' | 'wake';
			curves: CurveReference[];
			by: Expression;
	  }
	| { kind: 'region'; name: Word; bounds?: CurveReference[]; at?: Expression }
	| {
			kind: 'divide';
			pieces: CurveReference[];
			/** The pieces are divided as if they were one. */
			asOne?: boolean;
			into?: Expression;
			size?: Expression;
			/** Divisions in a full turn of the curve. */
			perTurn?: Expression;
			/** How far an edge may be from the curve. */
			chordError?: Expression;
			numbers?: Partial<Record<SpacingWord, Expression>>;
			positions?: Expression[];
			toward?: 'both' | 'middle' | CurveReference;
			like?: CurveReference;
	  }
	| {
			kind: 'fill';
			regions: Word[];
			fill: FillKind;
			corners?: Expression[];
			size?: Expression;
			/** Triangles with a right angle, in the rows of a structured layout. */
			right?: boolean;
			/** Triangles of a near-equilateral lattice inside. */
			even?: boolean;
			/** Divisions across a ring or from a round outline to its core. */
			into?: Expression;
			spacing?: { numbers?: Partial<Record<SpacingWord, Expression>>; toward?: 'both' | 'middle' | CurveReference };
			/** Where a ring's lines across start: a point outside and one inside. */
			seam?: [Expression, Expression];
			smooth?: boolean;
			sweeps?: Expression;
	  }
	| { kind: 'size'; size: Expression; growth?: Expression }
	| { kind: 'zone'; size?: Expression; zone: ZoneClause; fade?: Expression }
	| {
			kind: 'group';
			name: Word;
			pieces?: CurveReference[];
			regions?: Word[];
			boundary?: Word;
			colour?: Word;
	  };

/** Where a size of its own holds. */
export type ZoneClause =
	| { kind: 'near'; references: CurveReference[]; within?: Expression }
	| { kind: 'at'; point: Expression }
	| { kind: 'circle'; centre: Expression; radius: Expression }
	| { kind: 'box'; corners: [Expression, Expression] }
	/** A polygon by its corners. */
	| { kind: 'corners'; corners: Expression[] }
	| { kind: 'line'; points: Expression[]; within?: Expression }
	| { kind: 'curve'; curve: CurveReference }
	| { kind: 'wake'; references: CurveReference[]; along?: Expression; length: Expression; widening?: Expression }
	/** Everywhere: elements in a full turn of a curve, or across a gap. */
	| { kind: 'turn' | 'gap'; number: Expression };

/** The numbers that a spacing is given by. */
export type SpacingWord = 'bias' | 'first' | 'last' | 'growth' | 'largest';

/** One parsed statement. */
export type Statement = Body & { clauses: Clause[] };
export type StatementKind = Statement['kind'];
export type StatementOf<K extends StatementKind> = Extract<Statement, { kind: K }>;

/** The order of the clauses that may be set, added or taken away, for each kind of statement that has some. */
export const clauseOrder: Partial<Record<StatementKind, readonly string[]>> = {
	let: ['name', 'value', 'range'],
	polyline: ['name', 'shape', 'file', 'outline', 'columns', 'without', 'from', 'to', 'scaled', 'turned', 'moved'],
	spline: [
		'name',
		'shape',
		'file',
		'outline',
		'columns',
		'without',
		'from',
		'to',
		'scaled',
		'turned',
		'moved',
		'parameter',
		'ends',
		'corners'
	],
	drawing: ['name', 'file', 'layer', 'scaled', 'turned', 'moved'],
	line: ['name', 'start', 'end'],
	fillet: ['name', 'curves', 'near', 'radius'],
	chamfer: ['name', 'curves', 'near', 'lengths'],
	divide: ['pieces', 'chain', 'count', 'spacing'],
	fill: ['regions', 'fill', 'pattern', 'corners', 'seam', 'across', 'spacing', 'smooth', 'size'],
	size: ['size', 'growth'],
	zone: ['size', 'zone', 'fade'],
	group: ['name', 'members', 'kind', 'colour'],
	title: ['title'],
	units: ['unit'],
	frame: ['frame'],
	point: ['name', 'value'],
	region: ['name', 'bounds']
};
