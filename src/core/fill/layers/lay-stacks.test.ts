import { describe, expect, it } from 'vitest';
import { domains, input, numbers, type Loop } from '../domains.test-support.ts';
import { aim } from './aim.ts';
import { layStacks } from './lay-stacks.ts';
import type { LayerRequest } from './stacks.ts';

const wall: LayerRequest = { first: 0.1, growth: 1.2, count: 6, gap: 2 };
const all = (edges: Uint32Array) => new Int32Array(edges.length / 2);

/** A square of side 4 with so many edges to a side, counter-clockwise: the region is inside. */
const square = (n: number): Loop =>
	(
		[
			[0, 0],
			[4, 0],
			[4, 4],
			[0, 4]
		] as const
	).flatMap(([x, y], k, corners): Loop => {
		const [bx, by] = corners[(k + 1) % 4]!;
		return Array.from({ length: n }, (_, i) => [x + ((bx - x) * i) / n, y + ((by - y) * i) / n]);
	});
const around: Loop = [
	[-10, -10],
	[14, -10],
	[14, 14],
	[-10, 14]
];

describe('stacks along walls', () => {
	it('stand one to a node inside a square, whose corners both sides share', () => {
		const given = input([square(5)]);
		const { stacks, chains, places } = layStacks(given, { walls: [wall], wallOf: all(given.edges) });
		expect(stacks.length).toBe(20);
		expect(chains).toMatchObject([{ first: 0, last: 19, closed: true }]);
		expect([...stacks.corner].filter((turn) => turn > 0)).toHaveLength(4);
		for (const turn of stacks.corner) if (turn > 0) expect(turn).toBeCloseTo(Math.PI / 2, 12);
		// From one corner to the next there are six, both included.
		expect(chains[0]!.sides.map((side) => side.length)).toEqual([6, 6, 6, 6]);
		expect(places).toBe(0);
	});

	it('stand three to a corner that turns away by a right angle, opened evenly from one side to the other', () => {
		const given = input([around, [...square(5)].reverse()]);
		const wallOf = all(given.edges).map((_, k) => (k < 4 ? -1 : 0));
		const { stacks, places } = layStacks(given, { walls: [wall], wallOf });
		expect(stacks.length).toBe(20 + 4 * 2);
		expect(places).toBe(4);
		const fans = [...new Set(stacks.fan)].filter((f) => f >= 0);
		expect(fans).toHaveLength(4);
		for (const fan of fans) {
			const fanStacks = [...stacks.fan.keys()].filter((k) => stacks.fan[k] === fan);
			expect(fanStacks).toEqual([fan, fan + 1, fan + 2]);
			const angles = fanStacks.map((k) => Math.atan2(stacks.normalY[k]!, stacks.normalX[k]!));
			for (let k = 0; k < 2; k++) expect(Math.abs(Math.sin(angles[k + 1]! - angles[k]!))).toBeCloseTo(Math.sin(Math.PI / 4), 12);
		}
	});

	it('are one more at a fan that is told to change, and one cell fewer at a piece that carries them', () => {
		const given = input([around, [...square(5)].reverse()]);
		const wallOf = all(given.edges).map((_, k) => (k < 4 ? -1 : 0));
		for (let change = 0; change < 4; change++)
			expect(layStacks(given, { walls: [wall], wallOf }, change).stacks.length).toBe(20 + 4 * 2 + 1);
		// A floor between two sides that are divided as its layers ask.
		const heights = [0, 0.1, 0.22, 0.364, 0.5368, 0.74416, 0.992992, 2, 4];
		const room: Loop = [
			...Array.from({ length: 9 }, (_, k): [number, number] => [k, 0]),
			...heights.slice(1).map((h): [number, number] => [8, h]),
			[4, 4],
			...[...heights]
				.reverse()
				.slice(0, -1)
				.map((h): [number, number] => [0, h])
		];
		const box = input([room]);
		const floor = all(box.edges).map((_, k) => (k < 8 ? 0 : -1));
		const carried = (change?: number) => {
			const { stacks, places } = layStacks(box, { walls: [wall], wallOf: floor }, change);
			return { most: [stacks.most[0], stacks.most[8]], carriers: stacks.carriers.length, places };
		};
		expect(carried()).toEqual({ most: [6, 6], carriers: 2, places: 2 });
		expect(carried(0)).toEqual({ most: [5, 6], carriers: 2, places: 2 });
		expect(carried(1)).toEqual({ most: [6, 5], carriers: 2, places: 2 });
	});

	it('know their neighbours, all in one chain or another, whatever the outline', () => {
		for (const [name, make] of Object.entries(domains))
			for (let seed = 1; seed <= 5; seed++) {
				const random = numbers(seed);
				const given = make(random);
				let turn = -1;
				const wallOf = all(given.edges).map(() => {
					if (random.next() < 0.15) turn = random.below(3) - 1;
					return turn;
				});
				const { stacks, chains } = layStacks(given, { walls: [wall, { ...wall, count: 3 }], wallOf });
				const seen = new Uint8Array(stacks.length);
				for (const { first, last, closed } of chains)
					for (let k = first; k <= last; k++) {
						seen[k]!++;
						expect(stacks.after[k], name).toBe(k < last ? k + 1 : closed ? first : -1);
						expect(stacks.before[k], name).toBe(k > first ? k - 1 : closed ? last : -1);
					}
				expect(seen.every((n) => n === 1)).toBe(true);
				for (let k = 0; k < stacks.length; k++) {
					expect(stacks.most[k]).toBeLessThanOrEqual(stacks.wall[k] === 0 ? 6 : 3);
					expect([stacks.baseX[k], stacks.baseY[k]]).toEqual([given.x[stacks.node[k]!], given.y[stacks.node[k]!]]);
				}
			}
	});
});

