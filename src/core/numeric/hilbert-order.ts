import { boxOf } from './box.ts';

/**
 * The numbers of places in the order in which a Hilbert curve of 2^14 × 2^14 cells over the box around them passes them: what follows one
 * another lies near one another, in the plane and so in memory.
 */
export function alongHilbertCurve(x: Float64Array, y: Float64Array): Uint32Array {
	const box = boxOf(x, y);
	const side = 1 << 14;
	const scale = (side - 1) / Math.max(box[2] - box[0], box[3] - box[1], Number.MIN_VALUE);
	// Place on the curve and number in one number, below 2^53 up to 2^25 nodes: it sorts as such.
	const room = 2 ** 25;
	const keys = new Float64Array(x.length);
	for (let i = 0; i < keys.length; i++) {
		const at = hilbert(Math.floor((x[i]! - box[0]) * scale), Math.floor((y[i]! - box[1]) * scale), side);
		keys[i] = at * room + i;
	}
	keys.sort();
	const order = new Uint32Array(keys.length);
	for (let k = 0; k < order.length; k++) order[k] = keys[k]! % room;
	return order;
}

function hilbert(px: number, py: number, side: number): number {
	let [x, y, d] = [px, py, 0];
	for (let s = side >> 1; s > 0; s >>= 1) {
		const rx = x & s ? 1 : 0;
		const ry = y & s ? 1 : 0;
		d += s * s * ((3 * rx) ^ ry);
		if (ry === 0) {
			if (rx === 1) {
				x = side - 1 - x;
				y = side - 1 - y;
			}
			[x, y] = [y, x];
		}
	}
	return d;
}
