import type { Measure } from '../measure.ts';

/** Equiangle skewness: how far the angles are from 60° or 90°, 0 for the regular element, 1 for a collapsed one. */
export const skewness: Measure = {
	key: 'skewness',
	title: 'Skewness',
	unit: '',
	low: 0,
	high: 1,
	best: 'low',
	take({ n, count, smallestAngles, largestAngles }, values) {
		const ideal = n === 3 ? 60 : 90;
		for (let i = 0; i < count; i++)
			values[i] = Math.min(1, Math.max((largestAngles[i]! - ideal) / (180 - ideal), (ideal - smallestAngles[i]!) / ideal));
	}
};
