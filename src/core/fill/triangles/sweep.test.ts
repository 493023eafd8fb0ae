import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { sweep, type Swept } from './sweep.ts';
import { next } from './triangulation.ts';

const box = [0, 0, 1, 1] as const;
type Field = (x: number, y: number) => number;
const sweepOf = (field: Field, limit = 1e6) => finish(sweep(box, { at: field, keep: () => undefined }, 1000, limit));

const fields: Record<string, Field> = {
	'a constant size': () => 0.03,
	'a size that grows from a point': (x, y) => 0.003 + 0.1 * Math.hypot(x - 0.4, y - 0.6),
	'a size that falls to two lines': (x, y) => 0.006 + 0.15 * Math.min(Math.abs(x - 0.3), Math.abs(y - 0.4)),
	'a size in waves': (x, y) => 0.02 + 0.008 * (Math.sin(9 * x) + 1) * (Math.cos(9 * y) + 1),
	'a size that grows upward': (_, y) => 0.004 + 0.12 * y,
	'a size that falls upward': (_, y) => 0.004 + 0.12 * (1 - y)
};

/** Triangles of qualities, edges over wanted sizes; sound half-edges. */
function measured({ x, y, from, twin, triangleCount, count }: Swept, field: Field) {
	let [quality, worst, ratio, area] = [0, 1, 0, 0];
	for (let e = 0; e < 3 * triangleCount; e++) {
		const [a, b] = [from[e]!, from[next(e)]!];
		ratio += Math.hypot(x[b]! - x[a]!, y[b]! - y[a]!) / field((x[a]! + x[b]!) / 2, (y[a]! + y[b]!) / 2);
		const f = twin[e]!;
		if (f >= 0 && (twin[f] !== e || from[f] !== b || from[next(f)] !== a))
			throw new Error(`half-edges ${e} and ${f} are no pair`);
		if (e % 3 > 0) continue;
		const c = from[e + 2]!;
		const [ux, uy, vx, vy] = [x[b]! - x[a]!, y[b]! - y[a]!, x[c]! - x[a]!, y[c]! - y[a]!];
		const twice = ux * vy - uy * vx;
		const part = (2 * Math.sqrt(3) * twice) / (ux * ux + uy * uy + vx * vx + vy * vy + (vx - ux) ** 2 + (vy - uy) ** 2);
		area += twice / 2;
		quality += part;
		worst = Math.min(worst, part);
	}
	return { mean: quality / triangleCount, worst, ratio: ratio / (3 * triangleCount), area, count };
}

describe.each(Object.entries(fields))('a sweep with %s', (_, field) => {
	const swept = sweepOf(field)!;
	const { mean, worst, ratio, area } = measured(swept, field);

	it('covers the rectangle but for steps below its upper side, no triangle turned over', () => {
		expect(worst).toBeGreaterThan(0);
		const highest = Math.max(...[0, 0.25, 0.5, 0.75, 1].map((x) => field(x, 1)));
		expect(area).toBeGreaterThan(1 - highest);
		expect(area).toBeLessThan(1 + highest);
	});

	it('has triangles that are nearly equilateral, of the wanted size on the whole', () => {
		expect(mean).toBeGreaterThan(0.92);
		expect(ratio).toBeGreaterThan(0.9);
		expect(ratio).toBeLessThan(1.08);
	});
});

/** How many sweeps end, of sizes made at random; each of those is sound. */
function soundAmong<T>(made: fc.Arbitrary<T>, fieldOf: (input: T) => Field, limit: number, runs: fc.Parameters<[T]>): number {
	let whole = 0;
	fc.assert(
		fc.property(made, (input) => {
			const field = fieldOf(input);
			const swept = sweepOf(field, limit);
			if (!swept) return;
			whole++;
			expect(measured(swept, field).worst).toBeGreaterThan(0);
		}),
		runs
	);
	return whole;
}

describe('a sweep', () => {
	const share = fc.double({ min: 0, max: 1, noNaN: true });

	it('ends sound or not at all, whatever the sizes', () => {
		const sources = fc.array(fc.tuple(share, share), { minLength: 1, maxLength: 8 });
		const slope = fc.double({ min: 0.02, max: 1.5, noNaN: true });
		const toSources =
			([places, slope]: [[number, number][], number]): Field =>
			(x, y) =>
				Math.min(...places.map(([px, py]) => 0.004 + slope * Math.hypot(x - px, y - py)));
		expect(soundAmong(fc.tuple(sources, slope), toSources, 200_000, { numRuns: 60, seed: 11 })).toBeGreaterThan(40);
	});

	it('ends sound or not at all where sizes jump', () => {
		const size = fc.double({ min: 0.012, max: 0.3, noNaN: true });
		const discs = fc.array(fc.tuple(share, share, share, size), { minLength: 1, maxLength: 12 });
		const inDiscs =
			([list, fallback]: [[number, number, number, number][], number]): Field =>
			(x, y) =>
				list.find(([px, py, r]) => Math.hypot(x - px, y - py) < 0.4 * r)?.[3] ?? fallback;
		expect(soundAmong(fc.tuple(discs, size), inDiscs, 100_000, { numRuns: 300, seed: 5 })).toBeGreaterThan(150);
	});

	it('tells of every node what was asked beside it', () => {
		const kept: number[] = [];
		const parents: number[] = [];
		const sizes = {
			at: (_x: number, _y: number, a: number, b: number) => {
				parents.push(a, b);
				return 0.1;
			},
			keep: (node: number) => kept.push(node)
		};
		const { count } = finish(sweep(box, sizes, 100, 1000))!;
		expect(kept).toEqual(Array.from({ length: count }, (_, k) => k));
		expect(Math.max(...parents)).toBeLessThan(count);
	});

	it('gives up at its limit', () => {
		expect(sweepOf(() => 0.001, 20_000)).toBeUndefined();
	});
});
