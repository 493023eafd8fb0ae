import type { Demands } from '../../blocks/demands.ts';
import type { Domain } from '../../domain/domain.ts';
import { firstAt } from '../../domain/walls.ts';
import { type Region, walksOf } from '../../domain/regions.ts';
import { sineBetween } from '../../geometry/parts.ts';
import { progressionSum } from '../../recipe/model/layer-numbers.ts';

/** How much of a piece without layers the last stack of one with layers takes at most. */
const mostOfPiece = 0.45;

/**
 * Where a wall with layers meets a piece without, at a fair angle, the nodes of the last stack lie on that piece: their
 * distances from the wall, by the half-piece that leaves it. Undefined where no piece carries any.
 */
export function layerHeights({ arrangement, layers }: Domain, region: Region): Demands['heights'] {
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
			const piece = arrangement.pieces[leaving >> 1]!;
			const wallHalf = layer === undefined ? next : half ^ 1;
			const sine = sineBetween(
				piece,
				leaving & 1 ? 'end' : 'start',
				arrangement.pieces[wallHalf >> 1]!,
				wallHalf & 1 ? 'end' : 'start'
			);
			if (!(sine > 0.7)) return;
			const most = Math.min(wall.count, 200);
			const room = mostOfPiece * piece.length;
			let first = wall.first / sine;
			// The wall ends at the far end of its half-piece before the junction, and begins at its start after it.
			const varying = layers.firsts.get(layer === undefined ? next : half);
			if (varying) first = firstAt(varying, layer === undefined ? 0 : 1) / sine;
			if (wall.squeeze) first = Math.min(first, (0.9 * room) / progressionSum(most, wall.growth));
			const list: number[] = [];
			for (let n = 1; n <= most; n++) {
				const height = first * progressionSum(n, wall.growth);
				if (height > room) break;
				list.push(height);
			}
			if (list.length > 0) heights.set(leaving, list);
		});
	return heights.size > 0 ? heights : undefined;
}
