import { firstHeights } from '../../domain/walls.ts';
import type { Point } from '../../geometry/curve.ts';
import { progressionSum } from '../../recipe/model/layer-numbers.ts';
import { sizeOrField, type SizeRule } from '../../sizing/size-rule.ts';
import { hypot } from '../../numeric/elementary.ts';
import { concatenated } from '../../numeric/lists.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';
import { type Fill, FillError, type FillInput, type FillJob, type LayerResult, type PreparedFill } from '../method.ts';
import { nodesAlone } from './front-check.ts';
import { growLayers, type GrownLayers } from './grow.ts';
import type { GrownWall } from './grown-walls.ts';
import type { LayerRequest, WallRuns } from './stacks.ts';
import { wallDirections } from './wall-directions.ts';

/** Walls of one region, as the fill needs them. */
export interface RegionLayers extends WallRuns {
	/** Their statements, as indices of the domain's. */
	statements: readonly number[];
}

/** The walls of a region that grow layers; undefined where none does. */
export function wallsOf(job: FillJob): RegionLayers | undefined {
	const { domain, divisions, halves } = job;
	const { of, statements, firsts } = domain.layers;
	const used: number[] = [];
	const wallOf = new Int32Array(halves.length).fill(-1);
	for (const [e, half] of halves.entries()) {
		const k = of.get(half);
		if (k === undefined) continue;
		if (!used.includes(k)) used.push(k);
		wallOf[e] = used.indexOf(k);
	}
	if (used.length === 0) return undefined;
	const walls = used.map((k) => numbersOf(statements[k]!));
	const varies = halves.some((half) => firsts.has(half));
	const directions = wallDirections(job, wallOf);
	return { statements: used, walls, wallOf, ...(varies ? { scales: scalesOf() } : {}), ...(directions ? { directions } : {}) };

	function scalesOf(): Float64Array {
		const scales = new Float64Array(2 * halves.length).fill(1);
		for (let e = 0; e < halves.length;) {
			const half = halves[e]!;
			const division = divisions[half >> 1]!;
			const heights = firstHeights(domain.layers, half, division);
			for (let k = 0; k < division.count; k++, e++) {
				if (!heights) continue;
				const { first } = walls[wallOf[e]!]!;
				scales[2 * e] = heights[k]! / first;
				scales[2 * e + 1] = heights[k + 1]! / first;
			}
		}
		return scales;
	}
}

/** What a fill behind layers depends on besides its own rule: nothing where there are none. */
export const keyOfWalls = (walls: RegionLayers | undefined): PreparedFill['key'] =>
	walls
		? {
				rule: ` ${JSON.stringify([walls.statements, walls.walls])}`,
				numbers: [walls.wallOf, walls.scales ?? [], walls.directions ?? []]
			}
		: { rule: '', numbers: [] };

/** The cells of all layers, where every stack has all of its own. */
export const layerCellsOf = (walls: RegionLayers | undefined): number =>
	walls?.wallOf.reduce((sum, w) => sum + (w < 0 ? 0 : Math.min(60, walls.walls[w]!.count)), 0) ?? 0;

/**
 * About how many triangles are left behind layers, of those that the sizes would make of the whole region: layers take away room as
 * far out as elements are largest, and each edge of the front has at least one.
 */
export function leftBehind(
	walls: RegionLayers | undefined,
	{ x, y, edges }: FillInput,
	{ size, field }: SizeRule,
	whole: number
): number {
	if (!walls) return whole;
	let [covered, front] = [0, 0];
	walls.wallOf.forEach((w, e) => {
		front++;
		if (w < 0) return;
		const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
		const width = hypot(x[b]! - x[a]!, y[b]! - y[a]!);
		const there = sizeOrField(size, field, (x[a]! + x[b]!) / 2, (y[a]! + y[b]!) / 2);
		const { first, growth, count } = walls.walls[w]!;
		const around = Math.max(width, there < Infinity ? there : width);
		covered += ((4 / Math.sqrt(3)) * width * first * progressionSum(Math.min(60, count), growth)) / around ** 2;
	});
	return Math.max(front, whole - covered);
}

