import { addTo } from '../numeric/lists.ts';
import { groupEdges, isBoundary, type Mesh } from './mesh.ts';

/** A part of a mesh whose nodes stand in rows: node (i, j) is `nodes[i + ni j]`, right-handed. */
export interface StructuredZone {
	/** Index into {@link Mesh.regions}. */
	region: number;
	ni: number;
	nj: number;
	nodes: Uint32Array;
}

/** A stretch of a side of a zone that lies on a side of another, or of the same one; indices of nodes, i and j from 0. */
export interface ZoneJoin {
	zone: number;
	donor: number;
	/** From node to node of the zone, and of the donor. */
	from: [number, number];
	to: [number, number];
	donorFrom: [number, number];
	donorTo: [number, number];
	/** The donor's direction, ±1 for i and ±2 for j, of the zone's i and j. */
	transform: [number, number];
}

/** A stretch of a side of a zone whose edges are of one group. */
export interface ZoneStretch {
	zone: number;
	from: [number, number];
	to: [number, number];
	/** Index into {@link Mesh.groups}; −1 for none. */
	group: number;
}

export interface StructuredZones {
	zones: StructuredZone[];
	joins: ZoneJoin[];
	/** Stretches of sides that lie on no other zone; one of several groups stands once for each. */
	stretches: ZoneStretch[];
	/** Stretches of groups that have elements on both sides, each of one zone beside it alone. */
	inner: ZoneStretch[];
	/** Regions that hold triangles too, or nothing: they are in no zone. */
	rest: number[];
}

/**
 * Parts the regions of quadrilaterals of a mesh into zones of rows: lines go straight on from every irregular node until
 * they meet the boundary or another irregular node, and between them lie the zones. A ring without such a node is cut once, and joined to itself.
 * Edges of groups inside a region are sides of zones as well, and so are those that go straight on from them.
 */
export function structuredZones(mesh: Mesh): StructuredZones {
	const groupsOf = groupsOfEdges(mesh);
	const hasTriangles = new Set(mesh.triangleRegion);
	const byRegion = new Map<number, number[]>();
	mesh.quadRegion.forEach((region, q) => {
		if (hasTriangles.has(region)) return;
		addTo(byRegion, region, q);
	});
	const zones: StructuredZone[] = [];
	for (const [region, quads] of byRegion) zones.push(...zonesOf(mesh, region, quads, groupsOf));
	const rest = mesh.regions.flatMap((_, r) => (byRegion.has(r) ? [] : [r]));
	return { zones, ...sidesOf(mesh, zones, groupsOf), rest };
}

/** The boundary groups of an edge, by `from * nodes + to` in both directions; the list of an edge in the same ones is the same. */
function groupsOfEdges(mesh: Mesh): Map<number, readonly number[]> {
	const count = mesh.x.length;
	const found = new Map<number, readonly number[]>();
	const lists = new Map<string, readonly number[]>();
	const isTaken = new Set<number>();
	mesh.groups.forEach((group, g) => {
		if (!isBoundary(group)) return;
		for (const e of groupEdges(mesh, group)) {
			const [a, b] = [mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!];
			const list = [...new Set([...(found.get(a * count + b) ?? []), g])];
			const shared = lists.get(list.join()) ?? list;
			lists.set(list.join(), shared);
			found.set(a * count + b, shared);
			isTaken.add(a * count + b);
		}
	});
	// An edge between elements is in the groups of its other side as well.
	for (const key of isTaken) {
		const back = (key % count) * count + Math.floor(key / count);
		if (!found.has(back)) found.set(back, found.get(key)!);
	}
	return found;
}

