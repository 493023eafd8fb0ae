// One row of the elliptic smoothing of a block, two nodes at once (AssemblyScript; see smooth-block.ts).
//
// Lists are addresses of one number a node, of the block row by row. Behind every list there must be room for two more numbers:
// the last of an odd row is worked out together with what follows it, which stays as it is.

function add(a: v128, b: v128): v128 {
	return f64x2.add(a, b);
}

function sub(a: v128, b: v128): v128 {
	return f64x2.sub(a, b);
}

function mul(a: v128, b: v128): v128 {
	return f64x2.mul(a, b);
}

function both(value: f64): v128 {
	return f64x2.splat(value);
}

/** Puts the numbers of a node and the next, the next only when it comes before `end`. */
function put(list: usize, node: usize, values: v128, end: usize): void {
	if (node + 8 < end) v128.store(list + node, values);
	else f64.store(list + node, f64x2.extract_lane(values, 0));
}

/** The new place along an axis: Gauss–Seidel of α(r_ξξ + φ r_ξ) − 2β r_ξη + γ(r_ηη + ψ r_η) = 0. */
function moved(
	share: v128,
	alpha: v128,
	acrossSum: v128,
	gamma: v128,
	alongSum: v128,
	beta: v128,
	twist: v128,
	f: v128,
	across: v128,
	g: v128,
	along: v128
): v128 {
	const straight = sub(add(mul(alpha, acrossSum), mul(gamma, alongSum)), mul(beta, twist));
	return mul(share, add(add(straight, mul(f, across)), mul(g, along)));
}

/**
 * Moves the inner nodes of a row. Each goes by where those of its row were before, so that none waits for its neighbour.
 *
 * @param x, y places
 * @param phi, psi control functions, halved
 * @param row the number of the row's first node
 * @param width nodes in a row
 */
export function sweepRow(x: usize, y: usize, phi: usize, psi: usize, row: i32, width: i32): void {
	const step = (<usize>width) << 3;
	const end = (<usize>(row + width - 1)) << 3;
	let k = (<usize>(row + 1)) << 3;
	// Of what lies before the node: its place, and the way from the node below it to the one above.
	let wX = v128.load(x + k - 8);
	let wY = v128.load(y + k - 8);
	let upWX = sub(v128.load(x + k + step - 8), v128.load(x + k - step - 8));
	let upWY = sub(v128.load(y + k + step - 8), v128.load(y + k - step - 8));
	for (; k < end; k += 16) {
		const nX = v128.load(x + k + step);
		const nY = v128.load(y + k + step);
		const sX = v128.load(x + k - step);
		const sY = v128.load(y + k - step);
		const eX = v128.load(x + k, 8);
		const eY = v128.load(y + k, 8);
		const upX = sub(nX, sX);
		const upY = sub(nY, sY);
		const upEX = sub(v128.load(x + k + step, 8), v128.load(x + k - step, 8));
		const upEY = sub(v128.load(y + k + step, 8), v128.load(y + k - step, 8));
		const xXi = sub(eX, wX);
		const yXi = sub(eY, wY);
		const alpha = add(mul(upX, upX), mul(upY, upY));
		const gamma = add(mul(xXi, xXi), mul(yXi, yXi));
		const whole = mul(both(2), add(alpha, gamma));
		const share = f64x2.div(both(1), whole);
		const beta = mul(both(0.5), add(mul(xXi, upX), mul(yXi, upY)));
		const f = mul(alpha, v128.load(phi + k));
		const g = mul(gamma, v128.load(psi + k));
		const toX = moved(share, alpha, add(eX, wX), gamma, add(nX, sX), beta, sub(upEX, upWX), f, xXi, g, upX);
		const toY = moved(share, alpha, add(eY, wY), gamma, add(nY, sY), beta, sub(upEY, upWY), f, yXi, g, upY);
		// Where all nodes around lie in one point, a node stays.
		const goes = f64x2.gt(whole, both(0));
		put(x, k, v128.bitselect(toX, v128.load(x + k), goes), end);
		put(y, k, v128.bitselect(toY, v128.load(y + k), goes), end);
		wX = eX;
		wY = eY;
		upWX = upEX;
		upWY = upEY;
	}
}

function lengths(x: usize, y: usize, from: usize, to: usize): v128 {
	const dx = sub(v128.load(x + to), v128.load(x + from));
	const dy = sub(v128.load(y + to), v128.load(y + from));
	return f64x2.sqrt(add(mul(dx, dx), mul(dy, dy)));
}

/** Half the control function along a line of three nodes, from the lengths ahead of the middle one and behind it. */
function control(ahead: v128, behind: v128): v128 {
	const whole = add(ahead, behind);
	const free = f64x2.div(mul(both(-2), sub(ahead, behind)), whole);
	const within = f64x2.max(both(-1.9), f64x2.min(both(1.9), free));
	return mul(both(0.5), v128.and(within, f64x2.gt(whole, both(0))));
}

/**
 * Puts the control functions of the inner nodes of a row: what keeps each where it is between its neighbours, from −1.9 to 1.9,
 * halved (Thomas & Middlecoff 1980).
 */
export function controlRow(x: usize, y: usize, phi: usize, psi: usize, row: i32, width: i32): void {
	const step = (<usize>width) << 3;
	const end = (<usize>(row + width - 1)) << 3;
	for (let k = (<usize>(row + 1)) << 3; k < end; k += 16) {
		put(phi, k, control(lengths(x, y, k, k + 8), lengths(x, y, k - 8, k)), end);
		put(psi, k, control(lengths(x, y, k, k + step), lengths(x, y, k - step, k)), end);
	}
}
