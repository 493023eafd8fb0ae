import { describe, expect, it } from 'vitest';
import { countAlong, evenlyPlaced, positionsAlong } from '../../sizing/size-along.ts';
import { finish } from '../../numeric/work.ts';
import type { FillInput } from '../method.ts';
import { input, type Loop, ring as roundLoop } from '../domains.test-support.ts';
import { expectedTriangles, givenSizes } from './expected.ts';
import { fillTriangles } from './fill-triangles.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';

type Field = (x: number, y: number) => number;

const domainOf = (...loops: Loop[]): FillInput => input(loops);
const ring = (n: number, cx: number, cy: number, radius: number): Loop => roundLoop(n, cx, cy, () => radius);
const box = (w: number, h: number): Loop => [
	[0, 0],
	[w, 0],
	[w, h],
	[0, h]
];
/** A loop whose sides are divided as a field asks. */
const along = (loop: Loop, field: Field): Loop =>
	loop.flatMap(([ax, ay], k): Loop => {
		const [bx, by] = loop[(k + 1) % loop.length]!;
		const at = (t: number): [number, number] => [ax + (bx - ax) * t, ay + (by - ay) * t];
		const sizes = evenlyPlaced(Float64Array.from({ length: 1001 }, (_, i) => field(...at(i / 1000))));
		const count = Math.max(1, Math.round(countAlong(sizes, Math.hypot(bx - ax, by - ay))));
		return Array.from(positionsAlong(sizes, count).slice(0, -1), at);
	});
const evenly = (loop: Loop, size: number) => along(loop, () => size);

const toCross: Field = (x, y) => 0.05 + 0.2 * Math.min(Math.abs(x - 3), Math.abs(y - 4));
const waves: Field = (x, y) => 0.1 + 0.05 * (Math.sin(x) + 1) * (Math.cos(y) + 1);
const toPoint: Field = (x, y) => 0.005 + 0.1 * Math.hypot(x - 4, y - 6);

/** Domains with what is asked of their sizes; every input angle is 60° or more. */
const domains: Record<string, [FillInput, SizeRule]> = {
	'a square of its own size': [domainOf(evenly(box(1, 1), 0.02)), { size: 0.02, growth: 1.2 }],
	'a square that only its boundary says the size of': [domainOf(evenly(box(1, 1), 0.02)), { size: Infinity, growth: 1.2 }],
	'a disc with a fine rim': [domainOf(ring(400, 0, 0, 10)), { size: 2, growth: 1.2 }],
	'a box with a fine hole, growing slowly': [
		domainOf(evenly(box(100, 60), 4), ring(200, 30, 30, 5).reverse()),
		{ size: 4, growth: 1.1 }
	],
	'a plate with twelve holes': [
		domainOf(evenly(box(40, 30), 0.8), ...[5, 15, 25, 35].flatMap((i) => [5, 15, 25].map((j) => ring(40, i, j, 2).reverse()))),
		{ size: 0.8, growth: 1.2 }
	],
	'a narrow ring': [domainOf(ring(200, 0, 0, 10), ring(190, 0, 0, 9).reverse()), { size: 1, growth: 1.2 }],
	'a field in waves': [domainOf(along(box(10, 10), waves)), { size: 1, growth: 1.2, field: { at: waves } }],
	'a field that falls to two lines': [domainOf(along(box(10, 10), toCross)), { size: 2, growth: 1.2, field: { at: toCross } }],
	'a field that falls to a point': [domainOf(along(box(10, 10), toPoint)), { size: 1, growth: 1.1, field: { at: toPoint } }]
};

