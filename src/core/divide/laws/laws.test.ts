import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { positions, type Spacing } from '../spacing.ts';
import { cappedCount, cappedPositions } from './capped.ts';
import { joinPositions, shareOfChain, splitPositions } from './chain.ts';
import { countOfPair, type GeometricNumber } from './geometric.ts';
import type { BiasEnd } from './law.ts';
import { SpacingError } from './spacing-error.ts';
import { twoEndedPositions } from './two-ended.ts';

const cells = (at: Float64Array) => Array.from({ length: at.length - 1 }, (_, k) => at[k + 1]! - at[k]!);
const ends = fc.constantFrom<BiasEnd>('start', 'end', 'both', 'middle');

/** Sizes of a progression summed in the plainest way, smallest first: the closed form without any care. */
function plain(count: number, ratio: number): number[] {
	const sizes = Array.from({ length: count }, (_, k) => ratio ** k);
	const sum = sizes.reduce((a, b) => a + b, 0);
	return sizes.map((s) => s / sum);
}

describe('the geometric law', () => {
	it('agrees with its closed form in every size', () => {
		fc.assert(
			fc.property(fc.integer({ min: 2, max: 200 }), fc.double({ min: 1, max: 1e8, noNaN: true }), (count, bias) => {
				const got = cells(positions(count, { law: 'geometric', number: { bias }, end: 'start' }));
				const wanted = plain(count, bias ** (1 / (count - 1)));
				for (let k = 0; k < count; k++) expect(Math.abs(got[k]! - wanted[k]!)).toBeLessThan(1e-10);
				expect(Math.abs(got.reduce((a, b) => a + b, 0) - 1)).toBeLessThan(1e-12);
			})
		);
	});

	it('gives the cell that was asked for, at the end that was asked for, or says what is possible', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 10_000 }),
				fc.double({ min: 1e-6, max: 2, noNaN: true }),
				fc.constantFrom<'first' | 'last'>('first', 'last'),
				ends,
				fc.double({ min: 0.01, max: 1e4, noNaN: true }),
				(count, share, word, end, length) => {
					const size = (share * length) / count;
					let got: number[];
					try {
						got = cells(
							positions(count, { law: 'geometric', number: { [word]: size } as unknown as GeometricNumber, end }, length)
						);
					} catch (error) {
						expect(error).toBeInstanceOf(SpacingError);
						expect((error as Error).message).toMatch(
							/cannot have a (?:first|last) cell of .*; (?:from .* to .* is possible|it is)/
						);
						return;
					}
					const n = got.length;
					const middle = n >> 1;
					const small = end === 'start' || end === 'both' ? got[0]! : end === 'end' ? got[n - 1]! : got[middle]!;
					const large = end === 'start' ? got[n - 1]! : end === 'end' || end === 'middle' ? got[0]! : got[middle]!;
					// A cell at the far end is told no more exactly than two fractions next to 1.
					const rounding = (2 ** -52 * length) / size;
					expect(Math.abs(((word === 'first' ? small : large) * length) / size - 1)).toBeLessThan(5e-7 + rounding);
					expect(Math.abs(got.reduce((a, b) => a + b, 0) - 1)).toBeLessThan(1e-12);
				}
			)
		);
	});

	it('grows by the rate asked for, away from the end asked for', () => {
		const got = cells(positions(12, { law: 'geometric', number: { growth: 1.25 }, end: 'end' }));
		for (let k = 1; k < 12; k++) expect(got[k - 1]! / got[k]!).toBeCloseTo(1.25, 12);
		const both = cells(positions(12, { law: 'geometric', number: { growth: 1.25 }, end: 'both' }));
		for (let k = 1; k < 6; k++) expect(both[k]! / both[k - 1]!).toBeCloseTo(1.25, 12);
		for (let k = 7; k < 12; k++) expect(both[k - 1]! / both[k]!).toBeCloseTo(1.25, 12);
		expect(() => positions(2000, { law: 'geometric', number: { growth: 1.25 }, end: 'end' })).toThrow(
			/smaller growth or fewer divisions/
		);
	});
});

