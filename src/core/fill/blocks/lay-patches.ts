import { hypot } from '../../numeric/elementary.ts';
import { part, type Work } from '../../numeric/work.ts';
import type { Fill, FillInput } from '../method.ts';
import type { Point } from '../../geometry/curve.ts';
import { placeOf } from '../quads/fill-quads.ts';
import { QuadMesh } from '../quads/quad-mesh.ts';
import { smooth } from '../quads/smooth.ts';
import { fillTransfinite } from '../structured/transfinite.ts';
import { along as nodesAlong, numberingOf } from './numbering.ts';
import type { Patches } from './patches.ts';

/** So many sweeps bring nodes to where their elements are best. */
const sweeps = 40;

/** The quadrilaterals of blocks, how many blocks hold some, the lines between them, and the shape of the worst, with its place. */
export interface LaidPatches {
	fill: Fill;
	blocks: { count: number; cuts: Float64Array[] };
	worst: { shape: number; at: Point };
}

/**
 * The quadrilaterals of blocks: nodes along all arcs, transfinite interpolation within each block, then all nodes moved to where
 * their elements are best.
 *
 * @param counts divisions of each arc
 * @param along local nodes along each half-piece
 */
export function* layPatches(
	input: FillInput,
	layout: Patches,
	counts: ArrayLike<number>,
	along: ReadonlyMap<number, Uint32Array>
): Work<LaidPatches> {
	const { arcs, patches } = layout;
	const given = input.x.length;
	const numbers = numberingOf(layout, counts);
	/** The mesh node of each number, by its root. */
	const nodeOf = new Int32Array(numbers.count).fill(-1);

	// Phase 1: nodes of the outlines are those that are there.
	const done = new Map<number, number>();
	for (const [a, arc] of arcs.entries()) {
		if (arc.half < 0) continue;
		const nodes = along.get(arc.half)!;
		const from = done.get(arc.half) ?? 0;
		done.set(arc.half, from + counts[a]!);
		for (let k = 0; k <= counts[a]!; k++) nodeOf[numbers.root(numbers.at(a, k))] = nodes[from + k]!;
	}

	// Phase 2: the others, where their lines are.
	const x = Array.from(input.x);
	const y = Array.from(input.y);
	const place = (number: number, px: number, py: number): number => {
		const root = numbers.root(number);
		if (nodeOf[root]! < 0) {
			nodeOf[root] = x.length;
			x.push(px);
			y.push(py);
		}
		return nodeOf[root]!;
	};
	for (const arc of arcs) {
		place(arc.from, arc.x[0]!, arc.y[0]!);
		place(arc.to, arc.x.at(-1)!, arc.y.at(-1)!);
	}
	for (const [a, arc] of arcs.entries()) {
		const n = counts[a]!;
		if (arc.half >= 0 || n < 2) continue;
		// Moved as much as its ends are.
		const [first, last] = [nodeOf[numbers.root(arc.from)]!, nodeOf[numbers.root(arc.to)]!];
		const end = arc.x.length - 1;
		const shift = [x[first]! - arc.x[0]!, y[first]! - arc.y[0]!, x[last]! - arc.x[end]!, y[last]! - arc.y[end]!];
		let [segment, before] = [1, 0];
		for (let k = 1; k < n; k++) {
			const at = (arc.length * k) / n;
			let here = hypot(arc.x[segment]! - arc.x[segment - 1]!, arc.y[segment]! - arc.y[segment - 1]!);
			while (segment < end && before + here < at) {
				before += here;
				segment++;
				here = hypot(arc.x[segment]! - arc.x[segment - 1]!, arc.y[segment]! - arc.y[segment - 1]!);
			}
			const f = here > 0 ? Math.min(1, (at - before) / here) : 0;
			const s = k / n;
			place(
				numbers.at(a, k),
				arc.x[segment - 1]! + f * (arc.x[segment]! - arc.x[segment - 1]!) + (1 - s) * shift[0]! + s * shift[2]!,
				arc.y[segment - 1]! + f * (arc.y[segment]! - arc.y[segment - 1]!) + (1 - s) * shift[1]! + s * shift[3]!
			);
		}
	}

	// Phase 3: within the blocks.
	const quads: number[] = [];
	let filled = 0;
	for (const [p, patch] of patches.entries()) {
		if ((p & 15) === 15) yield 0.2 * (p / patches.length);
		const sides = patch.map((side) => nodesAlong(arcs, side, counts, numbers.at).map((n) => nodeOf[numbers.root(n)]!));
		if (sides.some((side) => side.length < 2)) continue;
		filled++;
		const global: number[] = [];
		const local = sides.map((list) => {
			const own = new Uint32Array(list.length);
			list.forEach((node, k) => {
				own[k] = global.length;
				global.push(node);
			});
			return own;
		});
		// The corners stand at the end of one side and at the start of the next.
		for (let s = 0; s < 4; s++) local[s]![local[s]!.length - 1] = local[(s + 1) % 4]![0]!;
		const fill = fillTransfinite(
			Float64Array.from(global, (g) => x[g]!),
			Float64Array.from(global, (g) => y[g]!),
			local as [Uint32Array, Uint32Array, Uint32Array, Uint32Array]
		);
		const base = x.length;
		for (let k = 0; k < fill.x.length; k++) {
			x.push(fill.x[k]!);
			y.push(fill.y[k]!);
		}
		for (const q of fill.quads) quads.push(q < global.length ? global[q]! : base + q - global.length);
	}
	// Phase 4: where elements are best.
	const mesh = new QuadMesh(Float64Array.from(x), Float64Array.from(y), given, input.edges, quads.length / 4 + 16);
	for (let k = 0; k < quads.length; k += 4) mesh.add(quads[k]!, quads[k + 1]!, quads[k + 2]!, quads[k + 3]!);
	mesh.keep();
	yield* part(smooth(mesh, sweeps), 0.2, 1);
	const cuts = arcs.flatMap(({ half }, a) => {
		const n = counts[a]!;
		if (half >= 0 || n === 0) return [];
		const nodes = Array.from({ length: n + 1 }, (_, k) => nodeOf[numbers.root(numbers.at(a, k))]!);
		return [Float64Array.from(nodes.flatMap((node) => [mesh.x[node]!, mesh.y[node]!]))];
	});
	let [worst, shape] = [0, Infinity];
	for (let e = 0; e < mesh.elementCount; e++) {
		const here = mesh.shape(e);
		if (here < shape) [worst, shape] = [e, here];
	}
	return {
		fill: {
			x: mesh.x.slice(given, x.length),
			y: mesh.y.slice(given, y.length),
			triangles: new Uint32Array(0),
			quads: Uint32Array.from(quads)
		},
		blocks: { count: filled, cuts },
		worst: { shape, at: placeOf(mesh, worst) }
	};
}
