import FlatQueue from 'flatqueue';
import { atan2, cos, hypot, sin } from '../../numeric/elementary.ts';
import { addTo } from '../../numeric/lists.ts';
import type { Work } from '../../numeric/work.ts';
import { OFFSET } from '../triangles/constrained.ts';
import { next, previous } from '../triangles/triangulation.ts';
import { type Directions, type NoDirections, sectorAt, type Singular } from './directions.ts';
import type { Outline } from './outline.ts';

/** Where a line starts. */
export type Origin =
	| { kind: 'corner'; node: number; branch: number }
	| { kind: 'singular'; singular: number; branch: number }
	| { kind: 'seam'; edge: number; share: number };

/** Where a line ends: on an edge of the outline, at a place of another line, or it goes on as another line that came against it. */
export type LineEnd =
	| { kind: 'outline'; edge: number; share: number }
	| { kind: 'line'; line: number; at: number; fromLeft: boolean }
	| { kind: 'joined'; line: number };

/** A line along the directions, as points; segment i runs from point i to point i + 1, in a triangle. */
export interface Line {
	origin: Origin;
	x: number[];
	y: number[];
	triangles: number[];
	/** Length up to each point. */
	lengths: number[];
	end: LineEnd | undefined;
}

/** A step is at most this part of the size of its triangle. */
const perTriangle = 0.25;
/** A line longer than 30 diagonals of the region is taken to have no end. */
const longest = 30;
/** Directions whose cosine is above this run the same way. */
const alike = Math.SQRT1_2;
/** Two opposite lines join when their distance is below a number of sizes and below a share of the shorter line. */
const joins = [
	{ sizes: 0.75, share: 0.3 },
	{ sizes: 1.5, share: 0.1 }
];
/** The cosine below which two directions count as opposite. */
const against = -0.9;

/** Where a line is: in a triangle, at a place, with a unit direction, and the half-edge through which it came. */
interface Head {
	triangle: number;
	x: number;
	y: number;
	dx: number;
	dy: number;
	entry: number;
	/** How often in a row it went nowhere. */
	stuck: number;
}

/**
 * Follows the directions from all corners and singular nodes at once, each line until it meets another across (motorcycle graph:
 * D. Eppstein et al., Symposium on Geometry Processing 2008; A. Myles, N. Pietroni & D. Zorin, ACM Trans. Graph. 33 (2014)).
 * Lines that run against one another, side by side, become one.
 *
 * @param size of elements
 */
export function* linesAlong(outline: Outline, directions: Directions, size: number): Work<Line[] | NoDirections> {
	const tracer = new Tracer(outline, directions, size);
	tracer.startAll();
	yield* tracer.run();
	for (let seam = tracer.startSeam(); seam; seam = tracer.startSeam()) yield* tracer.run();
	return tracer.reason === undefined ? tracer.lines : { reason: tracer.reason };
}

class Tracer {
	readonly lines: Line[] = [];
	reason: string | undefined;
	private readonly heads: (Head | undefined)[] = [];
	private readonly waiting = new FlatQueue();
	/** Segments by the triangle that they lie in: line and segment, two numbers each. */
	private readonly inTriangle = new Map<number, number[]>();
	/** Segments by the cell of a grid, the same way. */
	private readonly inCell = new Map<number, number[]>();
	private readonly cell: number;
	/** Places of lines at which others end, by line. */
	private readonly tees = new Map<number, { at: number; line: number }[]>();
	private readonly outlineEdge: Map<number, number>;
	private readonly attached = new Set<number>();

	constructor(
		private readonly outline: Outline,
		private readonly directions: Directions,
		private readonly size: number
	) {
		this.cell = 1.5 * size;
		const { mesh } = directions;
		this.outlineEdge = new Map();
		for (let k = 0; k < outline.half.length; k++)
			this.outlineEdge.set(mesh.edgeBetween(k + OFFSET, outline.input.edges[2 * k + 1]! + OFFSET), k);
	}

