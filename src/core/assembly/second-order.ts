import type { Arrangement } from '../geometry/pieces.ts';
import { isStraight, partPoint } from '../geometry/parts.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { isElementPositive } from '../quality/second-order.ts';

/** Nodes on the middles of the edges of a mesh; they follow the nodes of the corners, and the middles of quadrilaterals follow them. */
export interface SecondOrder {
	/** The nodes of each edge, two to an edge, the lower number first. */
	edges: Uint32Array;
	/** The edge between two nodes, in either order; nothing where no element has it as a side. */
	edgeBetween(a: number, b: number): number | undefined;
	/** Where the node in the middle of each edge is. */
	x: Float64Array;
	y: Float64Array;
	/** For each side of each element its edge: three to a triangle, four to a quadrilateral. */
	triangleEdges: Uint32Array;
	quadEdges: Uint32Array;
	/** The middle of each quadrilateral. */
	middleX: Float64Array;
	middleY: Float64Array;
	/** Elements whose Jacobian cannot be proved positive, counted triangles first. */
	folded: number[];
}

/** How often inner nodes are carried along with curved sides before an element is given up. */
const rounds = 40;

/**
 * The nodes that elements of second order have besides their corners: those on curves lie on the true curve, at the middle of the
 * division by arc length, the others on the middles of the edges. Where a curved side would fold an element, its other
 * middles are carried along, half of the way in every round, until its Jacobian is proved positive.
 */
