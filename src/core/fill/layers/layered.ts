import { concatenated } from '../../numeric/lists.ts';
import { part, type Work } from '../../numeric/work.ts';
import type { Fill, FillInput, FillJob, LayersMade } from '../method.ts';
import { growLayers, type GrownLayers } from './grow.ts';
import type { Wall } from './stack.ts';

/** Walls of one region, as the fill needs them. */
export interface RegionWalls {
	/** Their statements, as indices of the domain's. */
	statements: readonly number[];
	walls: readonly Wall[];
	/** For each edge of the input its wall, −1 for none. */
	wallOf: Int32Array;
}

/** The walls of a region that grow layers; undefined where none does. */
export function wallsOf({ domain, halves }: FillJob): RegionWalls | undefined {
	const { of, statements } = domain.layers;
	const used: number[] = [];
	const wallOf = new Int32Array(halves.length).fill(-1);
	for (const [e, half] of halves.entries()) {
		const k = of.get(half);
		if (k === undefined) continue;
		if (!used.includes(k)) used.push(k);
		wallOf[e] = used.indexOf(k);
	}
	if (used.length === 0) return undefined;
	return {
		statements: used,
		walls: used.map((k) => numbersOf(statements[k]!)),
		wallOf
	};
}

/** What the cells follow from, without the statement's place: an edit elsewhere in the recipe fills nothing anew. */
const numbersOf = ({ first, growth, count, toSize, gap, halved }: Wall): Wall => ({
	first,
	growth,
	count,
	gap,
	...(toSize ? { toSize } : {}),
	...(halved ? { halved } : {})
});

/** Layers on the walls, and behind them what another fill makes of the rest. */
export function* fillBehindLayers(input: FillInput, own: RegionWalls, fillRest: (rest: FillInput) => Work<Fill>): Work<Fill> {
	const grown = yield* part(growLayers(input, own.walls, own.wallOf), 0, 0.3);
	const given = input.x.length;
	const [x, y] = [concatenated(input.x, grown.x), concatenated(input.y, grown.y)];
	const { rest, local } = restOf(x, y, grown, input);
	const fill = yield* part(fillRest(rest), 0.3, 1);
	// The rest's own nodes follow those of the layers.
	const shift = given + grown.x.length - rest.x.length;
	const back = (nodes: Uint32Array) => nodes.map((i) => (i < rest.x.length ? local[i]! : i + shift));
	return {
		x: concatenated(grown.x, fill.x),
		y: concatenated(grown.y, fill.y),
		triangles: concatenated(grown.triangles, back(fill.triangles)),
		quads: concatenated(grown.quads, back(fill.quads)),
		layers: own.statements.map((statement, k): LayersMade => ({ statement, ...grown.walls[k]! }))
	};
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
	const bounds = new Uint8Array(input.x.length);
	for (const node of input.edges) bounds[node] = 1;
	// Nodes that stand alone stay nodes of the rest.
	for (let node = 0; node < bounds.length; node++) if (!bounds[node]) take(node);
	return {
		rest: { x: Float64Array.from(local, (i) => x[i]!), y: Float64Array.from(local, (i) => y[i]!), edges },
		local: Uint32Array.from(local)
	};
}
