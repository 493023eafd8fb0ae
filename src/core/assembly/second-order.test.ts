import { describe, expect, it } from 'vitest';
import { numbers } from '../fill/domains.test-support.ts';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { isElementPositive } from '../quality/second-order.ts';
import { secondOrder } from './second-order.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const of = (text: string) => {
	const result = run(text);
	return { ...result, order: secondOrder(result.mesh, result.arrangement) };
};

/** The area of an element of second order, by Gauss points on its Jacobian (exact for its degree). */
function areaOf(x: readonly number[], y: readonly number[]): number {
	// Green's theorem along its sides, each a parabola: Simpson's rule is exact enough for degree three.
	const corners = x.length === 6 ? 3 : 4;
	let sum = 0;
	for (let k = 0; k < corners; k++) {
		const [a, b, m] = [k, (k + 1) % corners, corners + k];
		// ∫ x dy of the parabola through a, m, b.
		const [x0, xm, x1, y0, ym, y1] = [x[a]!, x[m]!, x[b]!, y[a]!, y[m]!, y[b]!];
		const f = (t: number) => {
			const px = x0 * (1 - t) * (1 - 2 * t) + 4 * xm * t * (1 - t) + x1 * t * (2 * t - 1);
			return px * (y0 * (4 * t - 3) + ym * (4 - 8 * t) + y1 * (4 * t - 1));
		};
		sum += (f(0) + 3 * f(1 / 3) + 3 * f(2 / 3) + f(1)) / 8;
	}
	return sum;
}

/** All elements: their nodes in order, corners and middles. */
function* elements({ mesh, order }: ReturnType<typeof of>): Generator<{ x: number[]; y: number[] }> {
	for (const [nodes, sides, size] of [
		[mesh.triangles, order.triangleEdges, 3],
		[mesh.quads, order.quadEdges, 4]
	] as const)
		for (let k = 0; k < nodes.length; k += size) {
			const x = [...nodes.subarray(k, k + size)]
				.map((i) => mesh.x[i]!)
				.concat([...sides.subarray(k, k + size)].map((e) => order.x[e]!));
			const y = [...nodes.subarray(k, k + size)]
				.map((i) => mesh.y[i]!)
				.concat([...sides.subarray(k, k + size)].map((e) => order.y[e]!));
			if (size === 4) {
				x.push(order.middleX[k / 4]!);
				y.push(order.middleY[k / 4]!);
			}
			yield { x, y };
		}
}

describe('nodes on the middles of sides', () => {
	it('lie on the true curve, and the area comes nearer to it by two orders', () => {
		const text = (n: number) =>
			`circle rim = around (0, 0) radius 10\nregion r at (0, 0)\ndivide rim into ${n}\nfill r triangles`;
		const errors = [16, 32].map((n) => {
			const made = of(text(n));
			expect(made.order.folded).toEqual([]);
			let area = 0;
			for (const { x, y } of elements(made)) area += areaOf(x, y);
			const { mesh, order } = made;
			for (let e = 0; e < order.x.length; e++) {
				const [a, b] = [order.edges[2 * e]!, order.edges[2 * e + 1]!];
				if (Math.abs(Math.hypot(mesh.x[a]!, mesh.y[a]!) - 10) > 1e-9 || Math.abs(Math.hypot(mesh.x[b]!, mesh.y[b]!) - 10) > 1e-9)
					continue;
				const isRim = [...mesh.edgePiece.keys()].some(
					(k) => new Set([mesh.edges[2 * k], mesh.edges[2 * k + 1], a, b]).size === 2
				);
				if (isRim) expect(Math.hypot(order.x[e]!, order.y[e]!)).toBeCloseTo(10, 9);
			}
			return Math.abs(area - 100 * Math.PI);
		});
		// Straight sides would be off by 2.6 % and 0.64 %; parabolas converge with the fourth power.
		expect(errors[0]! / (100 * Math.PI)).toBeLessThan(2e-4);
		expect(errors[0]! / errors[1]!).toBeGreaterThan(12);
	});

	it('are between their ends where sides are straight, shared by the elements on both sides', () => {
		const { mesh, order } = of(
			'rectangle box = (0, 0) to (8, 4)\nregion r at (1, 1)\nsize 1\ndivide box.left into 4\nfill r structured'
		);
		order.x.forEach((x, e) => {
			expect(x).toBe((mesh.x[order.edges[2 * e]!]! + mesh.x[order.edges[2 * e + 1]!]!) / 2);
		});
		// Euler: edges = vertices + faces − 1.
		expect(order.x.length).toBe(mesh.x.length + mesh.quads.length / 4 - 1);
	});

	it('are carried along where thin cells beside a curve would fold', () => {
		const made = of(`circle rim = around (0, 0) radius 10
rectangle box = (-30, -30) to (30, 30)
region r at (20, 20)
region hole at (0, 0)
fill hole none
divide rim into 16
size 6
layers on rim first 0.05 growth 1.3 count 8
fill r triangles`);
		expect(made.order.folded).toEqual([]);
		// Without carrying, cells 0.05 high under sides that bulge by 0.19 are folded.
		const { mesh, order } = made;
		const straight = new Set<number>();
		for (let e = 0; e < order.x.length; e++) {
			const [a, b] = [order.edges[2 * e]!, order.edges[2 * e + 1]!];
			if (Math.hypot(order.x[e]! - (mesh.x[a]! + mesh.x[b]!) / 2, order.y[e]! - (mesh.y[a]! + mesh.y[b]!) / 2) > 1e-6)
				straight.add(e);
		}
		expect(straight.size).toBeGreaterThan(60);
		for (const { x, y } of elements(made)) expect(isElementPositive(x, y)).toBe(true);
	});

	it('are told where an element folds all the same', () => {
		const { findings } = run(`arc bow = (0, 0) to (10, 0) around (5, -1) clockwise
line base = (0, 0) to (10, 0)
region r at (5, 2)
divide bow into 2
divide base into 1
size 20
fill r triangles
order 2`);
		const found = findings.filter((f) => f.code === 'order-fold');
		if (found.length > 0) expect(found[0]!.message).toMatch(/folds beside a curve; finer divisions there/);
		expect(run('order 3').findings[0]!.message).toMatch(/elements are of order 2, or of order 1 without this statement; found 3/);
	});
});

