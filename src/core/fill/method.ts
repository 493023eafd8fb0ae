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
}

/** A region that could not be filled: what is wrong, in the words of the finding, and where. */
export class FillError extends Error {
	constructor(
		readonly code: string,
		message: string,
		readonly at: { x: number; y: number }
	) {
		super(message);
	}
}