	/** Starts lines at corners, as many as part its quadrants, and at singular nodes. */
	startAll(): void {
		const { outline, directions } = this;
		const { mesh, inside } = directions;
		for (let i = 0; i < outline.quadrants.length; i++) {
			const quadrants = outline.quadrants[i]!;
			if (quadrants < 2) continue;
			const { fan, angles, whole, start } = sectorAt(outline, i, mesh, inside);
			for (let branch = 1; branch < quadrants; branch++) {
				const turn = (branch * whole) / quadrants;
				let [k, sum] = [0, 0];
				while (k + 1 < fan.length && sum + angles[k]! < turn) sum += angles[k++]!;
				const [dx, dy] = [cos(start + turn), sin(start + turn)];
				this.begin(
					{ kind: 'corner', node: i, branch },
					{ triangle: (fan[k]! / 3) | 0, x: mesh.x[i + OFFSET]!, y: mesh.y[i + OFFSET]!, dx, dy }
				);
			}
		}
		directions.singular.forEach((singular, s) => {
			for (const [branch, angle] of anglesAround(directions, singular).entries()) {
				const { x, y, edge } = singular;
				const [dx, dy] = [cos(angle), sin(angle)];
				let [triangle, entry] = [singular.triangle, edge];
				if (edge >= 0) {
					// From an edge it goes into the triangle on its side.
					const { mesh } = directions;
					const [a, b] = [mesh.from[edge]!, mesh.from[next(edge)]!];
					const isLeft = (mesh.x[b]! - mesh.x[a]!) * dy - (mesh.y[b]! - mesh.y[a]!) * dx >= 0;
					if (!isLeft) entry = mesh.twin[edge]!;
					triangle = (entry / 3) | 0;
				}
				this.begin({ kind: 'singular', singular: s, branch }, { triangle, x, y, dx, dy }, entry);
			}
		});
	}

	/** Starts a line from an outline that no line reaches, where there are several outlines; false where there is none. */
	startSeam(): boolean {
		const { outline, directions } = this;
		if (this.reason !== undefined || outline.loops.length < 2) return false;
		for (const [l, first] of outline.loops.entries()) {
			if (this.attached.has(l)) continue;
			const last = outline.loops[l + 1] ?? outline.half.length;
			let [edge, length] = [first, 0];
			const { x, y, edges } = outline.input;
			for (let k = first; k < last; k++) {
				const end = edges[2 * k + 1]!;
				const here = hypot(x[end]! - x[k]!, y[end]! - y[k]!);
				if (here > 1.001 * length) [edge, length] = [k, here];
			}
			const end = edges[2 * edge + 1]!;
			const e = directions.mesh.edgeBetween(edge + OFFSET, end + OFFSET);
			const [ux, uy] = [(x[end]! - x[edge]!) / length, (y[end]! - y[edge]!) / length];
			this.begin(
				{ kind: 'seam', edge, share: 0.5 },
				{ triangle: (e / 3) | 0, x: (x[edge]! + x[end]!) / 2, y: (y[edge]! + y[end]!) / 2, dx: -uy, dy: ux },
				e
			);
			return true;
		}
		return false;
	}

	private loopOf(node: number): number {
		const { loops } = this.outline;
		let l = loops.length - 1;
		while (loops[l]! > node) l--;
		return l;
	}

	private begin(origin: Origin, head: Omit<Head, 'entry' | 'stuck'>, entry = -1): void {
		if (origin.kind !== 'singular') this.attached.add(this.loopOf(origin.kind === 'corner' ? origin.node : origin.edge));
		const id = this.lines.length;
		this.lines.push({ origin, x: [head.x], y: [head.y], triangles: [], lengths: [0], end: undefined });
		this.heads.push({ ...head, entry, stuck: 0 });
		this.waiting.push(id, 0);
	}

	*run(): Work<void> {
		let count = 0;
		for (let id = this.waiting.pop(); id !== undefined; id = this.waiting.pop()) {
			if ((++count & 0xff) === 0) yield 0.5;
			if (this.reason !== undefined) return;
			if (this.lines[id]!.end) continue;
			this.step(id);
			if (!this.lines[id]!.end) this.waiting.push(id, this.lines[id]!.lengths.at(-1)!);
		}
	}

