import { boxOf } from './box.ts';
import { numbersBelow } from './lists.ts';

/**
 * The numbers of places in the order in which a Hilbert curve of 2^14 × 2^14 cells over the box around them passes them: what follows one
 * another lies near one another, in the plane and so in memory.
 */
export function alongHilbertCurve(x: Float64Array, y: Float64Array): Int32Array {
	const box = boxOf(x, y);
	const side = 1 << levels;
	const scale = (side - 1) / Math.max(box[2] - box[0], box[3] - box[1], Number.MIN_VALUE);
	// The place of each along the curve, its last cuts and its first ones: it is sorted by these, one after the other.
	const [late, early] = [new Uint32Array(x.length), new Uint32Array(x.length)];
	for (let i = 0; i < x.length; i++) {
		const at = hilbert(Math.floor((x[i]! - box[0]) * scale), Math.floor((y[i]! - box[1]) * scale));
		late[i] = at & (side - 1);
		early[i] = at >>> levels;
	}
	return sortedBy(sortedBy(numbersBelow(x.length), late), early);
}

/** Sorts numbers by their digits, below 2^{@link levels}; those with the same one stay in their order. */
function sortedBy(order: Int32Array, digit: Uint32Array): Int32Array {
	const first = new Uint32Array(1 << levels);
	for (let k = 0; k < digit.length; k++) first[digit[k]!]!++;
	for (let d = 0, sum = 0; d < first.length; d++) {
		const size = first[d]!;
		first[d] = sum;
		sum += size;
	}
	const sorted = new Int32Array(order.length);
	for (let k = 0; k < order.length; k++) sorted[first[digit[order[k]!]!]!++] = order[k]!;
	return sorted;
}

/** The curve is cut in halves so many times, two cuts a step. */
const levels = 14;

/**
 * Of each of the four ways in which a part of the curve can lie (its coordinates swapped: 1, run from the far ends: 2) and each of
 * the 4 × 4 parts of it: the number of that along the curve, and the way in which it lies, times 16.
 */
const steps = (() => {
	const table = new Uint8Array(4 * 16);
	for (let k = 0; k < table.length; k++) {
		let [way, number] = [k >> 4, 0];
		for (const bit of [1, 0]) {
			const [bx, by] = [(k >> (2 + bit)) & 1, (k >> bit) & 1];
			const far = way >> 1;
			const rx = (way & 1 ? by : bx) ^ far;
			const ry = (way & 1 ? bx : by) ^ far;
			number = 4 * number + ((3 * rx) ^ ry);
			if (ry === 0) way ^= rx ? 3 : 1;
		}
		table[k] = 16 * way + number;
	}
	return table;
})();

/** The number of a cell along the curve. */
function hilbert(x: number, y: number): number {
	let [way, d] = [0, 0];
	for (let shift = levels - 2; shift >= 0; shift -= 2) {
		const step = steps[way | (((x >> shift) & 3) << 2) | ((y >> shift) & 3)]!;
		way = step & 0x30;
		d = (d << 4) | (step & 15);
	}
	return d;
}
