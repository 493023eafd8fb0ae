import type { BoundaryKind, GroupColour } from '../recipe/language/boundary-kinds.ts';
import type { Movement } from '../geometry/movement.ts';
import type { NodeOwner } from './node-owner.ts';

interface NamedGroup {
	name: string;
	kind: BoundaryKind;
	colour: GroupColour;
	/** Index of its statement. */
	line: number;
}

/** A boundary: the edges of pieces. */
export interface BoundaryGroup extends NamedGroup {
	members: 'edges';
	/** Indices into the arrangement. */
	pieces: number[];
	/** Only the edges on one side of its pieces: 0 those that run with them, the mesh to the left, 1 those against them. */
	side?: 0 | 1;
	/** The two-sided wall that it is, or is a side of. */
	baffle?: string;
}

/** A material: the elements of regions. */
export interface RegionGroup extends NamedGroup {
	members: 'elements';
	/** Indices into {@link Mesh.regions}. */
	regions: number[];
}

/** Single nodes, at places that the recipe names. */
export interface NodeGroup extends NamedGroup {
	members: 'nodes';
	points: { x: number; y: number; source: string }[];
}

/** A named group of a mesh: of edges, elements, or nodes. */
export type MeshGroup = BoundaryGroup | RegionGroup | NodeGroup;

export const isBoundary = (group: MeshGroup): group is BoundaryGroup => group.members === 'edges';

/** Nodes and elements in flat arrays. */
export interface MeshElements {
	/** Node coordinates, in recipe units where a recipe made them. */
	x: Float64Array;
	y: Float64Array;
	/** Three nodes to a triangle, counter-clockwise, and the region of each. */
	triangles: Uint32Array;
	triangleRegion: Uint32Array;
	/** Four nodes to a quadrilateral, counter-clockwise, and the region of each. */
	quads: Uint32Array;
	quadRegion: Uint32Array;
}

/**
 * A finished mesh in flat arrays. Node and element order follow from the recipe alone: nodes of
 * junctions, of pieces, then of each region; elements region by region.
 */
export interface Mesh extends MeshElements {
	/** Edges on pieces as node pairs, the mesh on the left of a boundary edge. */
	edges: Uint32Array;
	/** The piece of each edge, and 0 where the edge runs with it or 1 against it. */
	edgePiece: Uint32Array;
	edgeSide: Uint8Array;
	/** The stretch of the piece that each edge covers, as fractions of its length: two per edge, for its first and second node. */
	edgeStretch: Float64Array;
	/** Names of the regions that hold elements or were asked to. */
	regions: string[];
	groups: MeshGroup[];
	/** Which groups own the nodes at places, where that is said. */
	owners?: readonly NodeOwner[];
	/** Nodes that are others moved. */
	periodic?: readonly PeriodicNodes[];
}

/** Nodes that are periodic with others: node `from[k]`, moved, is `to[k]`. */
export interface PeriodicNodes {
	/** Index of the statement. */
	line: number;
	movement: Movement;
	from: Uint32Array;
	to: Uint32Array;
}

export const triangleCount = (mesh: Pick<MeshElements, 'triangles'>): number => mesh.triangles.length / 3;
export const quadCount = (mesh: Pick<MeshElements, 'quads'>): number => mesh.quads.length / 4;
export const elementCount = (mesh: Pick<MeshElements, 'triangles' | 'quads'>): number => triangleCount(mesh) + quadCount(mesh);

/** Edges of a group, as indices of edges in {@link Mesh.edges}. */
export function groupEdges(mesh: Mesh, group: BoundaryGroup): Uint32Array {
	const mine = new Set(group.pieces);
	const list: number[] = [];
	mesh.edgePiece.forEach((piece, e) => {
		if (mine.has(piece) && (group.side === undefined || mesh.edgeSide[e] === group.side)) list.push(e);
	});
	return Uint32Array.from(list);
}

/** Area of the elements of each region. */
export function regionAreas(mesh: Mesh): Float64Array {
	const { x, y } = mesh;
	const areas = new Float64Array(mesh.regions.length);
	const add = (nodes: Uint32Array, size: number, region: Uint32Array) => {
		for (let e = 0; e < region.length; e++) {
			const a = nodes[size * e]!;
			for (let k = 1; k + 1 < size; k++) {
				const [b, c] = [nodes[size * e + k]!, nodes[size * e + k + 1]!];
				areas[region[e]!]! += ((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!)) / 2;
			}
		}
	};
	add(mesh.triangles, 3, mesh.triangleRegion);
	add(mesh.quads, 4, mesh.quadRegion);
	return areas;
}
