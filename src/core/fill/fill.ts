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

/** The most elements that one region is filled with; beyond it a finding says so. */
export const elementLimit = 8_000_000;

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

/**
 * Long work as a generator: it yields now and then, so that whoever drives it can show how far it
 * is (0 to 1), let other work in, or stop it by not asking for more.
 */
export type Work<T> = Generator<number, T, void>;

/** Runs work to its end at once. */
export function finish<T>(work: Work<T>): T {
	for (;;) {
		const step = work.next();
		if (step.done) return step.value;
	}
}
