/**
 * Rational Bézier curves of degree at most 5 as rows x, y, w in one flat array, evaluated by de
 * Casteljau's scheme on the homogeneous points (w x, w y, w) (Farin 2002, ch. 13). Weights are
 * above zero, so the curve lies in the hull of its control points.
 */
const work = new Float64Array(18);

/** Numbers that one evaluation gives: the point, its first and its second derivative. */
export interface Jet {
	x: number;
	y: number;
	dx: number;
	dy: number;
	ddx: number;
	ddy: number;
}

/** Puts the homogeneous points w x, w y, w of the rows into `work`, seen from the first row, so that a curve far from the origin loses no digit. */
function loadHomogeneous(control: Float64Array, offset: number, degree: number): void {
	for (let k = 0; k <= degree; k++) {
		const w = control[offset + 3 * k + 2]!;
		work[3 * k] = (control[offset + 3 * k]! - control[offset]!) * w;
		work[3 * k + 1] = (control[offset + 3 * k + 1]! - control[offset + 1]!) * w;
		work[3 * k + 2] = w;
	}
}

/** The point at u; `control` as in {@link rationalJet}. */
export function rationalPoint(control: Float64Array, offset: number, degree: number, u: number): { x: number; y: number } {
	const v = 1 - u;
	loadHomogeneous(control, offset, degree);
	for (let level = degree; level > 0; level--) for (let k = 0; k < 3 * level; k++) work[k] = v * work[k]! + u * work[k + 3]!;
	return { x: control[offset]! + work[0]! / work[2]!, y: control[offset + 1]! + work[1]! / work[2]! };
}

/**
 * Point and derivatives at u.
 *
 * @param control rows x, y, w, from `offset` on; degree + 1 rows
 */
export function rationalJet(control: Float64Array, offset: number, degree: number, u: number): Jet {
	const v = 1 - u;
	loadHomogeneous(control, offset, degree);
	const reduce = (level: number) => {
		for (let k = 0; k < 3 * level; k++) work[k] = v * work[k]! + u * work[k + 3]!;
	};
	for (let level = degree; level > 2; level--) reduce(level);
	// Three rows are left (two for a straight one): their differences are the derivatives.
	const second = [0, 0, 0];
	if (degree >= 2) {
		for (const k of [0, 1, 2]) second[k] = degree * (degree - 1) * (work[k + 6]! - 2 * work[k + 3]! + work[k]!);
		reduce(2);
	}
	const first = [0, 1, 2].map((k) => degree * (work[k + 3]! - work[k]!));
	reduce(1);
	const w = work[2]!;
	const x = work[0]! / w;
	const y = work[1]! / w;
	const dx = (first[0]! - x * first[2]!) / w;
	const dy = (first[1]! - y * first[2]!) / w;
	return {
		x: control[offset]! + x,
		y: control[offset + 1]! + y,
		dx,
		dy,
		ddx: (second[0]! - 2 * dx * first[2]! - x * second[2]!) / w,
		ddy: (second[1]! - 2 * dy * first[2]! - y * second[2]!) / w
	};
}

/** Puts x and y of the first derivative at u into a list of two; `control` as in {@link rationalJet}. */
export function putRationalDerivative(
	control: Float64Array,
	offset: number,
	degree: number,
	u: number,
	into: Float64Array
): void {
	if (degree === 2) return putConicDerivative(control, offset, u, into);
	if (isPolynomial(control, offset, degree)) return putPolynomialDerivative(control, offset, degree, u, into);
	const v = 1 - u;
	loadHomogeneous(control, offset, degree);
	for (let level = degree; level > 1; level--) for (let k = 0; k < 3 * level; k++) work[k] = v * work[k]! + u * work[k + 3]!;
	const w = v * work[2]! + u * work[5]!;
	const slope = degree * (work[5]! - work[2]!);
	for (let k = 0; k < 2; k++)
		into[k] = (degree * (work[k + 3]! - work[k]!) - ((v * work[k]! + u * work[k + 3]!) / w) * slope) / w;
}

