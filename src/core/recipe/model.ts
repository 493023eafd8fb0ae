import type { Finding } from '../text/finding.ts';
import type { BoundaryKind, GroupColour } from './boundary-kinds.ts';
import type { Curve, Point } from '../geometry/curve.ts';
import type { Affine } from '../geometry/transform.ts';
import type { Recipe } from './parse.ts';
import type { CurveReference, FillKind, SpacingWord } from './syntax.ts';
import type { Dimension } from './values.ts';

/** One outline of a coordinate file; the coordinates are as written, in the recipe's units. */
export interface Outline {
	x: Float64Array;
	y: Float64Array;
	/** The line of the file, from 1, that each point stands on. */
	lines?: Uint32Array;
	/** All columns of numbers, when there are more than two; x and y are the first two. */
	columns?: Float64Array[];
}

/** The curves of a drawing file, in the file's own unit. */
export interface DrawingFile {
	/** The file's unit of length, one of `lengthUnits`; absent when the file does not say. */
	unit?: string;
	/** Curves with the name of the layer, group or id that holds them. */
	curves: { curve: Curve; layer: string }[];
	points: { x: number; y: number; layer: string }[];
	/** What the file held besides, in words, with counts. */
	skipped: string[];
}

/** What a file gave: outlines or a drawing, or the sentence that says why it gave neither. `notes` say how it was understood. */
export type CoordinateFile = { outlines: Outline[]; notes?: string[] } | { drawing: DrawingFile } | { error: string };

/** The coordinate files that stand beside a recipe, by name. */
export type CoordinateFiles = Record<string, CoordinateFile>;

export type Frame = { kind: 'planar' } | { kind: 'axisymmetric'; axis: 'x' | 'y' };

/** Everything below carries `line`, the index of its statement in {@link Recipe.lines}. */
interface Stated {
	line: number;
}

export interface Parameter extends Stated {
	name: string;
	value: number;
	dimension: Dimension;
	range?: { low: number; high: number };
}

export interface NamedPoint extends Stated, Point {
	name: string;
}

export interface RegionStatement extends Stated {
	name: string;
	bounds?: CurveReference[];
	at?: Point;
}

export interface DivideStatement extends Stated {
	pieces: CurveReference[];
	/** The pieces are divided as if they were one. */
	asOne?: boolean;
	count?: number;
	size?: number;
	perTurn?: number;
	chordError?: number;
	numbers?: Partial<Record<SpacingWord, number>>;
	/** Fractions of the length from the end that `toward` names. */
	positions?: number[];
	toward?: 'both' | 'middle' | CurveReference;
	like?: CurveReference;
}

/** How a ring, or what lies between a round outline and its core, is divided across. */
export interface Across {
	count?: number;
	number?: { word: SpacingWord; value: number; toward: 'both' | 'middle' | CurveReference };
}

export interface FillStatement extends Stated {
	regions: string[];
	fill: FillKind;
	corners?: Point[];
	size?: number;
	across?: Across;
	/** A point outside and one inside that a line across a ring joins. */
	seam?: [Point, Point];
	/** Triangles of a near-equilateral lattice inside. */
	even?: boolean;
	/** The quadrilaterals of a structured layout are cut into triangles. */
	halved?: boolean;
	/** Smoothing sweeps; absent where the fill decides. */
	sweeps?: number;
}

export interface SizeStatement extends Stated {
	size: number;
	growth?: number;
}

/** A place with a size of its own, as a statement has it; lengths in recipe units, angles in radians. */
export interface ZoneStatement extends Stated {
	size?: number;
	fade?: number;
	zone:
		| { kind: 'near'; references: CurveReference[]; within: number }
		| { kind: 'at'; point: Point }
		| { kind: 'circle'; centre: Point; radius: number }
		/** A polyline of its own, flat x, y pairs. */
		| { kind: 'line'; points: Float64Array; within: number }
		/** A closed polygon, flat x, y pairs. */
		| { kind: 'polygon'; outline: Float64Array }
		| { kind: 'wake'; references: CurveReference[]; along: number; length: number; widening: number }
		| { kind: 'turn' | 'gap'; number: number };
}

export interface GroupStatement extends Stated {
	name: string;
	pieces?: CurveReference[];
	regions?: string[];
	kind: BoundaryKind;
	colour?: GroupColour;
}

/** What a recipe defines, with every expression worked out. Statements with errors are left out and reported. */
export interface Model {
	recipe: Recipe;
	title: string;
	units: string;
	frame: Frame;
	parameters: Parameter[];
	points: NamedPoint[];
	/** Points that are to be nodes of the mesh. */
	nodes: (Stated & Point)[];
	curves: Curve[];
	/** For each curve the index of its statement. */
	curveLines: number[];
	/** The curves that a name stands for: one, or the four sides of a rectangle. */
	curvesByName: Map<string, number[]>;
	/** For curves by name whose segments run from point to point of a file: the line of each point. */
	fileLines: Map<string, Uint32Array>;
	/** For the same curves: the map from the file's coordinates to the drawing's. */
	fileMaps: Map<string, Affine>;
	regions: RegionStatement[];
	divides: DivideStatement[];
	fills: FillStatement[];
	sizes: SizeStatement[];
	zones: ZoneStatement[];
	groups: GroupStatement[];
	findings: Finding[];
}
