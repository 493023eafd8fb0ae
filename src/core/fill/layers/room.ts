import { atan2, hypot, tan } from '../../numeric/elementary.ts';
import type { FillInput } from '../method.ts';
import { indexOf, nodesAlone } from './front-check.ts';
import { loopsOf } from './lay-stacks.ts';
import { type Chain, elementsBetween, type Stacks } from './stacks.ts';

const degree = Math.PI / 180;
/** What lies so short a way along the boundary, against the straight one, and turns less than this, is no other wall: its front is the same. */
const [sameWay, sameTurn] = [2.5, 130 * degree];
/** What turns less than this in all goes on nearly straight. */
const straight = 60 * degree;
/** However wide the elements between are, stacks take this share of the room. */
const leastShare = 0.35;
/** How much higher a stack may be than its neighbour, over the distance between them. */
const steepest = 0.3;
/** Of a side between two inside corners this share is left at the top, at least. */
const leftOfSide = 0.4;

/**
 * How thick each stack may become: as far as the ball that touches the wall at its foot reaches before it meets another wall,
 * less what the elements between need; along the wall it rises and falls gently, so that the outer line of all stacks is smooth.
 *
 * Source: layers by the distance to the medial axis: R. V. Garimella & M. S. Shephard, Int. J. Num. Meth. Eng. 49 (2000) 193–218.
 *
 * @param stacks with the normals that they start along
 * @param limits what stacks may not exceed besides; Infinity where nothing is known
 */
export function thicknessesFor(
	{ x, y, edges }: FillInput,
	wallOf: Int32Array,
	stacks: Stacks,
	chains: readonly Chain[],
	limits: Float64Array
): Float64Array {
	const { wall, normalX, normalY, baseX, baseY, most, length } = stacks;
	const thickness = limits.slice();
	const ways = new Ways(x, y, edges);
	// Edges, and after them nodes that stand alone, as edges of no length.
	const ends = [...edges, ...nodesAlone(x.length, edges).flatMap((node) => [node, node])];
	const all = Float64Array.from({ length: 2 * ends.length }, (_, i) => (i % 2 === 0 ? x : y)[ends[i >> 1]!]!);
	const index = indexOf(all, all.length / 4);
	// What a wall on the other side asks for: the thickness of the stack at the start of its edge.
	const stackAt = new Int32Array(x.length).fill(-1);
	stacks.node.forEach((node, k) => (stackAt[node] = k));
	for (let k = 0; k < length; k++) {
		const asked = stacks.thickness(k, most[k]!);
		const between = elementsBetween(stacks, k) * stacks.widthBehind(k, most[k]! - 1);
		const reach = asked + between / 2;
		const [bx, by, nx, ny] = [baseX[k]!, baseY[k]!, normalX[k]!, normalY[k]!];
		const isStrict = stacks.walls[wall[k]!]!.gap !== undefined;
		let highest = Infinity;
		const [cx, cy] = [bx + reach * nx, by + reach * ny];
		index.search(cx - reach, cy - reach, cx + reach, cy + reach, (e) => {
			const isEdge = 2 * e < edges.length;
			if (isEdge && ways.isStraight(stacks.edge[k]!, e)) return false;
			const ball = ballThrough(bx, by, nx, ny, all, e);
			if (!(ball.radius < reach)) return false;
			if (isEdge && ways.isSame(stacks.edge[k]!, stacks.isAtEnd[k]! === 1, e, ball.distance)) return false;
			const other = isEdge && wallOf[e]! >= 0 ? stackAt[edges[2 * e]!]! : -1;
			// A wall that needs less, or nothing, leaves the rest of the gap.
			const theirs = other < 0 ? 0 : Math.min(limits[other]!, stacks.thickness(other, most[other]!));
			const room = Math.max(ball.radius, 2 * ball.radius - theirs - between / 2);
			highest = Math.min(highest, isStrict ? room - between / 2 : Math.max(leastShare * room, room - between / 2));
			return false;
		});
		thickness[k] = Math.max(0, Math.min(thickness[k]!, highest));
	}
	// What stands beside a piece that carries nodes goes on from these.
	for (let k = 0; k < length; k++)
		if (stacks.carrier[k]! >= 0) thickness[k] = Math.min(limits[k]!, stacks.thickness(k, most[k]!));
	for (const chain of chains) limitSides(stacks, chain, thickness);
	for (const chain of chains) soften(stacks, chain, thickness);
	return thickness;
}

/**
 * The ball that touches a wall at b, its normal n, and a segment: its radius, and how far from b it meets the segment. The
 * inverse of the segment's line about b is a circle; what lies on it highest along n is where the smallest ball touches.
 */
function ballThrough(
	bx: number,
	by: number,
	nx: number,
	ny: number,
	list: Float64Array,
	e: number
): { radius: number; distance: number } {
	const [px, py, qx, qy] = [list[4 * e]! - bx, list[4 * e + 1]! - by, list[4 * e + 2]! - bx, list[4 * e + 3]! - by];
	let [radius, distance] = [Infinity, Infinity];
	const take = (x: number, y: number) => {
		const ahead = nx * x + ny * y;
		const square = x * x + y * y;
		if (!(ahead > 1e-9 * Math.sqrt(square)) || square === 0) return;
		const r = square / (2 * ahead);
		if (r < radius) [radius, distance] = [r, Math.sqrt(square)];
	};
	take(px, py);
	take(qx, qy);
	const [dx, dy] = [qx - px, qy - py];
	const square = dx * dx + dy * dy;
	if (square > 0) {
		// The foot of b on the line, and the direction from it to where the ball touches.
		const t = -(px * dx + py * dy) / square;
		const [fx, fy] = [px + t * dx, py + t * dy];
		const away = hypot(fx, fy);
		if (away > 0) {
			const [ux, uy] = [fx / away + nx, fy / away + ny];
			const ahead = (ux * fx + uy * fy) / away;
			if (ahead > 1e-12) {
				const [wx, wy] = [(ux / ahead) * away, (uy / ahead) * away];
				const share = ((wx - px) * dx + (wy - py) * dy) / square;
				if (share > 0 && share < 1) take(wx, wy);
			}
		}
	}
	return { radius, distance };
}

