import { hypot } from '../numeric/elementary.ts';
import type { Point } from '../geometry/curve.ts';

/** What puts points right that stand in a wrong order, or that are wrong. */
export type Repair = { kind: 'swap'; points: [number, number] } | { kind: 'drop'; points: number[] };

/** Points on either side of the place that are looked at. */
const beside = 7;
/** Two points that are exchanged may lie so far beside the place where a curve through them crosses itself. */
const aside = 3;
/** Places farther apart than this along the line are no slip of two rows. */
const mostBetween = 8;
/** A line with two points exchanged is taken for right if it is no longer than this, over the line without them. */
const asShort = 1.08;

/** Points of a line by their number; a ring goes on from its last point to its first. */
export interface PointLine {
	at: (k: number) => Point;
	count: number;
	ring: boolean;
}

/**
 * The least change that ends the crossings and turnings back of a line between two of its points: an exchange of two
 * points, where the line then runs as short as without them; else points to leave out, as few as will do.
 *
 * @param from, to the places between which something is wrong
 */
export function repairOf({ at, count, ring }: PointLine, from: number, to: number): Repair | undefined {
	if (to - from > mostBetween) return undefined;
	// A small ring is looked at as a whole, a line around the place.
	const whole = ring && count <= mostBetween + 2 * beside;
	const number = (k: number) => ((k % count) + count) % count;
	const low = whole ? 0 : ring ? from - beside : Math.max(0, from - beside);
	const high = whole ? count - 1 : ring ? to + beside : Math.min(count - 1, to + beside);
	const numbers = Array.from({ length: high - low + 1 }, (_, k) => low + k);
	if (numbers.length < 4) return undefined;
	const around = (by: number) => (whole ? numbers : numbers.filter((k) => k >= from - by && k <= to + by));
	const judged = (order: readonly number[]) =>
		judge(
			order.map((k) => at(number(k))),
			whole
		);
	const before = judged(numbers);
	type Judged = { points: number[]; backs: number; length: number };
	const better = (a: Judged, b: Judged | undefined) => !b || a.backs < b.backs || (a.backs === b.backs && a.length < b.length);
	/** What is left of a line must cross nowhere, and turn back less often where that was all. */
	const isRight = ({ crossings, backs }: ReturnType<typeof judge>) =>
		crossings === 0 && (before.crossings > 0 ? backs <= before.backs : backs < before.backs - 1);

	let dropped: Judged | undefined;
	for (let size = 1; size <= 3 && !dropped; size++)
		for (const points of subsets(around(1), size)) {
			if (numbers.length - size < 3) continue;
			const found = judged(numbers.filter((k) => !points.includes(k)));
			if (isRight(found) && better({ points, ...found }, dropped)) dropped = { points, ...found };
		}
	let swapped: Judged | undefined;
	for (const points of subsets(around(aside), 2)) {
		const [a, b] = points as [number, number];
		const found = judged(numbers.map((k) => (k === a ? b : k === b ? a : k)));
		if (isRight(found) && better({ points, ...found }, swapped)) swapped = { points, ...found };
	}
	const named = (points: readonly number[]) => points.map(number);
	if (swapped) {
		const without = judged(numbers.filter((k) => !swapped.points.includes(k)));
		if (!dropped || swapped.length <= asShort * without.length)
			return { kind: 'swap', points: named(swapped.points) as [number, number] };
	}
	return dropped && { kind: 'drop', points: named(dropped.points) };
}

/** All choices of so many of a list. */
function subsets(list: readonly number[], size: number): number[][] {
	if (size === 0) return [[]];
	return list.flatMap((first, k) => subsets(list.slice(k + 1), size - 1).map((rest) => [first, ...rest]));
}

/** How often a line crosses itself and turns back, and how long it is. */
function judge(points: readonly Point[], ring: boolean): { crossings: number; backs: number; length: number } {
	const line = ring ? [...points, points[0]!] : points;
	let [crossings, backs] = [0, 0];
	for (let k = 1; k + 1 < line.length; k++) if (turnsBack(line[k - 1]!, line[k]!, line[k + 1]!)) backs++;
	for (let i = 0; i + 1 < line.length; i++)
		for (let j = i + 2; j + 1 < line.length; j++)
			if (!(ring && i === 0 && j + 2 === line.length) && cross(line[i]!, line[i + 1]!, line[j]!, line[j + 1]!)) crossings++;
	return { crossings, backs, length: lengthOf(line) };
}

const lengthOf = (line: readonly Point[]): number =>
	line.reduce((sum, p, k) => (k === 0 ? 0 : sum + hypot(p.x - line[k - 1]!.x, p.y - line[k - 1]!.y)), 0);

/** The cosine of a turn from which a line turns back: 120°. */
const back = -0.5;

/** Whether a line turns by more than 120° at its middle point. */
export function turnsBack(a: Point, b: Point, c: Point): boolean {
	const [ux, uy, vx, vy] = [b.x - a.x, b.y - a.y, c.x - b.x, c.y - b.y];
	return ux * vx + uy * vy < back * hypot(ux, uy) * hypot(vx, vy);
}

function cross(a: Point, b: Point, c: Point, d: Point): boolean {
	const side = (p: Point, q: Point, r: Point) => (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x);
	return side(a, b, c) * side(a, b, d) <= 0 && side(c, d, a) * side(c, d, b) <= 0;
}
