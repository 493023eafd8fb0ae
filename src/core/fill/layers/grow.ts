import { atan2, hypot } from '../../numeric/elementary.ts';
import { Float64List, Uint32List } from '../../numeric/lists.ts';
import { part, type Work } from '../../numeric/work.ts';
import type { FillInput } from '../method.ts';
import { aim } from './aim.ts';
import { FrontCheck } from './front-check.ts';
import { type GrownWall, grownWalls, Tally } from './grown-walls.ts';
import { layStacks } from './lay-stacks.ts';
import { planWithin } from './plan.ts';
import { soften, thicknessesFor } from './room.ts';
import type { Chain, Stacks, WallRuns } from './stacks.ts';

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
	/** How thick each stack could become. */
	thickness: Float64Array;
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
 * changes by one at most, which a triangle bridges, but beside where there is none. So there is no overlap at any time.
 * How thick stacks may become is worked out first; where one could not become so thick all the same, or the front has an edge
 * far shorter than those beside it, it is planned thinner with its neighbours, and all grow again.
 *
 * Source: advancing layers after R. V. Garimella & M. S. Shephard, Int. J. Num. Meth. Eng. 49 (2000) 193–218.
 *
 * @param change the number of a place at which the front gets an edge more, none without
 * @param limits what the thickness of each stack may not exceed
 */
export function* growLayers(input: FillInput, runs: WallRuns, change = -1, limits?: Float64Array): Work<GrownLayers> {
	const laid = layStacks(input, runs, change);
	const { stacks, chains } = laid;
	for (let k = 0; k < stacks.length; k++) stacks.height[k] = stacks.cellHeight(k, 0);
	for (const chain of chains) aim(stacks, chain, 0, input.x, input.y);
	const room = thicknessesFor(input, runs.wallOf, stacks, chains, limits ?? new Float64Array(stacks.length).fill(Infinity));
	let thickness = room;
	for (let round = 0; ; round++) {
		const { stacks, chains } = round === 0 ? laid : layStacks(input, runs, change);
		const asked = stacks.scale.slice();
		for (let k = 0; k < stacks.length; k++) stacks.askedThickness[k] = stacks.thickness(k, stacks.wanted[k]!);
		planWithin(stacks, thickness);
		stacks.room.set(room);
		const isLast = round >= mostRounds;
		const grown = yield* part(growOnce(input, runs, stacks, chains, asked), 1 - 0.5 ** round, 1 - 0.5 ** (round + 1));
		const reached = isLast ? undefined : lowerWhereHeldUp(stacks, chains, thickness);
		if (!reached) return { ...grown, places: laid.places, thickness };
		thickness = reached;
	}
}

/** So many times thicknesses are lowered where stacks could not become so thick, before what is held up stays as it is. */
const mostRounds = 4;
/** Where a stack was held up it is given this share of what it reached, and its neighbours rise from there by this slope. */
const [shareReached, slopeReached] = [0.8, 0.6];

/** An edge of the front is no shorter than this share of both beside it. */
const leastOfBeside = 0.45;

const frontEdge = ({ x, y }: Stacks, a: number, b: number): number => hypot(x[b]! - x[a]!, y[b]! - y[a]!);

/** Thicknesses that take in where stacks were held up; undefined where none was. */
function lowerWhereHeldUp(stacks: Stacks, chains: readonly Chain[], thickness: Float64Array): Float64Array | undefined {
	const { count, most, isHeldUp, length } = stacks;
	const lower = thickness.slice();
	let some = false;
	for (let k = 0; k < length; k++) {
		if (!isHeldUp[k] || count[k]! >= most[k]!) continue;
		lower[k] = Math.min(lower[k]!, shareReached * Math.max(stacks.thickness(k, count[k]!), 0.2 * stacks.thickness(k, most[k]!)));
		some = true;
	}
	for (let k = 0; k < length; k++) {
		const [before, t] = [stacks.before[k]!, stacks.after[k]!];
		const next = t < 0 ? -1 : stacks.after[t]!;
		if (before < 0 || next < 0 || Math.max(count[k]!, count[t]!) === 0) continue;
		// An edge of the front far below those beside it, which would make thin elements behind.
		const beside = Math.min(frontEdge(stacks, before, k), frontEdge(stacks, t, next));
		if (frontEdge(stacks, k, t) >= leastOfBeside * beside) continue;
		for (const j of [k, t]) lower[j] = Math.min(lower[j]!, shareReached * stacks.thickness(j, count[j]!));
		some = true;
	}
	if (!some) return undefined;
	for (const chain of chains) soften(stacks, chain, lower, slopeReached);
	return lower;
}

/** Grows the stacks as they are planned. */
function* growOnce(
	input: FillInput,
	{ walls, wallOf }: WallRuns,
	stacks: Stacks,
	chains: readonly Chain[],
	asked: Float64Array
): Work<Omit<GrownLayers, 'places' | 'thickness'>> {
	const { x: givenX, y: givenY, edges } = input;
	const { node, most, height, done, moves, after, fan } = stacks;
	const total = stacks.length;
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
		walls: grownWalls(stacks, tally, asked)
	};

	/** Which stacks take the next step, and how high it is; whether any does. */
	function begin(layer: number): boolean {
		const { before, count } = stacks;
		let some = false;
		// Beside where there is none a stack may have any number of cells: triangles join them to the one node there.
		const isAsHigh = (k: number) => k < 0 || most[k] === 0 || count[k]! >= layer;
		for (let k = 0; k < total; k++) {
			const goesOn = !done[k] && count[k] === layer && layer < most[k]! && isAsHigh(before[k]!) && isAsHigh(after[k]!);
			if (goesOn) height[k] = stacks.cellHeight(k, layer);
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
		if (layer === 0) for (let k = 0; k < total; k++) if (moves[k]) stacks.lean[k] = leanOf(k);
		for (let k = 0; k < total; k++) {
			if (!moves[k]) continue;
			node[k] = fresh[k]!;
			x[k] = nextX[k]!;
			y[k] = nextY[k]!;
			count[k]!++;
		}
	}

	/** How far a stack's first step leans from its normal, in degrees. */
	function leanOf(k: number): number {
		const { x, y, nextX, nextY, normalX, normalY } = stacks;
		const [dx, dy] = [nextX[k]! - x[k]!, nextY[k]! - y[k]!];
		return (Math.abs(atan2(normalX[k]! * dy - normalY[k]! * dx, normalX[k]! * dx + normalY[k]! * dy)) / Math.PI) * 180;
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
