import type { SecondOrder } from '../assembly/second-order.ts';
import { type CellShape, type DeliveryGrid, type GridCells, nodesOfShape } from '../mesh/grid.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { concatenated, Float64List, Uint32List } from '../numeric/lists.ts';
import type { SweptGrid } from './solid.ts';

/** The edges of every shape in the order of the SIDS, and the shape with nodes on them. */
const edgesOf: Partial<Record<CellShape, { edges: readonly (readonly [number, number])[]; shape: CellShape }>> = {
	triangle: {
		edges: [
			[0, 1],
			[1, 2],
			[2, 0]
		],
		shape: 'triangle6'
	},
	quadrilateral: {
		edges: [
			[0, 1],
			[1, 2],
			[2, 3],
			[3, 0]
		],
		shape: 'quadrilateral8'
	},
	tetrahedron: {
		edges: [
			[0, 1],
			[1, 2],
			[2, 0],
			[0, 3],
			[1, 3],
			[2, 3]
		],
		shape: 'tetrahedron10'
	},
	pyramid: {
		edges: [
			[0, 1],
			[1, 2],
			[2, 3],
			[3, 0],
			[0, 4],
			[1, 4],
			[2, 4],
			[3, 4]
		],
		shape: 'pyramid13'
	},
	prism: {
		edges: [
			[0, 1],
			[1, 2],
			[2, 0],
			[0, 3],
			[1, 4],
			[2, 5],
			[3, 4],
			[4, 5],
			[5, 3]
		],
		shape: 'prism15'
	},
	hexahedron: {
		edges: [
			[0, 1],
			[1, 2],
			[2, 3],
			[3, 0],
			[0, 4],
			[1, 5],
			[2, 6],
			[3, 7],
			[4, 5],
			[5, 6],
			[6, 7],
			[7, 4]
		],
		shape: 'hexahedron20'
	}
};
/**
 * A solid with a node in the middle of every edge (serendipity elements): on the true curve and, of a body of revolution, on the
 * true circle, as the middle of the plane edge swept half way. Where a quadrilateral is cut at the axis, the middle of the cut is its own.
 */
export function secondOrderSolid({ grid, source, level, place }: SweptGrid, mesh: Mesh, order: SecondOrder): DeliveryGrid {
	const [x, y, z] = grid.coordinates as [Float64Array, Float64Array, Float64Array];
	const count = x.length;
	const numbers = new Map<number, number>();
	const [mx, my, mz] = [new Float64List(), new Float64List(), new Float64List()];
	let cuts: Map<number, number> | undefined;

	/** The middle of a way in the plane: of an edge, or of the cut of a quadrilateral. */
	function planeMiddle(a: number, b: number): [number, number] {
		if (a === b) return [mesh.x[a]!, mesh.y[a]!];
		const edge = order.edgeBetween(a, b);
		if (edge !== undefined) return [order.x[edge]!, order.y[edge]!];
		cuts ??= diagonals(mesh);
		const quad = cuts.get(keyOf(a, b, mesh.x.length));
		return quad === undefined
			? [(mesh.x[a]! + mesh.x[b]!) / 2, (mesh.y[a]! + mesh.y[b]!) / 2]
			: [order.middleX[quad]!, order.middleY[quad]!];
	}

	function add(number: number, px: number, py: number, pz: number): number {
		mx.push(px);
		my.push(py);
		mz.push(pz);
		return number;
	}

	function middleOf(a: number, b: number): number {
		const key = keyOf(a, b, count);
		const earlier = numbers.get(key);
		if (earlier !== undefined) return earlier;
		const [px, py] = planeMiddle(source[a]!, source[b]!);
		const [la, lb] = [level[a]!, level[b]!];
		const number = count + mx.length;
		numbers.set(key, number);
		// On the axis itself there is nothing to turn.
		if (Number.isNaN(la) && Number.isNaN(lb)) return add(number, (x[a]! + x[b]!) / 2, (y[a]! + y[b]!) / 2, 0);
		const at = Number.isNaN(la) ? lb : Number.isNaN(lb) ? la : between(la, lb);
		return add(number, ...place(px, py, at));
	}

	/** Half way between two planes; between the last and the first of a full turn it is past the last. */
	const last = level.reduce((most, l) => (l > most ? l : most), 0);
	const between = (la: number, lb: number) => (Math.abs(la - lb) > 1 ? last + 0.5 : (la + lb) / 2);
	const withMiddles = <C extends GridCells>(cells: C): C => {
		const edges = edgesOf[cells.shape];
		if (!edges) return cells;
		const size = nodesOfShape[cells.shape];
		const nodes = new Uint32List();
		for (let k = 0; k < cells.nodes.length; k += size) {
			for (let i = 0; i < size; i++) nodes.push(cells.nodes[k + i]!);
			for (const [i, j] of edges.edges) nodes.push(middleOf(cells.nodes[k + i]!, cells.nodes[k + j]!));
		}
		return { ...cells, shape: edges.shape, nodes: nodes.taken() };
	};

	const sections = grid.sections.map(withMiddles);
	const patches = grid.patches.map((patch) => ({ ...patch, sides: patch.sides.map(withMiddles) }));
	/** The middles of the sides of a patch. */
	const middlesOf = new Map(
		patches.map(({ name, sides }) => [
			name,
			Uint32Array.from(new Set(sides.flatMap((s) => Array.from(s.nodes)).filter((node) => node >= count))).sort()
		])
	);
	return {
		...grid,
		coordinates: [concatenated(x, mx.taken()), concatenated(y, my.taken()), concatenated(z, mz.taken())],
		sections,
		patches,
		periodic: grid.periodic.map(({ from, to, ...rest }) => {
			const other = new Map([...from].map((node, k) => [node, to[k]!]));
			const [more, theirs]: [number[], number[]] = [[], []];
			for (const [key, number] of numbers) {
				const [a, b] = [Math.floor(key / count), key % count];
				const [c, d] = [other.get(a), other.get(b)];
				const opposite = c === undefined || d === undefined ? undefined : numbers.get(keyOf(c, d, count));
				if (opposite === undefined) continue;
				more.push(number);
				theirs.push(opposite);
			}
			return { ...rest, from: concatenated(from, Uint32Array.from(more)), to: concatenated(to, Uint32Array.from(theirs)) };
		}),
		nodeSets: () => {
			// A middle on two groups is owned by the first of them, as corners are.
			const taken = new Set<number>();
			return grid.nodeSets().map(({ name, all, owned }) => {
				const middles = middlesOf.get(name) ?? new Uint32Array();
				const free = middles.filter((node) => !taken.has(node));
				for (const node of free) taken.add(node);
				return { name, all: concatenated(all, middles), owned: concatenated(owned, free) };
			});
		}
	};
}

const keyOf = (a: number, b: number, count: number): number => (a < b ? a * count + b : b * count + a);

/** Both diagonals of every quadrilateral, with its number. */
function diagonals({ quads, x }: Mesh): Map<number, number> {
	const found = new Map<number, number>();
	for (let q = 0; q < quads.length; q += 4)
		for (const k of [0, 1]) found.set(keyOf(quads[q + k]!, quads[q + k + 2]!, x.length), q / 4);
	return found;
}