/** What the cells follow from, without the statement's place: an edit elsewhere in the recipe fills nothing anew. */
const numbersOf = ({ first, growth, count, toSize, gap, squeeze, exact, halved }: LayerRequest): LayerRequest => ({
	first,
	growth,
	count,
	...(gap === undefined ? {} : { gap }),
	...(exact ? { exact } : {}),
	...(squeeze ? { squeeze } : {}),
	...(toSize ? { toSize } : {}),
	...(halved ? { halved } : {})
});

/** Elements behind layers visited between two yields, each a few times. */
const chunkSize = 25_000;

/** So many places are tried at which the front could have an edge more. */
const mostTries = 12;

/** Layers with a front of an even number of edges, where there is a place that it can get another one at. */
function* growEven(input: FillInput, walls: RegionLayers): Work<GrownLayers> {
	const grown = yield* part(growLayers(input, walls), 0, 0.5);
	const isEven = ({ front }: GrownLayers) => front.length % 4 === 0;
	if (isEven(grown)) return grown;
	const tries = Math.min(grown.places, mostTries);
	for (let change = 0; change < tries; change++) {
		const from = 0.5 + (0.5 * change) / tries;
		const other = yield* part(growLayers(input, walls, change), from, from + 0.5 / tries);
		if (isEven(other)) return other;
	}
	return grown;
}

/**
 * Layers on the walls, and behind them what another fill makes of the rest.
 *
 * @param expected about how many elements there will be, with the layers' own
 * @param even whether the rest needs an even number of edges around it
 */
export function* fillBehindLayers(
	input: FillInput,
	walls: RegionLayers,
	expected: number,
	fillRest: (rest: FillInput) => Work<Fill>,
	even = false
): Work<Fill> {
	const layered = 0.9 * Math.min(1, layerCellsOf(walls) / Math.max(1, expected));
	const { grown, rest, local, fill } = yield* grownAndFilled(input, walls, layered, fillRest, even);
	const given = input.x.length;
	// The rest's own nodes follow those of the layers.
	const shift = given + grown.x.length - rest.x.length;
	const outer = rest.x.length;
	/** The cells of layers, and after them those of the rest with their nodes as they are numbered here. */
	function* joined(cells: Uint32Array, nodes: Uint32Array): Work<Uint32Array> {
		const out = new Uint32Array(cells.length + nodes.length);
		out.set(cells);
		const put = (from: number, to: number) => {
			for (let k = from; k < to; k++) out[cells.length + k] = nodes[k]! < outer ? local[nodes[k]!]! : nodes[k]! + shift;
		};
		yield* inStretches(nodes.length, 12 * chunkSize, put);
		return out;
	}
	const behind = yield* part(heightsBehind(rest, fill, local), 0.9, 0.95);
	const triangles = yield* part(joined(grown.triangles, fill.triangles), 0.95, 0.98);
	const quads = yield* part(joined(grown.quads, fill.quads), 0.98, 1);
	return {
		x: concatenated(grown.x, fill.x),
		y: concatenated(grown.y, fill.y),
		triangles,
		quads,
		...(fill.remarks ? { remarks: fill.remarks } : {}),
		layerCells: { triangles: grown.triangles.length / 3, quads: grown.quads.length / 4 },
		layers: walls.statements.map((statement, k): LayerResult => ({
			statement,
			...withoutStacks(grown.walls[k]!),
			profile: {
				...grown.walls[k]!.profile,
				behind: Float64Array.from(grown.walls[k]!.profile.top, (node) => behind.get(node) ?? 0)
			}
		}))
	};
}

/** So often layers are made thinner where what is behind them cannot be filled, before there are none. */
const mostRefusals = 4;

/** Layers, and what fills the rest; where it cannot be filled, the layers there are thinner, and at last there are none. */
function* grownAndFilled(
	input: FillInput,
	walls: RegionLayers,
	layered: number,
	fillRest: (rest: FillInput) => Work<Fill>,
	even: boolean
): Work<{ grown: GrownLayers; rest: FillInput; local: Uint32Array; fill: Fill }> {
	let limits: Float64Array | undefined;
	for (let refusals = 0; ; refusals++) {
		const grow = even && !limits ? growEven(input, walls) : growLayers(input, walls, -1, limits);
		const grown = yield* part(grow, 0, layered);
		const [x, y] = [concatenated(input.x, grown.x), concatenated(input.y, grown.y)];
		const { rest, local } = restOf(x, y, grown, input);
		try {
			return { grown, rest, local, fill: yield* part(fillRest(rest), layered, 0.9) };
		} catch (error) {
			// Without layers it is the region itself that cannot be filled, and its sizes are no matter of layers.
			if (!(error instanceof FillError) || error.code === 'too-many' || refusals > mostRefusals) throw error;
			limits = refusals === mostRefusals ? grown.thickness.map(() => 0) : thinnerNear(grown, error.at);
		}
	}
}

