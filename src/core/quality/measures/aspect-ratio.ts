import { hypot } from '../../numeric/elementary.ts';
import { cornerCross, side, type Measure } from '../measure.ts';

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
	of(px, py, n) {
		if (n === 3) {
			const [a, b, c] = [side(px, py, 3, 0), side(px, py, 3, 1), side(px, py, 3, 2)];
			const doubleArea = cornerCross(px, py, 3, 0);
			// The inradius is 2 A / (a + b + c).
			return doubleArea > 0 ? (Math.max(a, b, c) * (a + b + c)) / (2 * Math.sqrt(3) * doubleArea) : Infinity;
		}
		const along = hypot(px[1]! + px[2]! - px[0]! - px[3]!, py[1]! + py[2]! - py[0]! - py[3]!);
		const across = hypot(px[2]! + px[3]! - px[0]! - px[1]!, py[2]! + py[3]! - py[0]! - py[1]!);
		return Math.max(along, across) / Math.min(along, across);
	}
};
