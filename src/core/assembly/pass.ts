import type { Division } from '../divide/division.ts';
import type { Mesh } from '../mesh/mesh.ts';
import type { MeshParts } from './assemble.ts';

/** A mesh with the divisions of its pieces as they are in it. */
export interface PassResult {
	mesh: Mesh;
	divisions: readonly Division[];
}

/**
 * A change to a finished mesh: two-sided walls, smoothing across borders. Mesh in, mesh out, neither changed in place;
 * what it moves on pieces it tells the divisions, so that all that is shown of them is what is there.
 */
export interface Pass {
	/** The mesh after it; the same object where it changes nothing. */
	run(before: PassResult, parts: MeshParts): PassResult;
}