/** Half the thickness for stacks that could have to do with a place, and no more for those beside them. */
function thinnerNear({ thickness, walls }: GrownLayers, { x, y }: Point): Float64Array {
	const limits = thickness.slice();
	let [nearest, reach] = [Infinity, 0];
	const each = (look: (away: number, stack: number, width: number) => void) => {
		for (const { profile, stacks } of walls)
			stacks.forEach((k, i) =>
				look(
					Math.min(hypot(profile.x[i]! - x, profile.y[i]! - y), hypot(profile.topX[i]! - x, profile.topY[i]! - y)),
					k,
					profile.width[i]!
				)
			);
	};
	each((away, _, width) => {
		if (away < nearest) [nearest, reach] = [away, away + 6 * width];
	});
	each((away, k) => {
		if (away <= reach) limits[k] = thickness[k]! / 2;
	});
	return limits;
}

/** What became of a wall, without the numbers of its stacks. */
function withoutStacks({ stacks: _, ...wall }: GrownWall): Omit<GrownWall, 'stacks'> {
	return wall;
}

/** The height of the element on each edge of what bounds the rest, by the node that the edge starts from. */
function* heightsBehind(rest: FillInput, { x, y, triangles, quads }: Fill, local: Uint32Array): Work<Map<number, number>> {
	const given = rest.x.length;
	const next = new Map<number, number>();
	for (let k = 0; k < rest.edges.length; k += 2) next.set(rest.edges[k]!, rest.edges[k + 1]!);
	const at = (i: number) => (i < given ? [rest.x[i]!, rest.y[i]!] : [x[i - given]!, y[i - given]!]) as [number, number];
	const heights = new Map<number, number>();
	/** Looks at the side of an element from one of its corners on. */
	const look = (list: Uint32Array, size: number, base: number, k: number) => {
		const corner = (step: number) => list[base + ((k + step) % size)]!;
		const [from, to] = [corner(0), corner(1)];
		if (to >= given || next.get(from) !== to) return;
		// What lies opposite: a node, or the middle of two.
		const [[ax, ay], [bx, by], [cx, cy], [dx, dy]] = [at(from), at(to), at(corner(2)), at(corner(size - 1))];
		const [mx, my] = [(cx + dx) / 2, (cy + dy) / 2];
		heights.set(local[from]!, ((bx - ax) * (my - ay) - (mx - ax) * (by - ay)) / hypot(bx - ax, by - ay));
	};
	for (const [list, size] of [
		[triangles, 3],
		[quads, 4]
	] as const)
		yield* inStretches(list.length / size, 4 * chunkSize, (from, to) => {
			for (let base = size * from; base < size * to; base += size)
				for (let k = 0; k < size; k++) if (list[base + k]! < given) look(list, size, base, k);
		});
	return heights;
}

/** What is left to fill, in numbers of its own, and the number here of each of its nodes. */
function restOf(
	x: Float64Array,
	y: Float64Array,
	{ front }: GrownLayers,
	input: FillInput
): { rest: FillInput; local: Uint32Array } {
	const number = new Int32Array(x.length).fill(-1);
	const local: number[] = [];
	const take = (node: number) => {
		if (number[node]! < 0) {
			number[node] = local.length;
			local.push(node);
		}
		return number[node]!;
	};
	const edges = front.map(take);
	// Nodes that stand alone stay nodes of the rest.
	for (const node of nodesAlone(input.x.length, input.edges)) take(node);
	return {
		rest: { x: Float64Array.from(local, (i) => x[i]!), y: Float64Array.from(local, (i) => y[i]!), edges },
		local: Uint32Array.from(local)
	};
}
