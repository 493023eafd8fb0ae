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
 * @param triangles about how many triangles there will be
 * @throws FillError where the given edges cross or coincide
 */
export function* fillTriangles(input: FillInput, rule: SizeRule, triangles = expectedTriangles(input, rule)): Work<Fill> {
	const { edges } = input;
	const given = input.x.length;
	const sizes = givenSizes(input, rule.size);
	if (rule.field) for (let i = 0; i < given; i++) sizes[i] = Math.min(sizes[i]!, rule.field(input.x[i]!, input.y[i]!));
	const expected = triangles / 2;
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
	const made = new Uint32Array(3 * count);
	let e = 0;
	for (let t = 0; t < kept.length; t++) if (kept[t]) for (let k = 0; k < 3; k++) made[e++] = mesh.from[3 * t + k]! - OFFSET;
	return {
		x: mesh.x.slice(given + OFFSET, mesh.vertexCount),
		y: mesh.y.slice(given + OFFSET, mesh.vertexCount),
		triangles: made,
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

/** Rows of sampling over a region for the prediction. */
const sampleRows = 100;

/**
 * How many nodes a fill will add: the integral of 2/(√3 h²) over the region, where h grows from
 * the size of the boundary near by, and from the zones, up to the size of the region. Rows are cut
 * where they cross the boundary; along each the sizes at the crossings grow inward.
 */
function expectedNodes({ x, y, edges }: FillInput, { size, growth, field }: SizeRule, sizes: Float64Array): number {
	let [low, high] = [Infinity, -Infinity];
	let largest = 0;
	for (let k = 0; k < edges.length; k++) {
		low = Math.min(low, y[edges[k]!]!);
		high = Math.max(high, y[edges[k]!]!);
		largest = Math.max(largest, sizes[edges[k]!]!);
	}
	if (!(high > low)) return 0;
	const whole = Number.isFinite(size) ? size : largest;
	const slope = growth - 1;
	const step = (high - low) / sampleRows;
	const crossings: { at: number; size: number }[][] = Array.from({ length: sampleRows }, () => []);
	for (let k = 0; k < edges.length; k += 2) {
		const [a, b] = [edges[k]!, edges[k + 1]!];
		if (y[a] === y[b]) continue;
		const [from, to] = y[a]! < y[b]! ? [a, b] : [b, a];
		const first = Math.max(0, Math.ceil((y[from]! - low) / step - 0.5));
		for (let row = first; row < sampleRows && low + (row + 0.5) * step < y[to]!; row++) {
			const t = (low + (row + 0.5) * step - y[from]!) / (y[to]! - y[from]!);
			crossings[row]!.push({ at: x[from]! + t * (x[to]! - x[from]!), size: Math.min(sizes[from]!, sizes[to]!) });
		}
	}
	let nodes = 0;
	crossings.forEach((list, row) => {
		list.sort((p, q) => p.at - q.at);
		const at = low + (row + 0.5) * step;
		for (let k = 0; k + 1 < list.length; k += 2) {
			const [p, q] = [list[k]!, list[k + 1]!];
			const parts = Math.max(4, Math.min(120, Math.ceil((q.at - p.at) / step)));
			const width = (q.at - p.at) / parts;
			for (let i = 0; i < parts; i++) {
				const along = (i + 0.5) * width;
				let h = Math.min(whole, p.size + slope * along, q.size + slope * (q.at - p.at - along));
				if (field) h = Math.min(h, field(p.at + along, at));
				nodes += (width * step) / (0.5 * Math.sqrt(3) * h * h);
			}
		}
	});
	return nodes;
}

/** About how many triangles a fill will make: twice its nodes. */
export function expectedTriangles(input: FillInput, rule: SizeRule): number {
	return 2 * expectedNodes(input, rule, givenSizes(input, rule.size));
}
