import { describe, expect, it } from 'vitest';
import { Pipeline, type Result } from '../../pipeline.ts';
import { finish } from '../../numeric/work.ts';

const run = (text: string): Result => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));

/** Domains whose angles are all 60° or more, with the sizes that are asked in them. */
const domains: Record<string, string> = {
	'a triangle': 'polygon p = around (0, 0) sides 3 radius 20\nregion r at (0, 0)\nsize 1',
	'a square in coarse triangles': 'rectangle p = (0, 0) to (10, 10)\nregion r at (1, 1)\nsize 3',
	'a hexagon round a fine hole':
		'polygon p = around (0, 0) sides 6 radius 30\ncircle c = around (3, 2) radius 4\nregion r at (20, 0)\nsize 3 growth 1.3\nsize 0.2 near c',
	'an L': 'polyline p = (0, 0) to (30, 0) to (30, 8) to (9, 8) to (9, 25) to (0, 25) closed\nregion r at (1, 1)\nsize 0.7',
	'a disc with a fine rim': 'circle p = around (0, 0) radius 30\nregion r at (10, 10)\nsize 5 growth 1.2\ndivide p into 200',
	'a plate with twelve holes':
		'rectangle b = (0, 0) to (40, 30)\ncircle c = around (5, 5) radius 2\nrepeat row = c by (10, 0) count 4\nrepeat two = c by (0, 10) count 3\nregion r at (0.5, 0.5)\nsize 0.8\nsize by turn 36',
	'a zone, a wake and a point':
		'rectangle b = (0, 0) to (100, 50)\ncircle c = around (30, 25) radius 5\nregion r at (1, 1)\nsize 4 growth 1.2\nsize 0.5 behind c length 30 widening 4 deg\nsize 0.3 inside circle around (80, 10) radius 5\nsize 0.1 at (10, 40)'
};

/** Angles, qualities and edges of all triangles. */
function measured({ mesh: { x, y, triangles } }: Result) {
	let [smallest, quality] = [180, 0];
	const edges = new Map<string, { x: number; y: number; length: number }>();
	const areas = new Map<string, number>();
	let jump = 1;
	for (let t = 0; t < triangles.length; t += 3) {
		const p = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!] as const;
		const area = ((x[p[1]]! - x[p[0]]!) * (y[p[2]]! - y[p[0]]!) - (x[p[2]]! - x[p[0]]!) * (y[p[1]]! - y[p[0]]!)) / 2;
		let squares = 0;
		for (let k = 0; k < 3; k++) {
			const [a, b, c] = [p[k]!, p[(k + 1) % 3]!, p[(k + 2) % 3]!];
			const [ux, uy, vx, vy] = [x[b]! - x[a]!, y[b]! - y[a]!, x[c]! - x[a]!, y[c]! - y[a]!];
			smallest = Math.min(smallest, (Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy) * 180) / Math.PI);
			squares += ux * ux + uy * uy;
			edges.set(`${Math.min(a, b)} ${Math.max(a, b)}`, {
				x: (x[a]! + x[b]!) / 2,
				y: (y[a]! + y[b]!) / 2,
				length: Math.hypot(ux, uy)
			});
			const other = areas.get(`${b} ${a}`);
			if (other !== undefined) jump = Math.max(jump, other / area, area / other);
			areas.set(`${a} ${b}`, area);
		}
		quality += (4 * Math.sqrt(3) * area) / squares;
	}
	return { smallest, mean: quality / (triangles.length / 3), edges: [...edges.values()], jump };
}

describe.each(Object.entries(domains))('%s', (_, text) => {
	const result = run(`${text}\nfill r triangles`);
	const { smallest, mean, edges, jump } = measured(result);

	it('has no angle below 30° and triangles that are nearly equilateral', () => {
		expect(result.findings.filter((f) => f.severity === 'error')).toEqual([]);
		expect(smallest).toBeGreaterThanOrEqual(30);
		// Of a few dozen triangles most touch a corner or a side.
		expect(mean).toBeGreaterThanOrEqual(result.mesh.triangles.length < 300 ? 0.95 : 0.96);
		// No triangle is more than a few times as large as its neighbour.
		expect(jump).toBeLessThan(4);
	});

	it('has about as many elements as were predicted', () => {
		expect(result.mesh.triangles.length / 3 / result.predicted).toBeGreaterThan(0.85);
		expect(result.mesh.triangles.length / 3 / result.predicted).toBeLessThan(1.25);
	});

	// The wanted size at every place is known where nothing but the region asks for one.
	it.runIf(!/near|inside|by turn|divide/.test(text))('has edges of the wanted size', () => {
		const size = result.regions[0]!.size!;
		const fitting = edges.filter(({ length }) => length / size > 0.6 && length / size < 1.6).length;
		expect(fitting / edges.length).toBeGreaterThan(0.98);
	});
});