	/** The direction of the field at a place of a triangle that is nearest to a given one. */
	private directionAt(t: number, px: number, py: number, dx: number, dy: number): [number, number] {
		const { mesh, u, v } = this.directions;
		const { x, y, from } = mesh;
		const [a, b, c] = [from[3 * t]!, from[3 * t + 1]!, from[3 * t + 2]!];
		const cross = (i: number, j: number) => (x[i]! - px) * (y[j]! - py) - (x[j]! - px) * (y[i]! - py);
		let [wa, wb, wc] = [cross(b, c), cross(c, a), cross(a, b)];
		const sum = wa + wb + wc;
		[wa, wb, wc] = [wa / sum, wb / sum, wc / sum];
		const re = wa * u[3 * t]! + wb * u[3 * t + 1]! + wc * u[3 * t + 2]!;
		const im = wa * v[3 * t]! + wb * v[3 * t + 1]! + wc * v[3 * t + 2]!;
		const angle = atan2(im, re) / 4;
		const [ex, ey] = [cos(angle), sin(angle)];
		const along = ex * dx + ey * dy;
		const across = ex * dy - ey * dx;
		if (Math.abs(along) >= Math.abs(across)) return along >= 0 ? [ex, ey] : [-ex, -ey];
		return across >= 0 ? [-ey, ex] : [ey, -ex];
	}

	/** Takes a line on by a step within its triangle, to the next triangle, or to its end. */
	private step(id: number): void {
		const line = this.lines[id]!;
		const head = this.heads[id]!;
		const { mesh, inside } = this.directions;
		const { x, y, from, twin } = mesh;
		const t = head.triangle;
		const [a, b, c] = [from[3 * t]!, from[3 * t + 1]!, from[3 * t + 2]!];
		const area = (x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!);
		const reach = Math.max(perTriangle * Math.sqrt(Math.max(area, 0)), 1e-9 * this.outline.diagonal);
		// Midpoint rule.
		let [dx, dy] = this.directionAt(t, head.x, head.y, head.dx, head.dy);
		const isFirst = line.triangles.length === 0;
		if (isFirst) [dx, dy] = [head.dx, head.dy];
		else [dx, dy] = this.directionAt(t, head.x + (dx * reach) / 2, head.y + (dy * reach) / 2, dx, dy);
		let [exit, share] = exitOf(mesh, t, head.x, head.y, dx, dy, reach, head.entry);
		if (exit === head.entry && exit >= 0 && share * reach < 1e-9 * this.outline.diagonal) {
			// It came through this edge and would go straight back: it runs along it.
			const [p, q] = [from[exit]!, from[next(exit)]!];
			const length = hypot(x[q]! - x[p]!, y[q]! - y[p]!);
			const sign = (x[q]! - x[p]!) * dx + (y[q]! - y[p]!) * dy >= 0 ? 1 : -1;
			[dx, dy] = [(sign * (x[q]! - x[p]!)) / length, (sign * (y[q]! - y[p]!)) / length];
			// A little into the triangle, so that it leaves it by another edge.
			[dx, dy] = [dx - (0.02 * (y[q]! - y[p]!)) / length, dy + (0.02 * (x[q]! - x[p]!)) / length];
			[exit, share] = exitOf(mesh, t, head.x, head.y, dx, dy, reach, exit);
		}
		const [qx, qy] = [head.x + dx * share * reach, head.y + dy * share * reach];
		if (share * reach < 1e-12 * this.outline.diagonal) {
			if (++head.stuck > 20) this.reason = 'a line of blocks comes to a halt';
		} else head.stuck = 0;
		const hit = this.firstHit(id, t, head.x, head.y, qx, qy);
		if (hit) {
			const other = this.lines[hit.line]!;
			const ox = other.x[hit.segment + 1]! - other.x[hit.segment]!;
			const oy = other.y[hit.segment + 1]! - other.y[hit.segment]!;
			const cosine = (ox * dx + oy * dy) / (hypot(ox, oy) || 1);
			if (Math.abs(cosine) < alike) {
				this.extend(id, t, hit.x, hit.y);
				const at = hit.segment + hit.share;
				line.end = { kind: 'line', line: hit.line, at, fromLeft: ox * dy - oy * dx < 0 };
				addTo(this.tees, hit.line, { at, line: id });
				return;
			}
			if (cosine < 0 && hit.line !== id && this.mayJoin(hit.line, hit.segment + hit.share)) {
				this.extend(id, t, hit.x, hit.y);
				this.cutBack(hit.line, hit.segment, hit.share);
				line.end = { kind: 'joined', line: hit.line };
				other.end = { kind: 'joined', line: id };
				return;
			}
			this.reason = 'two lines of blocks run together';
			return;
		}
		this.extend(id, t, qx, qy);
		[head.x, head.y, head.dx, head.dy] = [qx, qy, dx, dy];
		if (exit < 0) head.entry = -1;
		else {
			const k = this.outlineEdge.get(exit);
			const f = twin[exit]!;
			if (k !== undefined || f < 0 || !inside[(f / 3) | 0]) {
				const [p, q] = [from[exit]!, from[next(exit)]!];
				const length = hypot(x[q]! - x[p]!, y[q]! - y[p]!);
				const cosine = ((x[q]! - x[p]!) * dx + (y[q]! - y[p]!) * dy) / length;
				if (k === undefined) {
					this.reason = 'a line of blocks leaves the region';
					return;
				}
				if (Math.abs(cosine) < alike) {
					line.end = { kind: 'outline', edge: k, share: hypot(qx - x[p]!, qy - y[p]!) / length };
					this.attached.add(this.loopOf(k));
					return;
				}
				// It runs along the wall, and drifts: it is kept a little off it.
				const third = from[previous(exit)]!;
				const off = 0.03;
				[head.x, head.y] = [qx + off * (x[third]! - qx), qy + off * (y[third]! - qy)];
				const sign = Math.sign(cosine);
				[head.dx, head.dy] = [(sign * (x[q]! - x[p]!)) / length, (sign * (y[q]! - y[p]!)) / length];
				head.entry = -1;
				this.extend(id, t, head.x, head.y);
			} else {
				head.triangle = (f / 3) | 0;
				head.entry = f;
			}
		}
		if (line.lengths.at(-1)! > longest * this.outline.diagonal) this.reason = 'a line of blocks runs around without an end';
		this.tryJoin(id);
	}

