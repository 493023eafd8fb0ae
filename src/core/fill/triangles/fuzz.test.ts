import { incircle } from 'robust-predicates';
import { describe, expect, it } from 'vitest';
import { FillError, type Fill, type FillInput } from '../method.ts';
import { finish } from '../../numeric/work.ts';
import { fillTriangles } from './fill-triangles.ts';

/** Park & Miller's minimal generator: the same domains every time. */
function numbers(seed: number) {
	let state = seed;
	const next = () => (state = (state * 16807) % 2147483647) / 2147483647;
	return { next, below: (n: number) => Math.floor(next() * n) };
}
type Random = ReturnType<typeof numbers>;
type Loop = [number, number][];

/** A loop divided so that no edge is longer than a length; its own corners stay. */
function divided(loop: Loop, longest: number): Loop {
	return loop.flatMap(([ax, ay], k): Loop => {
		const [bx, by] = loop[(k + 1) % loop.length]!;
		const n = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / longest));
		return Array.from({ length: n }, (_, i) => [ax + ((bx - ax) * i) / n, ay + ((by - ay) * i) / n]);
	});
}

/** Outer loops run counter-clockwise, holes clockwise; loose nodes lie inside. */
function input(loops: readonly Loop[], loose: Loop = []): FillInput {
	const x: number[] = [];
	const y: number[] = [];
	const edges: number[] = [];
	for (const loop of loops) {
		const first = x.length;
		loop.forEach(([px, py], k) => {
			x.push(px);
			y.push(py);
			edges.push(first + k, first + ((k + 1) % loop.length));
		});
	}
	for (const [px, py] of loose) {
		x.push(px);
		y.push(py);
	}
	return { x: Float64Array.from(x), y: Float64Array.from(y), edges: Uint32Array.from(edges) };
}

const ring = (n: number, cx: number, cy: number, radius: (angle: number, k: number) => number): Loop =>
	Array.from({ length: n }, (_, k) => {
		const a = (2 * Math.PI * k) / n;
		const r = radius(a, k);
		return [cx + r * Math.cos(a), cy + r * Math.sin(a)];
	});
const hole = (loop: Loop): Loop => [...loop].reverse();

/** Domains by what is nasty about them. */
const domains: Record<string, (random: Random) => FillInput> = {
	'nested holes of all sizes': ({ next, below }) => {
		const loops = [
			divided(
				ring(4 + below(30), 0, 0, () => 10),
				0.5 + next()
			)
		];
		for (let i = -2; i <= 2; i++)
			for (let j = -2; j <= 2; j++)
				if (next() < 0.6) loops.push(hole(ring(3 + below(20), 2.4 * i, 2.4 * j, () => 0.2 + 0.8 * next() * 0.9)));
		return input(loops);
	},
	'outlines a millionth apart': ({ below }) => {
		const n = 24 + below(40);
		return input([ring(n, 0, 0, () => 5), hole(ring(n, 0, 0, () => 5 - 1e-6))]);
	},
	'wedges of a degree': ({ next }) => {
		const a = (Math.PI / 180) * (0.5 + next());
		return input([
			divided(
				[
					[0, 0],
					[10, 0],
					[10 * Math.cos(a), 10 * Math.sin(a)]
				],
				0.1 + next()
			)
		]);
	},
	combs: ({ next, below }) => {
		const teeth = 3 + below(12);
		const gap = [0.3, 0.05, 1e-3][below(3)]!;
		const loop: Loop = [
			[0, 0],
			[teeth, 0],
			[teeth, 3]
		];
		for (let k = teeth - 1; k > 0; k--)
			loop.push([k + gap / 2, 3], [k + gap / 2, 1 + next()], [k - gap / 2, 1 + next() * 0.9], [k - gap / 2, 3]);
		loop.push([0, 3]);
		return input([divided(loop, 0.4)]);
	},
	spirals: ({ below }) => {
		const turns = 2 + below(3);
		const n = 40 * turns;
		const arm = (offset: number): Loop =>
			Array.from({ length: n + 1 }, (_, k) => {
				const a = (2 * Math.PI * turns * k) / n;
				const r = 1 + (a / (2 * Math.PI)) * 1.2 + offset;
				return [r * Math.cos(a), r * Math.sin(a)];
			});
		return input([[...arm(0.5), ...arm(0).reverse()]]);
	},
	'a coast with clustered nodes': ({ next, below }) => {
		let r = 8;
		const coast = ring(60 + below(300), 0, 0, () => (r = Math.min(10, Math.max(6, r + 0.5 * (next() - 0.5)))));
		const loose: Loop = Array.from({ length: 40 }, () => [next() * 1e-3, next() * 1e-3]);
		const line: Loop = Array.from({ length: 30 }, (_, k) => [-3 + k * 0.05, 2]);
		return input([coast], [...loose, ...line]);
	}
};

