import fc from 'fast-check';
import { expect, it } from 'vitest';
import { type Matrix, solver } from './conjugate-gradients.ts';

/** A chain or ring of places with further links, each with its weight, as a matrix by rows. */
function matrixOf(count: number, links: readonly (readonly [number, number, number])[], mass: readonly number[]): Matrix {
	const rows = Array.from({ length: count }, (): [number, number][] => []);
	for (const [i, j, weight] of links) {
		rows[i]!.push([j, weight]);
		rows[j]!.push([i, weight]);
	}
	const start = new Int32Array(count + 1);
	rows.forEach((row, i) => (start[i + 1] = start[i]! + row.length));
	return {
		start,
		column: Int32Array.from(rows.flat(), ([j]) => j),
		value: Float64Array.from(rows.flat(), ([, weight]) => weight),
		mass: Float64Array.from(mass)
	};
}

it('between given ends a chain of equal links is a straight line', () => {
	const n = 11;
	const matrix = matrixOf(
		n,
		Array.from({ length: n - 1 }, (_, k) => [k, k + 1, 2] as const),
		new Array(n).fill(1)
	);
	const w = new Float64Array(n);
	w[n - 1] = 5;
	const free = Int32Array.from({ length: n - 2 }, (_, k) => k + 1);
	const fallen = Float64Array.from(w, (value) => -2 * value);
	const none = new Float64Array(n);
	solver(matrix, free)([w, fallen], [none, none], 0);
	for (let k = 0; k < n; k++) {
		expect(w[k]).toBeCloseTo(k / 2, 6);
		expect(fallen[k]).toBeCloseTo(-k, 6);
	}
});

it('what is solved meets its equations, again and again with other rates and sources, and what is given stays', () => {
	const weight = fc.integer({ min: 1, max: 100 }).map((k) => k / 10);
	fc.assert(
		fc.property(
			fc.integer({ min: 3, max: 30 }),
			fc.array(fc.tuple(fc.nat(29), fc.nat(29), weight), { maxLength: 40 }),
			fc.array(fc.tuple(weight, fc.integer({ min: -50, max: 50 })), { minLength: 1, maxLength: 4 }),
			(count, extra, rounds) => {
				const links = [
					...Array.from({ length: count - 1 }, (_, k) => [k, k + 1, 1] as const),
					...extra.flatMap(([i, j, w]) => (i % count === j % count ? [] : [[i % count, j % count, w] as const]))
				];
				const mass = Array.from({ length: count }, (_, k) => 1 + (k % 3));
				const matrix = matrixOf(count, links, mass);
				const free = Int32Array.from({ length: count - 2 }, (_, k) => k + 1);
				const solve = solver(matrix, free);
				const w = Float64Array.from({ length: count }, (_, k) => (k * k) % 7);
				const ends = [w[0], w[count - 1]];
				for (const [rate, height] of rounds) {
					const source = Float64Array.from({ length: count }, (_, k) => height * (k % 4));
					const still = new Float64Array(count);
					solve([w, still], [source, new Float64Array(count)], rate);
					expect(still.every((value) => value === 0)).toBe(true);
					expect([w[0], w[count - 1]]).toEqual(ends);
					const largest = source.reduce((most, s) => Math.max(most, Math.abs(s)), 1);
					for (const i of free) {
						let sum = rate * mass[i]! * w[i]!;
						for (const [a, b, weight] of links) {
							if (a === i) sum += weight * (w[i]! - w[b]!);
							if (b === i) sum += weight * (w[i]! - w[a]!);
						}
						expect(Math.abs(sum - source[i]!)).toBeLessThan(1e-4 * largest);
					}
				}
			}
		)
	);
});
