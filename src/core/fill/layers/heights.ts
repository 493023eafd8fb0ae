import type { Demands } from '../../blocks/demands.ts';
import type { Layout } from '../../blocks/layout.ts';
import { leastSine } from '../../divide/requests.ts';
import type { Domain } from '../../domain/domain.ts';
import { firstAt } from '../../domain/walls.ts';
import { type Region, walksOf } from '../../domain/regions.ts';
import { sineBetween } from '../../geometry/parts.ts';
import type { Arrangement } from '../../geometry/pieces.ts';
import { progressionSum } from '../../recipe/model/layer-numbers.ts';
import { stackWithin } from './plan.ts';
import type { LayerStatement } from '../../recipe/statements/layers.ts';

/** How much of a piece without layers the last stack of one with layers takes at most. */
const mostOfPiece = 0.45;

/**
 * Where a wall with layers meets a piece without, at a fair angle, the nodes of the last stack lie on that piece: their
 * distances from the wall, by the half-piece that leaves it. Undefined where no piece carries any.
 */
export function layerHeights(domain: Domain, region: Region): Demands['heights'] {
	const { arrangement, layers } = domain;
	if (layers.of.size === 0) return undefined;
	const heights = new Map<number, number[]>();
	for (const walk of walksOf(arrangement, region))
		walk.forEach((half, k) => {
			const next = walk[(k + 1) % walk.length]!;
			const [layer, other] = [layers.of.get(half), layers.of.get(next)];
			// The wall ends, or begins, at this junction; what leaves it along the other piece is that piece turned away.
			if ((layer === undefined) === (other === undefined)) return;
			const wall = layers.statements[layer ?? other!]!;
			const leaving = layer === undefined ? half ^ 1 : next;
			const wallHalf = layer === undefined ? next : half ^ 1;
			const sine = sineOf(arrangement, leaving, wallHalf);
			if (!(sine > 0.7)) return;
			// The wall ends at the far end of its half-piece before the junction, and begins at its start after it.
			const first = firstOf(domain, layer === undefined ? next : half, layer === undefined ? 0 : 1);
			const list = distancesAlong(wall, first / sine, mostOfPiece * arrangement.pieces[leaving >> 1]!.length);
			if (list.length > 0) heights.set(leaving, list);
		});
	return heights.size > 0 ? heights : undefined;
}

/**
 * Where the sides of blocks grow layers, these are the spacing of the sides that meet them: the distances of all cells from the
 * wall, by the half-piece that leaves it. Rings and discs have theirs across (see layout-nodes.ts).
 */
export function blockLayerHeights(domain: Domain, layout: Layout): Demands['heights'] {
	const { arrangement, layers } = domain;
	if (layers.of.size === 0 || layout.kind === 'ring' || layout.kind === 'disc') return undefined;
	const heights = new Map<number, number[]>();
	const { sides } = layout;
	sides.forEach((side, k) => {
		const [before, after] = [sides[(k + sides.length - 1) % sides.length]!, sides[(k + 1) % sides.length]!];
		const ends = [
			{ wall: side[0]!, at: 0 as const, leaving: before.at(-1)! ^ 1, along: side[0]! },
			{ wall: side.at(-1)!, at: 1 as const, leaving: after[0]!, along: side.at(-1)! ^ 1 }
		];
		for (const { wall, at, leaving, along } of ends) {
			const layer = layers.of.get(wall);
			if (layer === undefined) continue;
			const sine = Math.max(leastSine, sineOf(arrangement, leaving, along));
			const { length } = arrangement.pieces[leaving >> 1]!;
			const list = distancesAlong(layers.statements[layer]!, firstOf(domain, wall, at) / sine, length);
			if (list.length > 0) heights.set(leaving, list);
		}
	});
	return heights.size > 0 ? heights : undefined;
}

/** The sine of the angle between two half-pieces that leave one junction. */
function sineOf({ pieces }: Arrangement, a: number, b: number): number {
	const end = (half: number) => (half & 1 ? 'end' : 'start');
	return sineBetween(pieces[a >> 1]!, end(a), pieces[b >> 1]!, end(b));
}

/** The first height at the start (0) or the end (1) of a half-piece with layers. */
function firstOf({ layers }: Domain, half: number, at: 0 | 1): number {
	const varying = layers.firsts.get(half);
	return varying ? firstAt(varying, at) : layers.statements[layers.of.get(half)!]!.first;
}

/** The most cells of layers whose nodes a piece carries. */
const mostCarried = 200;

/** Distances of the nodes of a stack from its wall, as they fit into a room. */
export function distancesAlong(
	statement: Pick<LayerStatement, 'count' | 'growth' | 'squeeze' | 'exact' | 'toSize'>,
	first: number,
	room: number
): number[] {
	const plan = stackWithin(statement, first, statement.growth, Math.min(statement.count, mostCarried), room);
	return Array.from({ length: plan.count }, (_, n) => plan.scale * first * progressionSum(n + 1, plan.growth));
}