/** {@link putRationalDerivative} of a piece of a conic: the same steps, written out. */
function putConicDerivative(control: Float64Array, offset: number, u: number, into: Float64Array): void {
	const v = 1 - u;
	const [x0, y0, w0] = [control[offset]!, control[offset + 1]!, control[offset + 2]!];
	const [w1, w2] = [control[offset + 5]!, control[offset + 8]!];
	const [x1, y1] = [(control[offset + 3]! - x0) * w1, (control[offset + 4]! - y0) * w1];
	const [x2, y2] = [(control[offset + 6]! - x0) * w2, (control[offset + 7]! - y0) * w2];
	const [wa, wb] = [v * w0 + u * w1, v * w1 + u * w2];
	const [xb, yb] = [v * x1 + u * x2, v * y1 + u * y2];
	const w = v * wa + u * wb;
	const slope = 2 * (wb - wa);
	into[0] = (2 * (xb - u * x1) - ((v * (u * x1) + u * xb) / w) * slope) / w;
	into[1] = (2 * (yb - u * y1) - ((v * (u * y1) + u * yb) / w) * slope) / w;
}

/** Whether all weights are 1, as those of splines are. */
function isPolynomial(control: Float64Array, offset: number, degree: number): boolean {
	for (let k = offset + 2; k <= offset + 3 * degree + 2; k += 3) if (control[k] !== 1) return false;
	return true;
}

/** {@link putRationalDerivative} where all weights are 1: the differences of the control points, by de Casteljau. */
function putPolynomialDerivative(control: Float64Array, offset: number, degree: number, u: number, into: Float64Array): void {
	for (let k = 0, n = offset; k < degree; k++, n += 3) {
		work[2 * k] = control[n + 3]! - control[n]!;
		work[2 * k + 1] = control[n + 4]! - control[n + 1]!;
	}
	for (let last = 2 * (degree - 1); last > 0; last -= 2)
		for (let k = 0; k < last; k++) work[k] = work[k]! + u * (work[k + 2]! - work[k]!);
	into[0] = degree * work[0]!;
	into[1] = degree * work[1]!;
}

/** The control rows of the part between u0 and u1, by cutting twice. */
export function rationalPart(control: ArrayLike<number>, u0: number, u1: number): Float64Array {
	const right = cut(control, u0)[1];
	return u1 === 1 ? right : cut(right, (u1 - u0) / (1 - u0))[0];
}

/** Cuts a rational Bézier curve at u; gives the rows of both halves. */
export function cut(control: ArrayLike<number>, u: number): [Float64Array, Float64Array] {
	const rows = control.length / 3;
	const x0 = control[0]!;
	const y0 = control[1]!;
	const h = homogeneous;
	for (let k = 0; k < 3 * rows; k += 3) {
		const w = control[k + 2]!;
		h[k] = (control[k]! - x0) * w;
		h[k + 1] = (control[k + 1]! - y0) * w;
		h[k + 2] = w;
	}
	const left = new Float64Array(control.length);
	const right = new Float64Array(control.length);
	for (let level = rows - 1; level >= 0; level--) {
		putRow(left, rows - 1 - level, 0, x0, y0);
		putRow(right, level, level, x0, y0);
		for (let k = 0; k < 3 * level; k++) h[k] = (1 - u) * h[k]! + u * h[k + 3]!;
	}
	return [left, right];
}

const homogeneous = new Float64Array(18);

/** Puts a homogeneous point that {@link cut} has got, as the row x, y, w. */
function putRow(into: Float64Array, row: number, from: number, x0: number, y0: number): void {
	const h = homogeneous;
	const w = h[3 * from + 2]!;
	into[3 * row] = x0 + h[3 * from]! / w;
	into[3 * row + 1] = y0 + h[3 * from + 1]! / w;
	into[3 * row + 2] = w;
}
