import { hypot } from '../../numeric/elementary.ts';
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
	of({ n, x, y, side, cross }) {
		if (n === 3) {
			const [a, b, c] = [side[0]!, side[1]!, side[2]!];
			const doubleArea = cross[0]!;
			// The inradius is 2 A / (a + b + c).
			return doubleArea > 0 ? (Math.max(a, b, c) * (a + b + c)) / (2 * Math.sqrt(3) * doubleArea) : Infinity;
		}
		const along = hypot(x[1]! + x[2]! - x[0]! - x[3]!, y[1]! + y[2]! - y[0]! - y[3]!);
		const across = hypot(x[2]! + x[3]! - x[0]! - x[1]!, y[2]! + y[3]! - y[0]! - y[1]!);
		return Math.max(along, across) / Math.min(along, across);
	}
};
