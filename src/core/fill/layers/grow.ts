import { hypot } from '../../numeric/elementary.ts';
import { Float64List, Uint32List } from '../../numeric/lists.ts';
import type { Work } from '../../numeric/work.ts';
import type { FillInput } from '../method.ts';
import { aim } from './aim.ts';
import { FrontCheck } from './front-check.ts';
import { type GrownWall, grownWalls, Tally } from './grown-walls.ts';
import { layStacks } from './lay-stacks.ts';
import { squeeze } from './squeeze.ts';
import { cellHeight, type WallRuns } from './stacks.ts';

/** Layers that have grown from the walls around a region. Nodes are numbered as in the input, the added ones after them. */
export interface GrownLayers {
	x: Float64Array;
	y: Float64Array;
	quads: Uint32Array;
	triangles: Uint32Array;
	/** What bounds the rest of the region, directed as the input's edges. */
	front: Uint32Array;
	/** What became of the layers of each wall. */
	walls: GrownWall[];
	/** How many places there are at which the front could have an edge more. */
	places: number;
}

/** There is room for so many cells before lists grow, however many are asked for. */
const largestRoom = 1 << 22;
/** A cell is at least as good as this, by its scaled Jacobian. */
const leastJacobian = 0.3;

/**
 * Grows layers of quadrilaterals from walls, a layer at a time: every node of the front goes along the normal of the
 * front, so that each cell is as high as asked; sharp outside corners send out a fan; at inside corners both sides share
 * the bisector and slide along themselves to make room. A step that would fold a cell, meet another front, or come nearer
 * to one than the elements between need, is not made: there the front stays, and from stack to stack the number of cells
 * changes by one at most, which a triangle bridges. So there is no overlap at any time.
 *
 * Source: advancing layers after R. V. Garimella & M. S. Shephard, Int. J. Num. Meth. Eng. 49 (2000) 193–218.
 *
 * @param change the number of a place at which the front gets an edge more, none without
 */
