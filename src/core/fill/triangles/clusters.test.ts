import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clustersOf } from './clusters.ts';

const coordinate = fc.oneof(fc.double({ min: -10, max: 10, noNaN: true }), fc.integer({ min: -2, max: 2 }));
const places = fc.array(fc.record({ x: coordinate, y: coordinate, size: fc.double({ min: 0.01, max: 3, noNaN: true }) }), {
	minLength: 1,
	maxLength: 80
});

describe('clusters of nodes', () => {
	it('halve and halve again until every node is alone, each once', () => {
		fc.assert(
			fc.property(places, (list) => {
				const [x, y, sizes] = (['x', 'y', 'size'] as const).map((key) => Float64Array.from(list, (p) => p[key])) as [
					Float64Array,
					Float64Array,
					Float64Array
				];
				const clusters = clustersOf(
					x,
					y,
					sizes,
					Int32Array.from(list, (_, i) => i)
				);
				const alone: string[] = [];
				const visit = (c: number): number => {
					if (clusters.first[c]! < 0) {
						expect(clusters.radius[c]).toBe(0);
						alone.push(`${clusters.x[c]} ${clusters.y[c]} ${clusters.size[c]}`);
						return 1;
					}
					const [a, b] = [clusters.first[c]!, clusters.first[c]! + 1];
					const [m, n] = [visit(a), visit(b)];
					// Neither half is much larger, and both lie within, with the smallest size of the two.
					expect(Math.abs(m - n)).toBeLessThanOrEqual(1);
					expect(clusters.size[c]).toBe(Math.min(clusters.size[a]!, clusters.size[b]!));
					for (const half of [a, b]) {
						const away = Math.hypot(clusters.x[half]! - clusters.x[c]!, clusters.y[half]! - clusters.y[c]!);
						expect(away).toBeLessThanOrEqual(clusters.radius[c]! * (1 + 1e-12) + 1e-150);
					}
					return m + n;
				};
				expect(visit(0)).toBe(list.length);
				expect(clusters.count).toBe(2 * list.length - 1);
				// −0 and 0 are one place.
				const all = list.map((p) => `${p.x + 0} ${p.y + 0} ${p.size}`);
				expect(alone.map((own) => own.replaceAll('-0 ', '0 ')).sort()).toEqual(
					all.map((own) => own.replaceAll('-0 ', '0 ')).sort()
				);
			})
		);
	});

	it('of no nodes are none', () => {
		expect(clustersOf(new Float64Array(0), new Float64Array(0), new Float64Array(0), new Int32Array(0)).count).toBe(0);
	});
});