describe('where stacks aim', () => {
	it('a straight wall goes up by the height, a corner along its bisector so that both sides do', () => {
		const given = input([square(5)]);
		const { stacks, chains } = layStacks(given, { walls: [wall], wallOf: all(given.edges) });
		stacks.height.fill(0.1);
		stacks.moves.fill(1);
		aim(stacks, chains[0]!, 0, given.x, given.y);
		for (let k = 0; k < stacks.length; k++) {
			const [x, y] = [stacks.nextX[k]!, stacks.nextY[k]!];
			// All of the new front lies on a square that is smaller by the height.
			expect(Math.min(x, y, 4 - x, 4 - y)).toBeCloseTo(0.1, 12);
		}
	});

	it('a curve is left along its own normal, however its nodes stand, in the lowest third', () => {
		const angles = Array.from({ length: 40 }, (_, k) => (-2 * Math.PI * (k + 0.35 * Math.sin(3 * k))) / 40);
		const body = angles.map((a): [number, number] => [2 * Math.cos(a), Math.sin(a)]);
		/** The way along the ellipse where the angle is so large, as its nodes run. */
		const along = (a: number) => [2 * Math.sin(a), -Math.cos(a)].map((d) => d / Math.hypot(2 * Math.sin(a), Math.cos(a)));
		const given = input([around.map(([x, y]): [number, number] => [x - 2, y - 2]), body]);
		const wallOf = all(given.edges).map((_, k) => (k < 4 ? -1 : 0));
		const directions = new Float64Array(4 * wallOf.length).fill(NaN);
		angles.forEach((a, k) => {
			const end = angles[(k + 1) % 40]!;
			directions.set([...along(a), ...along(end)], 4 * (4 + k));
		});
		const { stacks, chains } = layStacks(given, { walls: [wall], wallOf, directions });
		stacks.height.fill(0.1);
		const lean = (layer: number) => {
			aim(stacks, chains[0]!, layer, given.x, given.y);
			let most = 0;
			for (let k = 0; k < stacks.length; k++) {
				const [nx, ny] = [stacks.baseX[k]! / 4, stacks.baseY[k]!];
				most = Math.max(most, Math.abs(stacks.normalX[k]! * ny - stacks.normalY[k]! * nx) / Math.hypot(nx, ny));
			}
			return most;
		};
		expect(lean(0)).toBeLessThan(1e-12);
		expect(lean(1)).toBeLessThan(1e-12);
		// Above it the front itself tells, which among nodes this uneven is not quite the same.
		expect(lean(4)).toBeGreaterThan(1e-4);
	});
});
