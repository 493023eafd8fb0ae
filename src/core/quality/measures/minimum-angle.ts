import type { Measure } from '../measure.ts';

/** The smallest inner angle. */
export const minimumAngle: Measure = {
	key: 'minimumAngle',
	title: 'Minimum angle',
	unit: '°',
	low: 0,
	high: 90,
	best: 'high',
	take({ count, smallestAngles }, values) {
		for (let i = 0; i < count; i++) values[i] = smallestAngles[i]!;
	}
};
