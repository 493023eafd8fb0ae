import { acos, hypot } from '../../numeric/elementary.ts';
import type { LayerProfile, LayerResult } from '../method.ts';
import type { Stacks } from './stacks.ts';

/** What became of the layers of one wall. */
export type GrownWall = Omit<LayerResult, 'statement' | 'profile'> & {
	/** With the node at the end of each stack; what is behind them is not known yet. */
	profile: Omit<LayerProfile, 'behind'> & { top: Uint32Array };
};

/** What is counted of each wall while its layers grow: one slot a wall. */
export class Tally {
	readonly cells: Uint32Array;
	/** The least and the largest height of a cell at the wall. */
	readonly low: Float64Array;
	readonly high: Float64Array;
	/** The largest cosine of a corner. */
	readonly cosine: Float64Array;

	constructor(walls: number) {
		this.cells = new Uint32Array(walls);
		this.low = new Float64Array(walls).fill(Infinity);
		this.high = new Float64Array(walls).fill(-Infinity);
		this.cosine = new Float64Array(walls).fill(-1);
	}
}

/**
 * What became of each wall.
 *
 * @param asked the scale of each stack before any was squeezed
 */
export function grownWalls(stacks: Stacks, tally: Tally, asked: Float64Array): GrownWall[] {
	const stacksOf: number[][] = stacks.walls.map(() => []);
	for (let k = 0; k < stacks.length; k++) stacksOf[stacks.wall[k]!]!.push(k);
	return stacksOf.map((list, w) => grownWall(stacks, tally, asked, list, w));
}

function grownWall(stacks: Stacks, tally: Tally, asked: Float64Array, members: readonly number[], w: number): GrownWall {
	const { baseX, baseY, after, fan, count, most } = stacks;
	const thickness = { min: Infinity, mean: 0, max: 0 };
	let [whole, complete, squeezed] = [0, 0, 0];
	// The stacks that are lowest against what is asked, and shortest for want of room.
	let [lowest, leastShare, shortest, places] = [-1, 1, -1, 0];
	for (const k of members) {
		const height = stacks.thickness(k, count[k]!);
		thickness.min = Math.min(thickness.min, height);
		thickness.mean += height;
		thickness.max = Math.max(thickness.max, height);
		const t = after[k]!;
		const length = t >= 0 ? hypot(baseX[t]! - baseX[k]!, baseY[t]! - baseY[k]!) : 0;
		if (t >= 0 && !(fan[k]! >= 0 && fan[k] === fan[t])) {
			whole += length;
			if (count[k]! >= most[k]! && count[t]! >= most[t]!) complete += length;
		}
		const share = stacks.scale[k]! / asked[k]!;
		if (share <= 0.999) {
			squeezed += length;
			if (share < leastShare) [lowest, leastShare] = [k, share];
		}
		if (stacks.isHeldUp[k] && count[k]! < most[k]!) {
			places++;
			if (shortest < 0 || count[k]! < count[shortest]!) shortest = k;
		}
	}
	thickness.mean /= Math.max(1, members.length);
	const cosine = tally.cosine[w]!;
	return {
		cells: tally.cells[w]!,
		first: { min: tally.low[w]!, max: tally.high[w]! },
		thickness,
		complete: whole > 0 ? complete / whole : 1,
		smallestAngle: cosine > -1 ? (acos(Math.min(1, cosine)) / Math.PI) * 180 : Infinity,
		profile: profileOf(stacks, members, w),
		...(lowest < 0
			? {}
			: {
					squeezed: { x: baseX[lowest]!, y: baseY[lowest]!, scale: leastShare, share: Math.min(1, squeezed / (whole || 1)) }
				}),
		...(shortest < 0
			? {}
			: {
					reduced: { x: baseX[shortest]!, y: baseY[shortest]!, count: count[shortest]!, of: most[shortest]!, places }
				})
	};
}

/** The stacks of a wall in their order; of a fan only the first. */
function profileOf(stacks: Stacks, members: readonly number[], w: number): GrownWall['profile'] {
	const { baseX, baseY, after, fan, count, scale } = stacks;
	const wall = stacks.walls[w]!;
	const list = Uint32Array.from(members.filter((k) => fan[k]! < 0 || fan[k] === k));
	const runs: number[] = [];
	const along = new Float64Array(list.length);
	const afterFan = (k: number) => {
		let at = k;
		while (fan[at]! >= 0 && after[at]! >= 0 && fan[after[at]!] === fan[k]) at = after[at]!;
		return after[at]!;
	};
	for (let i = 0; i < list.length; i++) {
		const [k, before] = [list[i]!, list[i - 1]];
		if (before !== undefined && afterFan(before) === k)
			along[i] = along[i - 1]! + hypot(baseX[k]! - baseX[before]!, baseY[k]! - baseY[before]!);
		else runs.push(i);
	}
	const of = (value: (k: number) => number) => {
		const values = new Float64Array(list.length);
		for (let i = 0; i < list.length; i++) values[i] = value(list[i]!);
		return values;
	};
	return {
		runs,
		along,
		x: of((k) => baseX[k]!),
		y: of((k) => baseY[k]!),
		topX: of((k) => stacks.x[k]!),
		topY: of((k) => stacks.y[k]!),
		first: of((k) => (count[k]! > 0 ? scale[k]! * wall.first : 0)),
		last: of((k) => (count[k]! > 0 ? stacks.cellHeight(k, count[k]! - 1) : 0)),
		thickness: of((k) => stacks.thickness(k, count[k]!)),
		growth: wall.growth,
		count: list.map((k) => count[k]!),
		width: of((k) => stacks.width[k]!),
		top: list.map((k) => stacks.node[k]!)
	};
}
