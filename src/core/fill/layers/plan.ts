import { progressionSum } from '../../recipe/model/layer-numbers.ts';
import type { LayerRequest, Stacks } from './stacks.ts';

/** Cells that make room become no lower than this share of the first height that is asked … */
export const leastScale = 0.5;
/** … with “squeeze” no lower than this. */
const leastSqueezed = 1e-3;
/** What is thicker than its room by less than this fits. */
const roundings = 1e-9;

/** Heights of a stack: the first over what is asked, the growth, and how many. */
export interface StackPlan {
	scale: number;
	growth: number;
	count: number;
}

/** Which of its numbers a stack gives up where there is little room. */
export type MakesRoom = Pick<LayerRequest, 'squeeze' | 'exact' | 'toSize'>;

/** Heights stay as they are asked, also where the count follows from them. */
export const isExact = ({ exact, toSize }: MakesRoom): boolean => (exact ?? false) || (toSize ?? false);

/**
 * The stack that fits into a room: where that is less than is asked, first the growth falls, down to 1, then all cells become
 * lower, and then there are fewer of them. With “squeeze” all cells stay, lower by one factor; with “exact” what there is is as
 * high as asked, and upper cells are left out.
 *
 * @param first the first height that is asked
 */
export function stackWithin(makesRoom: MakesRoom, first: number, growth: number, count: number, room: number): StackPlan {
	const allowed = room * (1 + roundings);
	const asked = first * progressionSum(count, growth);
	const plan = { scale: 1, growth, count };
	if (asked <= allowed) return plan;
	if (makesRoom.squeeze) plan.scale = Math.max(leastSqueezed, allowed / asked);
	else if (!isExact(makesRoom)) {
		const even = first * count;
		plan.growth = even < allowed ? growthFor(allowed / first, count, growth) : 1;
		if (even > allowed) plan.scale = Math.max(leastScale, allowed / even);
	}
	const most = allowed * (1 + roundings);
	while (plan.count > 0 && plan.scale * first * progressionSum(plan.count, plan.growth) > most) plan.count--;
	return plan;
}

/** What stacks grow that may become so thick. */
export function planWithin(stacks: Stacks, thickness: Float64Array): void {
	const { wall, walls, most, scale, growth, length, carrier } = stacks;
	for (let k = 0; k < length; k++) {
		if (most[k] === 0 || carrier[k]! >= 0 || stacks.thickness(k, most[k]!) <= thickness[k]!) continue;
		const request = walls[wall[k]!]!;
		const plan = stackWithin(request, scale[k]! * request.first, growth[k]!, most[k]!, thickness[k]!);
		scale[k]! *= plan.scale;
		growth[k] = plan.growth;
		most[k] = plan.count;
	}
	evenOut(stacks);
	takeOffPeaks(stacks);
}

/** From stack to stack the count changes by one at most, but toward where there is none. */
function evenOut({ most, before, after, length }: Stacks): void {
	let changed = true;
	const look = (k: number) => {
		for (const other of [before[k]!, after[k]!]) {
			if (other < 0 || most[other] === 0 || most[k]! <= most[other]! + 1) continue;
			most[k] = most[other]! + 1;
			changed = true;
		}
	};
	while (changed) {
		changed = false;
		for (let k = 0; k < length; k++) look(k);
		for (let k = length - 1; k >= 0; k--) look(k);
	}
}

/** One or two stacks that are higher than all beside them are taken down to these: the front would be a saw there. */
function takeOffPeaks({ most, before, after, carrier, length }: Stacks): void {
	const highest = most.slice();
	for (let k = 0; k < length; k++) {
		if (carrier[k]! >= 0) continue;
		const [b, a] = [before[k]!, after[k]!];
		const [bb, aa] = [b < 0 ? -1 : before[b]!, a < 0 ? -1 : after[a]!];
		const at = (j: number) => (j < 0 ? highest[k]! : highest[j]!);
		// The best of the three stretches of three stacks that it belongs to.
		most[k] = Math.max(
			Math.min(highest[k]!, at(b), at(bb)),
			Math.min(highest[k]!, at(b), at(a)),
			Math.min(highest[k]!, at(a), at(aa))
		);
	}
}

/** The growth, from 1 up to the one requested, that gives `count` cells a total height of `sum` when the first is 1 high. */
export function growthFor(sum: number, count: number, asked: number): number {
	let [low, high] = [1, asked];
	for (let n = 0; n < 60 && high - low > 1e-12; n++) {
		const middle = (low + high) / 2;
		if (progressionSum(count, middle) < sum) low = middle;
		else high = middle;
	}
	return low;
}