const area = (x: ArrayLike<number>, y: ArrayLike<number>, a: number, b: number, c: number) =>
	((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!)) / 2;

function check(given: FillInput, fill: Fill): void {
	const x = Float64Array.from([...given.x, ...fill.x]);
	const y = Float64Array.from([...given.y, ...fill.y]);
	const { triangles } = fill;
	// No element is inverted, and together they cover the domain.
	let covered = 0;
	let inverted = 0;
	for (let t = 0; t < triangles.length; t += 3) {
		const own = area(x, y, triangles[t]!, triangles[t + 1]!, triangles[t + 2]!);
		if (!(own > 0)) inverted++;
		covered += own;
	}
	expect(inverted).toBe(0);
	let [wanted, size] = [0, 0];
	for (let e = 0; e < given.edges.length; e += 2) {
		const [a, b] = [given.edges[e]!, given.edges[e + 1]!];
		const part = (x[a]! * y[b]! - x[b]! * y[a]!) / 2;
		wanted += part;
		size += Math.abs(part);
	}
	expect(Math.abs(covered - wanted)).toBeLessThan(1e-10 * size);
	// Every given edge is there, once, with the domain on its left; every other edge has two triangles.
	const beside = new Map<string, number>();
	let doubled = 0;
	for (let t = 0; t < triangles.length; t += 3)
		for (let k = 0; k < 3; k++) {
			const key = `${triangles[t + k]!} ${triangles[t + ((k + 1) % 3)]!}`;
			if (beside.has(key)) doubled++;
			beside.set(key, triangles[t + ((k + 2) % 3)]!);
		}
	const fixed = new Set<string>();
	for (let e = 0; e < given.edges.length; e += 2) fixed.add(`${given.edges[e]!} ${given.edges[e + 1]!}`);
	expect(doubled).toBe(0);
	expect([...fixed].filter((key) => !beside.has(key))).toEqual([]);
	let torn = 0;
	let delaunay = 0;
	let inner = 0;
	for (const [key, apex] of beside) {
		const [a, b] = key.split(' ').map(Number) as [number, number];
		const other = beside.get(`${b} ${a}`);
		if ((other !== undefined) === fixed.has(key)) torn++;
		if (other === undefined) continue;
		inner++;
		// Negative where the other apex lies outside of the circle (robust-predicates has it for clockwise order).
		const inside = incircle(x[a]!, y[a]!, x[b]!, y[b]!, x[apex]!, y[apex]!, x[other]!, y[other]!);
		if (!(inside > 0)) delaunay++;
	}
	expect(torn).toBe(0);
	expect(delaunay).toBe(inner);
}

/** Domains of each kind; `FUZZ=400 npx vitest run fuzz` takes as many. */
const rounds = Number(process.env.FUZZ ?? 12);

describe.each(Object.entries(domains))('%s', (_, make) => {
	it('are filled to the last corner, conforming and Delaunay, or refused with a place', () => {
		const random = numbers(20261125);
		for (let k = 0; k < rounds; k++) {
			const given = make(random);
			let fill: Fill;
			try {
				const size = k % 3 === 0 ? 0.1 + 0.1 * random.next() : 0.3 + random.next();
				const rule = { size, growth: 1.1 + 0.4 * random.next(), even: k % 4 === 1 };
				fill = finish(fillTriangles(given, rule));
			} catch (error) {
				expect(error).toBeInstanceOf(FillError);
				expect(Number.isFinite((error as FillError).at.x)).toBe(true);
				continue;
			}
			check(given, fill);
		}
	}, 3_600_000);
});

describe('a large outline', () => {
	it('of 50 000 vertices is filled', () => {
		const coast = ring(50_000, 0, 0, (a, k) => 10 + Math.sin(7 * a) + 0.3 * Math.sin(61 * a) + (k % 2) * 1e-4);
		const given = input([coast]);
		check(given, finish(fillTriangles(given, { size: 0.5, growth: 2.5 })));
	});
});
