import { cornerAngle, type Measure } from '../measure.ts';

/** The largest inner angle. */
export const maximumAngle: Measure = {
	key: 'maximumAngle',
	title: 'Maximum angle',
	unit: '°',
	low: 60,
	high: 180,
	best: 'low',
	of(px, py, n) {
		let most = 0;
		for (let k = 0; k < n; k++) most = Math.max(most, cornerAngle(px, py, n, k));
		return most;
	}
};
