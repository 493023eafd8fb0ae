import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SizeTree } from './size-tree.ts';

const coordinate = fc.oneof(fc.double({ min: -10, max: 10, noNaN: true }), fc.integer({ min: -2, max: 2 }));
const place = fc.record({ x: coordinate, y: coordinate, size: fc.double({ min: 0.01, max: 3, noNaN: true }) });
const lists = (list: readonly { x: number; y: number; size: number }[]) =>
	(['x', 'y', 'size'] as const).map((key) => Float64Array.from(list, (p) => p[key])) as [
		Float64Array,
		Float64Array,
		Float64Array
	];

describe('sizes that grow from places', () => {
	it('are the smallest of all, at any point, as one by one', () => {
		fc.assert(
			fc.property(
				fc.array(place, { minLength: 1, maxLength: 120 }),
				fc.array(fc.record({ x: coordinate, y: coordinate }), { minLength: 1, maxLength: 10 }),
				fc.constantFrom(0, 0.05, 0.2, 2),
				(list, points, slope) => {
					const [x, y, size] = lists(list);
					const tree = new SizeTree(x, y, size, slope, Int32Array.from(x.keys()));
					for (const q of points) {
						const expected = Math.min(...list.map((p) => p.size + slope * Math.sqrt((p.x - q.x) ** 2 + (p.y - q.y) ** 2)));
						expect(Math.abs(tree.smallest(q.x, q.y, Infinity) - expected)).toBeLessThan(1e-12);
						// What is known to be smaller stays.
						expect(tree.smallest(q.x, q.y, expected / 2)).toBe(expected / 2);
						expect(tree.smallest(q.x, q.y, 2 * expected + 1)).toBeLessThan(2 * expected + 1);
					}
				}
			)
		);
	});

	it('are no more than the tolerance larger, along curves where most have grown from one another', () => {
		fc.assert(
			fc.property(
				fc.array(
					fc.record({ turn: fc.double({ min: -1, max: 1, noNaN: true }), size: fc.double({ min: 0.01, max: 1, noNaN: true }) }),
					{
						minLength: 1,
						maxLength: 200
					}
				),
				fc.array(fc.record({ x: coordinate, y: coordinate }), { minLength: 1, maxLength: 10 }),
				fc.constantFrom(0.05, 0.3, 1),
				fc.constantFrom(1, 1.02, 1.5),
				(steps, points, slope, tolerance) => {
					let [px, py, direction] = [0, 0, 0];
					const list = steps.map(({ turn, size }) => {
						direction += turn;
						[px, py] = [px + 0.05 * Math.cos(direction), py + 0.05 * Math.sin(direction)];
						return { x: px, y: py, size };
					});
					const [x, y, size] = lists(list);
					const tree = new SizeTree(x, y, size, slope, Int32Array.from(x.keys()), tolerance);
					for (const q of points) {
						const least = Math.min(...list.map((p) => p.size + slope * Math.sqrt((p.x - q.x) ** 2 + (p.y - q.y) ** 2)));
						const answer = tree.smallest(q.x, q.y, Infinity);
						expect(answer).toBeGreaterThanOrEqual(least * (1 - 1e-12));
						expect(answer).toBeLessThanOrEqual(least * tolerance * (1 + 1e-12));
					}
				}
			)
		);
	});

	it('are of those places alone that take part, and none of no place', () => {
		const [x, y, size] = lists(Array.from({ length: 40 }, (_, k) => ({ x: k, y: 0, size: 1 + k })));
		const tree = new SizeTree(x, y, size, 0.5, Int32Array.of(30, 10, 20));
		expect(tree.smallest(0, 0, Infinity)).toBe(11 + 5);
		expect(tree.smallest(30, 0, Infinity)).toBe(11 + 10);
		expect(new SizeTree(x, y, size, 0.5, new Int32Array(0)).smallest(3, 4, 7)).toBe(7);
	});

	it('find their way where all places are one, and many', () => {
		const [x, y, size] = lists(Array.from({ length: 1000 }, (_, k) => ({ x: 1, y: 2, size: 2 + ((7 * k) % 1000) / 1000 })));
		expect(new SizeTree(x, y, size, 1, Int32Array.from(x.keys())).smallest(1, 5, Infinity)).toBe(5);
	});
});
