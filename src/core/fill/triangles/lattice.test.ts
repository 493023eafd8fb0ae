import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import type { FillInput } from '../method.ts';
import { fillTriangles } from './fill-triangles.ts';
import { findCores } from './lattice.ts';
import type { Core } from './lattice-core.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';

/** A closed polygon whose sides are divided into edges of about a length. */
function polygon(corners: readonly [number, number][], length: number): FillInput {
	const nodes = corners.flatMap(([ax, ay], k) => {
		const [bx, by] = corners[(k + 1) % corners.length]!;
		const n = Math.max(1, Math.round(Math.hypot(bx - ax, by - ay) / length));
		return Array.from({ length: n }, (_, i) => [ax + ((bx - ax) * i) / n, ay + ((by - ay) * i) / n]);
	});
	return {
		x: Float64Array.from(nodes, (p) => p[0]!),
		y: Float64Array.from(nodes, (p) => p[1]!),
		edges: Uint32Array.from(nodes.flatMap((_, i) => [i, (i + 1) % nodes.length]))
	};
}

const plate = polygon(
	[
		[0, 0],
		[60, 0],
		[60, 40],
		[0, 40]
	],
	1
);
const even = (input: FillInput, size: number) => new Float64Array(input.x.length).fill(size);

/** All nodes of a core, and the three sides of each of its triangles. */
function sidesOf(core: Core): { x: number[]; y: number[]; sides: number[]; area: number } {
	const x = [...core.rimX, ...core.innerX];
	const y = [...core.rimY, ...core.innerY];
	const sides: number[] = [];
	let area = 0;
	for (let t = 0; t < core.triangles.length; t += 3) {
		const [a, b, c] = [core.triangles[t]!, core.triangles[t + 1]!, core.triangles[t + 2]!];
		for (const [p, q] of [
			[a, b],
			[b, c],
			[c, a]
		] as const)
			sides.push(Math.hypot(x[p]! - x[q]!, y[p]! - y[q]!));
		area += ((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!)) / 2;
	}
	return { x, y, sides, area };
}

/** How far the sides of triangles are from being equal: mean quality, and the smallest angle in degrees. */
function regularity(input: FillInput, rule: SizeRule): { mean: number; smallest: number; count: number } {
	const fill = finish(fillTriangles(input, rule));
	const x = [...input.x, ...fill.x];
	const y = [...input.y, ...fill.y];
	let [sum, smallest] = [0, 180];
	for (let t = 0; t < fill.triangles.length; t += 3) {
		const [a, b, c] = [fill.triangles[t]!, fill.triangles[t + 1]!, fill.triangles[t + 2]!];
		const squares = [
			[a, b],
			[b, c],
			[c, a]
		].map(([p, q]) => (x[p!]! - x[q!]!) ** 2 + (y[p!]! - y[q!]!) ** 2);
		const area = ((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!)) / 2;
		sum += (4 * Math.sqrt(3) * area) / (squares[0]! + squares[1]! + squares[2]!);
		const [, middle, longest] = squares.sort((p, q) => p - q);
		smallest = Math.min(smallest, (Math.asin(Math.min(1, (2 * area) / Math.sqrt(middle! * longest!))) * 180) / Math.PI);
	}
	const count = fill.triangles.length / 3;
	return { mean: sum / count, smallest, count };
}

