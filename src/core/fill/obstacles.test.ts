import { describe, expect, it } from 'vitest';
import { Pipeline } from '../pipeline.ts';
import { finish } from '../numeric/work.ts';

/** Park & Miller's minimal generator: the same plates every time. */
function numbers(seed: number): () => number {
	let state = seed;
	return () => (state = (state * 16807) % 2147483647) / 2147483647;
}

interface Circle {
	x: number;
	y: number;
	radius: number;
}

/** A plate, straight or with a step, and circles in it that may come as near to one another and to the sides as a hundredth. */
function plate(random: () => number): string {
	const [width, height] = [40 + 60 * random(), 20 + 40 * random()];
	const [w, h] = [width.toFixed(2), height.toFixed(2)];
	const hasStep = random() < 0.4;
	const lines = [
		'recipe 1',
		hasStep
			? `polyline b = (0, 0) to (${w}, 0) to (${w}, ${(height / 2).toFixed(2)}) to (${(width / 2).toFixed(2)}, ${(height / 2).toFixed(2)}) to (${(width / 2).toFixed(2)}, ${h}) to (0, ${h}) closed`
			: `rectangle b = (0, 0) to (${w}, ${h})`,
		'region r at (0.001, 0.001)'
	];
	const room = hasStep ? width / 2 : width;
	const circles: Circle[] = [];
	for (let k = 0; k < 12; k++) {
		const radius = 0.3 + 0.12 * height * random();
		const x = radius + 0.05 + (room - 2 * radius - 0.1) * random();
		const y = radius + 0.05 + (height - 2 * radius - 0.1) * random();
		if (circles.some((c) => Math.hypot(c.x - x, c.y - y) < c.radius + radius + 0.05)) continue;
		circles.push({ x, y, radius });
		lines.push(`circle c${k} = around (${x.toFixed(3)}, ${y.toFixed(3)}) radius ${radius.toFixed(3)}`);
		if (circles.length === 5) break;
	}
	const growth = 1.1 + 0.15 * random();
	lines.push(`size ${(0.5 + 3.5 * random()).toFixed(3)} growth ${growth.toFixed(2)}`, 'fill r triangles');
	if (random() < 0.3) lines.push(`size by turn ${20 + Math.floor(40 * random())}`);
	if (random() < 0.3)
		lines.push(`size ${(0.1 + 0.5 * random()).toFixed(2)} at (${(0.3 * width).toFixed(2)}, ${(0.3 * height).toFixed(2)})`);
	return lines.join('\n');
}

describe('plates with round obstacles, near to one another and to the sides', () => {
	const random = numbers(20261125);
	const results = Array.from({ length: 60 }, () => {
		const text = plate(random);
		return { text, result: finish(new Pipeline(() => 0).run({ text, files: {} })) };
	});

	it('are filled, without a finding but for what has no name yet', () => {
		for (const { text, result } of results) {
			expect(result.mesh.triangles.length, text).toBeGreaterThan(0);
			expect(
				result.findings.filter((f) => f.severity === 'error'),
				text
			).toEqual([]);
		}
	});

	it('have no angle below 30°, however narrow the passages', () => {
		const poor = results.filter(({ result }) => result.quality.of('minimumAngle').min < 30);
		expect(poor.map(({ text, result }) => `${result.quality.of('minimumAngle').min}°\n${text}`)).toEqual([]);
	});

	it('have as many elements as were predicted, within a fifth', () => {
		for (const { text, result } of results) {
			const ratio = result.mesh.triangles.length / 3 / result.predicted;
			expect(ratio, text).toBeGreaterThan(0.85);
			expect(ratio, text).toBeLessThan(1.2);
		}
	});

	it('are the same, node by node, when they are meshed again', () => {
		for (const { text, result } of results.slice(0, 10)) {
			const again = finish(new Pipeline(() => 0).run({ text, files: {} }));
			expect(again.mesh.x).toEqual(result.mesh.x);
			expect(again.mesh.triangles).toEqual(result.mesh.triangles);
		}
	});
});
