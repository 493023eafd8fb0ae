import { CUBIC, type Curve, RATIONAL, segmentCount, STRIDE } from '../../geometry/curve.ts';
import { atan2 } from '../../numeric/elementary.ts';
import { mostCorners, mostCurves, mostSegments, mostTurns, mostTurnsOfCurve } from '../language/limits.ts';

/** Counts what curves come to, so that a drawing that grows beyond what can be worked with is refused early. */
export class DrawingBudget {
	private curves = 0;
	private segments = 0;
	private corners = 0;
	private turns = 0;

	/** Counts a curve in; gives what there is too much of, such as `100000 curves`, and undefined where all is well. */
	add(curve: Curve): string | undefined {
		this.curves++;
		this.segments += segmentCount(curve);
		this.corners += curve.corners.length;
		if (this.curves > mostCurves) return `${mostCurves} curves`;
		if (this.segments > mostSegments) return `${mostSegments} segments`;
		if (this.corners > mostCorners) return `${mostCorners} corners`;
		return this.addTurns(curve);
	}

	/** {@link add} of what it takes to measure a curve alone: of a file perhaps not all curves are drawn. */
	addTurns(curve: Curve): string | undefined {
		const turns = fullTurns(curve);
		this.turns += turns;
		if (turns > mostTurnsOfCurve) return `${mostTurnsOfCurve} full turns of one spline or ellipse`;
		if (this.turns > mostTurns) return `${mostTurns} full turns of splines and ellipses`;
		return undefined;
	}
}

/** A turn of a segment of a degree above 3 takes as long to divide as this many of cubics and conics. */
const timesCubic = 2;

/**
 * How often the splines and conics of a curve turn round, in full turns of their control polygons: what it takes to divide them
 * follows from that. Lines and arcs have closed forms, and count nothing.
 */
function fullTurns({ kinds, data, control }: Curve): number {
	let turned = 0;
	for (let i = 0; i < kinds.length; i++) {
		const o = i * STRIDE;
		if (kinds[i] === CUBIC) {
			for (const [k, at] of [0, 4, 6, 2].entries()) [row[2 * k], row[2 * k + 1]] = [data[o + at]!, data[o + at + 1]!];
			turned += turnOfPolygon(row, 0, 2, 4);
		} else if (kinds[i] === RATIONAL) {
			const degree = data[o + 5]!;
			turned += (degree > 3 ? timesCubic : 1) * turnOfPolygon(control, data[o + 4]!, 3, degree + 1);
		}
	}
	return turned / (2 * Math.PI);
}

const row = new Float64Array(8);

/** The angle, in radians, by which a polygon of some points turns, `step` numbers apart. */
function turnOfPolygon(points: Float64Array, from: number, step: number, count: number): number {
	let turned = 0;
	let [dx, dy] = [0, 0];
	for (let k = from; k < from + step * (count - 1); k += step) {
		const [ex, ey] = [points[k + step]! - points[k]!, points[k + step + 1]! - points[k + 1]!];
		if (ex === 0 && ey === 0) continue;
		if (dx !== 0 || dy !== 0) turned += Math.abs(atan2(dx * ey - dy * ex, dx * ex + dy * ey));
		[dx, dy] = [ex, ey];
	}
	return turned;
}