describe('the core of a region', () => {
	const core = finish(findCores(plate, { size: 1, growth: 1.2 }, even(plate, 1)))!;
	const { x, y, sides, area } = sidesOf(core);

	it('is of equilateral triangles of the wanted size, in rows along the boundary', () => {
		for (const side of sides) expect(side).toBeCloseTo(1, 12);
		expect(area).toBeCloseTo((core.triangles.length / 3) * (Math.sqrt(3) / 4), 9);
		for (const v of y) expect(v / (Math.sqrt(3) / 2)).toBeCloseTo(Math.round(v / (Math.sqrt(3) / 2)), 9);
		expect(area).toBeGreaterThan(0.75 * 2400);
	});

	it('keeps away from the boundary, and its rim is closed with the core on its right', () => {
		for (const [k, v] of x.entries()) expect(Math.min(v, 60 - v, y[k]!, 40 - y[k]!)).toBeGreaterThan(1.25);
		const ends = new Map<number, number>();
		let around = 0;
		for (let k = 0; k < core.edges.length; k += 2) {
			const [a, b] = [core.edges[k]!, core.edges[k + 1]!];
			expect(Math.max(a, b)).toBeLessThan(core.rimCount);
			ends.set(a, (ends.get(a) ?? 0) + 1);
			ends.set(b, (ends.get(b) ?? 0) - 1);
			around += (x[a]! * y[b]! - x[b]! * y[a]!) / 2;
		}
		expect([...ends.values()].every((n) => n === 0)).toBe(true);
		expect(around).toBeCloseTo(-area, 9);
	});

	it('waits for sizes to grow from a finer boundary', () => {
		// From 0.2 to 1 at a slope of 0.2 takes 4.
		const fine = finish(findCores(plate, { size: 1, growth: 1.2 }, even(plate, 0.2)))!;
		const found = sidesOf(fine);
		for (const [k, v] of found.x.entries()) expect(Math.min(v, 60 - v, found.y[k]!, 40 - found.y[k]!)).toBeGreaterThan(3.9);
		expect(finish(findCores(plate, { size: 1, growth: 1.04 }, even(plate, 0.2)))).toBeUndefined();
	});

	it('is none where only the boundary counts, or where there is no room', () => {
		expect(finish(findCores(plate, { size: Infinity, growth: 1.2 }, even(plate, 1)))).toBeUndefined();
		expect(finish(findCores(plate, { size: 12, growth: 1.2 }, even(plate, 1)))).toBeUndefined();
	});

	it('is one more in every zone with a size of its own', () => {
		const zone = { size: 0.2, box: [25, 15, 29, 19] as [number, number, number, number] };
		const field = (px: number, py: number) =>
			zone.size + 0.2 * Math.max(zone.box[0] - px, px - zone.box[2], zone.box[1] - py, py - zone.box[3], 0);
		const both = finish(findCores(plate, { size: 1, growth: 1.2, field: { at: field }, plateaus: [zone] }, even(plate, 1)))!;
		const found = sidesOf(both);
		const fine = found.sides.filter((s) => Math.abs(s - 0.2) < 1e-9).length;
		const coarse = found.sides.filter((s) => Math.abs(s - 1) < 1e-9).length;
		expect(fine).toBeGreaterThan(1500);
		expect(coarse).toBeGreaterThan(150);
		expect(fine + coarse).toBe(found.sides.length);
		// Fine nodes lie in the zone, and none of the coarse ones does.
		for (const [k, size] of both.rimSizes.entries()) {
			const inZone = field(both.rimX[k]!, both.rimY[k]!) === 0.2;
			expect(inZone).toBe(size === 0.2);
		}
		const { smallest, mean } = regularity(plate, { size: 1, growth: 1.2, field: { at: field }, plateaus: [zone] });
		expect(smallest).toBeGreaterThan(30);
		expect(mean).toBeGreaterThan(0.97);
	});
});

describe('zones of one size', () => {
	it('have their places looked for around each of them, not all over what lies between', () => {
		type Box = [number, number, number, number];
		const boxes: Box[] = [
			[2, 2, 4, 4],
			[3.5, 3, 6, 5],
			[55, 35, 58, 38]
		];
		let asked = 0;
		const field = (px: number, py: number) => {
			asked++;
			return boxes.reduce(
				(least, [x0, y0, x1, y1]) => Math.min(least, 0.05 + 0.2 * Math.max(x0 - px, px - x1, y0 - py, py - y1, 0)),
				1
			);
		};
		const plateaus = boxes.map((box) => ({ size: 0.05, box }));
		const { rimX, rimY, rimSizes } = finish(
			findCores(plate, { size: 1, growth: 1.2, field: { at: field }, plateaus }, even(plate, 1))
		)!;
		// The first two overlap and are one core.
		for (const [x0, y0, x1, y1] of [[2, 2, 6, 5], boxes[2]!] as Box[])
			expect(rimX.some((x, k) => rimSizes[k] === 0.05 && x > x0 && x < x1 && rimY[k]! > y0 && rimY[k]! < y1)).toBe(true);
		const places = boxes.reduce((sum, [x0, y0, x1, y1]) => sum + (x1 - x0) * (y1 - y0), 0) / 0.05 ** 2;
		expect(asked).toBeLessThan(4 * places + 60 * 40 * 4);
		// One box around all of them would hold a hundred times as many.
		expect(places).toBeLessThan((56 * 36) / 0.05 ** 2 / 50);
	});
});

describe('triangles', () => {
	it('are nearly all equilateral where nothing is finer, and even ones more so', () => {
		const slanted = polygon(
			[
				[0, 0],
				[30, 3],
				[40, 40],
				[7, 30]
			],
			1
		);
		const usual = regularity(slanted, { size: 1, growth: 1.2 });
		const most = regularity(slanted, { size: 1, growth: 1.2, even: true });
		expect(usual.smallest).toBeGreaterThan(30);
		expect(usual.mean).toBeGreaterThan(0.985);
		expect(most.smallest).toBeGreaterThan(30);
		expect(most.mean).toBeGreaterThan(usual.mean);
		// Area over that of the equilateral triangle.
		expect(most.count / (1003.5 / (Math.sqrt(3) / 4))).toBeCloseTo(1, 1);
	});

	it('that are even reach nearer to a finer boundary', () => {
		const fine = polygon(
			[
				[0, 0],
				[20, 0],
				[20, 12],
				[0, 12]
			],
			0.25
		);
		expect(regularity(fine, { size: 1, growth: 1.1, even: true }).count).toBeLessThan(
			0.95 * regularity(fine, { size: 1, growth: 1.1 }).count
		);
	});
});
