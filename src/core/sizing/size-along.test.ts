import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { positions } from '../divide/spacing.ts';
import { countAlong, evenlyPlaced, positionsAlong, sizesOfPositions, type SizesAlong } from './size-along.ts';

const sizes = fc
	.array(
		fc.record({ step: fc.double({ min: 0.01, max: 1, noNaN: true }), size: fc.double({ min: 0.02, max: 5, noNaN: true }) }),
		{
			minLength: 2,
			maxLength: 30
		}
	)
	.map((list): SizesAlong => {
		let at = 0;
		const places = list.map(({ step }, k) => (k === 0 ? 0 : (at += step)));
		return { at: Float64Array.from(places, (p) => p / at), size: Float64Array.from(list, (p) => p.size) };
	});

describe('sizes along a piece', () => {
	it('of one size make the length over it', () => {
		expect(countAlong(evenlyPlaced(Float64Array.of(0.5, 0.5, 0.5)), 20)).toBeCloseTo(40, 12);
	});

	it('that grow with the distance make a logarithm: ∫ ds / (a + g s)', () => {
		// From 0.01 with a slope of 0.2 over 10: up to 2.01.
		const sizes = evenlyPlaced(Float64Array.of(0.01, 2.01));
		expect(countAlong(sizes, 10)).toBeCloseTo(Math.log(201) / 0.2, 10);
		// Neighbouring cells then differ by a constant ratio, e^(0.2), as h grows by 0.2 a cell.
		const at = positionsAlong(sizes, 40);
		const share = Math.log(201) / 40;
		for (let k = 1; k < 40; k++) expect((at[k + 1]! - at[k]!) / (at[k]! - at[k - 1]!)).toBeCloseTo(Math.exp(share), 9);
	});

	it('put every node at an equal share, in order, whatever the sizes', () => {
		fc.assert(
			fc.property(sizes, fc.integer({ min: 1, max: 200 }), (line, count) => {
				const at = positionsAlong(line, count);
				expect(at).toHaveLength(count + 1);
				expect([at[0], at[count]]).toEqual([0, 1]);
				for (let k = 0; k < count; k++) if (!(at[k + 1]! > at[k]!)) throw new Error(`node ${k + 1} does not lie after node ${k}`);
				// The size in the middle of a cell, times the share, is about the cell, where the size changes little over it.
				const whole = countAlong(line, 1);
				let share = 0;
				for (let k = 0; k < count; k++) share += countAlong(cut(line, at[k]!, at[k + 1]!), at[k + 1]! - at[k]!);
				expect(share / whole).toBeCloseTo(1, 9);
				const each = countAlong(cut(line, at[0]!, at[1]!), at[1]! - at[0]!);
				expect(each / (whole / count)).toBeCloseTo(1, 6);
			})
		);
	});

	it('tell cells from positions, and give the positions back', () => {
		for (const number of [{ bias: 8 }, { growth: 1.15 }, { bias: 1 }]) {
			const at = positions(40, { law: 'geometric', number, end: 'start' });
			const again = positionsAlong(sizesOfPositions(at, 10), 40);
			at.forEach((place, k) => expect(Math.abs(again[k]! - place)).toBeLessThan(0.006));
			expect(countAlong(sizesOfPositions(at, 10), 10)).toBeCloseTo(40, 0);
		}
	});

	it('have their own value at the first and the last cell', () => {
		const at = positions(20, { law: 'geometric', number: { bias: 100 }, end: 'start' });
		const { size } = sizesOfPositions(at, 3);
		expect(size[0]).toBeCloseTo(3 * at[1]!, 14);
		expect(size.at(-1)).toBeCloseTo(3 * (1 - at[19]!), 14);
	});

	it('of very many cells are told by fewer places', () => {
		const { at, size } = sizesOfPositions(positions(100_000, { law: 'even' }), 1);
		expect(at.length).toBeLessThan(5000);
		expect(at.at(-1)).toBe(1);
		expect(size.every((value) => Math.abs(value - 1e-5) < 1e-12)).toBe(true);
	});
});

/** The sizes between two places, on a piece of their own. */
function cut({ at, size }: SizesAlong, from: number, to: number): SizesAlong {
	const sizeAt = (place: number): number => {
		let k = 0;
		while (k < at.length - 2 && at[k + 1]! < place) k++;
		const t = (place - at[k]!) / (at[k + 1]! - at[k]!);
		return size[k]! + t * (size[k + 1]! - size[k]!);
	};
	const places = [from, ...[...at].filter((place) => place > from && place < to), to];
	return {
		at: Float64Array.from(places, (place) => (place - from) / (to - from)),
		size: Float64Array.from(places, sizeAt)
	};
}
