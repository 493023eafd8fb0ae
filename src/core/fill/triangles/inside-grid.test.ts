import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { domains, input, numbers } from '../domains.test-support.ts';
import type { FillInput } from '../method.ts';
import { boxOf } from '../../numeric/box.ts';
import { INSIDE, InsideGrid, MIXED, OUTSIDE } from './inside-grid.ts';

/** Whether a place lies inside: an odd number of edges to its left. */
function isInside({ x, y, edges }: FillInput, px: number, py: number): boolean {
	let odd = false;
	for (let k = 0; k < edges.length; k += 2) {
		const [a, b] = [edges[k]!, edges[k + 1]!];
		if (y[a]! > py === y[b]! > py) continue;
		if (px > x[a]! + ((py - y[a]!) / (y[b]! - y[a]!)) * (x[b]! - x[a]!)) odd = !odd;
	}
	return odd;
}

describe('a grid that tells what lies inside', () => {
	it.each(Object.entries(domains))('is right of %s wherever it knows', (_, make) => {
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 60 }), (seed, cells) => {
				const random = numbers(seed);
				const given = make(random);
				const grid = new InsideGrid(given, boxOf(given.x, given.y), cells);
				for (let k = 0; k < 200; k++) {
					const [px, py] = [24 * random.next() - 12, 24 * random.next() - 12];
					const kind = grid.at(px, py);
					if (kind !== MIXED) expect(kind).toBe(isInside(given, px, py) ? INSIDE : OUTSIDE);
				}
				// Edges lie in cells of which it does not know.
				for (let k = 0; k < given.edges.length; k += 2) {
					const [a, b] = [given.edges[k]!, given.edges[k + 1]!];
					const t = random.next();
					expect(grid.at(given.x[a]! + t * (given.x[b]! - given.x[a]!), given.y[a]! + t * (given.y[b]! - given.y[a]!))).toBe(
						MIXED
					);
				}
			}),
			{ numRuns: 12, seed: 4 }
		);
	});

	it('counts outlines that meet in the very middles of its cells once', () => {
		// Of 17 rows the middle of the ninth is the axis, on which every one of these diamonds has two corners.
		const diamond = (x: number, r: number): [number, number][] => [
			[x + r, 0],
			[x, r],
			[x - r, 0],
			[x, -r]
		];
		const given = input([diamond(0, 8.5), ...[-5, -1, 3].map((x) => diamond(x, 0.4).reverse())]);
		const grid = new InsideGrid(given, boxOf(given.x, given.y), 17);
		expect([-3, 1, 5].map((x) => grid.at(x, 0))).toEqual([INSIDE, INSIDE, INSIDE]);
		expect(grid.at(8, 8)).toBe(OUTSIDE);
		expect(grid.at(40, 0)).toBe(OUTSIDE);
	});
});
