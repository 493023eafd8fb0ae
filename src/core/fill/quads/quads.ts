import { mapped } from '../../text/typed.ts';
import { hypot } from '../../numeric/elementary.ts';
import { concatenated } from '../../numeric/lists.ts';
import { finish, part, type Work } from '../../numeric/work.ts';
import type { Layout } from '../../blocks/layout.ts';
import type { Demands } from '../../blocks/demands.ts';
import { walksOf } from '../../domain/regions.ts';
import {
	FillError,
	type Fill,
	type FillInput,
	type FillJob,
	refuseTooMany,
	type FillMethod,
	type PreparedFill
} from '../method.ts';
import { layerHeights } from '../layers/heights.ts';
import type { NodeLayout } from '../node-layout.ts';
import { fillBehindLayers, keyOfWalls, layerCellsOf, leftBehind, wallsOf } from '../layers/layered.ts';
import { chooseLayout } from '../structured/choose-corners.ts';
import { fillStructured } from '../structured/fill-structured.ts';
import { layoutNodes } from '../structured/layout-nodes.ts';
import { expectedTriangles } from '../triangles/expected.ts';
import { ruleIn } from '../../sizing/size-field.ts';
import { sizeOrField } from '../../sizing/size-rule.ts';
import { layOutBesideWalls } from '../triangles/triangles.ts';
import { fillQuads } from './fill-quads.ts';
import type { QuadRule } from './lay-quads.ts';
import { QuadMesh } from './quad-mesh.ts';
import { smooth } from './smooth.ts';

/** Quadrilaterals of a size over triangles of that size, by their areas: h² and √3 h² / 4. */
const perTriangle = Math.sqrt(3) / 4;

/** A region that is one block, star, ring or disc is laid out as such where no corner of a cell is worse than this, and the worst of each not on the mean … */
const [leastShape, meanShape] = [0.6, 0.95];
/** … and hardly a side is longer than so many wanted sizes, or shorter than so many of them and of the given edges. */
const sizes = { most: 1.6, least: 0.5 };
const mostOff = 0.02;

/** How long one takes to make, over a triangle whose size grows. */
const effort = 1.25;

function prepare(job: FillJob, mostly: boolean): PreparedFill {
	const { input, region, domain, field } = job;
	const { growth } = region;
	const size = region.size ?? domain.fallbackSize;
	const rule: QuadRule = { ...ruleIn(field, size, growth), mostly };
	const layered = wallsOf(job);
	const walls = keyOfWalls(layered);
	function* expected(): Work<number> {
		return perTriangle * leftBehind(layered, input, rule, yield* expectedTriangles(input, rule)) + layerCellsOf(layered);
	}
	return {
		key: {
			rule: `quads ${mostly} ${size} ${growth}${walls.rule}`,
			numbers: [field.numbers, ...walls.numbers]
		},
		expected,
		effort: () => effort,
		isPredicted: true,
		*fill(amount) {
			refuseTooMany(amount, 'quadrilaterals', input);
			if (layered) return yield* fillBehindLayers(input, layered, amount, (rest) => fillQuads(rest, rule, amount), !mostly);
			return (yield* part(inRows(job, rule, amount), 0, 0.05)) ?? (yield* part(fillQuads(input, rule, amount), 0.05, 1));
		}
	};
}

/**
 * The region as one block, star, ring or disc, where its counts allow it and its cells are fair; undefined otherwise.
 *
 * @param expected how many elements the sizes ask for
 */
function* inRows(job: FillJob, rule: QuadRule, expected: number): Work<Fill | undefined> {
	const { domain, region, input } = job;
	// Nodes and edges inside are in the way.
	const onOutline = new Set(input.edges).size;
	if (onOutline < input.x.length || onOutline < input.edges.length / 2) return undefined;
	const chosen = chooseLayout(domain, region);
	if (!('layout' in chosen)) return undefined;
	const { layout } = chosen;
	const countOf = (walk: readonly number[]) =>
		walk.reduce((sum, h) => sum + (job.along.get(h) ?? job.along.get(h ^ 1)!).length - 1, 0);
	const counts = innerCountsOf(layout, countOf);
	if (!counts) return undefined;
	for (const nodes of unlessRefused(() => layoutsOf({ ...job, layout, innerCounts: counts }, rule)) ?? []) {
		if (quadsInside(nodes) > mostMore * expected) continue;
		yield 0;
		const fill = unlessRefused(() => finish(fillStructured(input, nodes, undefined)));
		if (!fill) continue;
		if (isFair(input, fill, rule)) return fill;
		if (nodes.kind === 'block' || nodes.kind === 'ring') continue;
		const smoothed = { ...fill, ...(yield* smoothedNodes(input, fill)) };
		if (isFair(input, smoothed, rule)) return smoothed;
	}
	return undefined;
}

