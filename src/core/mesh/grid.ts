import type { BoundaryKind } from '../recipe/language/boundary-kinds.ts';
import { groupEdges, isBoundary, type Mesh, type PeriodicNodes } from './mesh.ts';
import { nodeSets, pointNodes } from './node-sets.ts';

/** How many nodes a cell of each shape has; their order is that of the SIDS, counter-clockwise for faces. */
export const nodesOfShape = {
	vertex: 1,
	line: 2,
	triangle: 3,
	quadrilateral: 4,
	tetrahedron: 4,
	pyramid: 5,
	prism: 6,
	hexahedron: 8,
	line3: 3,
	triangle6: 6,
	quadrilateral8: 8,
	quadrilateral9: 9,
	tetrahedron10: 10,
	pyramid13: 13,
	prism15: 15,
	hexahedron20: 20
} as const;
export type CellShape = keyof typeof nodesOfShape;

/** Cells of one shape and one region, one after another. */
export interface GridSection {
	shape: CellShape;
	/** As many nodes to a cell as its shape has, counted from 0. */
	nodes: Uint32Array;
	/** Index into {@link DeliveryGrid.regions}. */
	region: number;
}

/** Cells of one shape, one after another. */
export interface GridCells {
	shape: CellShape;
	nodes: Uint32Array;
}

/** A named part of the boundary: sides of cells, outward, with the kind that a solver receives. */
export interface GridPatch {
	name: string;
	kind: BoundaryKind;
	/** Sides by shape. */
	sides: GridCells[];
	/** It lies inside: its sides have cells behind them too, as between two materials. */
	inside?: true;
}

/** Coordinates of nodes, one list for each; two in the plane, three in space. */
export type Coordinates = [x: Float64Array, y: Float64Array, z?: Float64Array];

/** What a function makes of each coordinate. */
export const mapCoordinates = ([x, y, z]: Coordinates, make: (values: Float64Array) => Float64Array): Coordinates =>
	z ? [make(x), make(y), make(z)] : [make(x), make(y)];

/**
 * What is delivered, wherever it comes from: a plane mesh, or a solid made of one. Writers take nothing else, so that a
 * new format is a file of its own, and so is a new way to make a grid.
 */
export interface DeliveryGrid {
	title: string;
	/** The unit of the coordinates, one of those that a recipe may name. */
	units: string;
	/** Coordinates of the nodes: x, y, and z in three dimensions. */
	coordinates: Coordinates;
	sections: GridSection[];
	regions: string[];
	/** Boundary groups. A side in two groups stands in both. */
	patches: GridPatch[];
	/** Material groups: named sets of regions, by their index. */
	materials: { name: string; regions: number[] }[];
	/** Groups of single nodes. */
	points: { name: string; kind: BoundaryKind; nodes: Uint32Array }[];
	/** Nodes that are others moved. */
	periodic: readonly PeriodicNodes[];
	/** The nodes of all groups: all, and those that each owns. Worked out when it is asked for. */
	nodeSets: () => GridNodeSet[];
}

/** Nodes of a group, rising: all of them, and those that it owns. */
export interface GridNodeSet {
	name: string;
	all: Uint32Array;
	owned: Uint32Array;
}

/** A finished mesh as a grid in the plane. */
export function gridOf(mesh: Mesh, { title, units }: { title: string; units: string }): DeliveryGrid {
	const sections = mesh.regions.flatMap((_, region): GridSection[] =>
		(
			[
				['triangle', mesh.triangles, mesh.triangleRegion],
				['quadrilateral', mesh.quads, mesh.quadRegion]
			] as const
		).flatMap(([shape, nodes, owner]) => {
			// Elements stand region by region.
			const from = owner.indexOf(region);
			if (from < 0) return [];
			const size = nodesOfShape[shape];
			return [{ shape, region, nodes: nodes.subarray(size * from, size * (owner.lastIndexOf(region) + 1)) }];
		})
	);
	const patches = mesh.groups.flatMap((group): GridPatch[] => {
		if (!isBoundary(group)) return [];
		const list = groupEdges(mesh, group);
		const nodes = new Uint32Array(2 * list.length);
		list.forEach((e, k) => {
			nodes[2 * k] = mesh.edges[2 * e]!;
			nodes[2 * k + 1] = mesh.edges[2 * e + 1]!;
		});
		return [{ name: group.name, kind: group.kind, sides: [{ shape: 'line', nodes }] }];
	});
	const within = insidePatches(mesh, patches);
	return {
		title,
		units,
		coordinates: [mesh.x, mesh.y],
		sections,
		regions: mesh.regions,
		patches: patches.map((patch) => (within.has(patch) ? { ...patch, inside: true as const } : patch)),
		materials: mesh.groups.flatMap((g) =>
			g.members === 'elements' && g.regions.length > 0 ? [{ name: g.name, regions: g.regions }] : []
		),
		points: mesh.groups.flatMap((group) =>
			group.members === 'nodes' ? [{ name: group.name, kind: group.kind, nodes: Uint32Array.from(pointNodes(mesh, group)) }] : []
		),
		periodic: mesh.periodic ?? [],
		nodeSets: () => nodeSets(mesh).map(({ group, all, owned }) => ({ name: mesh.groups[group]!.name, all, owned }))
	};
}

/** The patches with elements on both sides. */
function insidePatches({ x, triangles, quads }: Mesh, patches: readonly GridPatch[]): Set<GridPatch> {
	const isOn = new Uint8Array(x.length);
	/** The patch of each edge, by the edge turned round: an element that has that one lies behind it. */
	const behind = new Map<number, GridPatch>();
	for (const patch of patches)
		for (const { nodes } of patch.sides)
			for (let k = 0; k < nodes.length; k += 2) {
				const [a, b] = [nodes[k]!, nodes[k + 1]!];
				isOn[a] = isOn[b] = 1;
				behind.set(b * x.length + a, patch);
			}
	const found = new Set<GridPatch>();
	for (const [list, size] of [
		[triangles, 3],
		[quads, 4]
	] as const)
		for (let k = 0; k < list.length; k++) {
			const a = list[k]!;
			if (isOn[a] === 0) continue;
			const b = list[(k + 1) % size === 0 ? k + 1 - size : k + 1]!;
			if (isOn[b] === 0) continue;
			const patch = behind.get(a * x.length + b);
			if (patch) found.add(patch);
		}
	return found;
}

/** How many sides a patch has. */
export const sideCount = ({ sides }: GridPatch): number => sides.reduce((sum, list) => sum + cellCount(list), 0);

export const cellCount = ({ shape, nodes }: { shape: CellShape; nodes: Uint32Array }): number =>
	nodes.length / nodesOfShape[shape];
