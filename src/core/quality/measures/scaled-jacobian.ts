import { chunk } from '../element-shapes.ts';
import type { Measure } from '../measure.ts';

/**
 * The smallest corner Jacobian over the lengths of its two sides, scaled to 1 for the regular
 * element; zero or less where the element is folded (Knupp 2000, "Achieving finite element mesh
 * quality via optimization of the Jacobian matrix norm", part I).
 */
export const scaledJacobian: Measure = {
	key: 'scaledJacobian',
	title: 'Scaled Jacobian',
	unit: '',
	low: 0,
	high: 1,
	best: 'high',
	take({ n, count, sine }, values) {
		const regular = n === 3 ? 2 / Math.sqrt(3) : 1;
		for (let i = 0; i < count; i++) {
			let least = Math.min(sine[i]!, sine[chunk + i]!, sine[2 * chunk + i]!);
			if (n === 4) least = Math.min(least, sine[3 * chunk + i]!);
			values[i] = least * regular;
		}
	}
};
