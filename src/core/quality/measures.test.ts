import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ElementShapes } from './element-shapes.ts';
import { irregularNodes } from './irregular.ts';
import { measures } from './quality.ts';

type Corner = readonly [number, number];

/** All measures of one element, by their keys. */
function valuesOf(corners: readonly Corner[]): Record<string, number> {
	const elements = new ElementShapes();
	const [x, y] = [0, 1].map((axis) => Float64Array.from(corners, (c) => c[axis]!)) as [Float64Array, Float64Array];
	elements.take(x, y, Uint32Array.from(corners.keys()), corners.length, 0, 1);
	return Object.fromEntries(
		measures.map(({ key, take }) => {
			const values = new Float64Array(1);
			take(elements, values);
			return [key, values[0]!];
		})
	);
}

const coordinate = fc.integer({ min: -1000, max: 1000 }).map((k) => k / 100);
const corner = fc.tuple(coordinate, coordinate);
const areaOf = (list: readonly Corner[]) =>
	list.reduce((sum, [ax, ay], k) => {
		const [bx, by] = list[(k + 1) % list.length]!;
		return sum + (ax * by - bx * ay) / 2;
	}, 0);
const triangle = fc.tuple(corner, corner, corner).filter((t) => areaOf(t) > 0.05);
/** Convex: every corner turns to the left. */
const quadrilateral = fc
	.tuple(corner, corner, corner, corner)
	.filter((q) => q.every((_, k) => areaOf([q[(k + 3) % 4]!, q[k]!, q[(k + 1) % 4]!]) > 0.05));

describe('measures of shape', () => {
	it('stay the same wherever an element stands, however it is turned, and whatever its size', () => {
		fc.assert(
			fc.property(
				fc.oneof(triangle, quadrilateral),
				fc.double({ min: 0, max: 6.28, noNaN: true }),
				fc.constantFrom(1e-3, 0.5, 40),
				corner,
				fc.nat(3),
				(element, angle, size, [dx, dy], first) => {
					const [c, s] = [size * Math.cos(angle), size * Math.sin(angle)];
					const list = element.map(([x, y]): Corner => [c * x - s * y + size * dx, s * x + c * y + size * dy]);
					const turned = list.map((_, k) => list[(k + first) % list.length]!);
					const [before, after] = [valuesOf(element), valuesOf(turned)];
					for (const [key, value] of Object.entries(before))
						expect(Math.abs(after[key]! - value), key).toBeLessThan(1e-6 * Math.max(1, Math.abs(value)));
				}
			)
		);
	});

	it('are within their ends, and best for the equilateral triangle and the square', () => {
		fc.assert(
			fc.property(fc.oneof(triangle, quadrilateral), (element) => {
				const { minimumAngle, maximumAngle, aspectRatio, scaledJacobian, skewness } = valuesOf(element) as Record<string, number>;
				const ideal = element.length === 3 ? 60 : 90;
				expect(minimumAngle).toBeGreaterThan(0);
				expect(minimumAngle).toBeLessThanOrEqual(ideal + 1e-9);
				expect(maximumAngle).toBeGreaterThanOrEqual(ideal - 1e-9);
				expect(maximumAngle).toBeLessThan(180);
				expect(aspectRatio).toBeGreaterThanOrEqual(1 - 1e-12);
				expect(scaledJacobian).toBeGreaterThan(0);
				expect(scaledJacobian).toBeLessThanOrEqual(1 + 1e-12);
				expect(skewness).toBeGreaterThanOrEqual(-1e-12);
				expect(skewness).toBeLessThan(1);
			})
		);
		const root = Math.sqrt(3) / 2;
		for (const [element, angle] of [
			[
				[
					[0, 0],
					[1, 0],
					[0.5, root]
				],
				60
			],
			[
				[
					[0, 0],
					[1, 0],
					[1, 1],
					[0, 1]
				],
				90
			]
		] as [Corner[], number][]) {
			const values = valuesOf(element);
			expect(values.minimumAngle).toBeCloseTo(angle, 9);
			expect(values.maximumAngle).toBeCloseTo(angle, 9);
			expect(values.aspectRatio).toBeCloseTo(1, 9);
			expect(values.scaledJacobian).toBeCloseTo(1, 9);
			expect(values.skewness).toBeCloseTo(0, 9);
		}
	});

	it('of a parallelogram follow from its angle: the sine, and how far it is from a right one', () => {
		for (const angle of [20, 45, 60, 85]) {
			const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
			const values = valuesOf([
				[0, 0],
				[1, 0],
				[1 + c, s],
				[c, s]
			]);
			expect(values.scaledJacobian).toBeCloseTo(s, 9);
			expect(values.minimumAngle).toBeCloseTo(angle, 9);
			expect(values.maximumAngle).toBeCloseTo(180 - angle, 9);
			expect(values.skewness).toBeCloseTo((90 - angle) / 90, 9);
		}
	});
});

describe('irregular nodes', () => {
	/** A grid of n by n squares, with the edges of its outline. */
	const grid = (n: number) => {
		const at = (i: number, j: number) => j * (n + 1) + i;
		const quads: number[] = [];
		for (let j = 0; j < n; j++) for (let i = 0; i < n; i++) quads.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1));
		const edges: number[] = [];
		for (let i = 0; i < n; i++)
			edges.push(at(i, 0), at(i + 1, 0), at(i, n), at(i + 1, n), at(0, i), at(0, i + 1), at(n, i), at(n, i + 1));
		const x = new Float64Array((n + 1) ** 2);
		return { x, triangles: new Uint32Array(0), quads: Uint32Array.from(quads), edges: Uint32Array.from(edges), at };
	};

	it('there are none in a grid, whose inner nodes are counted', () => {
		for (const n of [1, 2, 5]) {
			const { nodes, counts, inner } = irregularNodes(grid(n));
			expect([nodes.length, counts.length, inner]).toEqual([0, 0, (n - 1) ** 2]);
		}
	});

	it('where two squares are cut into triangles their nodes are none, and where one is left out those around have three', () => {
		const { at, ...mesh } = grid(4);
		const [kept, cut] = [mesh.quads.subarray(4), mesh.quads.subarray(0, 4)];
		const without = irregularNodes({ ...mesh, quads: kept });
		expect([...without.nodes]).toEqual([at(1, 1)]);
		expect([...without.counts]).toEqual([3]);
		const halves = Uint32Array.of(cut[0]!, cut[1]!, cut[2]!, cut[0]!, cut[2]!, cut[3]!);
		expect(irregularNodes({ ...mesh, quads: kept, triangles: halves })).toMatchObject({ inner: 8 });
		expect(irregularNodes({ ...mesh, quads: kept, triangles: halves }).nodes).toHaveLength(0);
	});
});