/** How far it is along the boundary from one place to another, and how far it turns. */
class Ways {
	private readonly from: Float64Array;
	private readonly heading: Float64Array;
	/** How far it has turned in all, whichever way. */
	private readonly bent: Float64Array;
	private readonly long: Float64Array;
	private readonly loop: Int32Array;
	private readonly perimeter: number[] = [];
	private readonly turn: number[] = [];

	constructor(x: Float64Array, y: Float64Array, edges: Uint32Array) {
		const next = loopsOf(edges);
		const count = next.length;
		[this.from, this.heading, this.long] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)];
		this.bent = new Float64Array(count);
		this.loop = new Int32Array(count).fill(-1);
		const dx = (e: number) => x[edges[2 * e + 1]!]! - x[edges[2 * e]!]!;
		const dy = (e: number) => y[edges[2 * e + 1]!]! - y[edges[2 * e]!]!;
		const between = (a: number, b: number) => {
			// Where it turns back, as at the free end of an inner line, it turns away from the region.
			if (edges[2 * a] === edges[2 * b + 1]) return -Math.PI;
			return atan2(dx(a) * dy(b) - dy(a) * dx(b), dx(a) * dx(b) + dy(a) * dy(b)) || 0;
		};
		for (let first = 0; first < count; first++) {
			if (this.loop[first]! >= 0) continue;
			let [at, heading, bent] = [0, 0, 0];
			let e = first;
			let last = first;
			for (; this.loop[e]! < 0; e = next[e]!) {
				if (e !== first) {
					const turn = between(last, e);
					heading += turn;
					bent += Math.abs(turn);
				}
				this.bent[e] = bent;
				this.loop[e] = this.perimeter.length;
				this.from[e] = at;
				this.heading[e] = heading;
				this.long[e] = hypot(dx(e), dy(e));
				at += this.long[e]!;
				last = e;
			}
			this.perimeter.push(at);
			this.turn.push(heading + between(last, first));
		}
	}

	/** Whether the boundary goes on nearly straight from one edge to another: then neither is in the other's way. */
	isStraight(edge: number, other: number): boolean {
		return this.loop[edge] === this.loop[other] && Math.abs(this.bent[edge]! - this.bent[other]!) < straight;
	}

	/** Whether an edge lies so near along the boundary that its front is the same, seen from one end of another. */
	isSame(edge: number, atEnd: boolean, other: number, distance: number): boolean {
		const loop = this.loop[edge]!;
		if (this.loop[other] !== loop) return false;
		const start = this.from[edge]! + (atEnd ? this.long[edge]! : 0);
		const middle = this.from[other]! + this.long[other]! / 2;
		let way = middle - start;
		let turn = this.heading[other]! - this.heading[edge]!;
		const whole = this.perimeter[loop]!;
		if (way > whole / 2) [way, turn] = [way - whole, turn - this.turn[loop]!];
		else if (way < -whole / 2) [way, turn] = [way + whole, turn + this.turn[loop]!];
		return Math.abs(way) - this.long[other]! / 2 <= sameWay * distance && Math.abs(turn) < sameTurn;
	}
}

/** Between two inside corners the front becomes shorter with every layer: so much of it is left. */
function limitSides(stacks: Stacks, { sides }: Chain, thickness: Float64Array): void {
	const { baseX, baseY, corner } = stacks;
	for (const side of sides) {
		const [head, tail] = [side[0]!, side.at(-1)!];
		const takes = [head, tail].reduce((sum, k) => sum + (corner[k]! > 0 ? tan(corner[k]! / 2) : 0), 0);
		if (!(takes > 0)) continue;
		let length = 0;
		for (let i = 1; i < side.length; i++) {
			const [a, b] = [side[i - 1]!, side[i]!];
			length += hypot(baseX[b]! - baseX[a]!, baseY[b]! - baseY[a]!);
		}
		const most = ((1 - leftOfSide) * length) / takes;
		for (const k of side) thickness[k] = Math.min(thickness[k]!, most);
	}
}

/** Along a chain thicknesses rise and fall by no more than {@link steepest}. */
export function soften(stacks: Stacks, { first, last, closed }: Chain, thickness: Float64Array, slope = steepest): void {
	const { baseX, baseY, before, after } = stacks;
	const steps = (last - first) * (closed ? 2 : 1) + (closed ? 1 : 0);
	for (const isForward of [true, false]) {
		let k = isForward ? first : last;
		for (let n = 0; n < steps; n++) {
			const to = isForward ? after[k]! : before[k]!;
			const away = hypot(baseX[to]! - baseX[k]!, baseY[to]! - baseY[k]!);
			thickness[to] = Math.min(thickness[to]!, thickness[k]! + slope * away);
			k = to;
		}
	}
}