export function* growLayers(input: FillInput, runs: WallRuns, change = -1): Work<GrownLayers> {
	const { walls, wallOf } = runs;
	const { x: givenX, y: givenY, edges } = input;
	const { stacks, chains, places } = layStacks(input, runs, change);
	const { node, wall, most, scale, height, done, moves, after, fan } = stacks;
	const total = stacks.length;

	const asked = scale.slice();
	if (walls.some((wall) => wall.squeeze)) {
		for (let k = 0; k < total; k++) height[k] = scale[k]! * walls[wall[k]!]!.first;
		for (const chain of chains) aim(stacks, chain, 0, givenX, givenY);
		squeeze(input, wallOf, stacks, chains);
	}

	// With room for all cells that are requested.
	const cells = Math.min(
		most.reduce((sum, count) => sum + count, 0),
		largestRoom
	);
	const [addedX, addedY] = [new Float64List(cells), new Float64List(cells)];
	const quads = new Uint32List(walls.some((wall) => wall.halved) ? 0 : 4 * cells);
	const triangles = new Uint32List();
	const fresh = new Uint32Array(total);
	const halved = Uint8Array.from(walls, (wall) => Number(wall.halved ?? false));
	const tally = new Tally(walls.length);
	const consumed = new Uint8Array(wallOf.length);
	const check = new FrontCheck(input, wallOf, stacks, consumed);
	const layers = most.reduce((a, b) => Math.max(a, b), 0);
	for (let layer = 0; layer < layers && begin(layer); layer++) {
		for (const chain of chains) aim(stacks, chain, layer, givenX, givenY);
		settle(layer);
		commit(layer);
		yield layer / layers;
	}

	const front = new Uint32List();
	const add = (from: number, to: number) => {
		front.push(from);
		front.push(to);
	};
	for (let k = 0; k < wallOf.length; k++) if (wallOf[k]! < 0 && !consumed[k]) add(edges[2 * k]!, edges[2 * k + 1]!);
	for (let k = 0; k < total; k++) if (after[k]! >= 0 && node[after[k]!] !== node[k]) add(node[k]!, node[after[k]!]!);
	return {
		x: addedX.taken(),
		y: addedY.taken(),
		quads: quads.taken(),
		triangles: triangles.taken(),
		front: front.taken(),
		walls: grownWalls(stacks, tally, asked),
		places
	};

	/** Which stacks take the next step, and how high it is; whether any does. */
	function begin(layer: number): boolean {
		const { before, count } = stacks;
		const heights = walls.map((wall) => cellHeight(wall, layer));
		let some = false;
		for (let k = 0; k < total; k++) {
			height[k] = scale[k]! * heights[wall[k]!]!;
			const goesOn =
				!done[k] &&
				count[k] === layer &&
				layer < most[k]! &&
				(before[k]! < 0 || count[before[k]!]! >= layer) &&
				(after[k]! < 0 || count[after[k]!]! >= layer);
			moves[k] = Number(goesOn);
			if (goesOn) some = true;
			else done[k] = 1;
		}
		return some;
	}

	/** Takes back the steps that must not be made, until those that are left can be. */
	function settle(layer: number): void {
		const stop = (k: number): boolean => {
			if (!moves[k]) return false;
			// A fan goes all together at first, or not at all.
			const [from, isWhole] = fan[k]! >= 0 && layer === 0 ? [fan[k]!, true] : [k, false];
			for (let i = from; i === from || (isWhole && fan[i] === from); i++) {
				moves[i] = 0;
				done[i] = stacks.isHeldUp[i] = 1;
			}
			return true;
		};
		for (let round = 0; ; round++) {
			let changed = false;
			for (let k = 0; k < total; k++) {
				const t = after[k]!;
				if (t < 0 || (!moves[k] && !moves[t]) || isGood(k, t)) continue;
				changed = stop(k) || changed;
				changed = stop(t) || changed;
			}
			if (changed) continue;
			const wrong = check.wrong(layer, round > 20);
			if (wrong.length === 0) return;
			for (const k of wrong) stop(k);
		}
	}

	/** Whether the cell between two neighbours, one of which moves at least, is one. */
	function isGood(s: number, t: number): boolean {
		const { x, y, nextX, nextY } = stacks;
		if (node[s] === node[t])
			return moves[s] && moves[t] ? area(x[s]!, y[s]!, nextX[t]!, nextY[t]!, nextX[s]!, nextY[s]!) > 0 : true;
		if (moves[s] && moves[t]) {
			const sine = leastSine(x[s]!, y[s]!, x[t]!, y[t]!, nextX[t]!, nextY[t]!, nextX[s]!, nextY[s]!);
			stacks.cosine[s] = largestCosine;
			return sine >= leastJacobian;
		}
		const m = moves[s] ? s : t;
		return area(x[s]!, y[s]!, x[t]!, y[t]!, nextX[m]!, nextY[m]!) > 1e-3 * height[m]! * hypot(x[t]! - x[s]!, y[t]! - y[s]!);
	}

	/** Makes the layer of all that moves. */
	function commit(layer: number): void {
		// Constants of its own are nearer at hand than those of the function around.
		const { node, x, y, nextX, nextY, wall, moves, after, cosine, count, carrier } = stacks;
		for (let k = 0; k < total; k++) {
			if (!moves[k]) {
				fresh[k] = node[k]!;
				continue;
			}
			if (carrier[k]! >= 0) {
				const { nodes, edges } = stacks.carriers[carrier[k]!]!;
				consumed[edges[layer]!] = 1;
				fresh[k] = nodes[layer]!;
			} else {
				fresh[k] = givenX.length + addedX.length;
				addedX.push(nextX[k]!);
				addedY.push(nextY[k]!);
			}
		}
		for (let k = 0; k < total; k++) {
			const t = after[k]!;
			if (t < 0 || (!moves[k] && !moves[t])) continue;
			const w = wall[k]!;
			const [i, j] = [fresh[k]!, fresh[t]!];
			if (node[k] === node[t]) {
				if (!moves[k] || !moves[t]) continue;
				triangle(node[k]!, j, i);
			} else if (moves[k] && moves[t]) {
				if (halved[w]) halve(k, t, i, j);
				else quads.push4(node[k]!, node[t]!, j, i);
				if (cosine[k]! > tally.cosine[w]!) tally.cosine[w] = cosine[k]!;
			} else triangle(node[k]!, node[t]!, moves[k] ? i : j);
			tally.cells[w]!++;
			if (layer > 0 || !moves[k] || node[k] === node[t]) continue;
			const [dx, dy] = [x[t]! - x[k]!, y[t]! - y[k]!];
			const length = hypot(dx, dy);
			const high = (-dy / length) * (nextX[k]! - x[k]!) + (dx / length) * (nextY[k]! - y[k]!);
			tally.low[w] = Math.min(tally.low[w]!, high);
			tally.high[w] = Math.max(tally.high[w]!, high);
		}
		for (let k = 0; k < total; k++) {
			if (!moves[k]) continue;
			node[k] = fresh[k]!;
			x[k] = nextX[k]!;
			y[k] = nextY[k]!;
			count[k]!++;
		}
	}

	function triangle(a: number, b: number, c: number): void {
		triangles.push(a);
		triangles.push(b);
		triangles.push(c);
	}

	/** A cell cut along its shorter diagonal. */
	function halve(s: number, t: number, i: number, j: number): void {
		const { x, y, nextX, nextY } = stacks;
		const rising = (nextX[t]! - x[s]!) ** 2 + (nextY[t]! - y[s]!) ** 2;
		const falling = (nextX[s]! - x[t]!) ** 2 + (nextY[s]! - y[t]!) ** 2;
		const far = rising <= falling ? [j, s] : [i, t];
		triangle(node[s]!, node[t]!, far[0]!);
		triangle(node[far[1]!]!, j, i);
	}
}

const area = (ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number =>
	((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2;

/** The largest cosine of the corners of the cell that {@link leastSine} was asked of last. */
let largestCosine = -1;

/** The least sine of the four corners of a quadrilateral, below zero where one is turned inside out. */
function leastSine(ax: number, ay: number, bx: number, by: number, cx: number, cy: number, dx: number, dy: number): number {
	// The sides one after the other, and their squares.
	const [px, py, qx, qy, rx, ry, sx, sy] = [bx - ax, by - ay, cx - bx, cy - by, dx - cx, dy - cy, ax - dx, ay - dy];
	const [pp, qq, rr, ss] = [px * px + py * py, qx * qx + qy * qy, rx * rx + ry * ry, sx * sx + sy * sy];
	const [a, b, c, d] = [ss * pp, pp * qq, qq * rr, rr * ss];
	largestCosine = -1;
	if (!(a > 0 && b > 0 && c > 0 && d > 0)) return -1;
	const [ra, rb, rc, rd] = [1 / Math.sqrt(a), 1 / Math.sqrt(b), 1 / Math.sqrt(c), 1 / Math.sqrt(d)];
	largestCosine = -Math.min(
		(sx * px + sy * py) * ra,
		(px * qx + py * qy) * rb,
		(qx * rx + qy * ry) * rc,
		(rx * sx + ry * sy) * rd
	);
	return Math.min((sx * py - sy * px) * ra, (px * qy - py * qx) * rb, (qx * ry - qy * rx) * rc, (rx * sy - ry * sx) * rd);
}