function zonesOf(
	{ quads, x }: Mesh,
	region: number,
	list: readonly number[],
	groupsOf: ReadonlyMap<number, readonly number[]>
): StructuredZone[] {
	const count = x.length;
	const node = (q: number, k: number) => quads[4 * q + (k & 3)]!;
	/** For a directed edge its quadrilateral and side, as 4 q + side. */
	const sideAt = new Map<number, number>();
	for (const q of list) for (let k = 0; k < 4; k++) sideAt.set(node(q, k) * count + node(q, k + 1), 4 * q + k);
	const across = (side: number) => sideAt.get(node(side >> 2, side + 1) * count + node(side >> 2, side));
	const cut = new Set<number>();
	const cutSide = (side: number) => {
		cut.add(side);
		const other = across(side);
		if (other !== undefined) cut.add(other);
	};
	const around = new Map<number, number>();
	const borders = new Map<number, number>();
	for (const q of list)
		for (let k = 0; k < 4; k++) {
			around.set(node(q, k), (around.get(node(q, k)) ?? 0) + 1);
			if (across(4 * q + k) !== undefined) continue;
			for (const n of [node(q, k), node(q, k + 1)]) borders.set(n, (borders.get(n) ?? 0) + 1);
		}
	const isBorder = (n: number) => borders.has(n);
	const isIrregular = (n: number) => (isBorder(n) ? around.get(n) !== 2 || borders.get(n) !== 2 : around.get(n) !== 4);

	/** The side before one on its line, the other way round; from there {@link trace} goes back. */
	const backOf = (side: number) => {
		const other = across(side)!;
		const before = across((other & ~3) | ((other + 1) & 3));
		return isIrregular(node(other >> 2, other + 1)) || before === undefined ? other : (before & ~3) | ((before + 1) & 3);
	};

	/** Cuts along a side, and straight on from its end. */
	const trace = (start: number) => {
		for (let side: number | undefined = start; side !== undefined && !cut.has(side) && across(side) !== undefined;) {
			cutSide(side);
			const end = node(side >> 2, side + 1);
			if (isIrregular(end) || isBorder(end)) return;
			// Two edges on around the node: over the next side of this quadrilateral.
			const next = across((side & ~3) | ((side + 1) & 3));
			side = next === undefined ? undefined : (next & ~3) | ((next + 1) & 3);
		}
	};
	for (const q of list)
		for (let k = 0; k < 4; k++) {
			const isInGroup = groupsOf.has(node(q, k) * count + node(q, k + 1));
			if ((!isIrregular(node(q, k)) && !isInGroup) || across(4 * q + k) === undefined) continue;
			trace(4 * q + k);
			if (isInGroup) trace(backOf(4 * q + k));
		}

	const zones: StructuredZone[] = [];
	const taken = new Set<number>();
	for (const first of list) {
		if (taken.has(first)) continue;
		let rows = laidOut(first);
		if (!rows) {
			// A ring: cut it from its border across, once.
			const members = partOf(first);
			const start = members
				.flatMap((q) => [0, 1, 2, 3].map((k) => 4 * q + k))
				.find((side) => isBorder(node(side >> 2, side)) && !isBorder(node(side >> 2, side + 1)) && !cut.has(side));
			const alone =
				start ??
				members
					.flatMap((q) => [0, 1, 2, 3].map((k) => 4 * q + k))
					.find((side) => across(side) !== undefined && isBorder(node(side >> 2, side)) && isBorder(node(side >> 2, side + 1)));
			if (alone === undefined) throw new Error(`the quadrilaterals of a region do not stand in rows`);
			if (start === undefined) cutSide(alone);
			else trace(start);
			rows = laidOut(first);
		}
		if (!rows) throw new Error(`the quadrilaterals of a region do not stand in rows`);
		for (const q of rows.members) taken.add(q);
		zones.push({ region, ni: rows.ni, nj: rows.nj, nodes: rows.nodes });
	}
	return zones;

	function partOf(first: number): number[] {
		const seen = new Set([first]);
		for (const q of seen)
			for (let k = 0; k < 4; k++) {
				const other = cut.has(4 * q + k) ? undefined : across(4 * q + k);
				if (other !== undefined) seen.add(other >> 2);
			}
		return [...seen];
	}

	/** Gives every quadrilateral of a part its place in rows; undefined where the part runs into itself. */
	function laidOut(first: number): { members: number[]; ni: number; nj: number; nodes: Uint32Array } | undefined {
		const open = (side: number) => (cut.has(side) ? undefined : across(side));
		const members = partOf(first);
		// From a corner of the part, where there is one: its first side runs along i.
		const corner = members
			.flatMap((q) => [0, 1, 2, 3].map((k) => 4 * q + k))
			.find((side) => open(side) === undefined && open((side & ~3) | ((side + 3) & 3)) === undefined);
		const start = corner ?? 4 * first;
		/** i, j, and which of its nodes is at (i, j). */
		const place = new Map<number, [number, number, number]>([[start >> 2, [0, 0, start & 3]]]);
		for (const [q, [i, j, turn]] of place)
			for (let k = 0; k < 4; k++) {
				const other = open(4 * q + ((turn + k) & 3));
				if (other === undefined) continue;
				// Side k of a place leads down, right, up or left; there it is the side opposite.
				const [di, dj] = [
					[0, -1],
					[1, 0],
					[0, 1],
					[-1, 0]
				][k] as [number, number];
				const placed: [number, number, number] = [i + di, j + dj, ((other & 3) - (k + 2) + 8) & 3];
				const earlier = place.get(other >> 2);
				if (!earlier) place.set(other >> 2, placed);
				else if (earlier[0] !== placed[0] || earlier[1] !== placed[1] || earlier[2] !== placed[2]) return undefined;
			}
		let [minI, minJ, maxI, maxJ] = [Infinity, Infinity, -Infinity, -Infinity];
		for (const [i, j] of place.values()) {
			minI = Math.min(minI, i);
			maxI = Math.max(maxI, i);
			minJ = Math.min(minJ, j);
			maxJ = Math.max(maxJ, j);
		}
		const [ni, nj] = [maxI - minI + 2, maxJ - minJ + 2];
		if ((ni - 1) * (nj - 1) !== place.size) return undefined;
		const nodes = new Uint32Array(ni * nj);
		for (const [q, [i, j, turn]] of place) {
			const base = i - minI + ni * (j - minJ);
			nodes[base] = node(q, turn);
			nodes[base + 1] = node(q, turn + 1);
			nodes[base + 1 + ni] = node(q, turn + 2);
			nodes[base + ni] = node(q, turn + 3);
		}
		return { members, ni, nj, nodes };
	}
}

