import Flatbush from 'flatbush';
import { choleskySolve } from './cholesky.ts';

/** Nodal values of a run, at the nodes of its mesh or at places without one. */
export interface ResultPlaces {
	x: Float64Array;
	y: Float64Array;
	/** Three places to a triangle; without them neighbours are the nearest. */
	triangles?: Uint32Array;
}

/** So many places around one settle the quadratic that is fitted to them. */
const enough = 9;
const nearest = 14;

/**
 * The largest curvature of a field at each of its places, in values per length squared: the larger eigenvalue, without its
 * sign, of the second derivative of a quadratic fitted to the values around by weighted least squares (O. C. Zienkiewicz &
 * J. Z. Zhu, Int. J. Num. Meth. Eng. 33 (1992), patch recovery; Z. Zhang & A. Naga, SIAM J. Sci. Comput. 26 (2005)). The
 * places around are those up to two triangles away, or the nearest where there are no triangles.
 */
export function largestCurvature({ x, y, triangles }: ResultPlaces, values: Float64Array): Float64Array {
	const out = new Float64Array(x.length);
	const around = triangles ? ringsOf(x.length, triangles) : nearestOf(x, y);
	for (let p = 0; p < x.length; p++) out[p] = curvatureAt(p, around(p), x, y, values);
	return out;
}

/** The most at each place and at those beside it in a triangle: what lies between them is no flatter than either end. */
export function mostBeside(curvature: Float64Array, triangles: Uint32Array | undefined): Float64Array {
	if (!triangles) return curvature;
	const out = curvature.slice();
	for (let t = 0; t < triangles.length; t += 3) {
		const [a, b, c] = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
		const most = Math.max(curvature[a]!, curvature[b]!, curvature[c]!);
		for (const p of [a, b, c]) if (out[p]! < most) out[p] = most;
	}
	return out;
}

/** The places up to two, or where these are few three, triangles away. */
function ringsOf(count: number, triangles: Uint32Array): (p: number) => readonly number[] {
	const start = new Uint32Array(count + 1);
	for (const p of triangles) start[p + 1]! += 2;
	for (let p = 0; p < count; p++) start[p + 1]! += start[p]!;
	const beside = new Uint32Array(start[count]!);
	const filled = start.slice(0, count);
	for (let t = 0; t < triangles.length; t += 3)
		for (let k = 0; k < 3; k++) {
			const p = triangles[t + k]!;
			beside[filled[p]!++] = triangles[t + ((k + 1) % 3)]!;
			beside[filled[p]!++] = triangles[t + ((k + 2) % 3)]!;
		}
	const seen = new Int32Array(count).fill(-1);
	return (p) => {
		const found: number[] = [];
		seen[p] = p;
		let ring = [p];
		for (let round = 0; round < 2 || (round < 4 && found.length < enough); round++) {
			const next: number[] = [];
			for (const q of ring)
				for (let k = start[q]!; k < start[q + 1]!; k++) {
					const r = beside[k]!;
					if (seen[r] === p) continue;
					seen[r] = p;
					next.push(r);
				}
			found.push(...next);
			ring = next;
		}
		return found;
	};
}

function nearestOf(x: Float64Array, y: Float64Array): (p: number) => readonly number[] {
	const tree = new Flatbush(x.length);
	for (let p = 0; p < x.length; p++) tree.add(x[p]!, y[p]!, x[p]!, y[p]!);
	tree.finish();
	return (p) => tree.neighbors(x[p]!, y[p]!, nearest + 1).filter((q) => q !== p);
}

/** The normal equations of one fit, as {@link choleskySolve} takes them, and its five unknowns: the slopes and the second derivatives. */
const [matrix, right] = [new Float64Array(25), new Float64Array(5)];

function curvatureAt(p: number, around: readonly number[], x: Float64Array, y: Float64Array, values: Float64Array): number {
	if (around.length < 5) return 0;
	let far = 0;
	for (const q of around) far = Math.max(far, (x[q]! - x[p]!) ** 2 + (y[q]! - y[p]!) ** 2);
	if (!(far > 0)) return 0;
	const unit = Math.sqrt(far);
	matrix.fill(0);
	right.fill(0);
	// The fit goes through the place itself; the others count the less the farther they are.
	for (const q of around) {
		const [dx, dy] = [(x[q]! - x[p]!) / unit, (y[q]! - y[p]!) / unit];
		const weight = 1 / (dx * dx + dy * dy + 1e-6);
		const row = [dx, dy, 0.5 * dx * dx, dx * dy, 0.5 * dy * dy];
		const step = values[q]! - values[p]!;
		for (let i = 0; i < 5; i++) {
			right[i]! += weight * row[i]! * step;
			for (let j = 0; j <= i; j++) matrix[5 * i + 4 + j - i]! += weight * row[i]! * row[j]!;
		}
	}
	// What lies all along one line tells nothing of what is across it.
	let trace = 0;
	for (let i = 0; i < 5; i++) trace += matrix[5 * i + 4]!;
	for (let i = 0; i < 5; i++) matrix[5 * i + 4]! += 1e-10 * trace;
	if (!choleskySolve(matrix, 5, 4, right)) return 0;
	const [xx, xy, yy] = [right[2]!, right[3]!, right[4]!];
	const middle = (xx + yy) / 2;
	const reach = Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy);
	const largest = Math.max(Math.abs(middle + reach), Math.abs(middle - reach)) / far;
	return Number.isFinite(largest) ? largest : 0;
}

/**
 * The size at which linear interpolation of a field misses it by an error: by 2/9 of the largest curvature times the edge
 * squared at most (F. Alauzet & A. Loseille, Computer-Aided Design 72 (2016), § 3, in two dimensions).
 *
 * @param least, most the sizes between which it stays
 */
export function sizesForError(curvature: Float64Array, error: number, least: number, most: number): Float64Array {
	return curvature.map((c) => Math.min(most, Math.max(least, Math.sqrt((4.5 * error) / c))));
}
