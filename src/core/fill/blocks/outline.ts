import { atan2, hypot } from '../../numeric/elementary.ts';
import { finish } from '../../numeric/work.ts';
import { type Region, walksOf } from '../../domain/regions.ts';
import { leavingDirection, placeOnPart } from '../../geometry/parts.ts';
import type { Arrangement } from '../../geometry/pieces.ts';
import type { FillInput } from '../method.ts';
import { OFFSET, triangulateBoundary } from '../triangles/constrained.ts';
import { next, previous } from '../triangles/triangulation.ts';

/** The longest edge of the outline, over the region's diagonal: one in so many. */
const perDiagonal = 12;
/** An edge beside a gap is at most a third of the gap long, down to this share of the diagonal. */
const [perGap, shortest] = [3, 1 / 600];
/** The largest turn of the curve along one edge, in radians. */
const mostTurn = Math.PI / 9;
/** From this turn on, in radians, a junction is a corner. */
const leastCorner = (12 * Math.PI) / 180;
/** The number of rounds in which edges beside gaps are halved. */
const gapRounds = 6;
/** A node nearer along the outline than six heights of its triangle belongs to the next side of a corner, not to the far side of a gap. */
const aroundCorner = 6;

/** The outlines of a region as edges that are short enough for a field to follow them. */
export interface Outline {
	/** Nodes and directed edges, the region to their left; node i starts edge i. */
	input: FillInput;
	/** For each edge, the half-piece that it lies on, and its place there: the shares of length at which it starts and ends. */
	half: Int32Array;
	from: Float64Array;
	to: Float64Array;
	/** For each node the edge that ends there. */
	before: Int32Array;
	/** For each node whether a piece starts there, the angle inside, and how many quadrants it has where it is a corner; 0 where it is none. */
	isJunction: Uint8Array;
	angle: Float64Array;
	quadrants: Uint8Array;
	/** The first node of each closed outline. */
	loops: number[];
	diagonal: number;
}

/** A part of a half-piece, by shares of its length. */
interface Stretch {
	half: number;
	from: number;
	to: number;
}

/** A choice of quadrants for corners whose angles lie between two. */
export interface CornerChoice {
	/** Corners whose angle is this close, in quadrants, to halfway between two numbers get the other number. */
	turned: number;
}

/**
 * The outlines of a region as short edges.
 *
 * @param finer how many times finer than usual
 * @returns a sentence that says why where curves hang inside or outlines touch themselves
 */
export function outlineOf(
	arrangement: Arrangement,
	region: Pick<Region, 'face'>,
	finer: number,
	choice: CornerChoice
): Outline | { reason: string } {
	const walks = walksOf(arrangement, region as Region);
	const seen = new Set<number>();
	for (const h of walks.flat()) {
		if (seen.has(h >> 1)) return { reason: 'a curve hangs or lies loose inside it' };
		seen.add(h >> 1);
	}
	const starts = walks.flat().map((h) => startOf(arrangement, h));
	if (new Set(starts).size < starts.length) return { reason: 'its outline touches itself' };
	const diagonal = diagonalOf(arrangement, walks[0]!);
	let loops = walks.map((walk) => walk.flatMap((half) => stretchesOf(arrangement, half, diagonal / perDiagonal / finer)));
	for (let round = 0; ; round++) {
		const outline = assemble(arrangement, loops, diagonal, choice);
		if (round === gapRounds) return outline;
		const isLong = longBesideGaps(outline, diagonal * shortest, perGap * finer);
		if (!isLong.includes(1)) return outline;
		let k = 0;
		loops = loops.map((loop) =>
			loop.flatMap((stretch): Stretch[] => {
				if (!isLong[k++]) return [stretch];
				const middle = (stretch.from + stretch.to) / 2;
				return [
					{ ...stretch, to: middle },
					{ ...stretch, from: middle }
				];
			})
		);
	}
}

