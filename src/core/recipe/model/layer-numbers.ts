import { log, pow } from '../../numeric/elementary.ts';
import { UserError } from '../../text/user-error.ts';

/** What a stack of layers may be given by; lengths in recipe units. */
export interface LayerInputs {
	/** Height of the cell at the wall. */
	first?: number;
	/** Ratio of a cell's height to that of the one below. */
	growth?: number;
	count?: number;
	/** Height of all cells together. */
	thickness?: number;
	/** Height of the uppermost cell. */
	last?: number;
	/** As many as it takes until a cell is as tall as the elements behind are wide. */
	toSize?: boolean;
}

/** A stack of layers: cell k, from 0 at the wall, is `first · growth^k` high. */
export interface LayerNumbers {
	first: number;
	growth: number;
	/** Number of cells; the most there may be where it goes on to the size of what lies behind. */
	count: number;
}

/** The most cells of a stack. */
export const mostLayers = 500;

const mostGrowth = 4;

/** (gⁿ − 1)/(g − 1), the height of n cells of which the first is 1 high. */
export const progressionSum = (count: number, growth: number): number =>
	Math.abs(growth - 1) < 1e-9 ? count * (1 + ((count - 1) / 2) * (growth - 1)) : (pow(growth, count) - 1) / (growth - 1);

/** The height of all cells of a stack: first (gⁿ − 1)/(g − 1). */
export const stackThickness = ({ first, growth, count }: LayerNumbers): number => first * progressionSum(count, growth);

/**
 * The stack that numbers ask for: any three of first, growth, count, thickness and last, or first and growth that go on
 * to the size behind. Where a count follows from lengths it is rounded, first and growth are kept.
 *
 * @throws RangeError with a sentence: what is missing, too much, or out of reach
 */
export function layerNumbers(given: LayerInputs): LayerNumbers {
	const { first, growth, count, thickness, last, toSize } = given;
	for (const [word, value] of Object.entries({ first, count, thickness, last }))
		if (value !== undefined && !(value > 0)) throw new UserError(`a ${word} of layers is above zero, found ${value}`);
	if (growth !== undefined && !(growth >= 1 && growth <= mostGrowth))
		throw new UserError(`a growth of ${growth} does not work: from the wall it must be from 1 to ${mostGrowth}, like 1.2`);
	if (count !== undefined && !(Number.isInteger(count) && count <= mostLayers))
		throw new UserError(`a count of layers is a whole number up to ${mostLayers}, found ${count}`);
	const words = Object.entries({ first, growth, count, thickness, last }).flatMap(([word, value]) =>
		value === undefined ? [] : [word]
	);
	if (toSize) {
		if (first !== undefined && growth !== undefined && words.length === 2) return { first, growth, count: mostLayers };
		throw new UserError('layers that grow to the size of what lies behind are given by “first” and “growth”, and no more');
	}
	if (words.length < 3)
		throw new UserError(
			`${words.length === 0 ? 'nothing says' : `${words.join(' and ')} alone ${words.length === 1 ? 'does' : 'do'} not say`} how high the layers are; three of first, growth, count, thickness and last do, or first and growth “to size”`
		);
	if (words.length > 3)
		throw new UserError(`${words.join(', ')} say too much of the layers; three of them are enough, and the others follow`);
	const stack = solved(given);
	if (!(
		stack.count >= 1 &&
		stack.count <= mostLayers &&
		stack.growth >= 1 - 1e-9 &&
		stack.growth <= mostGrowth &&
		stack.first > 0
	))
		throw new UserError(
			`${words.join(', ')} do not go together: no stack of up to ${mostLayers} cells that grow from the wall has them`
		);
	return stack;
}

/** Source: the sums of a geometric progression, solved for what is asked; its ratio by bisection where no formula gives it. */
function solved({ first: f, growth: g, count: n, thickness: t, last: l }: LayerInputs): LayerNumbers {
	const countTo = (first: number, last: number, growth: number) =>
		growth > 1 + 1e-12 ? Math.max(1, 1 + Math.round(log(last / first) / log(growth))) : last === first ? 1 : NaN;
	if (f !== undefined && g !== undefined) {
		if (n !== undefined) return { first: f, growth: g, count: n };
		if (l !== undefined) return { first: f, growth: g, count: countTo(f, l, g) };
		const cells = g > 1 + 1e-12 ? log(1 + (t! * (g - 1)) / f) / log(g) : t! / f;
		return { first: f, growth: g, count: Math.max(1, Math.round(cells)) };
	}
	if (f !== undefined && n !== undefined) {
		if (l !== undefined) return { first: f, growth: n === 1 ? 1 : pow(l / f, 1 / (n - 1)), count: n };
		return { first: f, growth: ratioFor((r) => f * progressionSum(n, r), t!), count: n };
	}
	if (f !== undefined) {
		// T = (l g − f)/(g − 1)
		const count = countTo(f, l!, (t! - f) / (t! - l!));
		return { first: f, growth: count === 1 ? 1 : pow(l! / f, 1 / (count - 1)), count };
	}
	if (g !== undefined && n !== undefined)
		return { first: t === undefined ? l! / pow(g, n - 1) : t / progressionSum(n, g), growth: g, count: n };
	if (g !== undefined) {
		const cells = countTo(l! * g - t! * (g - 1), l!, g);
		// From the count, rather than from a difference in which all its digits may be lost.
		return { first: l! / pow(g, cells - 1), growth: g, count: cells };
	}
	const ratio = ratioFor((r) => l! * progressionSum(n!, 1 / r), t!);
	return { first: l! / pow(ratio, n! - 1), growth: ratio, count: n! };
}

/** The growth at which a sum that changes steadily with it is as wanted. */
function ratioFor(sum: (ratio: number) => number, wanted: number): number {
	let [low, high] = [1, mostGrowth];
	const rises = sum(high) > sum(low);
	if (
		(rises ? sum(low) > wanted * (1 + 1e-12) : sum(low) < wanted * (1 - 1e-12)) ||
		(rises ? sum(high) < wanted : sum(high) > wanted)
	)
		return NaN;
	for (let k = 0; k < 200 && high - low > 1e-15 * high; k++) {
		const middle = (low + high) / 2;
		if (sum(middle) < wanted === rises) low = middle;
		else high = middle;
	}
	return (low + high) / 2;
}
