import { groupEdges, isBoundary, type Mesh } from '../mesh/mesh.ts';
import type { DeliveryGrid, GridCells, GridSection } from '../mesh/grid.ts';
import { concatenated } from '../numeric/lists.ts';
import type { SecondOrder } from './second-order.ts';

/** A plane grid with elements of second order: the nodes on the middles of edges follow the corners, those of quadrilaterals them. */
export function secondOrderGrid(grid: DeliveryGrid, mesh: Mesh, order: SecondOrder, serendipity: boolean): DeliveryGrid {
	const corners = mesh.x.length;
	const middles = corners + order.x.length;
	const [x, y] = grid.coordinates;
	/** The node in the middle of an edge. */
	const middleOf = (a: number, b: number) => corners + order.edgeBetween(a, b)!;
	const triangles = mesh.triangles.length / 3;
	let [t, q] = [0, 0];
	const sections = grid.sections.map((section): GridSection => {
		const size = section.shape === 'triangle' ? 3 : 4;
		const count = section.nodes.length / size;
		const width = size === 3 ? 6 : serendipity ? 8 : 9;
		const nodes = new Uint32Array(width * count);
		for (let k = 0; k < count; k++) {
			for (let i = 0; i < size; i++) {
				nodes[width * k + i] = section.nodes[size * k + i]!;
				nodes[width * k + size + i] = middleOf(section.nodes[size * k + i]!, section.nodes[size * k + ((i + 1) % size)]!);
			}
			if (width === 9) nodes[width * k + 8] = middles + (q + k);
		}
		if (size === 3) t += count;
		else q += count;
		return { ...section, shape: size === 3 ? 'triangle6' : serendipity ? 'quadrilateral8' : 'quadrilateral9', nodes };
	});
	if (t !== triangles) throw new Error('the sections of a grid do not hold the triangles of its mesh');
	const line = ({ nodes }: GridCells): GridCells => {
		const long = new Uint32Array((nodes.length / 2) * 3);
		for (let k = 0; 2 * k < nodes.length; k++)
			long.set([nodes[2 * k]!, nodes[2 * k + 1]!, middleOf(nodes[2 * k]!, nodes[2 * k + 1]!)], 3 * k);
		return { shape: 'line3', nodes: long };
	};
	const hasMiddles = !serendipity;
	return {
		...grid,
		coordinates: [
			hasMiddles ? concatenated(concatenated(x, order.x), order.middleX) : concatenated(x, order.x),
			hasMiddles ? concatenated(concatenated(y, order.y), order.middleY) : concatenated(y, order.y)
		],
		sections,
		patches: grid.patches.map((patch) => ({ ...patch, sides: patch.sides.map(line) })),
		periodic: grid.periodic.map(({ from, to, ...rest }) => {
			const other = new Map([...from].map((node, k) => [node, to[k]!]));
			const [more, theirs]: [number[], number[]] = [[], []];
			for (let e = 0; e < mesh.edgePiece.length; e++) {
				const [a, b] = [mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!];
				const [c, d] = [other.get(a), other.get(b)];
				const opposite = c === undefined || d === undefined ? undefined : order.edgeBetween(c, d);
				if (opposite === undefined) continue;
				more.push(middleOf(a, b));
				theirs.push(corners + opposite);
			}
			return { ...rest, from: concatenated(from, Uint32Array.from(more)), to: concatenated(to, Uint32Array.from(theirs)) };
		}),
		nodeSets: () =>
			grid.nodeSets().map((set) => {
				const group = mesh.groups.filter(isBoundary).find((g) => g.name === set.name);
				const middles = group
					? Uint32Array.from(groupEdges(mesh, group), (e) => middleOf(mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!))
					: new Uint32Array();
				// The middle of an edge is of one group alone.
				return { name: set.name, all: concatenated(set.all, middles.sort()), owned: concatenated(set.owned, middles) };
			})
	};
}
