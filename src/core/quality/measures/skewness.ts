import { cornerAngle, type Measure } from '../measure.ts';

/** Equiangle skewness: how far the angles are from 60° or 90°, 0 for the regular element, 1 for a collapsed one. */
export const skewness: Measure = {
	key: 'skewness',
	title: 'Skewness',
	unit: '',
	low: 0,
	high: 1,
	best: 'low',
	of(px, py, n) {
		const ideal = n === 3 ? 60 : 90;
		let least = 360;
		let most = 0;
		for (let k = 0; k < n; k++) {
			const angle = cornerAngle(px, py, n, k);
			least = Math.min(least, angle);
			most = Math.max(most, angle);
		}
		return Math.min(1, Math.max((most - ideal) / (180 - ideal), (ideal - least) / ideal));
	}
};
