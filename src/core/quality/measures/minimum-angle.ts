import { cornerAngle, type Measure } from '../measure.ts';

/** The smallest inner angle. */
export const minimumAngle: Measure = {
	key: 'minimumAngle',
	title: 'Minimum angle',
	unit: '°',
	low: 0,
	high: 90,
	best: 'high',
	of(px, py, n) {
		let least = 360;
		for (let k = 0; k < n; k++) least = Math.min(least, cornerAngle(px, py, n, k));
		return least;
	}
};
