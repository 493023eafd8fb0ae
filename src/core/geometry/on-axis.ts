import { CUBIC, RATIONAL, STRIDE, type Curve } from './curve.ts';

/**
 * A curve whose points within the tolerance of an axis lie on it exactly; the same curve where none does.
 *
 * @param across 1 for the x axis, whose points have y = 0; 0 for the y axis
 */
export function onAxis(curve: Curve, across: 0 | 1, tolerance: number): Curve {
	let data: Float64Array | undefined;
	let control: Float64Array | undefined;
	const isOff = (v: number) => v !== 0 && Math.abs(v) <= tolerance;
	curve.kinds.forEach((kind, i) => {
		// The ends, and the inner points of a cubic; a line has nothing else, and an arc a centre that need not be on the axis.
		for (const k of kind === CUBIC ? [0, 2, 4, 6] : [0, 2]) {
			const at = i * STRIDE + k + across;
			if (isOff(curve.data[at]!)) (data ??= curve.data.slice())[at] = 0;
		}
		if (kind !== RATIONAL) return;
		const [from, degree] = [curve.data[i * STRIDE + 4]!, curve.data[i * STRIDE + 5]!];
		for (let k = 0; k <= degree; k++) {
			const at = from + 3 * k + across;
			if (isOff(curve.control[at]!)) (control ??= curve.control.slice())[at] = 0;
		}
	});
	return data || control ? { ...curve, data: data ?? curve.data, control: control ?? curve.control } : curve;
}