describe.each(Object.entries(domains))('%s', (_, [input, rule]) => {
	const { x: newX, y: newY, triangles } = finish(fillTriangles(input, rule));
	const [x, y] = [Float64Array.of(...input.x, ...newX), Float64Array.of(...input.y, ...newY)];
	const given = givenSizes(input, rule);
	/** The wanted size by its definition: the smallest of every given node's, grown over the way from it, and all else. */
	const wanted: Field = (px, py) => {
		let h = Math.min(rule.size, rule.field?.at(px, py) ?? Infinity);
		for (let i = 0; i < given.length; i++) h = Math.min(h, given[i]! + (rule.growth - 1) * Math.hypot(x[i]! - px, y[i]! - py));
		return h;
	};

	it('has edges between 0.6 and 1.6 of the wanted size, but for two in a hundred, and of that size on the whole', () => {
		const ratios: number[] = [];
		for (let e = 0; e < triangles.length; e++) {
			const [a, b] = [triangles[e]!, triangles[e % 3 === 2 ? e - 2 : e + 1]!];
			ratios.push(Math.hypot(x[b]! - x[a]!, y[b]! - y[a]!) / wanted((x[a]! + x[b]!) / 2, (y[a]! + y[b]!) / 2));
		}
		expect(ratios.filter((r) => r > 0.6 && r < 1.6).length / ratios.length).toBeGreaterThan(0.98);
		const mean = ratios.reduce((sum, r) => sum + r, 0) / ratios.length;
		expect(mean).toBeGreaterThan(0.95);
		expect(mean).toBeLessThan(1.05);
	});

	it('has no angle below 30°', () => {
		let smallest = Math.PI;
		for (let e = 0; e < triangles.length; e++) {
			const base = e - (e % 3);
			const [a, b, c] = [triangles[e]!, triangles[base + ((e + 1) % 3)]!, triangles[base + ((e + 2) % 3)]!];
			const [ux, uy, vx, vy] = [x[b]! - x[a]!, y[b]! - y[a]!, x[c]! - x[a]!, y[c]! - y[a]!];
			smallest = Math.min(smallest, Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy));
		}
		expect((smallest * 180) / Math.PI).toBeGreaterThanOrEqual(30);
	});

	it('has about as many triangles as were predicted', () => {
		const ratio = triangles.length / 3 / finish(expectedTriangles(input, rule));
		expect(ratio).toBeGreaterThan(0.9);
		expect(ratio).toBeLessThan(1.15);
	});
});

describe('the prediction', () => {
	const coarse = domainOf(evenly(box(10, 10), 0.5));

	it('of a size of its own is the area over that of an equilateral triangle', () => {
		// A boundary coarser than the size is no reason to be coarser inside.
		expect(finish(expectedTriangles(coarse, { size: 1e-6, growth: 1.2 })) / (100 / ((Math.sqrt(3) / 4) * 1e-12))).toBeCloseTo(
			1,
			2
		);
	});

	it('finds a place that is a billion times finer than the rest', () => {
		const field: Field = (x, y) => 1e-9 + 0.2 * Math.hypot(x - 4, y - 6);
		// Around a point 1/h² falls as the square of the distance: 2π/slope² · ln(1/1e-8…) of an integral, over √3/4.
		const count = finish(expectedTriangles(coarse, { size: 1, growth: 1.2, field: { at: field } }));
		const integral = ((2 * Math.PI) / 0.04) * (Math.log(0.5 / 1e-9) - 1);
		expect(count / ((4 / Math.sqrt(3)) * integral)).toBeGreaterThan(0.9);
		expect(count / ((4 / Math.sqrt(3)) * integral)).toBeLessThan(1.3);
	});

	it('does not wander along the rim of a zone that is far too fine', () => {
		const field: Field = (x, y) => 1e-6 + 0.2 * Math.max(0, Math.hypot(x - 4, y - 6) - 3);
		const count = finish(expectedTriangles(coarse, { size: 1, growth: 1.2, field: { at: field } }));
		expect(count / ((9 * Math.PI) / ((Math.sqrt(3) / 4) * 1e-12))).toBeCloseTo(1, 2);
	});

	it('leaves out holes, and what lies outside', () => {
		const domain = domainOf(
			evenly(box(10, 10), 0.1),
			evenly(box(10, 10), 0.1)
				.map(([x, y]): [number, number] => [2 + 0.6 * x, 2 + 0.6 * y])
				.reverse()
		);
		expect(finish(expectedTriangles(domain, { size: 0.1, growth: 1.2 })) / (64 / ((Math.sqrt(3) / 4) * 0.01))).toBeGreaterThan(
			0.97
		);
		expect(finish(expectedTriangles(domain, { size: 0.1, growth: 1.2 })) / (64 / ((Math.sqrt(3) / 4) * 0.01))).toBeLessThan(1.15);
	});

	it('is the same summed at once, where edges are little finer than the region, as cell by cell', () => {
		for (const [edge, size, growth] of [
			[0.2, 0.2, 1.2],
			[0.15, 0.2, 1.2],
			[0.13, 0.2, 1.3],
			[0.19, 0.2, 1.05]
		] as const) {
			const ring = (r: number, turn: 1 | -1) => {
				const n = Math.round((2 * Math.PI * r) / edge);
				return Array.from({ length: n }, (_, k): [number, number] => [
					r * Math.cos((2 * Math.PI * turn * k) / n),
					r * Math.sin((2 * Math.PI * turn * k) / n)
				]);
			};
			const plate = input([ring(9, 1), ring(3, -1)]);
			const atOnce = finish(expectedTriangles(plate, { size, growth }));
			// A field that asks for nothing is summed cell by cell.
			const byCells = finish(expectedTriangles(plate, { size, growth, field: { at: () => Infinity } }));
			expect(atOnce / byCells).toBeGreaterThan(0.97);
			expect(atOnce / byCells).toBeLessThan(1.03);
		}
	});
});