	private extend(id: number, triangle: number, px: number, py: number): void {
		const line = this.lines[id]!;
		const segment = line.triangles.length;
		const [ax, ay] = [line.x.at(-1)!, line.y.at(-1)!];
		const length = hypot(px - ax, py - ay);
		line.x.push(px);
		line.y.push(py);
		line.triangles.push(triangle);
		line.lengths.push(line.lengths.at(-1)! + length);
		addTo(this.inTriangle, triangle, id);
		this.inTriangle.get(triangle)!.push(segment);
		const cells = Math.max(1, Math.ceil(length / this.cell));
		for (let k = 0; k < cells; k++) {
			const f = (k + 0.5) / cells;
			const key = this.keyOf(ax + f * (px - ax), ay + f * (py - ay));
			addTo(this.inCell, key, id);
			this.inCell.get(key)!.push(segment);
		}
	}

	private keyOf(px: number, py: number, di = 0, dj = 0): number {
		return (Math.floor(px / this.cell) + di) * 4_194_304 + Math.floor(py / this.cell) + dj;
	}

	/** The first segment of any line that a step crosses in a triangle. */
	private firstHit(
		id: number,
		t: number,
		px: number,
		py: number,
		qx: number,
		qy: number
	): { line: number; segment: number; share: number; x: number; y: number } | undefined {
		const list = this.inTriangle.get(t);
		if (!list) return undefined;
		let best: { line: number; segment: number; share: number; x: number; y: number } | undefined;
		let first = 1 + 1e-12;
		const [dx, dy] = [qx - px, qy - py];
		const length = hypot(dx, dy);
		if (length === 0) return undefined;
		for (let k = 0; k < list.length; k += 2) {
			const [m, segment] = [list[k]!, list[k + 1]!];
			const other = this.lines[m]!;
			if (segment >= other.triangles.length) continue;
			if (m === id && segment >= other.triangles.length - 2) continue;
			const [ax, ay] = [other.x[segment]!, other.y[segment]!];
			const [ex, ey] = [other.x[segment + 1]! - ax, other.y[segment + 1]! - ay];
			const cross = dx * ey - dy * ex;
			if (cross === 0) continue;
			const s = ((ax - px) * ey - (ay - py) * ex) / cross;
			const r = ((ax - px) * dy - (ay - py) * dx) / cross;
			if (s * length < 1e-10 * this.outline.diagonal || s >= first || r < -1e-9 || r > 1 + 1e-9) continue;
			first = s;
			best = { line: m, segment, share: Math.min(1, Math.max(0, r)), x: px + s * dx, y: py + s * dy };
		}
		return best;
	}

