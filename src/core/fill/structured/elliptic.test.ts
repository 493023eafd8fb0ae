import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arithmetic } from '../../numeric/arithmetic.ts';
import elliptic from './elliptic.as.ts?bytes';

type RowOf = (x: number, y: number, phi: number, psi: number, row: number, width: number) => void;

/** One row by the equations as they are written in books, a node at a time. */
function moveRow(x: number[], y: number[], phi: number[], psi: number[], row: number, width: number): void {
	const [oldX, oldY] = [x.slice(), y.slice()];
	for (let k = row + 1; k < row + width - 1; k++) {
		const across = (v: number[]) => v[k + 1]! - v[k - 1]!;
		const along = (v: number[]) => v[k + width]! - v[k - width]!;
		const alpha = along(oldX) * along(oldX) + along(oldY) * along(oldY);
		const gamma = across(oldX) * across(oldX) + across(oldY) * across(oldY);
		const beta = 0.5 * (across(oldX) * along(oldX) + across(oldY) * along(oldY));
		const whole = 2 * (alpha + gamma);
		if (!(whole > 0)) continue;
		for (const [old, out] of [
			[oldX, x],
			[oldY, y]
		] as const) {
			const twist = old[k + 1 + width]! - old[k + 1 - width]! - (old[k - 1 + width]! - old[k - 1 - width]!);
			const straight = alpha * (old[k + 1]! + old[k - 1]!) + gamma * (old[k + width]! + old[k - width]!) - beta * twist;
			out[k] = (1 / whole) * (straight + alpha * phi[k]! * across(old) + gamma * psi[k]! * along(old));
		}
	}
}

/** The control functions of one row, a node at a time. */
function controlsOfRow(x: number[], y: number[], phi: number[], psi: number[], row: number, width: number): void {
	for (let k = row + 1; k < row + width - 1; k++)
		for (const [out, step] of [
			[phi, 1],
			[psi, width]
		] as const) {
			const length = (a: number, b: number) => Math.sqrt((x[b]! - x[a]!) * (x[b]! - x[a]!) + (y[b]! - y[a]!) * (y[b]! - y[a]!));
			const [ahead, behind] = [length(k, k + step), length(k - step, k)];
			const free = ahead + behind > 0 ? (-2 * (ahead - behind)) / (ahead + behind) : 0;
			out[k] = 0.5 * Math.max(-1.9, Math.min(1.9, free));
		}
}

describe('a row of a block, two nodes at once,', () => {
	// Few places, so that nodes often lie in one point.
	const place = fc.oneof(fc.constantFrom(0, 1, 2), fc.double({ min: -5, max: 5, noNaN: true }));
	const block = fc
		.record({ width: fc.integer({ min: 3, max: 12 }), height: fc.integer({ min: 3, max: 6 }) })
		.chain(({ width, height }) => {
			const numbers = fc.array(place, { minLength: width * height, maxLength: width * height });
			return fc.record({ width: fc.constant(width), height: fc.constant(height), x: numbers, y: numbers });
		});

	/** Both ways of working out all rows of a block, one after the other. */
	function both(
		{ width, height, x, y }: { width: number; height: number; x: number[]; y: number[] },
		name: 'sweepRow' | 'controlRow',
		plain: typeof moveRow,
		controls: () => number
	) {
		const size = width * height;
		const start = [x, y, Array.from({ length: size }, controls), Array.from({ length: size }, controls)];
		const { functions, lists, at } = arithmetic<Record<typeof name, RowOf>>(elliptic, [size, size, size, size]);
		lists.forEach((list, k) => list.set(start[k]!));
		const [px, py, phi, psi] = start.map((list) => [...list]) as [number[], number[], number[], number[]];
		for (let j = 1; j < height - 1; j++) {
			functions[name](at[0]!, at[1]!, at[2]!, at[3]!, j * width, width);
			plain(px, py, phi, psi, j * width, width);
		}
		return { lists: lists.map((list) => [...list]), plain: [px, py, phi, psi] };
	}

	it('goes where the equations say, bit for bit, and nothing else is touched', () => {
		let moved = 0;
		fc.assert(
			fc.property(block, (given) => {
				let n = 0;
				const { lists, plain } = both(given, 'sweepRow', moveRow, () => ((n++ * 7) % 39) / 20 - 0.95);
				expect(lists).toEqual(plain);
				if (lists[0]!.some((v, k) => v !== given.x[k])) moved++;
			})
		);
		expect(moved).toBeGreaterThan(50);
	});

	it('gets the control functions that keep its nodes where they are', () => {
		fc.assert(
			fc.property(block, (given) => {
				const { lists, plain } = both(given, 'controlRow', controlsOfRow, () => 7);
				expect(lists).toEqual(plain);
			})
		);
	});
});

describe('lists for arithmetic', () => {
	it('are zero, apart from one another, and as many as one asks for', () => {
		const lengths = [3, 0, 20_000, 1];
		const { lists, at } = arithmetic(elliptic, lengths);
		expect(lists.map((list) => list.length)).toEqual(lengths);
		for (const list of lists) expect(list.every((v) => v === 0)).toBe(true);
		lists.forEach((list, k) => list.fill(k + 1));
		lists.forEach((list, k) => expect(list.every((v) => v === k + 1)).toBe(true));
		for (let k = 1; k < at.length; k++) expect(at[k]! - at[k - 1]!).toBeGreaterThanOrEqual(8 * lengths[k - 1]! + 16);
	});
});