const startOf = ({ pieces }: Arrangement, h: number) => (h & 1 ? pieces[h >> 1]!.end : pieces[h >> 1]!.start);

/** A place on a half-piece, at a share of its length, and the direction in which it runs there. */
export function placeOnHalf(
	{ pieces }: Arrangement,
	half: number,
	share: number
): { x: number; y: number; dx: number; dy: number } {
	const piece = pieces[half >> 1]!;
	const { point, direction } = placeOnPart(piece, half & 1 ? 1 - share : share, piece.length);
	const sign = half & 1 ? -1 : 1;
	return { x: point.x, y: point.y, dx: sign * direction.x, dy: sign * direction.y };
}

function diagonalOf(arrangement: Arrangement, walk: readonly number[]): number {
	let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
	for (const half of walk)
		for (let k = 0; k < 8; k++) {
			const { x, y } = placeOnHalf(arrangement, half, k / 8);
			[minX, maxX] = [Math.min(minX, x), Math.max(maxX, x)];
			[minY, maxY] = [Math.min(minY, y), Math.max(maxY, y)];
		}
	return hypot(maxX - minX, maxY - minY);
}

/** A half-piece cut where it is long or turns. */
function stretchesOf(arrangement: Arrangement, half: number, longest: number): Stretch[] {
	const { length } = arrangement.pieces[half >> 1]!;
	const list: Stretch[] = [];
	const cut = (from: number, to: number, depth: number): void => {
		const middle = (from + to) / 2;
		const [a, m, b] = [from, middle, to].map((share) => placeOnHalf(arrangement, half, share));
		const turn = Math.abs(turnBetween(a!, m!)) + Math.abs(turnBetween(m!, b!));
		const isLong = (to - from) * length > longest;
		// A straight start and end say nothing of a curve that turns to and fro between.
		if (depth < 14 && (isLong || (turn > mostTurn && depth < 10))) {
			cut(from, middle, depth + 1);
			cut(middle, to, depth + 1);
		} else list.push({ half, from, to });
	};
	cut(0, 0.5, 0);
	cut(0.5, 1, 0);
	return list;
}

const turnBetween = (a: { dx: number; dy: number }, b: { dx: number; dy: number }): number =>
	atan2(a.dx * b.dy - a.dy * b.dx, a.dx * b.dx + a.dy * b.dy);

function assemble(arrangement: Arrangement, loops: readonly Stretch[][], diagonal: number, choice: CornerChoice): Outline {
	const count = loops.reduce((sum, loop) => sum + loop.length, 0);
	const [x, y] = [new Float64Array(count), new Float64Array(count)];
	const edges = new Uint32Array(2 * count);
	const half = new Int32Array(count);
	const [from, to] = [new Float64Array(count), new Float64Array(count)];
	const before = new Int32Array(count);
	const isJunction = new Uint8Array(count);
	const angle = new Float64Array(count).fill(Math.PI);
	const quadrants = new Uint8Array(count);
	const firsts: number[] = [];
	let k = 0;
	for (const loop of loops) {
		const first = k;
		firsts.push(first);
		for (const stretch of loop) {
			const junction = startOf(arrangement, stretch.half);
			const place =
				stretch.from === 0
					? { x: arrangement.x[junction]!, y: arrangement.y[junction]! }
					: placeOnHalf(arrangement, stretch.half, stretch.from);
			[x[k], y[k]] = [place.x, place.y];
			half[k] = stretch.half;
			[from[k], to[k]] = [stretch.from, stretch.to];
			edges.set([k, k + 1 === first + loop.length ? first : k + 1], 2 * k);
			before[k] = k === first ? first + loop.length - 1 : k - 1;
			if (stretch.from === 0) {
				isJunction[k] = 1;
				const last = (k === first ? loop.at(-1)! : loop[k - first - 1]!).half;
				angle[k] = insideAngle(arrangement, last, stretch.half);
				quadrants[k] = quadrantsOf(angle[k]!, choice);
			}
			k++;
		}
	}
	return {
		...{ input: { x, y, edges }, half, from, to, before, isJunction, angle, quadrants },
		...{ loops: firsts, diagonal }
	};
}

