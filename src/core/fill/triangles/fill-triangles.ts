import { hypot } from '../../numeric/elementary.ts';
import { FillError, type Fill, type FillInput, type Work } from '../fill.ts';
import { OFFSET, triangulateBoundary } from './constrained.ts';
import { improve } from './improve.ts';
import { refine, type SizeRule } from './refine.ts';
import { repair } from './repair.ts';

/** Smoothing sweeps before and after the repair of small angles. */
const sweepsBefore = 2;
const sweepsAfter = 3;

/**
 * Fills a region with triangles of the size asked: constrained Delaunay triangulation of what is
 * given, frontal refinement, smoothing, repair of small angles, smoothing. Given nodes and edges are kept exactly.
 *
 * @throws FillError where the given edges cross or coincide
 */
export function* fillTriangles(input: FillInput, rule: SizeRule): Work<Fill> {
	const { edges } = input;
	const given = input.x.length;
	const sizes = givenSizes(input, rule.size);
	const expected = expectedNodes(input, rule, sizes);
	const { triangulation: mesh, inside } = triangulateBoundary(input, given + Math.ceil(1.2 * expected));
	checkEncloses(input);
	const sizeAt = new Float64Array(mesh.x.length);
	sizeAt.set(sizes, OFFSET);
	yield 0.1;
	const refined = yield* part(refine(mesh, inside, sizeAt, rule, 200 + 20 * Math.ceil(expected) + 4 * edges.length), 0.1, 0.6);
	yield* part(improve(mesh, given + OFFSET, refined, sweepsBefore), 0.6, 0.75);
	const kept = yield* part(repair(mesh, refined), 0.75, 0.8);
	yield* part(improve(mesh, given + OFFSET, kept, sweepsAfter), 0.8, 1);

	let count = 0;
	for (const k of kept) count += k;
	const triangles = new Uint32Array(3 * count);
	let e = 0;
	for (let t = 0; t < kept.length; t++) if (kept[t]) for (let k = 0; k < 3; k++) triangles[e++] = mesh.from[3 * t + k]! - OFFSET;
	return {
		x: mesh.x.slice(given + OFFSET, mesh.vertexCount),
		y: mesh.y.slice(given + OFFSET, mesh.vertexCount),
		triangles,
		quads: new Uint32Array(0)
	};
}

/** Refuses a boundary whose straight edges enclose nothing, like a lens whose two arcs are one division each. */
function checkEncloses({ x, y, edges }: FillInput): void {
	let area = 0;
	for (let k = 0; k < edges.length; k += 2) {
		const [a, b] = [edges[k]!, edges[k + 1]!];
		area += (x[a]! - x[0]!) * (y[b]! - y[0]!) - (x[b]! - x[0]!) * (y[a]! - y[0]!);
	}
	if (!(area > 0))
		throw new FillError('chords-cross', 'the straight edges of its boundary enclose nothing; divide its curves more finely', {
			x: x[0]!,
			y: y[0]!
		});
}

/** Runs a part of the work, its progress mapped to [from, to]. */
function* part<T>(work: Work<T>, from: number, to: number): Work<T> {
	for (;;) {
		const step = work.next();
		if (step.done) return step.value;
		yield from + (to - from) * step.value;
	}
}

/** The mean length of the given edges at each given node; `alone` at a node without edges. */
function givenSizes({ x, y, edges }: FillInput, alone: number): Float64Array {
	const sum = new Float64Array(x.length);
	const ends = new Float64Array(x.length);
	for (let k = 0; k < edges.length; k += 2) {
		const [a, b] = [edges[k]!, edges[k + 1]!];
		const length = hypot(x[b]! - x[a]!, y[b]! - y[a]!);
		sum[a]! += length;
		sum[b]! += length;
		ends[a]!++;
		ends[b]!++;
	}
	return sum.map((s, i) => (ends[i]! > 0 ? s / ends[i]! : alone));
}

/**
 * How many nodes a fill will add, from the area in equilateral triangles of the size asked and the
 * layers in which sizes grow from the boundary; an estimate from above.
 */
function expectedNodes({ x, y, edges }: FillInput, { size, growth }: SizeRule, sizes: Float64Array): number {
	let area = 0;
	let largest = 0;
	let nearBoundary = 0;
	for (let k = 0; k < edges.length; k += 2) {
		const [a, b] = [edges[k]!, edges[k + 1]!];
		area += (x[a]! - x[0]!) * (y[b]! - y[0]!) - (x[b]! - x[0]!) * (y[a]! - y[0]!);
		largest = Math.max(largest, sizes[a]!);
		// A strip that grows from h at rate g holds 1 / (h (g − 1)) nodes per unit of length and over.
		nearBoundary += 1 / (growth - 1);
	}
	const h = Number.isFinite(size) ? size : largest;
	return (Math.max(0, area) / 2 / ((Math.sqrt(3) / 2) * h * h)) * 1.1 + nearBoundary;
}

/** About how many triangles a fill will make: twice its nodes. */
export function expectedTriangles(input: FillInput, rule: SizeRule): number {
	return 2 * expectedNodes(input, rule, givenSizes(input, rule.size));
}
