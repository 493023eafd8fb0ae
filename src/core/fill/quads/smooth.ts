import { square } from '../../numeric/elementary.ts';
import { inStretches, part, type Work } from '../../numeric/work.ts';
import type { QuadMesh } from './quad-mesh.ts';

/** Elements visited between two yields. */
const chunkSize = 100_000;

/** What is asked of one node: the sum over the corners that it is at, its slopes, and its second derivatives. */
interface Shape {
	value: number;
	x: number;
	y: number;
	xx: number;
	xy: number;
	yy: number;
}

const shapeHere: Shape = { value: 0, x: 0, y: 0, xx: 0, xy: 0, yy: 0 };

/**
 * The sum, over the corners of the elements around a node, of the square of the condition number (P. Knupp, Int. J. Num. Meth. Eng.
 * 48 (2000)) and the square of the inverse sine of the angle, with the area of folded corners made positive (J. M. Escobar et al.,
 * Comput. Methods Appl. Mech. Eng. 192 (2003)), so that what is folded unfolds; with its slopes and second derivatives where they are
 * asked. As a node moves, the area of a corner changes evenly and the square of each of its sides is a round parabola, so that all
 * are exact.
 *
 * @param soft the square of the area below which a corner counts as folded
 */
export function objective(mesh: QuadMesh, v: number, soft: number, withSlopes: boolean): Shape {
	const { x, y, nodes, corner, otherCorner } = mesh;
	let value = 0;
	let gx = 0;
	let gy = 0;
	let hxx = 0;
	let hxy = 0;
	let hyy = 0;
	for (let c = corner[v]!; c >= 0; c = otherCorner[c]!) {
		const place = c & 3;
		const base = c - place;
		const n = nodes[base + 3]! < 0 ? 3 : 4;
		// The corner at the node, and those at the two beside it.
		let k = place === 0 ? n - 1 : place - 1;
		for (let step = 0; step < 3; step++, k = k + 1 === n ? 0 : k + 1) {
			const p = nodes[base + k]!;
			const q = nodes[base + (k + 1 === n ? 0 : k + 1)]!;
			const r = nodes[base + (k === 0 ? n - 1 : k - 1)]!;
			const ux = x[q]! - x[p]!;
			const uy = y[q]! - y[p]!;
			const wx = x[r]! - x[p]!;
			const wy = y[r]! - y[p]!;
			// The ideal corner of a triangle has 60°: it is brought to a right angle first, its second side to m/√3.
			const isThree = n === 3;
			const scale = isThree ? 2 * third : 1;
			const mx = isThree ? 2 * wx - ux : wx;
			const my = isThree ? 2 * wy - uy : wy;
			const area = scale * (ux * wy - uy * wx);
			const first = ux * ux + uy * uy;
			const second = isThree ? (mx * mx + my * my) / 3 : mx * mx + my * my;
			const sum = first + second;
			const root = Math.sqrt(area * area + 4 * soft);
			const positive = (area + root) / 2;
			const perArea = 1 / positive;
			const sides = square(sum) + 4 * forAngle * first * second;
			const term = byValue * sides * square(perArea);
			value += term;
			if (!withSlopes) continue;
			// How the sides and the area change with the node: one of the sides moves with it, or both turn away.
			const onFirst = q === v;
			const onSecond = r === v;
			const byU = onFirst ? 1 : onSecond ? 0 : -1;
			// The second side is m: of a triangle twice w less u, so that it goes against u, or twice along with w.
			const byM = isThree ? (onFirst ? -1 : onSecond ? 2 : -1) / 3 : onFirst ? 0 : onSecond ? 1 : -1;
			const ux1 = 2 * byU * ux;
			const uy1 = 2 * byU * uy;
			const mx1 = 2 * byM * mx;
			const my1 = 2 * byM * my;
			const bendU = 2 * byU * byU;
			const bendM = 2 * byM * byM * (isThree ? 3 : 1);
			// The squared sides: d(s²) = 2 s ds; of their product d(uw) = u dw + w du.
			const sx = 2 * sum * (ux1 + mx1) + 4 * forAngle * (first * mx1 + second * ux1);
			const sy = 2 * sum * (uy1 + my1) + 4 * forAngle * (first * my1 + second * uy1);
			const bend = 2 * sum * (bendU + bendM) + 4 * forAngle * (first * bendM + second * bendU);
			const sxx = 2 * square(ux1 + mx1) + 8 * forAngle * ux1 * mx1 + bend;
			const syy = 2 * square(uy1 + my1) + 8 * forAngle * uy1 * my1 + bend;
			const sxy = 2 * (ux1 + mx1) * (uy1 + my1) + 4 * forAngle * (ux1 * my1 + uy1 * mx1);
			const ax = scale * (onFirst ? wy : onSecond ? -uy : uy - wy);
			const ay = scale * (onFirst ? -wx : onSecond ? ux : wx - ux);
			const slope = (1 + area / root) / 2;
			const curve = (2 * soft) / (root * root * root);
			const bySides = byValue * square(perArea);
			const byArea = -2 * term * perArea * slope;
			gx += bySides * sx + byArea * ax;
			gy += bySides * sy + byArea * ay;
			const both = -2 * bySides * perArea * slope;
			const twice = 6 * term * square(perArea * slope) - 2 * term * perArea * curve;
			hxx += bySides * sxx + 2 * both * sx * ax + twice * ax * ax;
			hyy += bySides * syy + 2 * both * sy * ay + twice * ay * ay;
			hxy += bySides * sxy + both * (sx * ay + sy * ax) + twice * ax * ay;
		}
	}
	shapeHere.value = value;
	shapeHere.x = gx;
	shapeHere.y = gy;
	shapeHere.xx = hxx;
	shapeHere.xy = hxy;
	shapeHere.yy = hyy;
	return shapeHere;
}