/** The angle on the left, where one half-piece goes on from another: from the next to the one before, counter-clockwise. */
function insideAngle({ pieces }: Arrangement, before: number, after: number): number {
	const out = leavingDirection(pieces[after >> 1]!, after & 1 ? 'end' : 'start');
	const back = leavingDirection(pieces[before >> 1]!, before & 1 ? 'start' : 'end');
	const turn = atan2(out.x * back.y - out.y * back.x, out.x * back.x + out.y * back.y);
	return turn <= 0 ? turn + 2 * Math.PI : turn;
}

/** How many right angles a corner is taken for; 0 where it is none. */
function quadrantsOf(angle: number, { turned }: CornerChoice): number {
	const exact = angle / (Math.PI / 2);
	if (Math.abs(angle - Math.PI) < leastCorner) return 0;
	const nearest = Math.min(4, Math.max(1, Math.round(exact)));
	const off = exact - nearest;
	if (Math.abs(off) <= 0.5 - turned) return nearest;
	return Math.min(4, Math.max(1, nearest + Math.sign(off)));
}

/** 1 for edges that are long beside the gap that they border. */
function longBesideGaps({ input }: Outline, shortestEdge: number, perGap: number): Uint8Array {
	const { x, y, edges } = input;
	const count = x.length;
	const long = new Uint8Array(count);
	const length = Float64Array.from({ length: count }, (_, k) =>
		hypot(x[edges[2 * k + 1]!]! - x[k]!, y[edges[2 * k + 1]!]! - y[k]!)
	);
	// Distance along the outlines, and which of them a node is on.
	const along = new Float64Array(count);
	const loop = new Int32Array(count);
	const whole: number[] = [];
	for (let k = 0, sum = 0; k < count; k++) {
		along[k] = sum;
		loop[k] = whole.length;
		sum += length[k]!;
		if (edges[2 * k + 1]! <= k) {
			whole.push(sum);
			sum = 0;
		}
	}
	const { triangulation: mesh, inside } = finish(triangulateBoundary(input, count));
	const ends = edges;
	for (let e = 0; e < 3 * inside.length; e++) {
		if (!inside[(e / 3) | 0] || !mesh.fixed[e]) continue;
		const k = mesh.from[e]! - OFFSET;
		const end = mesh.from[next(e)]! - OFFSET;
		if (k < 0 || ends[2 * k + 1] !== end) continue;
		// The triangle on the edge, and the one behind it: the gap is no wider than to their far nodes.
		for (const apex of apexes(mesh, inside, e)) {
			const node = apex - OFFSET;
			const ux = x[end]! - x[k]!;
			const uy = y[end]! - y[k]!;
			const f = Math.min(1, Math.max(0, ((x[node]! - x[k]!) * ux + (y[node]! - y[k]!) * uy) / (length[k]! * length[k]!)));
			const height = hypot(x[node]! - x[k]! - f * ux, y[node]! - y[k]! - f * uy);
			if (loop[node] === loop[k]) {
				const total = whole[loop[k]!]!;
				const distances = [k, end].map((i) => {
					const d = Math.abs(along[node]! - along[i]!);
					return Math.min(d, total - d);
				});
				if (Math.min(...distances) <= aroundCorner * height) continue;
			}
			if (length[k]! > height / perGap && length[k]! > shortestEdge) long[k] = 1;
		}
	}
	return long;
}

function apexes(mesh: { from: Int32Array; twin: Int32Array }, inside: Uint8Array, e: number): number[] {
	const list = [mesh.from[previous(e)]!];
	for (const side of [next(e), previous(e)]) {
		const f = mesh.twin[side]!;
		if (f >= 0 && inside[(f / 3) | 0]) list.push(mesh.from[previous(f)]!);
	}
	return list;
}
