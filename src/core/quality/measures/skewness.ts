import type { Measure } from '../measure.ts';

/** Equiangle skewness: how far the angles are from 60° or 90°, 0 for the regular element, 1 for a collapsed one. */
export const skewness: Measure = {
	key: 'skewness',
	title: 'Skewness',
	unit: '',
	low: 0,
	high: 1,
	best: 'low',
	of({ n, smallestAngle, largestAngle }) {
		const ideal = n === 3 ? 60 : 90;
		return Math.min(1, Math.max((largestAngle - ideal) / (180 - ideal), (ideal - smallestAngle) / ideal));
	}
};