describe('two numbers', () => {
	it('give a count at which both hold, but for rounding it', () => {
		fc.assert(
			fc.property(
				fc.double({ min: 1e-4, max: 0.05, noNaN: true }),
				fc.double({ min: 1.02, max: 1.6, noNaN: true }),
				fc.constantFrom<BiasEnd>('start', 'both'),
				(first, growth, end) => {
					const { count, number } = countOfPair({ first, growth }, end, 1);
					const got = cells(positions(count, { law: 'geometric', number, end }));
					expect(got[0]! / first).toBeCloseTo(1, 8);
					// Half a cell more or less changes the growth a little.
					if (count > 12) expect(Math.abs(got[1]! / got[0]! - growth)).toBeLessThan(0.5 * (growth - 1) + 0.01);
				}
			)
		);
	});

	it('agree with one another: any pair of one spacing gives its count', () => {
		const n = 17;
		const growth = 1.15;
		const first = (growth - 1) / (growth ** n - 1);
		const last = first * growth ** (n - 1);
		const bias = last / first;
		const all = { first, last, growth, bias };
		const words = ['first', 'last', 'growth', 'bias'] as const;
		for (const a of words)
			for (const b of words) {
				if (a === b) continue;
				const { count, number } = countOfPair({ [a]: all[a], [b]: all[b] }, 'start', 1);
				expect(count).toBe(n);
				expect(cells(positions(count, { law: 'geometric', number, end: 'start' }))[0]).toBeCloseTo(first, 9);
			}
	});

	it('that no spacing has say which to change', () => {
		const why = (pair: Parameters<typeof countOfPair>[0], end: BiasEnd = 'start') => {
			try {
				countOfPair(pair, end, 1);
				return '';
			} catch (error) {
				return (error as Error).message;
			}
		};
		expect(why({ first: 2, growth: 1.2 })).toMatch(/first cell of 2 is longer than the piece, which has 1; use a smaller one/);
		expect(why({ first: 0.7, growth: 1.2 }, 'both')).toMatch(/longer than half the piece, which has 0.5/);
		expect(why({ last: 0.1, growth: 1.2 })).toMatch(/fill at most 0.6, .* use a larger last cell or a smaller growth/);
		expect(why({ first: 0.3, growth: 0.5 })).toMatch(/use a growth above 0.7/);
		expect(why({ first: 0.5, bias: 10 })).toMatch(/smaller bias or first cell/);
		expect(why({ growth: 1, bias: 10 })).toMatch(/use a growth above 1/);
		expect(why({ growth: 1, bias: 1 })).toMatch(/leave the count open/);
		expect(why({ first: 1e-9, growth: 1 })).toMatch(/above the limit of 1000000/);
	});
});

describe('the law with both ends', () => {
	it('has both end cells, rises, and is smooth in between', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 6, max: 400 }),
				fc.double({ min: -2, max: 0.2, noNaN: true }),
				fc.double({ min: -2, max: 0.2, noNaN: true }),
				(count, a, b) => {
					const [first, last] = [10 ** a / count, 10 ** b / count];
					let at: Float64Array;
					try {
						at = twoEndedPositions(count, first, last);
					} catch (error) {
						expect((error as Error).message).toMatch(/no smooth spacing/);
						return;
					}
					const got = cells(at);
					expect(got[0]! / first).toBeCloseTo(1, 9);
					expect(got[count - 1]! / last).toBeCloseTo(1, 6);
					expect(Math.min(...got)).toBeGreaterThan(0);
					// Sizes rise to one largest or fall to one smallest: their differences change sign at most once.
					const signs = got.slice(1).map((s, k) => Math.sign(Number((s - got[k]!).toFixed(12))));
					const changes = signs.filter((s, k) => k > 0 && s !== 0 && signs[k - 1] !== 0 && s !== signs[k - 1]).length;
					expect(changes).toBeLessThanOrEqual(1);
				}
			)
		);
	});

	it('is even where both ends are', () => {
		const at = twoEndedPositions(8, 1 / 8, 1 / 8);
		at.forEach((v, k) => expect(v).toBeCloseTo(k / 8, 12));
	});

	it('runs the other way from the other end', () => {
		const spacing = (end: 'start' | 'end'): Spacing => ({ law: 'two-ended', first: 0.01, last: 0.2, end });
		const [a, b] = [cells(positions(20, spacing('start'))), cells(positions(20, spacing('end')))];
		a.forEach((size, k) => expect(b[19 - k]).toBeCloseTo(size, 12));
	});
});