	/** Whether nothing ends on a line beyond a place, so that what lies beyond may go. */
	private mayJoin(line: number, at: number): boolean {
		return this.lines[line]!.end?.kind !== 'joined' && (this.tees.get(line) ?? []).every((tee) => tee.at < at);
	}

	/** Takes away what lies of a line beyond a place. */
	private cutBack(id: number, segment: number, share: number): void {
		const line = this.lines[id]!;
		const { end } = line;
		if (end?.kind === 'line')
			this.tees.set(
				end.line,
				this.tees.get(end.line)!.filter((tee) => tee.line !== id)
			);
		const [ax, ay] = [line.x[segment]!, line.y[segment]!];
		const [px, py] = [ax + share * (line.x[segment + 1]! - ax), ay + share * (line.y[segment + 1]! - ay)];
		// Places within the segment that is cut are shares of what is left of it.
		for (const tee of this.tees.get(id) ?? []) {
			if (Math.floor(tee.at) !== segment || share === 0) continue;
			tee.at = segment + (tee.at - segment) / share;
			const from = this.lines[tee.line]!.end;
			if (from?.kind === 'line') from.at = tee.at;
		}
		line.x.length = line.y.length = line.lengths.length = segment + 2;
		line.triangles.length = segment + 1;
		[line.x[segment + 1], line.y[segment + 1]] = [px, py];
		line.lengths[segment + 1] = line.lengths[segment]! + hypot(px - ax, py - ay);
	}

	/** Makes a line one with another that runs against it beside its head, where both may give up what is beyond. */
	private tryJoin(id: number): void {
		const line = this.lines[id]!;
		if (line.end || this.reason !== undefined) return;
		const head = this.heads[id]!;
		const own = line.lengths.at(-1)!;
		let best: { line: number; segment: number; share: number; away: number } | undefined;
		for (let di = -1; di <= 1; di++)
			for (let dj = -1; dj <= 1; dj++) {
				const list = this.inCell.get(this.keyOf(head.x, head.y, di, dj));
				for (let k = 0; list && k < list.length; k += 2) {
					const [m, segment] = [list[k]!, list[k + 1]!];
					if (m === id) continue;
					const other = this.lines[m]!;
					if (segment >= other.triangles.length) continue;
					const [ax, ay] = [other.x[segment]!, other.y[segment]!];
					const [ex, ey] = [other.x[segment + 1]! - ax, other.y[segment + 1]! - ay];
					const length = hypot(ex, ey);
					if (length === 0 || (ex * head.dx + ey * head.dy) / length > against) continue;
					const share = ((head.x - ax) * ex + (head.y - ay) * ey) / (length * length);
					if (share < 0 || share > 1) continue;
					const away = hypot(head.x - ax - share * ex, head.y - ay - share * ey);
					const shorter = Math.min(own, other.lengths[segment]! + share * length);
					if (!joins.some((j) => away < j.sizes * this.size && away < j.share * shorter)) continue;
					if (best && best.away <= away) continue;
					if (this.mayJoin(m, segment + share)) best = { line: m, segment, share, away };
				}
			}
		if (!best) return;
		const other = this.lines[best.line]!;
		const [ax, ay] = [other.x[best.segment]!, other.y[best.segment]!];
		const [px, py] = [ax + best.share * (other.x[best.segment + 1]! - ax), ay + best.share * (other.y[best.segment + 1]! - ay)];
		const link = this.straightTo(id, best.line, px, py, other.triangles[best.segment]!);
		if (!link) return;
		this.cutBack(best.line, best.segment, best.share);
		for (const { triangle, x, y } of link) this.extend(id, triangle, x, y);
		line.end = { kind: 'joined', line: best.line };
		other.end = { kind: 'joined', line: id };
	}

