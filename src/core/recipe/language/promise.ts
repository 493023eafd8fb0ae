import type { Point } from '../../geometry/curve.ts';
import type { CurveReference } from './syntax.ts';

/** The end of a piece at which a spacing starts: a junction by its name or place, a curve that it meets, or both or none of the ends. */
export interface SpacingEnd {
	toward: 'both' | 'middle' | CurveReference;
	/** Where a written place stands for `toward`. */
	place?: Point;
}

/** What a statement says about divisions; a later statement about the same piece overrules it, count and spacing each for itself. */
interface OfPieces {
	pieces: readonly CurveReference[];
	/** The pieces are divided as if they were one. */
	asOne?: boolean;
}

/** What a statement says about layers on walls; of two statements about one wall the later rules. */
interface OfWalls {
	pieces: readonly CurveReference[];
	region?: string;
	side?: 'left' | 'right' | 'inside' | 'outside';
	/** The cells are cut into triangles. */
	halved?: boolean;
}

/** A place with a size of its own. */
export type SizedPlace =
	| { kind: 'all' }
	/** A region, by the name of its statement. */
	| { kind: 'region'; region: string }
	| { kind: 'near'; references: readonly CurveReference[]; within: number }
	| { kind: 'line'; points: Float64Array; within: number }
	| { kind: 'at'; point: Point }
	| { kind: 'circle'; centre: Point; radius: number }
	/** An outline as flat x, y pairs. */
	| { kind: 'polygon'; outline: Float64Array };

/** Everything that statements ask of a mesh, by its name; lengths in recipe units. */
export interface PromiseKinds {
	/** So many divisions on each of the pieces, or on all of them as one. */
	count: OfPieces & { value: number };
	/** As many divisions as the length holds of a size, rounded. */
	'division size': OfPieces & { value: number };
	/** So many divisions in a full turn of the curve. */
	'divisions a turn': OfPieces & { value: number };
	/** No edge is farther than this from the curve. */
	'chord error': OfPieces & { value: number };
	/** The cell at an end: square to a curve that is named, along the piece at a point. */
	'first cell': OfPieces & SpacingEnd & { value: number };
	/** The cell at the other end, or in the middle where both ends are first. */
	'last cell': OfPieces & SpacingEnd & { value: number };
	/** The ratio of each cell to the one before, away from an end. */
	'cell growth': OfPieces & SpacingEnd & { value: number; largest?: number };
	/** The largest cell over the smallest. */
	bias: OfPieces & SpacingEnd & { value: number };
	/** The largest cell, from which on all are as large. */
	'largest cell': OfPieces & { value: number };
	/** Nodes at fractions of the length, from an end. */
	positions: OfPieces & SpacingEnd & { fractions: readonly number[] };
	/** Count and fractions of another piece. */
	'like another': OfPieces & { other: CurveReference };
	/** The height of the cells at a wall, square to it. */
	'first height': OfWalls & { value: number };
	/** The ratio of the height of each cell to that of the one below. */
	'layer growth': OfWalls & { value: number; count: number };
	/** So many cells one over the other, all along the wall. */
	'layer count': OfWalls & { value: number };
	/** Elements no larger than this. */
	size: { place: SizedPlace; value: number };
	/** Curved pieces have at least this number of elements in a full turn. */
	'elements a turn': { value: number };
	/** A group holds the edges of pieces, all of them and no others. */
	edges: { pieces: readonly CurveReference[]; group: string };
	/** A group holds the elements of regions. */
	elements: { regions: readonly string[]; group: string };
	/** A place is a node. */
	node: { at: Point };
	/** Every edge of pieces stands twice. */
	'two sides': { pieces: readonly CurveReference[] };
	/** Every node of one side is one of the other, moved. */
	periodic: { from: readonly CurveReference[]; to: readonly CurveReference[] };
	/** So many rows of cells between the outside of a ring, or a round outline, and what lies within. */
	'rows across': { region: string; value: number };
	/** The height of the row of cells at a curve, square to it. */
	'first row': { region: string; at: CurveReference; value: number };
	/** A region holds elements of one shape. */
	shape: { region: string; shape: 'triangles' | 'quadrilaterals' };
}

export type PromiseKind = keyof PromiseKinds;

/** One thing that a statement asks of the mesh. */
export type StatementPromise = { [K in PromiseKind]: { asks: K } & PromiseKinds[K] }[PromiseKind];
