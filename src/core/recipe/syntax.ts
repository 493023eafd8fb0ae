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

/** How a curve through points finds its parameter: by chord length, or its square root (Lee 1989). */
export type SplineParameter = 'chord' | 'centripetal';

export type FillKind = 'structured' | 'triangles' | 'none';

type Body =
	| { kind: 'recipe'; version: number }
	| { kind: 'title'; title: string }
	| { kind: 'units'; unit: Word }
	| { kind: 'frame'; frame: 'planar' | 'axisymmetric'; axis?: 'x' | 'y' }
	| { kind: 'let'; name: Word; value: Expression; range?: { low: Expression; high: Expression } }
	| { kind: 'point'; name: Word; at: Expression }
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
			/** With a file: the point on which its first row lies. */
			start?: Expression;
			/** With a file: the point on which its last row lies. */
			end?: Expression;
			closed: boolean;
			parameter: SplineParameter;
	  }
	| {
			kind: 'rectangle';
			name: Word;
			corner?: Expression;
			opposite?: Expression;
			centre?: Expression;
			width?: Expression;
			height?: Expression;
	  }
	| { kind: 'arc'; name: Word; start: Expression; end: Expression; centre?: Expression; through?: Expression; clockwise: boolean }
	| { kind: 'circle'; name: Word; centre: Expression; radius: Expression }
	| { kind: 'region'; name: Word; bounds?: CurveReference[]; at?: Expression }
	| {
			kind: 'divide';
			pieces: CurveReference[];
			into?: Expression;
			size?: Expression;
			bias?: Expression;
			toward?: 'both' | 'middle' | CurveReference;
	  }
	| { kind: 'fill'; regions: Word[]; fill: FillKind; corners?: Expression[]; size?: Expression }
	| { kind: 'size'; size: Expression; growth?: Expression }
	| {
			kind: 'group';
			name: Word;
			pieces?: CurveReference[];
			regions?: Word[];
			boundary?: Word;
			colour?: Word;
	  };

/** One parsed statement. */
export type Statement = Body & { clauses: Clause[] };
export type StatementKind = Statement['kind'];
export type StatementOf<K extends StatementKind> = Extract<Statement, { kind: K }>;

/** The order of the clauses that may be set, added or taken away, for each kind of statement that has some. */
export const clauseOrder: Partial<Record<StatementKind, readonly string[]>> = {
	let: ['name', 'value', 'range'],
	spline: ['name', 'shape', 'parameter'],
	divide: ['pieces', 'count', 'bias'],
	fill: ['regions', 'fill', 'corners', 'size'],
	size: ['size', 'growth'],
	group: ['name', 'members', 'kind', 'colour'],
	title: ['title'],
	units: ['unit'],
	frame: ['frame'],
	point: ['name', 'value'],
	region: ['name', 'bounds']
};