	/** The way straight from the head of a line to a place, triangle by triangle; undefined where the region or a line is between. */
	private straightTo(
		id: number,
		target: number,
		px: number,
		py: number,
		last: number
	): { triangle: number; x: number; y: number }[] | undefined {
		const { mesh, inside } = this.directions;
		const head = this.heads[id]!;
		const way: { triangle: number; x: number; y: number }[] = [];
		let [t, entry, ax, ay] = [head.triangle, head.entry, head.x, head.y];
		for (let k = 0; k < 200; k++) {
			const [dx, dy] = [px - ax, py - ay];
			const length = hypot(dx, dy);
			if (length < 1e-10 * this.outline.diagonal) return way.length > 0 ? way : [{ triangle: t, x: px, y: py }];
			const [exit, share] = t === last ? ([-1, 1] as const) : exitOf(mesh, t, ax, ay, dx / length, dy / length, length, entry);
			const [qx, qy] = exit < 0 ? [px, py] : [ax + dx * share, ay + dy * share];
			const hit = this.firstHit(id, t, ax, ay, qx, qy);
			if (hit && hit.line !== target) return undefined;
			way.push({ triangle: t, x: qx, y: qy });
			if (exit < 0) return way;
			const f = mesh.twin[exit]!;
			if (this.outlineEdge.has(exit) || f < 0 || !inside[(f / 3) | 0]) return undefined;
			[t, entry, ax, ay] = [(f / 3) | 0, f, qx, qy];
		}
		return undefined;
	}
}

/** Through which half-edge a way leaves a triangle within a reach, −1 where through none, and the share of the reach up to there. */
function exitOf(
	{ x, y, from }: Directions['mesh'],
	t: number,
	px: number,
	py: number,
	dx: number,
	dy: number,
	reach: number,
	entry: number
): [exit: number, share: number] {
	let [exit, share] = [-1, 1];
	for (let e = 3 * t; e < 3 * t + 3; e++) {
		const [a, b] = [from[e]!, from[next(e)]!];
		const [ex, ey] = [x[b]! - x[a]!, y[b]! - y[a]!];
		// How fast it goes outward, and how far it still is from the edge.
		const outward = dx * ey - dy * ex;
		if (outward <= 0) continue;
		const left = ex * (py - y[a]!) - ey * (px - x[a]!);
		const f = Math.max(0, left) / (outward * reach);
		// The edge through which it came counts only where it turns back.
		if (f < share || (f === share && exit < 0 && e !== entry)) [exit, share] = [e, f];
	}
	return [exit, share];
}

/** The directions in which lines leave a singular node, evenly spread: as the field around it has them on the mean. */
function anglesAround({ mesh, u, v }: Directions, { triangle, edge, x: sx, y: sy, turn }: Singular): number[] {
	const { x, y, from, twin } = mesh;
	const linear = (t: number): ((px: number, py: number) => number) => {
		const [a, b, c] = [from[3 * t]!, from[3 * t + 1]!, from[3 * t + 2]!];
		const [bx, by, cx, cy] = [x[b]! - x[a]!, y[b]! - y[a]!, x[c]! - x[a]!, y[c]! - y[a]!];
		const area = bx * cy - cx * by;
		const gradient = (w: Float64Array): [number, number] => {
			const [p, q] = [w[3 * t + 1]! - w[3 * t]!, w[3 * t + 2]! - w[3 * t]!];
			return [(p * cy - q * by) / area, (q * bx - p * cx) / area];
		};
		const [[ux, uy], [vx, vy]] = [gradient(u), gradient(v)];
		// Inside a triangle around the zero itself, on an edge around the place on it.
		if (edge < 0) return (px, py) => atan2(vx * px + vy * py, ux * px + uy * py);
		const [u0, v0] = [u[3 * t]! + ux * (sx - x[a]!) + uy * (sy - y[a]!), v[3 * t]! + vx * (sx - x[a]!) + vy * (sy - y[a]!)];
		return (px, py) => atan2(v0 + vx * px + vy * py, u0 + ux * px + uy * py);
	};
	const left = linear(triangle);
	const right = edge < 0 ? left : linear((twin[edge]! / 3) | 0);
	const [ex, ey] = edge < 0 ? [1, 0] : [x[from[next(edge)]!]! - x[from[edge]!]!, y[from[next(edge)]!]! - y[from[edge]!]!];
	const radius = edge < 0 ? 1 : 0.3 * hypot(ex, ey);
	let [re, im] = [0, 0];
	const samples = 64;
	for (let k = 0; k < samples; k++) {
		const psi = (2 * Math.PI * (k + 0.5)) / samples;
		const [px, py] = [cos(psi), sin(psi)];
		const isLeft = ex * py - ey * px >= 0;
		const angle = (isLeft ? left : right)(radius * px, radius * py) - turn * psi;
		re += cos(angle);
		im += sin(angle);
	}
	const phase = atan2(im, re);
	const count = 4 - turn;
	return Array.from({ length: count }, (_, j) => (phase + 2 * Math.PI * j) / count);
}
