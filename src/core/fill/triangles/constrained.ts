import { FillError, type FillInput } from '../method.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';
import { boxOf } from '../../numeric/box.ts';
import { alongHilbertCurve } from '../../numeric/hilbert-order.ts';
import { Triangulation } from './triangulation.ts';

/** Number of box vertices ahead of the given nodes in a {@link Triangulation}. */
export const OFFSET = 4;
/** Nodes, or edges, that go in between two yields. */
const chunkSize = 8192;

/**
 * The constrained Delaunay triangulation of a region's given nodes and edges. Node i of the input
 * is vertex i + OFFSET.
 *
 * @returns the triangulation, and for each of its triangles 1 where it lies in the region
 * @throws FillError where an edge crosses another or passes through a node, or two nodes coincide
 */
export function* triangulateBoundary(
	input: FillInput,
	capacity: number
): Work<{ triangulation: Triangulation; inside: Uint8Array }> {
	const { x, y, edges } = input;
	const count = x.length;

	// Phase 1: the nodes, in an order that keeps neighbours together.
	const box = boxOf(x, y);
	const triangulation = new Triangulation(box, Math.max(capacity, count));
	yield 0;
	const order = alongHilbertCurve(x, y);
	yield 0;
	const vertexOf = new Int32Array(count);
	triangulation.isExact = false;
	let last = 0;
	const insert = (from: number, to: number) => {
		last = insertSome(triangulation, x, y, order.subarray(from, to), vertexOf, last);
	};
	yield* part(inStretches(count, chunkSize, insert), 0, 0.5);
	renumber(triangulation, vertexOf);

	// Phase 2: the edges.
	const edgeCount = edges.length / 2;
	yield* part(
		inStretches(edgeCount, chunkSize, (from, to) => constrainSome(triangulation, edges, from, to)),
		0.5,
		0.8
	);

	// Phase 3: what lies left of the edges, and all that can be reached from there.
	const inside = new Uint8Array(triangulation.triangleCount);
	yield* part(
		inStretches(edgeCount, chunkSize, (from, to) => enterFrom(triangulation, inside, input, from, to)),
		0.8,
		0.9
	);
	triangulation.isExact = true;
	yield* part(triangulation.makeDelaunay(inside), 0.9, 1);
	return { triangulation, inside };
}

/**
 * Puts some nodes in, each looked for from the one before, and notes their vertices.
 *
 * @param last a half-edge to start from
 * @returns one near the last node
 */
function insertSome(
	triangulation: Triangulation,
	x: Float64Array,
	y: Float64Array,
	some: Int32Array,
	vertexOf: Int32Array,
	last: number
): number {
	for (let k = 0; k < some.length; k++) {
		const i = some[k]!;
		const place = triangulation.locate(x[i]!, y[i]!, last);
		if (place.vertex >= 0)
			throw new FillError(
				'nodes-coincide',
				`two nodes of its boundary lie at (${x[i]}, ${y[i]}); divide the pieces there more finely`,
				{ x: x[i]!, y: y[i]! }
			);
		const v = triangulation.insertAt(x[i]!, y[i]!, place);
		vertexOf[i] = v;
		last = triangulation.outgoing[v]!;
	}
	return last;
}

/** Makes edges from one to another part of the triangulation. */
function constrainSome(triangulation: Triangulation, edges: Uint32Array, from: number, to: number): void {
	for (let k = 2 * from; k < 2 * to; k += 2) {
		const a = edges[k]! + OFFSET;
		const b = edges[k + 1]! + OFFSET;
		const obstacle = triangulation.constrain(a, b);
		if (obstacle) throw describe(triangulation, a, b, obstacle);
	}
}

/** Marks the triangles to the left of some edges, and all that can be reached from there. */
function enterFrom(triangulation: Triangulation, inside: Uint8Array, input: FillInput, first: number, last: number): void {
	const { x, y, edges } = input;
	const { from, twin, fixed } = triangulation;
	const pending: number[] = [];
	for (let k = 2 * first; k < 2 * last; k += 2) {
		const start = (triangulation.edgeBetween(edges[k]! + OFFSET, edges[k + 1]! + OFFSET) / 3) | 0;
		if (inside[start]) continue;
		inside[start] = 1;
		pending.push(start);
		for (let t = pending.pop(); t !== undefined; t = pending.pop())
			for (let e = 3 * t; e < 3 * t + 3; e++) {
				// Beyond the given nodes there is only the outside: this edge has the region on its right.
				if (from[e]! < OFFSET) throw turnedOver(x, y, edges[k]!, edges[k + 1]!);
				const f = twin[e]!;
				if (fixed[e] || f < 0) continue;
				const other = (f / 3) | 0;
				if (inside[other]) continue;
				inside[other] = 1;
				pending.push(other);
			}
	}
}

/** Two curves that leave a junction close together: their coarse chords lie the other way round. */
function turnedOver(x: Float64Array, y: Float64Array, a: number, b: number): FillError {
	const say = (i: number) => `(${Number(x[i]!.toPrecision(6))}, ${Number(y[i]!.toPrecision(6))})`;
	return new FillError(
		'chords-cross',
		`the straight edges of its boundary turn inside out near the one from ${say(a)} to ${say(b)}; divide the curves there more finely`,
		{ x: x[a]!, y: y[a]! }
	);
}

function describe(
	t: Triangulation,
	a: number,
	b: number,
	obstacle: { vertex: number } | { crossing: [number, number] }
): FillError {
	const say = (v: number) => `(${Number(t.x[v]!.toPrecision(6))}, ${Number(t.y[v]!.toPrecision(6))})`;
	const at = 'vertex' in obstacle ? obstacle.vertex : obstacle.crossing[0];
	const what =
		'vertex' in obstacle
			? `passes through the node at ${say(obstacle.vertex)}`
			: `crosses the one from ${say(obstacle.crossing[0])} to ${say(obstacle.crossing[1])}`;
	return new FillError(
		'chords-cross',
		`the straight edge from ${say(a)} to ${say(b)} ${what}; divide the curves there more finely`,
		{ x: t.x[at]!, y: t.y[at]! }
	);
}

/** Gives input node i the vertex number i + OFFSET, whatever order the nodes went in. */
function renumber(t: Triangulation, vertexOf: Int32Array): void {
	const count = vertexOf.length;
	const target = new Int32Array(count + OFFSET);
	for (let v = 0; v < OFFSET; v++) target[v] = v;
	vertexOf.forEach((v, i) => (target[v] = i + OFFSET));
	for (let e = 0; e < 3 * t.triangleCount; e++) t.from[e] = target[t.from[e]!]!;
	const [x, y, outgoing] = [t.x.slice(), t.y.slice(), t.outgoing.slice()];
	target.forEach((to, v) => {
		t.x[to] = x[v]!;
		t.y[to] = y[v]!;
		t.outgoing[to] = outgoing[v]!;
	});
}

/** The area that edges enclose, as they run counter-clockwise around it; below zero where they run the other way. */
export function enclosedArea({ x, y, edges }: FillInput): number {
	let twice = 0;
	for (let k = 0; k < edges.length; k += 2) {
		const a = edges[k]!;
		const b = edges[k + 1]!;
		twice += (x[a]! - x[0]!) * (y[b]! - y[0]!) - (x[b]! - x[0]!) * (y[a]! - y[0]!);
	}
	return twice / 2;
}