describe('a chain', () => {
	const lengths = fc.array(fc.double({ min: 0.5, max: 3, noNaN: true }), { minLength: 1, maxLength: 5 });

	it('shares a spacing among its pieces, and puts it together again', () => {
		fc.assert(
			fc.property(
				lengths,
				fc.integer({ min: 40, max: 120 }),
				fc.double({ min: 1, max: 20, noNaN: true }),
				(list, count, bias) => {
					const whole = positions(count, { law: 'geometric', number: { bias }, end: 'start' });
					const shares = shareOfChain(whole, list);
					expect(shares.reduce((a, b) => a + b, 0)).toBeCloseTo(count, 9);
					const counts = shares.map((s) => Math.max(1, Math.round(s)));
					counts[0]! += count - counts.reduce((a, b) => a + b, 0);
					if (counts[0]! < 1) return;
					const parts = splitPositions(
						whole,
						list.map((length, k) => ({ length, count: counts[k]! }))
					);
					const again = joinPositions(parts.map((at, k) => ({ at, length: list[k]! })));
					expect(again).toHaveLength(count + 1);
					const got = cells(again);
					expect(Math.min(...got)).toBeGreaterThan(0);
					// A junction moves no node by more than a cell or so.
					const largest = Math.max(...cells(whole));
					for (let k = 0; k <= count; k++) expect(Math.abs(again[k]! - whole[k]!)).toBeLessThan(2 * largest);
				}
			)
		);
	});
});

describe('growth up to a largest cell', () => {
	it('keeps the first cell and the growth, and no cell is larger than asked', () => {
		fc.assert(
			fc.property(
				fc.double({ min: 1e-4, max: 0.3, noNaN: true }),
				fc.double({ min: 1.01, max: 2, noNaN: true }),
				fc.double({ min: 1, max: 1000, noNaN: true }),
				fc.constantFrom<'start' | 'both'>('start', 'both'),
				(first, growth, times, end) => {
					const law = { first, growth, largest: Math.min(0.5, first * times) };
					const count = cappedCount(law, end === 'both', 1);
					const got = cells(cappedPositions(count, law, end, 1));
					// Where cells of the first size alone are too long, all are shorter, by less than one in all.
					const equal = count * first > 1;
					expect(Math.abs((got[0]! / first) * (equal ? count * first : 1) - 1)).toBeLessThan(1e-8);
					expect(count * first).toBeLessThan(1 + (end === 'both' ? 2 : 1) * first);
					expect(Math.abs(got.reduce((a, b) => a + b, 0) - 1)).toBeLessThan(1e-12);
					const half = end === 'both' ? count / 2 : count;
					const largest = Math.max(...got);
					expect(largest).toBeLessThan(law.largest * (1 + 1e-8));
					for (let k = 1; k < half; k++) {
						const ratio = got[k]! / got[k - 1]!;
						// It grows by its ratio until it is as large as the largest, and then stays.
						if (got[k]! < largest * (1 - 1e-6)) expect(Math.abs(ratio / growth - 1)).toBeLessThan(1e-6);
						else expect(ratio).toBeLessThan(growth * (1 + 1e-6));
					}
					// One cell fewer does not do.
					if (half > 1) {
						let sum = 0;
						for (let k = 0; k < half - 1; k++) sum += Math.min(first * growth ** k, law.largest);
						expect(sum).toBeLessThan(end === 'both' ? 0.5 : 1);
					}
				}
			)
		);
	});

	it('adds up to ten cells of a length that can be checked by hand', () => {
		// 1 + 2 + 4 + 4 + 4 = 15.
		const law = { first: 1, growth: 2, largest: 4 };
		expect(cappedCount(law, false, 15)).toBe(5);
		expect(Array.from(cappedPositions(5, law, 'start', 15), (f) => Math.round(f * 15 * 1e9) / 1e9)).toEqual([0, 1, 3, 7, 11, 15]);
		expect(cappedCount(law, true, 30)).toBe(10);
	});

	it('says which number cannot be', () => {
		expect(() => cappedCount({ first: 2, growth: 1.2, largest: 3 }, true, 3)).toThrow(
			/a first cell of 2 is longer than half the piece/
		);
		expect(() => cappedPositions(3, { first: 1, growth: 1.5 }, 'start', 15)).toThrow(/use more divisions/);
		expect(() => cappedPositions(20, { first: 1, growth: 1.5 }, 'start', 15)).toThrow(
			/use fewer divisions or a smaller first cell/
		);
	});
});
