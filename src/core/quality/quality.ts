import type { Mesh } from '../mesh/mesh.ts';
import type { Measure } from './measure.ts';
import { aspectRatio } from './measures/aspect-ratio.ts';
import { maximumAngle } from './measures/maximum-angle.ts';
import { minimumAngle } from './measures/minimum-angle.ts';
import { scaledJacobian } from './measures/scaled-jacobian.ts';
import { skewness } from './measures/skewness.ts';

/** Every measure, in the order in which they are shown. */
export const measures: readonly Measure[] = [scaledJacobian, minimumAngle, maximumAngle, aspectRatio, skewness];

/** One measure over a whole mesh. */
export interface MeasureResult {
	/** One value per element: the triangles, then the quadrilaterals. */
	values: Float32Array;
	min: number;
	mean: number;
	max: number;
	/** Element with the worst value, −1 in an empty mesh. */
	worst: number;
}

/** The results by the key of the measure. */
export type Quality = Record<string, MeasureResult>;

/** Takes every measure of every element. */
export function measureQuality(mesh: Mesh): Quality {
	return Object.fromEntries(measures.map((measure) => [measure.key, takeMeasure(mesh, measure)]));
}

function takeMeasure(mesh: Mesh, measure: Measure): MeasureResult {
	const triangles = mesh.triangleRegion.length;
	const count = triangles + mesh.quadRegion.length;
	const values = new Float32Array(count);
	const px = new Float64Array(4);
	const py = new Float64Array(4);
	let [min, max, sum, worst, worstValue] = [Infinity, -Infinity, 0, -1, 0];
	const take = (nodes: Uint32Array, size: number, offset: number) => {
		for (let e = 0; e * size < nodes.length; e++) {
			for (let k = 0; k < size; k++) {
				const i = nodes[e * size + k]!;
				px[k] = mesh.x[i]!;
				py[k] = mesh.y[i]!;
			}
			const value = measure.of(px, py, size);
			values[offset + e] = value;
			sum += value;
			if (value < min) min = value;
			if (value > max) max = value;
			if (worst < 0 || (measure.best === 'high' ? value < worstValue : value > worstValue)) {
				worst = offset + e;
				worstValue = value;
			}
		}
	};
	take(mesh.triangles, 3, 0);
	take(mesh.quads, 4, triangles);
	if (count === 0) return { values, min: 0, mean: 0, max: 0, worst };
	return { values, min, mean: sum / count, max, worst };
}

/** How many values fall in each of `bins` equal bins of the measure's range; those outside count in the outer bins. */
export function histogram(values: Float32Array, measure: Measure, bins: number): Uint32Array {
	const counts = new Uint32Array(bins);
	const scale = bins / (measure.high - measure.low);
	for (let i = 0; i < values.length; i++) {
		const bin = Math.floor((values[i]! - measure.low) * scale);
		counts[bin < 0 ? 0 : bin >= bins ? bins - 1 : bin]!++;
	}
	return counts;
}

/** The middle of an element, numbered as in {@link MeasureResult.values}. */
export function elementCentre(mesh: Mesh, element: number): { x: number; y: number } {
	const triangles = mesh.triangleRegion.length;
	const nodes =
		element < triangles
			? mesh.triangles.subarray(3 * element, 3 * element + 3)
			: mesh.quads.subarray(4 * (element - triangles), 4 * (element - triangles) + 4);
	let [x, y] = [0, 0];
	for (const i of nodes) {
		x += mesh.x[i]!;
		y += mesh.y[i]!;
	}
	return { x: x / nodes.length, y: y / nodes.length };
}
