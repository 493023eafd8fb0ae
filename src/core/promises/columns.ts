import { hypot } from '../numeric/elementary.ts';
import type { MeshView } from './mesh-view.ts';

/** The cells that stand one over the other on an edge, from the edge up. */
export interface Column {
	/** Nodes over the edge's first and second node, those of the edge first; one more than there are cells. */
	left: number[];
	right: number[];
}

/** The edges of one side of a piece as pairs of nodes, what lies on that side to their left, in the order of the mesh. */
export function edgesOfSide(view: MeshView, side: number): [number, number][] {
	const { edges, edgeSide } = view.mesh;
	const all = view.edgesOn(side >> 1);
	const mine = all.filter((e) => edgeSide[e] === (side & 1));
	if (mine.length > 0) return mine.map((e) => [edges[2 * e]!, edges[2 * e + 1]!]);
	return all.map((e) => [edges[2 * e + 1]!, edges[2 * e]!]);
}

/**
 * The cells over an edge, no more than `most`: each quadrilateral, or pair of triangles that were one, over the last.
 *
 * @param region index of the region in which it goes on, of {@link Mesh.regions}
 * @param isCut whether two triangles that share a diagonal are a cell
 */
export function columnOver(view: MeshView, a: number, b: number, most: number, region: number, isCut: boolean): Column {
	const column: Column = { left: [a], right: [b] };
	while (column.left.length <= most) {
		const top = nextCell(view, column.left.at(-1)!, column.right.at(-1)!, region, isCut);
		if (!top) break;
		column.left.push(top[0]);
		column.right.push(top[1]);
	}
	return column;
}

/** The nodes over an edge in the cell to its left; undefined where there is none. */
function nextCell(view: MeshView, a: number, b: number, region: number, isCut: boolean): [number, number] | undefined {
	const quad = view.quadAt(a, b);
	if (quad)
		return view.regionOf(quad.element) === region
			? [view.cornerNode(quad.element, quad.corner + 3), view.cornerNode(quad.element, quad.corner + 2)]
			: undefined;
	const found = isCut ? view.triangleAt(a, b) : undefined;
	if (!found || view.regionOf(found.element) !== region) return undefined;
	const c = view.cornerNode(found.element, found.corner + 2);
	const { x, y } = view.mesh;
	const [dx, dy] = [x[b]! - x[a]!, y[b]! - y[a]!];
	const along = ((x[c]! - x[a]!) * dx + (y[c]! - y[a]!) * dy) / (dx * dx + dy * dy || 1);
	// The third node stands over one end; what is cut off stands over the other, across the diagonal.
	const overFirst = along < 0.5;
	const other = overFirst ? view.triangleAt(c, b) : view.triangleAt(a, c);
	if (!other || view.regionOf(other.element) !== region) return undefined;
	const d = view.cornerNode(other.element, other.corner + 2);
	return overFirst ? [c, d] : [d, c];
}

/** The index of the region on a side of a piece, of {@link Mesh.regions}; −1 where there is none. */
export function regionOfSide(view: MeshView, side: number): number {
	const region = view.regionBeside(side);
	return region ? view.mesh.regions.indexOf(region.name) : -1;
}

/**
 * How high nodes stand over the nodes of a wall, square to it: over each the normal is the mean of those of the edges that meet there.
 *
 * @param edges pairs of nodes along one side of a piece
 * @param over the node over the first and the second node of each edge; negative where there is none
 * @returns for each edge the mean of both heights; NaN where there is none
 */
export function heightsOver(view: MeshView, edges: readonly [number, number][], over: readonly [number, number][]): Float64Array {
	const { x, y } = view.mesh;
	const normals = new Map<number, { x: number; y: number }>();
	for (const [a, b] of edges) {
		const length = hypot(x[b]! - x[a]!, y[b]! - y[a]!) || 1;
		const n = { x: -(y[b]! - y[a]!) / length, y: (x[b]! - x[a]!) / length };
		for (const node of [a, b]) {
			const sum = normals.get(node) ?? { x: 0, y: 0 };
			normals.set(node, { x: sum.x + n.x, y: sum.y + n.y });
		}
	}
	const height = (foot: number, top: number) => {
		const n = normals.get(foot)!;
		return ((x[top]! - x[foot]!) * n.x + (y[top]! - y[foot]!) * n.y) / (hypot(n.x, n.y) || 1);
	};
	return Float64Array.from(edges, ([a, b], k) => {
		const [p, q] = over[k]!;
		return p < 0 ? NaN : (height(a, p) + height(b, q)) / 2;
	});
}

/** The same square to each edge itself: of a curve that bends within an edge this is less by what the edge cuts off. */
export function heightsOverEdges(
	view: MeshView,
	edges: readonly [number, number][],
	over: readonly [number, number][]
): Float64Array {
	const { x, y } = view.mesh;
	return Float64Array.from(edges, ([a, b], k) => {
		const [p, q] = over[k]!;
		if (p < 0) return NaN;
		const [dx, dy] = [x[b]! - x[a]!, y[b]! - y[a]!];
		const height = (n: number) => (dx * (y[n]! - y[a]!) - dy * (x[n]! - x[a]!)) / (hypot(dx, dy) || 1);
		return (height(p) + height(q)) / 2;
	});
}