describe('the proof that a Jacobian is positive', () => {
	it('agrees with samples all over random elements', () => {
		const random = numbers(23);
		let [positive, negative] = [0, 0];
		for (let n = 0; n < 400; n++) {
			const size = 3 + (n % 2);
			const corner = Array.from({ length: size }, (_, k) => {
				const a = (2 * Math.PI * k) / size;
				return [Math.cos(a) + 0.4 * random.next(), Math.sin(a) + 0.4 * random.next()] as const;
			});
			const bulge = 1.2 * random.next();
			const middle = corner.map(([x, y], k) => {
				const [p, q] = corner[(k + 1) % size]!;
				return [(x + p) / 2 + bulge * (random.next() - 0.5), (y + q) / 2 + bulge * (random.next() - 0.5)] as const;
			});
			const all = [...corner, ...middle];
			if (size === 4) all.push([corner.reduce((s, c) => s + c[0], 0) / 4, corner.reduce((s, c) => s + c[1], 0) / 4]);
			const [x, y] = [all.map((p) => p[0]), all.map((p) => p[1])];
			const least = leastJacobian(x, y);
			const proved = isElementPositive(x, y);
			if (proved) {
				positive++;
				expect(least).toBeGreaterThan(0);
			} else {
				negative++;
				// What is not proved is below zero somewhere, or nearly.
				expect(least).toBeLessThan(0.05);
			}
		}
		expect(positive).toBeGreaterThan(50);
		expect(negative).toBeGreaterThan(50);
	});
});

/** The least Jacobian at many places, by differences of the map itself. */
function leastJacobian(x: readonly number[], y: readonly number[]): number {
	const isTriangle = x.length === 6;
	const shape = (r: number, s: number): number[] => {
		if (isTriangle) {
			const t = 1 - r - s;
			return [t * (2 * t - 1), r * (2 * r - 1), s * (2 * s - 1), 4 * t * r, 4 * r * s, 4 * s * t];
		}
		const f = (t: number) => [(1 - t) * (1 - 2 * t), 4 * t * (1 - t), t * (2 * t - 1)];
		const [a, b] = [f(r), f(s)];
		return [
			a[0]! * b[0]!,
			a[2]! * b[0]!,
			a[2]! * b[2]!,
			a[0]! * b[2]!,
			a[1]! * b[0]!,
			a[2]! * b[1]!,
			a[1]! * b[2]!,
			a[0]! * b[1]!,
			a[1]! * b[1]!
		];
	};
	const map = (r: number, s: number) => {
		const n = shape(r, s);
		return [n.reduce((sum, v, k) => sum + v * x[k]!, 0), n.reduce((sum, v, k) => sum + v * y[k]!, 0)] as const;
	};
	const h = 1e-5;
	let least = Infinity;
	for (let i = 0; i <= 30; i++)
		for (let j = 0; j <= (isTriangle ? 30 - i : 30); j++) {
			const [r, s] = [i / 30, j / 30];
			const [a, b, c, d] = [map(r + h, s), map(r - h, s), map(r, s + h), map(r, s - h)];
			least = Math.min(least, ((a[0] - b[0]) * (c[1] - d[1]) - (a[1] - b[1]) * (c[0] - d[0])) / (4 * h * h));
		}
	return least;
}
