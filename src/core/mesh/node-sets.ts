import { addTo } from '../numeric/lists.ts';
import { groupEdges, isBoundary, type Mesh, type NodeGroup } from './mesh.ts';

/** The nodes of a group, in rising order: all of them, and those that it owns. */
export interface NodeSet {
	/** Index into {@link Mesh.groups}. */
	group: number;
	all: Uint32Array;
	owned: Uint32Array;
}

/** A node that several groups share. */
export interface SharedNode {
	node: number;
	/** Indices into {@link Mesh.groups}, in their order. */
	groups: number[];
	owner: number;
}

/**
 * The nodes of all groups of pieces and of points. A node that several groups share is owned by one: by the one that an
 * `owner` statement names there, else by the one that stands first; groups of points come after all others.
 */
export function nodeSets(mesh: Mesh): NodeSet[] {
	const members = membersOf(mesh);
	const owner = ownersOf(mesh, members);
	return members.map(({ group, nodes }) => ({ group, all: nodes, owned: nodes.filter((node) => owner.get(node) === group) }));
}

/** The nodes that more than one group of pieces has, in rising order. */
export function sharedNodes(mesh: Mesh): SharedNode[] {
	const members = membersOf(mesh);
	const owner = ownersOf(mesh, members);
	const groups = new Map<number, number[]>();
	for (const { group, nodes } of members)
		if (isBoundary(mesh.groups[group]!)) for (const node of nodes) addTo(groups, node, group);
	return [...groups]
		.filter(([, list]) => list.length > 1)
		.sort(([a], [b]) => a - b)
		.map(([node, list]) => ({ node, groups: list, owner: owner.get(node)! }));
}

/** The nodes at a place, within a tolerance: several where a two-sided wall parts them. */
export function nodesAt({ x, y }: Mesh, place: { x: number; y: number }, tolerance: number): number[] {
	const found: number[] = [];
	for (let k = 0; k < x.length; k++)
		if (Math.abs(x[k]! - place.x) <= tolerance && Math.abs(y[k]! - place.y) <= tolerance) found.push(k);
	return found;
}

/** How near a node is to be to a place to be at it: a share of the mesh's extent. */
export function placeTolerance({ x, y }: Mesh): number {
	let [minX, maxX, minY, maxY] = [Infinity, -Infinity, Infinity, -Infinity];
	for (let k = 0; k < x.length; k++) {
		minX = Math.min(minX, x[k]!);
		maxX = Math.max(maxX, x[k]!);
		minY = Math.min(minY, y[k]!);
		maxY = Math.max(maxY, y[k]!);
	}
	return 1e-8 * Math.max(maxX - minX, maxY - minY, 0);
}

interface Members {
	group: number;
	nodes: Uint32Array;
}

function membersOf(mesh: Mesh): Members[] {
	return mesh.groups.flatMap((group, k): Members[] => {
		if (group.members === 'elements') return [];
		const nodes = new Set<number>(group.members === 'nodes' ? pointNodes(mesh, group) : []);
		if (isBoundary(group)) for (const e of groupEdges(mesh, group)) nodes.add(mesh.edges[2 * e]!).add(mesh.edges[2 * e + 1]!);
		return [{ group: k, nodes: Uint32Array.from(nodes).sort() }];
	});
}

/** The nodes of a group of points. */
export function pointNodes(mesh: Mesh, { points }: NodeGroup): number[] {
	const tolerance = placeTolerance(mesh);
	return points.flatMap((place) => nodesAt(mesh, place, tolerance));
}

function ownersOf(mesh: Mesh, members: readonly Members[]): Map<number, number> {
	const owner = new Map<number, number>();
	const first = members.filter(({ group }) => isBoundary(mesh.groups[group]!));
	const last = members.filter(({ group }) => !isBoundary(mesh.groups[group]!));
	for (const { group, nodes } of [...first, ...last]) for (const node of nodes) if (!owner.has(node)) owner.set(node, group);
	if (!mesh.owners?.length) return owner;
	const tolerance = placeTolerance(mesh);
	for (const choice of mesh.owners) {
		const chosen = members.filter(({ group }) => mesh.groups[group]!.name === choice.group);
		for (const node of nodesAt(mesh, choice.at, tolerance))
			for (const { group, nodes } of chosen) if (nodes.includes(node)) owner.set(node, group);
	}
	return owner;
}