/** One edge of the border of a zone: from a node to the next, in the direction in which the zone lies to its left. */
interface BorderEdge {
	zone: number;
	/** 0 below, 1 right, 2 above, 3 left. */
	side: number;
	from: [number, number];
	to: [number, number];
	a: number;
	b: number;
}

/** A run of edges along a side of a zone that have the same beyond them, and the same groups. */
interface BorderRun {
	edge: BorderEdge;
	last: BorderEdge;
	/** What lies beyond the first and the last of them, where that is a zone. */
	other?: BorderEdge;
	otherLast?: BorderEdge;
	/** Elements lie beyond them that are in no zone. */
	isBesideRest: boolean;
	groups: readonly number[];
}

const noGroups: readonly number[] = [];

function sidesOf(
	mesh: Mesh,
	zones: readonly StructuredZone[],
	groupsOf: ReadonlyMap<number, readonly number[]>
): Pick<StructuredZones, 'joins' | 'stretches' | 'inner'> {
	const count = mesh.x.length;
	const borders = zones.map((zone, z) => borderOf(zone, z));
	const at = new Map<number, BorderEdge>();
	for (const edge of borders.flat()) at.set(edge.a * count + edge.b, edge);
	const beside = edgesOutside(mesh, new Set(zones.map(({ region }) => region)));
	const joins: ZoneJoin[] = [];
	const stretches: ZoneStretch[] = [];
	const inner: ZoneStretch[] = [];
	for (const border of borders) {
		let run: BorderRun | undefined;
		const close = () => {
			if (!run) return;
			const { edge, last, other, otherLast, isBesideRest, groups } = run;
			run = undefined;
			const stretchOf = (group: number): ZoneStretch => ({ zone: edge.zone, from: edge.from, to: last.to, group });
			if (!other || !otherLast) {
				stretches.push(...(isBesideRest || groups.length === 0 ? [-1] : groups).map(stretchOf));
				if (isBesideRest) inner.push(...groups.map(stretchOf));
				return;
			}
			const isFirst = edge.zone === other.zone ? edge.side < other.side : edge.zone < other.zone;
			if (isFirst) inner.push(...groups.map(stretchOf));
			joins.push({
				zone: edge.zone,
				donor: other.zone,
				from: edge.from,
				to: last.to,
				// The neighbour's edges run the other way.
				donorFrom: other.to,
				donorTo: otherLast.from,
				transform: transformOf(edge, other)
			});
		};
		for (const edge of border) {
			const other = at.get(edge.b * count + edge.a);
			const groups = groupsOf.get(edge.a * count + edge.b) ?? noGroups;
			const isBesideRest = beside.has(edge.b * count + edge.a);
			const goesOn =
				run?.edge.side === edge.side &&
				run.groups === groups &&
				run.isBesideRest === isBesideRest &&
				(other
					? run.otherLast?.zone === other.zone && run.otherLast.side === other.side && same(run.otherLast.from, other.to)
					: !run.other);
			if (!goesOn) close();
			run = run
				? { ...run, last: edge, ...(other ? { otherLast: other } : {}) }
				: { edge, last: edge, groups, isBesideRest, ...(other ? { other, otherLast: other } : {}) };
		}
		close();
	}
	return { joins, stretches, inner };
}

