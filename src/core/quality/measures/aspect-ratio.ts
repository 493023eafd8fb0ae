import { chunk, type ElementShapes } from '../element-shapes.ts';
import type { Measure } from '../measure.ts';

/**
 * Longest over shortest extent. Triangle: longest side over 2√3 times the inradius, 1 for the
 * equilateral one (Frey & George 2000, §18.2). Quadrilateral: ratio of the two lines that join the
 * middles of opposite sides, so a × b gives a / b (Robinson 1987).
 */
export const aspectRatio: Measure = {
	key: 'aspectRatio',
	title: 'Aspect ratio',
	unit: '',
	low: 1,
	high: 10,
	best: 'low',
	take(elements, values) {
		if (elements.n === 3) takeTriangles(elements, values);
		else takeQuads(elements, values);
	}
};

function takeTriangles({ count, side, cross }: ElementShapes, values: Float64Array): void {
	for (let i = 0; i < count; i++) {
		const a = side[i]!;
		const b = side[chunk + i]!;
		const c = side[2 * chunk + i]!;
		const doubleArea = cross[i]!;
		// The inradius is 2 A / (a + b + c).
		values[i] = doubleArea > 0 ? (Math.max(a, b, c) * (a + b + c)) / (2 * Math.sqrt(3) * doubleArea) : Infinity;
	}
}

function takeQuads({ count, x, y }: ElementShapes, values: Float64Array): void {
	for (let i = 0; i < count; i++) {
		const dx = x[2 * chunk + i]! - x[i]!;
		const dy = y[2 * chunk + i]! - y[i]!;
		const ex = x[chunk + i]! - x[3 * chunk + i]!;
		const ey = y[chunk + i]! - y[3 * chunk + i]!;
		const along = (dx + ex) * (dx + ex) + (dy + ey) * (dy + ey);
		const across = (dx - ex) * (dx - ex) + (dy - ey) * (dy - ey);
		values[i] = Math.sqrt(along > across ? along / across : across / along);
	}
}
