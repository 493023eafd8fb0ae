import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { grownSizes, GrowthCache, type SizedPoints } from './grown-sizes.ts';

/** By its definition, each with each. */
function oneByOne(x: Float64Array, y: Float64Array, size: Float64Array, slope: number): Float64Array {
	return size.map((start, i) => {
		let least = start;
		for (let j = 0; j < x.length; j++) least = Math.min(least, size[j]! + slope * Math.hypot(x[i]! - x[j]!, y[i]! - y[j]!));
		return least;
	});
}

const coordinate = fc.oneof(fc.double({ min: -10, max: 10, noNaN: true }), fc.integer({ min: -3, max: 3 }));
const points = fc.array(
	fc.record({ x: coordinate, y: coordinate, size: fc.oneof(fc.double({ min: 0.01, max: 5, noNaN: true }), fc.constant(1)) }),
	{ minLength: 1, maxLength: 120 }
);

describe('sizes grown from scattered points', () => {
	it('are the smallest of all, each grown over the way from its point, also among clusters and on lines', () => {
		fc.assert(
			fc.property(points, fc.double({ min: 0.01, max: 2, noNaN: true }), (list, slope) => {
				const [x, y, size] = (['x', 'y', 'size'] as const).map((key) => Float64Array.from(list, (p) => p[key])) as [
					Float64Array,
					Float64Array,
					Float64Array
				];
				const [fast, slow] = [grownSizes(x, y, size, slope), oneByOne(x, y, size, slope)];
				expect(fast.every((h, i) => Math.abs(h - slow[i]!) <= 1e-12 * slow[i]!)).toBe(true);
			})
		);
	});

	it('look at few candidates a point: a million looks would not do for a hundred thousand points each with each', () => {
		// Points on a circle of which one is fine; a table of all pairs would take 10^10 looks, and minutes.
		const n = 100_000;
		const angle = (k: number) => (2 * Math.PI * k) / n;
		const x = Float64Array.from({ length: n }, (_, k) => 100 * Math.cos(angle(k)));
		const y = Float64Array.from({ length: n }, (_, k) => 100 * Math.sin(angle(k)));
		const size = new Float64Array(n).fill(10);
		size[0] = 0.1;
		const grown = grownSizes(x, y, size, 0.2);
		// The chord to the point across a quarter is 100 √2: more than sizes take to reach ten.
		expect(grown[n / 4]).toBe(10);
		expect(grown[1000]).toBeCloseTo(0.1 + 0.2 * 200 * Math.sin(angle(1000) / 2), 12);
	});
});

describe('sizes grown again after some have changed', () => {
	const group = fc.array(
		fc.record({ x: coordinate, y: coordinate, size: fc.oneof(fc.double({ min: 0.01, max: 5, noNaN: true }), fc.constant(1)) }),
		{ minLength: 0, maxLength: 9 }
	);
	type Group = (typeof group extends fc.Arbitrary<infer T> ? T : never)[number][];
	const pointsOf = (group: Group): SizedPoints => ({
		x: Float64Array.from(group, (p) => p.x),
		y: Float64Array.from(group, (p) => p.y),
		size: Float64Array.from(group, (p) => p.size)
	});
	/** Groups that are there at first, and what becomes of them: put in place of one, put before one, or one taken away. */
	const edits = fc.array(
		fc.record({
			at: fc.nat(),
			what: fc.constantFrom('replace', 'insert', 'remove', 'nothing'),
			by: group,
			isSlopeNew: fc.boolean()
		}),
		{ minLength: 1, maxLength: 8 }
	);

	it('are to the last bit what they are when all grow anew, whatever was changed, put in or taken away', () => {
		fc.assert(
			fc.property(fc.array(group, { minLength: 1, maxLength: 40 }), edits, (first, changes) => {
				const cache = new GrowthCache<Group>();
				let groups = first;
				let slope = 0.2;
				const check = () => {
					const points = groups.map(pointsOf);
					const joined = (key: keyof SizedPoints) => Float64Array.from(points.flatMap((group) => [...group[key]]));
					const grown = cache.grown(groups, points, slope);
					expect(Float64Array.from(grown.flatMap((sizes) => [...sizes]))).toEqual(
						grownSizes(joined('x'), joined('y'), joined('size'), slope)
					);
					const again = cache.grown(groups, groups.map(pointsOf), slope);
					expect(again.every((sizes, g) => sizes === grown[g])).toBe(true);
				};
				check();
				for (const { at, what, by, isSlopeNew } of changes) {
					const k = at % (groups.length + 1);
					groups = groups.slice();
					if (what === 'replace' && k < groups.length) groups[k] = by;
					if (what === 'insert') groups.splice(k, 0, by);
					if (what === 'remove') groups.splice(k, 1);
					if (isSlopeNew) slope *= 1.5;
					check();
				}
			})
		);
	});
});
