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
	of({ n, side, cross }) {
		let least = Infinity;
		for (let k = 0; k < n; k++) {
			const lengths = side[k]! * side[k === 0 ? n - 1 : k - 1]!;
			const value = lengths > 0 ? cross[k]! / lengths : 0;
			if (value < least) least = value;
		}
		return n === 3 ? least * (2 / Math.sqrt(3)) : least;
	}
};