/** The edges of elements of regions that are in no zone, as `from * nodes + to`, the element to their left. */
function edgesOutside({ triangles, triangleRegion, quads, quadRegion, x }: Mesh, zoned: ReadonlySet<number>): Set<number> {
	const edges = new Set<number>();
	for (const [nodes, region, size] of [
		[triangles, triangleRegion, 3],
		[quads, quadRegion, 4]
	] as const)
		region.forEach((r, e) => {
			if (zoned.has(r)) return;
			for (let k = 0; k < size; k++) edges.add(nodes[size * e + k]! * x.length + nodes[size * e + ((k + 1) % size)]!);
		});
	return edges;
}

const same = (a: readonly [number, number], b: readonly [number, number]) => a[0] === b[0] && a[1] === b[1];

/** The edges around a zone, counter-clockwise from (0, 0). */
function borderOf({ ni, nj, nodes }: StructuredZone, zone: number): BorderEdge[] {
	const corner: [number, number][] = [
		[0, 0],
		[ni - 1, 0],
		[ni - 1, nj - 1],
		[0, nj - 1]
	];
	const list: BorderEdge[] = [];
	for (let side = 0; side < 4; side++) {
		const [from, to] = [corner[side]!, corner[(side + 1) % 4]!];
		const [di, dj] = [Math.sign(to[0] - from[0]), Math.sign(to[1] - from[1])];
		for (let [i, j] = from; i !== to[0] || j !== to[1]; i += di, j += dj)
			list.push({ zone, side, from: [i, j], to: [i + di, j + dj], a: nodes[i + ni * j]!, b: nodes[i + di + ni * (j + dj)]! });
	}
	return list;
}

/** How the donor's indices change with those of the zone. */
function transformOf(edge: BorderEdge, other: BorderEdge): [number, number] {
	const direction = ({ from, to }: Pick<BorderEdge, 'from' | 'to'>) =>
		to[0] !== from[0] ? Math.sign(to[0] - from[0]) : 2 * Math.sign(to[1] - from[1]);
	/** Into a zone from each of its sides. */
	const inward = [2, -1, -2, 1];
	const result: [number, number] = [0, 0];
	const set = (mine: number, theirs: number) => (result[Math.abs(mine) - 1] = mine > 0 ? theirs : -theirs);
	// Along the side they run against one another; out of one is into the other.
	set(direction(edge), -direction(other));
	set(-inward[edge.side]!, inward[other.side]!);
	return result;
}
