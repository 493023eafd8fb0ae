import { monotoneCubic } from '../../numeric/monotone.ts';

/** A piece of a chain: its length and count. */
export interface Link {
	length: number;
	count: number;
}

/** Positions along a chain from those along its pieces, each as fractions of its own length. */
export function joinPositions(parts: readonly { at: Float64Array; length: number }[]): Float64Array {
	const total = parts.reduce((sum, part) => sum + part.length, 0);
	const out = [0];
	let before = 0;
	for (const { at, length } of parts) {
		for (let k = 1; k < at.length; k++) out.push((before + at[k]! * length) / total);
		before += length;
	}
	out[out.length - 1] = 1;
	return Float64Array.from(out);
}

/**
 * Positions along the pieces of a chain from one spacing over all of it. The junctions between the
 * pieces are nodes: the spacing is warped, smoothly and by less than a cell, so that it meets them
 * at the counts given.
 *
 * @param at positions along the chain, one more than the counts add up to
 */
export function splitPositions(at: Float64Array, links: readonly Link[]): Float64Array[] {
	const n = at.length - 1;
	const total = links.reduce((sum, link) => sum + link.length, 0);
	const numbers = Float64Array.from({ length: n + 1 }, (_, k) => k);
	const spacing = monotoneCubic(numbers, at);
	const inverse = monotoneCubic(at, numbers);
	// Which number the spacing has at every junction, against the one that it shall have.
	const [wanted, found] = [[0], [0]];
	let [length, count] = [0, 0];
	for (const link of links) {
		length += link.length;
		count += link.count;
		wanted.push(count);
		found.push(count === n ? n : inverse(length / total));
	}
	const warp = monotoneCubic(wanted, found);
	let [before, first] = [0, 0];
	return links.map((link) => {
		const positions = new Float64Array(link.count + 1);
		for (let k = 1; k < link.count; k++) positions[k] = (spacing(warp(first + k)) * total - before) / link.length;
		positions[link.count] = 1;
		before += link.length;
		first += link.count;
		return positions;
	});
}

/** How many divisions of a spacing over a chain fall to each of its pieces, as fractions. */
export function shareOfChain(at: Float64Array, lengths: readonly number[]): number[] {
	const numbers = Float64Array.from(at, (_, k) => k);
	const inverse = monotoneCubic(at, numbers);
	const total = lengths.reduce((a, b) => a + b, 0);
	let [length, last] = [0, 0];
	return lengths.map((linkLength, k) => {
		length += linkLength;
		const next = k === lengths.length - 1 ? at.length - 1 : inverse(length / total);
		const share = next - last;
		last = next;
		return share;
	});
}
