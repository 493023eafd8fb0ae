import type { Report } from '../findings/report.ts';
import type { Demands } from '../blocks/demands.ts';
import type { Layout, LayoutRefusal } from '../blocks/layout.ts';
import type { Division } from '../divide/division.ts';
import type { Domain } from '../domain/domain.ts';
import type { Region } from '../domain/regions.ts';
import type { Point } from '../geometry/curve.ts';
import type { Work } from '../numeric/work.ts';
import { elementLimit } from '../sizing/size-rule.ts';
import type { SizeField } from '../sizing/size-field.ts';
import type { NodeLayout } from './node-layout.ts';
import { UserError } from '../text/user-error.ts';

/**
 * What a region is handed to a fill as. Nodes are numbered locally: first those on the boundary
 * and on inner edges, which the fill must keep exactly, then those that the fill adds.
 */
export interface FillInput {
	/** Coordinates of the given nodes. */
	x: Float64Array;
	y: Float64Array;
	/** Node pairs, two per edge, directed so that the region lies on the left; an inner edge stands in both directions. */
	edges: Uint32Array;
}

/** What a fill gives back, in the same local numbering. */
export interface Fill {
	/** Coordinates of the added nodes. */
	x: Float64Array;
	y: Float64Array;
	/** Three nodes to a triangle, counter-clockwise. */
	triangles: Uint32Array;
	/** Four nodes to a quadrilateral, counter-clockwise. */
	quads: Uint32Array;
	/** The blocks that the quadrilaterals stand in, where they stand in some. */
	layout?: NodeLayout;
	/** The blocks that were found by themselves: how many, at which try, and the lines between them, each as flat x, y pairs. */
	blocks?: { count: number; tries: number; cuts: readonly Float64Array[] };
	/** What became of the layers on its walls, by their statements. */
	layers?: readonly LayerResult[];
	/** What it could not do as it was asked, each in a sentence with its place. */
	remarks?: readonly FillRemark[];
	/** How many of the first triangles and quadrilaterals are cells of layers. */
	layerCells?: { triangles: number; quads: number };
}

/** A request that a fill could not meet, with its place. */
export interface FillRemark {
	code: 'not-quads' | 'triangles-left' | 'no-blocks';
	message: string;
	at: Point;
}

/** Stacks of layers along walls, in order: one entry to a stack in every list. */
export interface LayerProfile {
	/** Where each stretch of wall begins, as an index into the lists. */
	runs: number[];
	/** Distance along its stretch. */
	along: Float64Array;
	/** Where it stands on the wall, and where it ends. */
	x: Float64Array;
	y: Float64Array;
	topX: Float64Array;
	topY: Float64Array;
	/** Heights of its first and last cell, and of all; 0 where it has none. */
	first: Float64Array;
	last: Float64Array;
	thickness: Float64Array;
	growth: Float64Array;
	count: Uint32Array;
	/** How many cells were asked for, how thick they would be, how high the first of them, and how thick it could become; Infinity where nothing is near. */
	wanted: Uint32Array;
	asked: Float64Array;
	firstAsked: Float64Array;
	room: Float64Array;
	/** How far its first cell leans from the normal of the wall, in degrees. */
	lean: Float64Array;
	/** Mean width of the cells beside it at the wall. */
	width: Float64Array;
	/** Height of the element behind it; 0 where there is none. */
	behind: Float64Array;
}

/** Layers as they were made on the walls of one statement, in one region. */
export interface LayerResult {
	/** The statement, as an index into those of the domain. */
	statement: number;
	cells: number;
	/** Least and largest height of the cells at the wall, square to it. */
	first: { min: number; max: number };
	thickness: { min: number; mean: number; max: number };
	/** The share of the walls' length on which all cells are there. */
	complete: number;
	/** The smallest angle of a quadrilateral, in degrees; Infinity without one. */
	smallestAngle: number;
	profile: LayerProfile;
	/** Where all cells are there, lower for want of room: on what share of the walls' length, and stretch by stretch. */
	lowered?: { share: number; stretches: LayerStretch[] };
	/** Where cells are left out for want of room. */
	reduced?: { of: number; stretches: LayerStretch[] };
}

/** A stretch of wall whose stacks are not as asked, with the one of them that is least so. */
export interface LayerStretch {
	from: Point;
	to: Point;
	/** The place of the least stack. */
	at: Point;
	/** The least growth, the least share of the first height, and the fewest cells. */
	growth: number;
	scale: number;
	count: number;
}

/** The codes of findings under which a fill refuses. */
export type RefusalCode = 'chords-cross' | 'too-many' | 'nodes-coincide' | 'folded' | 'spacing' | 'internal';

/** A region that could not be filled: what is wrong, in the words of the finding, and where. */
export class FillError extends UserError {
	constructor(
		readonly code: RefusalCode,
		message: string,
		readonly at: Point
	) {
		super(message);
	}
}

/** Refuses a fill by sizes that would take more elements than a region may have. */
export function refuseTooMany(amount: number, elements: string, { x, y }: FillInput): void {
	if (amount > elementLimit)
		throw new FillError(
			'too-many',
			`the sizes asked would take about ${amount.toExponential(1)} ${elements}, above the limit of ${elementLimit}; use larger sizes`,
			{ x: x[0]!, y: y[0]! }
		);
}

/** A region with all that it may be filled from. */
export interface FillJob {
	domain: Domain;
	region: Region;
	divisions: readonly Division[];
	field: SizeField;
	input: FillInput;
	/** For each edge of the input the half-piece that it lies on: `2 p` where it runs with piece p, `2 p + 1` against it. */
	halves: Uint32Array;
	/** Its local nodes along each half-piece around it, both ends included. */
	along: ReadonlyMap<number, Uint32Array>;
	/** Its layout, and the counts that the layout has inside, where the method lays regions out. */
	layout?: Layout;
	innerCounts: readonly number[];
}

/** A fill that is ready to be made. */
export interface PreparedFill {
	/** All that it depends on besides its boundary: with the same numbers it comes out the same, and is not made again. */
	key: { rule: string; numbers: readonly ArrayLike<number>[] };
	/** How many elements it will have, or about how many. */
	expected(): Work<number>;
	/** How long an element of so many takes to make, over a triangle whose size grows; about. */
	effort(expected: number): number;
	/** Whether `expected` is only a prediction, from sizes. */
	isPredicted: boolean;
	/** Makes it; throws {@link FillError}. */
	fill(expected: number): Work<Fill>;
}

/** Reports what a region would be filled better by, with the edit that does it. */
export type FillAdvice = (report: Report) => void;

/** A way to fill a region. All of them stand in `methods.ts`. */
export interface FillMethod {
	/** What a recipe writes after the region. */
	source: string;
	/** What the desk calls it. */
	title: string;
	/** Whether elements of one size can be asked for. */
	takesSize: boolean;
	/** Whether places inside the region can be nodes of their own. */
	keepsPoints: boolean;
	/** Whether a region asks for it. */
	fills(region: Region): boolean;
	/** What it demands of the divisions around a region, with the layout that it has there; a method without takes what it gets. */
	layOut?(domain: Domain, region: Region): { layout?: Layout; demands: Demands; advice?: FillAdvice } | LayoutRefusal | undefined;
	/** Gets a fill ready; throws {@link FillError} where there can be none. */
	prepare(job: FillJob): PreparedFill;
}
