import { cos, hypot, sin } from '../numeric/elementary.ts';
import type { FillInput } from './method.ts';

/** Park & Miller's minimal generator: the same domains every time. */
export function numbers(seed: number) {
	let state = seed;
	const next = () => (state = (state * 16807) % 2147483647) / 2147483647;
	return { next, below: (n: number) => Math.floor(next() * n) };
}
export type Random = ReturnType<typeof numbers>;
export type Loop = [number, number][];

/** A loop divided so that no edge is longer than a length; its own corners stay. */
export function divided(loop: Loop, longest: number): Loop {
	return loop.flatMap(([ax, ay], k): Loop => {
		const [bx, by] = loop[(k + 1) % loop.length]!;
		const n = Math.max(1, Math.ceil(hypot(bx - ax, by - ay) / longest));
		return Array.from({ length: n }, (_, i) => [ax + ((bx - ax) * i) / n, ay + ((by - ay) * i) / n]);
	});
}

/** Outer loops run counter-clockwise, holes clockwise; loose nodes lie inside. */
export function input(loops: readonly Loop[], loose: Loop = []): FillInput {
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

export const ring = (n: number, cx: number, cy: number, radius: (angle: number, k: number) => number): Loop =>
	Array.from({ length: n }, (_, k) => {
		const a = (2 * Math.PI * k) / n;
		const r = radius(a, k);
		return [cx + r * cos(a), cy + r * sin(a)];
	});
export const hole = (loop: Loop): Loop => [...loop].reverse();

/** Domains by what is nasty about them. */
export const domains: Record<string, (random: Random) => FillInput> = {
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
					[10 * cos(a), 10 * sin(a)]
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
				return [r * cos(a), r * sin(a)];
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
