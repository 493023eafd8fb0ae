import { concatenated, Float64List, Uint32List } from '../numeric/lists.ts';
import type { Mesh, MeshGroup } from '../mesh/mesh.ts';
import type { MeshParts } from './assemble.ts';
import type { Pass, PassResult } from './pass.ts';

/**
 * Parts the mesh along two-sided walls: each of their edges stands twice, once for either side, and their nodes as often
 * as the elements around them fall into sectors — once at a free tip, twice along the wall, more where walls cross,
 * branch, or meet the boundary. Doubled nodes follow all others.
 */
export class PartWalls implements Pass {
	private last: { before: Mesh; walls: string; after: Mesh } | undefined;

	run(before: PassResult, { domain: { arrangement } }: MeshParts): PassResult {
		const { mesh } = before;
		const walls = wallPieces(mesh.groups);
		if (walls.size === 0) return before;
		const key = [...walls].sort((a, b) => a - b).join(' ');
		const { last } = this;
		const isKnown =
			last &&
			last.walls === key &&
			last.before.x === mesh.x &&
			last.before.triangles === mesh.triangles &&
			last.before.edges === mesh.edges;
		const after = isKnown
			? { ...last.after, regions: mesh.regions, groups: mesh.groups }
			: parted(
					mesh,
					Uint8Array.from(arrangement.pieces, (_, p) => (walls.has(p) ? 1 : 0))
				);
		this.last = { before: mesh, walls: key, after };
		return { ...before, mesh: after };
	}
}

const wallPieces = (groups: readonly MeshGroup[]): Set<number> =>
	new Set(groups.flatMap((group) => (group.members === 'edges' && group.baffle !== undefined ? group.pieces : [])));

/** One corner of an element at a node of a wall: the element's nodes before and after it, and where it stands in its list. */
interface Corner {
	nodes: Uint32Array;
	at: number;
	before: number;
	after: number;
	sector: number;
}

function parted(mesh: Mesh, isWall: Uint8Array): Mesh {
	const { edges, edgePiece } = mesh;
	const isOnWall = new Uint8Array(mesh.x.length);
	edgePiece.forEach((p, e) => {
		if (isWall[p]) isOnWall[edges[2 * e]!] = isOnWall[edges[2 * e + 1]!] = 1;
	});
	const [triangles, quads] = [mesh.triangles.slice(), mesh.quads.slice()];
	const corners = cornersAt(isOnWall, triangles, quads);

	// Phase 1: which edges are walls with elements on both sides, in both directions.
	const key = (a: number, b: number) => a * mesh.x.length + b;
	const parting = new Set<number>();
	edgePiece.forEach((p, e) => {
		if (!isWall[p]) return;
		const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
		if (!corners.get(a)!.some((c) => c.after === b) || !corners.get(a)!.some((c) => c.before === b)) return;
		parting.add(key(a, b)).add(key(b, a));
	});

	// Phase 2: the sectors around every node; the first keeps it, each other gets one of its own.
	const addedX = new Float64List();
	const addedY = new Float64List();
	const nodeOf = new Map<number, number[]>();
	for (const [node, list] of corners) {
		const count = intoSectors(list, (m) => parting.has(key(node, m)));
		const copies = [node];
		for (let s = 1; s < count; s++) {
			copies.push(mesh.x.length + addedX.length);
			addedX.push(mesh.x[node]!);
			addedY.push(mesh.y[node]!);
		}
		nodeOf.set(node, copies);
	}
	for (const [node, list] of corners) for (const { nodes, at, sector } of list) nodes[at] = nodeOf.get(node)![sector]!;

	// Phase 3: every edge takes the nodes of the element to its left; those of walls stand for their right side too.
	const out = { nodes: new Uint32List(), piece: new Uint32List(), side: [] as number[], stretch: new Float64List() };
	const push = (a: number, b: number, p: number, side: number, from: number, to: number) => {
		out.nodes.push(a);
		out.nodes.push(b);
		out.piece.push(p);
		out.side.push(side);
		out.stretch.push(from);
		out.stretch.push(to);
	};
	/** The node of a directed edge's start or end, as the element to its left has it, or the one to its right where there is none. */
	const taken = (node: number, other: number, isStart: boolean) => {
		const list = corners.get(node);
		if (!list) return node;
		const toLeft = list.find((c) => (isStart ? c.after : c.before) === other);
		const found = toLeft ?? list.find((c) => (isStart ? c.before : c.after) === other);
		return found ? nodeOf.get(node)![found.sector]! : node;
	};
	const { edgeSide, edgeStretch } = mesh;
	for (let e = 0; e < edgePiece.length;) {
		const piece = edgePiece[e]!;
		const first = e;
		for (; e < edgePiece.length && edgePiece[e] === piece; e++) {
			const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
			push(taken(a, b, true), taken(b, a, false), piece, edgeSide[e]!, edgeStretch[2 * e]!, edgeStretch[2 * e + 1]!);
		}
		if (!isWall[piece]) continue;
		for (let k = e - 1; k >= first; k--) {
			const [a, b] = [edges[2 * k]!, edges[2 * k + 1]!];
			if (!parting.has(key(a, b))) continue;
			push(taken(b, a, true), taken(a, b, false), piece, 1 - edgeSide[k]!, edgeStretch[2 * k + 1]!, edgeStretch[2 * k]!);
		}
	}
	return {
		...mesh,
		x: concatenated(mesh.x, addedX.taken()),
		y: concatenated(mesh.y, addedY.taken()),
		triangles,
		quads,
		edges: out.nodes.taken(),
		edgePiece: out.piece.taken(),
		edgeSide: Uint8Array.from(out.side),
		edgeStretch: out.stretch.taken()
	};
}

/** The corners of all elements at marked nodes, by node in rising order. */
function cornersAt(isMarked: Uint8Array, ...lists: Uint32Array[]): Map<number, Corner[]> {
	const corners = new Map<number, Corner[]>();
	isMarked.forEach((marked, node) => {
		if (marked) corners.set(node, []);
	});
	lists.forEach((nodes, which) => {
		const size = which === 0 ? 3 : 4;
		for (let at = 0; at < nodes.length; at++) {
			if (!isMarked[nodes[at]!]) continue;
			const base = at - (at % size);
			const before = nodes[base + ((at - base + size - 1) % size)]!;
			const after = nodes[base + ((at - base + 1) % size)]!;
			corners.get(nodes[at]!)!.push({ nodes, at, before, after, sector: -1 });
		}
	});
	return corners;
}

/** Numbers the sectors into which the corners around a node fall between edges that part them; returns how many there are. */
function intoSectors(corners: Corner[], parts: (other: number) => boolean): number {
	// Around a node each edge has one corner behind it at most, as elements are counter-clockwise.
	const byAfter = new Map(corners.map((c) => [c.after, c]));
	const byBefore = new Map(corners.map((c) => [c.before, c]));
	let count = 0;
	for (const start of corners) {
		if (start.sector >= 0) continue;
		const open = [start];
		start.sector = count;
		while (open.length > 0) {
			const c = open.pop()!;
			for (const [edge, beside] of [
				[c.before, byAfter.get(c.before)],
				[c.after, byBefore.get(c.after)]
			] as const) {
				if (!beside || beside.sector >= 0 || parts(edge)) continue;
				beside.sector = count;
				open.push(beside);
			}
		}
		count++;
	}
	return count;
}
