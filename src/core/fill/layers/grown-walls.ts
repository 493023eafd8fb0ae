import { acos, hypot } from '../../numeric/elementary.ts';
import type { LayerProfile, LayerResult, LayerStretch } from '../method.ts';
import type { Stacks } from './stacks.ts';

/** What became of the layers of one wall. */
export type GrownWall = Omit<LayerResult, 'statement' | 'profile'> & {
	/** The number of each stack of the profile. */
	stacks: Uint32Array;
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
 * @param asked the scale of each stack before any was lowered
 */
export function grownWalls(stacks: Stacks, tally: Tally, asked: Float64Array): GrownWall[] {
	const stacksOf: number[][] = stacks.walls.map(() => []);
	for (let k = 0; k < stacks.length; k++) stacksOf[stacks.wall[k]!]!.push(k);
	return stacksOf.map((list, w) => grownWall(stacks, tally, asked, list, w));
}

function grownWall(stacks: Stacks, tally: Tally, asked: Float64Array, members: readonly number[], w: number): GrownWall {
	const { baseX, baseY, after, fan, count, wanted } = stacks;
	const thickness = { min: Infinity, mean: 0, max: 0 };
	let [whole, complete, lower] = [0, 0, 0];
	const isShort = (k: number) => count[k]! < wanted[k]!;
	const isLower = (k: number) => !isShort(k) && (scaleOf(k) <= 0.999 || stacks.growth[k]! < stacks.walls[w]!.growth * (1 - 1e-6));
	const scaleOf = (k: number) => stacks.scale[k]! / asked[k]!;
	for (const k of members) {
		const height = stacks.thickness(k, count[k]!);
		thickness.min = Math.min(thickness.min, height);
		thickness.mean += height;
		thickness.max = Math.max(thickness.max, height);
		const t = after[k]!;
		const length = t >= 0 ? hypot(baseX[t]! - baseX[k]!, baseY[t]! - baseY[k]!) : 0;
		if (t >= 0 && !(fan[k]! >= 0 && fan[k] === fan[t])) {
			whole += length;
			if (!isShort(k) && !isShort(t)) complete += length;
		}
		if (isLower(k)) lower += length;
	}
	thickness.mean /= Math.max(1, members.length);
	const cosine = tally.cosine[w]!;
	const [lowered, reduced] = [isLower, isShort].map((is) => stretchesWhere(stacks, members, is, scaleOf));
	return {
		cells: tally.cells[w]!,
		first: { min: tally.low[w]!, max: tally.high[w]! },
		thickness,
		complete: whole > 0 ? complete / whole : 1,
		smallestAngle: cosine > -1 ? (acos(Math.min(1, cosine)) / Math.PI) * 180 : Infinity,
		stacks: Uint32Array.from(members),
		profile: profileOf(stacks, asked, members, w),
		...(lowered!.length > 0 ? { lowered: { share: Math.min(1, lower / (whole || 1)), stretches: lowered! } } : {}),
		...(reduced!.length > 0 ? { reduced: { of: Math.max(...members.map((k) => wanted[k]!)), stretches: reduced! } } : {})
	};
}

/** The stretches of a wall on which something is so of every stack. */
function stretchesWhere(
	{ baseX, baseY, after, growth, count }: Stacks,
	members: readonly number[],
	is: (k: number) => boolean,
	scaleOf: (k: number) => number
): LayerStretch[] {
	const stretches: LayerStretch[] = [];
	let last = -1;
	for (const k of members) {
		if (!is(k)) continue;
		const here = { x: baseX[k]!, y: baseY[k]! };
		const one = { from: here, to: here, at: here, growth: growth[k]!, scale: scaleOf(k), count: count[k]! };
		const open = stretches.at(-1);
		if (open && last >= 0 && after[last] === k) {
			open.to = here;
			if (one.count < open.count || (one.count === open.count && one.scale * one.growth < open.scale * open.growth))
				Object.assign(open, { at: here, count: one.count });
			open.growth = Math.min(open.growth, one.growth);
			open.scale = Math.min(open.scale, one.scale);
		} else stretches.push(one);
		last = k;
	}
	return stretches;
}

/** Its stacks in their order, those of a fan at one place. */
function profileOf(stacks: Stacks, asked: Float64Array, members: readonly number[], w: number): GrownWall['profile'] {
	const { baseX, baseY, after, count, scale } = stacks;
	const wall = stacks.walls[w]!;
	const list = Uint32Array.from(members);
	const runs: number[] = [];
	const along = new Float64Array(list.length);
	for (let i = 0; i < list.length; i++) {
		const [k, before] = [list[i]!, list[i - 1]];
		if (before !== undefined && after[before] === k)
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
		growth: of((k) => stacks.growth[k]!),
		wanted: Uint32Array.from(list, (k) => stacks.wanted[k]!),
		asked: of((k) => stacks.askedThickness[k]!),
		firstAsked: of((k) => asked[k]! * wall.first),
		room: of((k) => stacks.room[k]!),
		lean: of((k) => stacks.lean[k]!),
		count: list.map((k) => count[k]!),
		width: of((k) => stacks.width[k]!),
		top: list.map((k) => stacks.node[k]!)
	};
}
