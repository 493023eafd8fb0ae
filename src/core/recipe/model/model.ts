import type { Curve, Point } from '../../geometry/curve.ts';
import type { ResultPlaces } from '../../numeric/curvature.ts';
import type { Affine } from '../../geometry/transform.ts';
import type { BoundaryKind } from '../language/boundary-kinds.ts';
import type { Finding } from '../../text/finding.ts';
import type { Recipe } from '../language/recipe.ts';
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

/**
 * Which places a filled shape covers: those that its outlines run round on balance, or an odd number of them lies around; `joined`
 * is the second, of curves that close only together.
 */
export type FillRule = 'nonzero' | 'evenodd' | 'joined';

/** The curves of a drawing file, in the file's own unit. */
export interface DrawingFile {
	/** The file's unit of length, one of `lengthUnits`; absent when the file does not say. */
	unit?: string;
	/** Curves with the name of the layer, group or id that holds them, and the filled shape that they outline, as an index into `fills`. */
	curves: { curve: Curve; layer: string; shape?: number }[];
	/** The rule by which each filled shape of the file is filled. */
	fills?: FillRule[];
	/** Layers that are switched off or frozen in the file. */
	hidden?: string[];
	points: { x: number; y: number; layer: string }[];
	/** Set where it is the outline of a mesh: the kinds of the groups that are its layers, where the file says them. */
	mesh?: { kinds: Record<string, BoundaryKind> };
	/** Values of a run at the nodes of that mesh, in the file's unit of length. */
	result?: ResultField;
	/** What the file held besides, in words, with counts. */
	skipped: string[];
}

/** Fields of values at nodes, by name. */
export interface ResultField extends ResultPlaces {
	fields: ReadonlyMap<string, Float64Array>;
}

/** What a file gave: outlines or a drawing, or the sentence that says why it gave neither. `notes` say how it was understood. */
export type CoordinateFile =
	{ outlines: Outline[]; notes?: string[] } | { drawing: DrawingFile } | { error: string; text?: string };

/** The coordinate files that stand beside a recipe, by name. */
export type CoordinateFiles = Record<string, CoordinateFile>;

export type Frame = { kind: 'planar' } | { kind: 'axisymmetric'; axis: 'x' | 'y' };

/** What a statement came to, with the index of the statement in {@link Recipe.lines}. */
export type WithLine<M> = M & { line: number };

export interface Parameter {
	line: number;
	name: string;
	value: number;
	dimension: Dimension;
	range?: { low: number; high: number };
}

export interface NamedPoint extends Point {
	line: number;
	name: string;
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
	nodes: WithLine<Point>[];
	curves: Curve[];
	/** For each curve the index of its statement. */
	curveLines: number[];
	/** Curves that only help: they shape zones and are mentioned by others, but are no part of the domain. */
	guides: Curve[];
	/** Names that statements with an error would define: what uses them is not told again. */
	failed: Set<string>;
	/** The curves that a name stands for: one, or the four sides of a rectangle. */
	curvesByName: Map<string, number[]>;
	/** For curves by name whose segments run from point to point of a file: the line of each point. */
	fileLines: Map<string, Uint32Array>;
	/** For curves by name of which points were left out: all that they had. */
	thinned: Map<string, { x: Float64Array; y: Float64Array; closed: boolean }>;
	/** For the same curves: the map from the file's coordinates to the drawing's. */
	fileMaps: Map<string, Affine>;
	/** What the other statements came to, by their kind: read it with `stated` of statement.ts. */
	stated: Record<string, unknown[]>;
	findings: Finding[];
}
