import { sizeAt, type SizesAlong } from '../sizing/size-along.ts';

/** A profile times a number, and seen from the other end where it is turned. */
export function scaled({ at, size }: SizesAlong, by: number, turned: boolean): SizesAlong {
	if (!turned) return { at, size: size.map((s) => s * by) };
	return { at: at.map((_, k) => 1 - at[at.length - 1 - k]!), size: size.map((_, k) => by * size[size.length - 1 - k]!) };
}

/** A size at one end of a piece that grows with the distance from it to the largest. */
export function grownFrom(first: number, slope: number, largest: number, length: number, end: 'start' | 'end'): SizesAlong {
	const reach = slope > 0 ? Math.max(0, largest - first) / (slope * length) : Infinity;
	const at = reach > 0 && reach < 1 ? Float64Array.of(0, reach, 1) : Float64Array.of(0, 1);
	const line = { at, size: at.map((fraction) => Math.min(Math.max(largest, first), first + slope * length * fraction)) };
	return end === 'start' ? line : scaled(line, 1, true);
}

/** The smaller of two profiles everywhere, with the places where they cross. */
export function lowerOf(a: SizesAlong, b: SizesAlong): SizesAlong {
	const stops = [...new Set([...a.at, ...b.at])].sort((p, q) => p - q);
	const places: number[] = [];
	const values: number[] = [];
	let before: { at: number; difference: number } | undefined;
	for (const at of stops) {
		const [sizeHere, other] = [sizeAt(a, at), sizeAt(b, at)];
		const difference = sizeHere - other;
		if (before && before.difference * difference < 0) {
			const cross = before.at + ((at - before.at) * before.difference) / (before.difference - difference);
			places.push(cross);
			values.push(sizeAt(a, cross));
		}
		places.push(at);
		values.push(Math.min(sizeHere, other));
		before = { at, difference };
	}
	return { at: Float64Array.from(places), size: Float64Array.from(values) };
}