/** A disc or a star has at most so many times the elements that the sizes ask for: where they grow inward it would have far more. */
const mostMore = 1.6;

/** How many quadrilaterals a disc or a star has; none of a block or ring, whose counts are those of its sides. */
function quadsInside(nodes: NodeLayout): number {
	if (nodes.kind === 'star') return nodes.spokes.reduce((sum, n, i, all) => sum + n * all[(i + 1) % all.length]!, 0);
	if (nodes.kind !== 'disc') return 0;
	const { outline, first, across } = nodes;
	return first * (outline.length / 2 - first) + outline.length * (across.length - 1);
}

/** What is made; undefined where it is refused, for its size, its spacing or its folds. */
function unlessRefused<T>(make: () => T): T | undefined {
	try {
		return make();
	} catch (error) {
		if (error instanceof FillError) return undefined;
		throw error;
	}
}

/** How far out the core of a disc lies, the first that is tried first: the farther, the nearer its cells come to those of the rings. */
const coreShares = [0.8, 0.7, 0.6];

/** The layouts that are tried: a disc with its core here and there, all else as it is. */
function layoutsOf(job: FillJob & { layout: Layout }, { size }: QuadRule): NodeLayout[] {
	const nodes = layoutNodes(job);
	if (nodes.kind !== 'disc') return [nodes];
	const { x, y } = job.input;
	const outline = squarest(job.input, nodes.outline);
	let length = 0;
	for (let k = 0; k < outline.length; k++) {
		const [i, j] = [outline[k]!, outline[(k + 1) % outline.length]!];
		length += hypot(x[j]! - x[i]!, y[j]! - y[i]!);
	}
	// Rings as high as the cells of the outline are wide, or as elements become inside.
	const height = Math.min(size, length / outline.length);
	return coreShares.map((core) => {
		const rings = Math.max(1, Math.round(((1 - core) * length) / (2 * Math.PI) / height));
		return {
			...nodes,
			outline,
			first: Math.floor(outline.length / 4),
			across: Float64Array.from({ length: rings + 1 }, (_, k) => k / rings),
			core
		};
	});
}

/** An outline from that node on from which its four quarters make the squarest quadrilateral: there the core gets its corners. */
function squarest({ x, y }: FillInput, outline: Uint32Array): Uint32Array {
	const n = outline.length;
	const first = Math.floor(n / 4);
	let [from, best] = [0, -Infinity];
	for (let start = 0; start < first; start++) {
		const corners = [0, first, n / 2, n / 2 + first].map((k) => outline[(start + k) % n]!);
		let least = 1;
		for (let k = 0; k < 4; k++) {
			const [a, b, c] = [corners[(k + 3) % 4]!, corners[k]!, corners[(k + 1) % 4]!];
			const [ux, uy, wx, wy] = [x[c]! - x[b]!, y[c]! - y[b]!, x[a]! - x[b]!, y[a]! - y[b]!];
			least = Math.min(least, (ux * wy - uy * wx) / (hypot(ux, uy) * hypot(wx, wy)));
		}
		// Of those that are alike, as around a circle, the first.
		if (least > best + 1e-6) [from, best] = [start, least];
	}
	return Uint32Array.from(outline, (_, k) => outline[(from + k) % n]!);
}

/** So many sweeps bring the nodes of a disc or a star to where their cells are best. */
const sweeps = 12;

/** The nodes that a fill has added, moved to where its quadrilaterals are best. */
function* smoothedNodes({ x, y, edges }: FillInput, fill: Fill): Work<Pick<Fill, 'x' | 'y'>> {
	const given = x.length;
	const mesh = new QuadMesh(concatenated(x, fill.x), concatenated(y, fill.y), given, edges);
	const { quads } = fill;
	for (let k = 0; k < quads.length; k += 4) mesh.add(quads[k]!, quads[k + 1]!, quads[k + 2]!, quads[k + 3]!);
	mesh.keep();
	yield* smooth(mesh, sweeps);
	return { x: mesh.x.slice(given), y: mesh.y.slice(given) };
}

/** The counts that a layout has inside, where the counts around it fit; undefined where they do not. */
function innerCountsOf(layout: Layout, countOf: (walk: readonly number[]) => number): number[] | undefined {
	switch (layout.kind) {
		case 'block': {
			const [a, b, c, d] = mapped(layout.sides, countOf);
			return a === c && b === d ? [] : undefined;
		}
		case 'star':
			return spokesOf(layout.sides.map(countOf));
		case 'ring':
			return countOf(layout.outer) === countOf(layout.inner) ? [] : undefined;
		case 'disc':
			return layout.sides.length === 1 && countOf(layout.sides[0]!) % 2 === 0 ? [] : undefined;
	}
}