const third = 1 / Math.sqrt(3);
/** What a right angle counts for beside sides of the same length. */
const forAngle = 1;
/** So that a square has the value 1 at each corner. */
const byValue = 1 / (4 * (1 + forAngle));

/** Moves a node to where its corners are best, one step of Newton's method with its way cut until it is better; returns whether it moved. */
export function improveNode(mesh: QuadMesh, v: number): boolean {
	const { x, y, nodes, corner, otherCorner } = mesh;
	const count = mesh.countAt(v);
	if (count === 0) return false;
	// A length that things are measured by here.
	let reach = 0;
	for (let c = corner[v]!; c >= 0; c = otherCorner[c]!) {
		const isLast = (c & 3) === 3 || nodes[c + 1]! < 0;
		const q = nodes[isLast ? c & ~3 : c + 1]!;
		reach += Math.sqrt(square(x[q]! - x[v]!) + square(y[q]! - y[v]!));
	}
	reach /= count;
	if (!(reach > 0)) return false;
	const soft = square(0.02 * reach * reach);
	const px = x[v]!;
	const py = y[v]!;
	const { value, x: gx, y: gy, xx: exx, xy: mixed, yy: nyy } = objective(mesh, v, soft, true);
	// Where it is best already, nothing more is asked.
	if (gx * gx + gy * gy < square(1e-2 * count) / square(reach)) return false;
	const determinant = exx * nyy - mixed * mixed;
	const isBowl = exx > 0 && determinant > 0;
	let sx = isBowl ? -(nyy * gx - mixed * gy) / determinant : -gx;
	let sy = isBowl ? -(exx * gy - mixed * gx) / determinant : -gy;
	const length = Math.sqrt(sx * sx + sy * sy);
	if (!(length > 1e-9 * reach)) return false;
	// Nobody goes farther than to a neighbour.
	const most = isBowl ? 0.5 * reach : 0.2 * reach;
	const cut = length > most || !isBowl ? most / length : 1;
	sx *= cut;
	sy *= cut;
	for (let k = 0; k < 6; k++) {
		x[v] = px + sx;
		y[v] = py + sy;
		if (objective(mesh, v, soft, false).value < value) {
			const [nx, ny] = [x[v]!, y[v]!];
			x[v] = px;
			y[v] = py;
			mesh.move(v, nx, ny);
			return true;
		}
		sx /= 2;
		sy /= 2;
	}
	x[v] = px;
	y[v] = py;
	return false;
}

/**
 * Improves all free nodes, or those of elements that are worse than a shape; so many sweeps. After the first sweep only nodes that
 * moved, and those beside them, are looked at again.
 *
 * @param first 1 for the nodes that are looked at first, where these are not all
 */
export function* smooth(mesh: QuadMesh, sweeps: number, below = Infinity, first?: Uint8Array): Work<void> {
	const { nodes, corner, otherCorner } = mesh;
	let active = first ?? (yield* part(nodesOf(mesh, below), 0, 0));
	for (let sweep = 0; sweep < sweeps; sweep++) {
		const following = new Uint8Array(mesh.nodeCount);
		let moved = 0;
		for (let v = mesh.given; v < mesh.nodeCount; v++) {
			if ((v & 0x7ff) === 0) yield (sweep + v / mesh.nodeCount) / sweeps;
			if (mesh.countAt(v) === 0 || active[v] === 0) continue;
			if (below < 1 && !hasWorse(mesh, v, below)) continue;
			if (!improveNode(mesh, v)) continue;
			moved++;
			for (let c = corner[v]!; c >= 0; c = otherCorner[c]!)
				for (let k = c & ~3; k <= (c | 3); k++) if (nodes[k]! >= 0) following[nodes[k]!] = 1;
		}
		mesh.keep();
		if (moved === 0) return;
		active = following;
	}
}

/** 1 for the nodes of elements that are worse than a shape. */
function* nodesOf(mesh: QuadMesh, below: number): Work<Uint8Array> {
	const found = new Uint8Array(mesh.nodeCount);
	if (below >= 1) return found.fill(1);
	yield* inStretches(mesh.elementCount, chunkSize, (from, to) => markWorse(mesh, below, found, from, to));
	return found;
}

function markWorse(mesh: QuadMesh, below: number, found: Uint8Array, from: number, to: number): void {
	const { nodes } = mesh;
	for (let e = from; e < to; e++) {
		if (mesh.sizeOf(e) === 0 || !(mesh.shape(e) < below)) continue;
		for (let k = 4 * e; k < 4 * e + 4; k++) if (nodes[k]! >= 0) found[nodes[k]!] = 1;
	}
}

/** Whether a node has an element whose shape is below a value. */
function hasWorse(mesh: QuadMesh, v: number, below: number): boolean {
	for (let c = mesh.corner[v]!; c >= 0; c = mesh.otherCorner[c]!) if (mesh.shape(c >> 2) < below) return true;
	return false;
}
