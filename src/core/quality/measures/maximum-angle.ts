import type { Measure } from '../measure.ts';

/** The largest inner angle. */
export const maximumAngle: Measure = {
	key: 'maximumAngle',
	title: 'Maximum angle',
	unit: '°',
	low: 60,
	high: 180,
	best: 'low',
	take({ count, largestAngles }, values) {
		for (let i = 0; i < count; i++) values[i] = largestAngles[i]!;
	}
};