export function secondOrder(mesh: Mesh, { pieces }: Arrangement): SecondOrder {
	const { x, y, triangles, quads } = mesh;
	const numbers = new Map<number, number>();
	const ends: number[] = [];
	const keyOf = (a: number, b: number) => (a < b ? a * x.length + b : b * x.length + a);
	const edgeBetween = (a: number, b: number) => numbers.get(keyOf(a, b));
	const edgeOf = (a: number, b: number): number => {
		let edge = edgeBetween(a, b);
		if (edge === undefined) {
			numbers.set(keyOf(a, b), (edge = numbers.size));
			ends.push(Math.min(a, b), Math.max(a, b));
		}
		return edge;
	};
	const sidesOf = (nodes: Uint32Array, size: number) =>
		nodes.map((a, k) => edgeOf(a, nodes[k - (k % size) + (((k % size) + 1) % size)]!));
	const triangleEdges = sidesOf(triangles, 3);
	const quadEdges = sidesOf(quads, 4);
	const edges = Uint32Array.from(ends);
	const count = edges.length / 2;
	const mx = new Float64Array(count);
	const my = new Float64Array(count);
	for (let e = 0; e < count; e++) {
		mx[e] = (x[edges[2 * e]!]! + x[edges[2 * e + 1]!]!) / 2;
		my[e] = (y[edges[2 * e]!]! + y[edges[2 * e + 1]!]!) / 2;
	}

	// Phase 1: middles on curves; what lies on a straight piece has its middle there already.
	const isFixed = new Uint8Array(count);
	const curved: number[] = [];
	for (let k = 0; k < mesh.edgePiece.length; k++) {
		const edge = edgeBetween(mesh.edges[2 * k]!, mesh.edges[2 * k + 1]!);
		if (edge === undefined) continue;
		isFixed[edge] = 1;
		const piece = pieces[mesh.edgePiece[k]!]!;
		if (isStraight(piece)) continue;
		const at = partPoint(piece, (mesh.edgeStretch[2 * k]! + mesh.edgeStretch[2 * k + 1]!) / 2, piece.length);
		mx[edge] = at.x;
		my[edge] = at.y;
		curved.push(edge);
	}

	// Phase 2: elements beside curved sides are proved, and inner middles carried along where they must be.
	const elements = elementsOf(curved);
	let open = elements;
	const folded: number[] = [];
	for (let round = 0; round <= rounds && open.length > 0; round++) {
		const bad = open.filter((element) => !isPositive(element));
		if (round === rounds || bad.length === 0) {
			folded.push(...bad);
			break;
		}
		const moved = new Set<number>();
		for (const element of bad) for (const edge of carry(element)) moved.add(edge);
		if (moved.size === 0) {
			folded.push(...bad);
			break;
		}
		// What was carried may have folded what lies beyond.
		open = [...new Set([...bad, ...elementsOf([...moved])])];
	}
	const middleX = new Float64Array(quads.length / 4);
	const middleY = new Float64Array(quads.length / 4);
	for (let q = 0; q < middleX.length; q++) [middleX[q], middleY[q]] = middleOf(q);
	return { edges, edgeBetween, x: mx, y: my, triangleEdges, quadEdges, middleX, middleY, folded: folded.sort((a, b) => a - b) };

	/** The elements that have any of some edges as a side. */
	function elementsOf(list: readonly number[]): number[] {
		const wanted = new Uint8Array(count);
		for (const edge of list) wanted[edge] = 1;
		const found = new Set<number>();
		triangleEdges.forEach((edge, k) => wanted[edge] && found.add(Math.floor(k / 3)));
		quadEdges.forEach((edge, k) => wanted[edge] && found.add(triangles.length / 3 + Math.floor(k / 4)));
		return [...found];
	}

	function sides(element: number): { corners: Uint32Array; edges: Uint32Array } {
		const first = triangles.length / 3;
		return element < first
			? { corners: triangles.subarray(3 * element, 3 * element + 3), edges: triangleEdges.subarray(3 * element, 3 * element + 3) }
			: {
					corners: quads.subarray(4 * (element - first), 4 * (element - first) + 4),
					edges: quadEdges.subarray(4 * (element - first), 4 * (element - first) + 4)
				};
	}

	/** The middle of a quadrilateral that its sides ask for: by transfinite interpolation (W. J. Gordon & C. A. Hall, 1973). */
	function middleOf(q: number): [number, number] {
		let [sx, sy] = [0, 0];
		for (let k = 0; k < 4; k++) {
			sx += mx[quadEdges[4 * q + k]!]! / 2 - x[quads[4 * q + k]!]! / 4;
			sy += my[quadEdges[4 * q + k]!]! / 2 - y[quads[4 * q + k]!]! / 4;
		}
		return [sx, sy];
	}

	function isPositive(element: number): boolean {
		const { corners, edges } = sides(element);
		const px = [...corners].map((k) => x[k]!).concat([...edges].map((e) => mx[e]!));
		const py = [...corners].map((k) => y[k]!).concat([...edges].map((e) => my[e]!));
		if (corners.length === 4) {
			const [cx, cy] = middleOf(element - triangles.length / 3);
			px.push(cx);
			py.push(cy);
		}
		return isElementPositive(px, py);
	}

	/**
	 * Moves inner middles of an element half of the way to where its most curved side takes them: in a quadrilateral the side across bends as
	 * much, in a triangle the two others by half. Returns which moved.
	 */
	function carry(element: number): number[] {
		const { edges } = sides(element);
		const bends = [...edges].map(bendOf);
		const size = (k: number) => bends[k]![0] ** 2 + bends[k]![1] ** 2;
		const most = [...edges.keys()].reduce((best, k) => (size(k) > size(best) ? k : best), 0);
		if (size(most) === 0) return [];
		const [dx, dy] = bends[most]!;
		const targets = edges.length === 4 ? [(most + 2) % 4] : [(most + 1) % 3, (most + 2) % 3];
		const share = edges.length === 4 ? 1 : 0.5;
		const moved = targets.filter((k) => !isFixed[edges[k]!]);
		for (const k of moved) {
			mx[edges[k]!]! += (share * dx - bends[k]![0]) / 2;
			my[edges[k]!]! += (share * dy - bends[k]![1]) / 2;
		}
		return moved.map((k) => edges[k]!);
	}

	/** How far the middle of an edge is from straight. */
	function bendOf(e: number): [number, number] {
		const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
		return [mx[e]! - (x[a]! + x[b]!) / 2, my[e]! - (y[a]! + y[b]!) / 2];
	}
}