/**
 * The divisions from the middle of each side to the middle of a star: side i carries those of its two neighbours, so that
 * every second spoke follows from the one before it, and the first from having come round.
 *
 * @returns undefined where they are no whole numbers above zero, or the sides leave some of them free
 */
export function spokesOf(sides: readonly number[]): number[] | undefined {
	const k = sides.length;
	const spokes = new Array<number>(k).fill(0);
	for (let first = 0; first < k; first++) {
		if (spokes[first] !== 0) continue;
		const round: number[] = [];
		for (let i = first; round.length === 0 || i !== first; i = (i + 2) % k) round.push(i);
		if (round.length % 2 === 0) return undefined;
		// With the first spoke s the others are c − s, s + c', … in turn, and so the first itself is the sum so far less s.
		let alternating = 0;
		for (const i of round) alternating = sides[(i + 1) % k]! - alternating;
		let spoke = alternating / 2;
		for (const i of round) {
			if (!(spoke >= 1) || !Number.isInteger(spoke)) return undefined;
			spokes[i] = spoke;
			spoke = sides[(i + 1) % k]! - spoke;
		}
	}
	return spokes;
}

/** Rows are rejected where an inner edge is longer than this multiple of its size. */
const farOff = 2;

function isFair(input: FillInput, { x, y, quads }: Fill, { size, field }: QuadRule): boolean {
	const given = input.x.length;
	const at = (i: number): readonly [number, number] => (i < given ? [input.x[i]!, input.y[i]!] : [x[i - given]!, y[i - given]!]);
	let finest = Infinity;
	for (let k = 0; k < input.edges.length; k += 2) {
		const [[ax, ay], [bx, by]] = [at(input.edges[k]!), at(input.edges[k + 1]!)];
		finest = Math.min(finest, hypot(bx - ax, by - ay));
	}
	let [shapes, off] = [0, 0];
	for (let q = 0; q < quads.length; q += 4) {
		let worst = 1;
		const corners = [0, 1, 2, 3].map((k) => at(quads[q + k]!));
		for (let k = 0; k < 4; k++) {
			const [[ax, ay], [bx, by], [cx, cy]] = [corners[k]!, corners[(k + 1) % 4]!, corners[(k + 3) % 4]!];
			const [ux, uy, wx, wy] = [bx - ax, by - ay, cx - ax, cy - ay];
			const length = hypot(ux, uy);
			worst = Math.min(worst, (ux * wy - uy * wx) / (length * hypot(wx, wy)));
			const wanted = sizeOrField(size, field, (ax + bx) / 2, (ay + by) / 2);
			if (length > sizes.most * wanted || length < sizes.least * Math.min(wanted, finest)) off++;
			// A zone is no matter of averages: however small it is, rows that pass it by are not what is asked.
			if (length > farOff * wanted && (quads[q + k]! >= given || quads[q + ((k + 1) % 4)]! >= given)) return false;
		}
		if (!(worst >= leastShape)) return false;
		shapes += worst;
	}
	return quads.length > 0 && shapes >= (meanShape * quads.length) / 4 && off <= mostOff * quads.length;
}

/** Every outline of the region has an even number of edges: only then quadrilaterals alone can fill it. */
const layOut: FillMethod['layOut'] = (domain, region) => {
	const walks = walksOf(domain.arrangement, region);
	const heights = layerHeights(domain, region);
	const demands: Demands = {
		blocks: [],
		walks: [],
		equations: (wanted) => ({
			equations: walks.map((walk, k) => {
				const pieces = new Map<number, number>();
				for (const h of walk) pieces.set(h >> 1, (pieces.get(h >> 1) ?? 0) + 1);
				return { pieces, inner: new Map([[k, -2]]) };
			}),
			inner: walks.map((walk) => walk.reduce((sum, h) => sum + wanted[h >> 1]!, 0) / 2)
		}),
		...(heights ? { heights } : {})
	};
	return { demands };
};

/** Quadrilaterals alone, in any outline. */
export const quads: FillMethod = {
	source: 'quads',
	title: 'quads',
	takesSize: true,
	keepsPoints: true,
	fills: ({ fill, mostly }) => fill === 'quads' && !mostly,
	layOut,
	prepare: (job) => prepare(job, false)
};

/** Quadrilaterals with a triangle here and there, where that is better. */
export const quadsMostly: FillMethod = {
	source: 'quads mostly',
	title: 'quads, mostly',
	takesSize: true,
	keepsPoints: true,
	fills: ({ fill, mostly }) => fill === 'quads' && mostly === true,
	layOut: layOutBesideWalls,
	prepare: (job) => prepare(job, true)
};
