import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { atan2, cos, hypot, sin } from '../../numeric/elementary.ts';
import { boxOf } from '../../numeric/box.ts';
import { part, type Work } from '../../numeric/work.ts';
import type { FillInput } from '../method.ts';
import { chunkSize, type Core, type Frame, type LatticeWindow, Lattice, layCore, leastNodes, rowHeight } from './lattice-core.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';

/** The lattice keeps this far from given edges and nodes, in sizes: room for what comes between. */
const usualGap = 1.3;
/** The same where triangles are to be as even as the outline allows. */
const evenGap = 0.8;
/** Even triangles wait for sizes to grow from a finer boundary no longer than this slope takes. */
const evenSlope = 1;
/** A box with room for more lattice nodes than this gets no core. */
const mostPlaces = 3e7;

/**
 * Finds the places for equilateral lattices: one of the region's own size, away from finer
 * boundaries by as much as sizes take to grow, and where no zone asks for less; and one in every
 * zone that has a size of its own. They run along the direction that most of the boundary has, from
 * one of its nodes.
 *
 * @param sizes size at each given node
 * @returns the cores as one, undefined where there is no room for any
 */
export function* findCores(input: FillInput, rule: SizeRule, sizes: Float64Array): Work<Core | undefined> {
	if (input.edges.length === 0) return undefined;
	const frame = frameOf(input);
	yield 0;
	const whole = boxOf(input.x, input.y);
	const plateaus = [...(rule.plateaus ?? []).filter((p) => p.size < rule.size), { size: rule.size, box: whole }];
	// From the finest to the coarsest; the rims of the finer ones are edges for the coarser.
	plateaus.sort((a, b) => a.size - b.size);
	const obstacles = { x: Array.from(input.x), y: Array.from(input.y), edges: Array.from(input.edges), sizes: Array.from(sizes) };
	let finest = Infinity;
	for (const size of sizes) finest = Math.min(finest, size);
	const cores: Core[] = [];
	for (const [k, { size }] of plateaus.entries()) {
		if (!Number.isFinite(size) || plateaus[k - 1]?.size === size) continue;
		// A finer boundary outside of a zone is felt in it as far as sizes take to grow.
		const margin = rule.even ? 0 : Math.max(0, size - finest) / (rule.growth - 1);
		const boxesHere = plateaus.filter((p) => p.size === size).map((p) => within(p.box, margin, whole));
		const boxes = apart(boxesHere);
		for (const box of boxes) {
			const core = yield* part(
				findCore(input, obstacles, rule, frame, size, box),
				k / plateaus.length,
				(k + 1) / plateaus.length
			);
			if (!core) continue;
			cores.push(core);
			// What keeps away from it is still to come.
			if (k + 1 === plateaus.length && box === boxes.at(-1)) continue;
			const first = obstacles.x.length;
			for (let r = 0; r < core.rimX.length; r++) {
				obstacles.x.push(core.rimX[r]!);
				obstacles.y.push(core.rimY[r]!);
				obstacles.sizes.push(size);
			}
			for (const e of core.edges) obstacles.edges.push(first + e);
		}
	}
	return cores.length === 0 ? undefined : cores.length === 1 ? cores[0] : joined(cores);
}

/** A box with a margin around it, as far as it lies in a whole. */
const within = ([x0, y0, x1, y1]: Box, margin: number, whole: Box): Box => [
	Math.max(whole[0], x0 - margin),
	Math.max(whole[1], y0 - margin),
	Math.min(whole[2], x1 + margin),
	Math.min(whole[3], y1 + margin)
];

/** Boxes that do not overlap, around all that are not empty: those that do are one. */
function apart(boxes: readonly Box[]): Box[] {
	let left = boxes.filter((box) => box[0] <= box[2] && box[1] <= box[3]);
	for (let before = Infinity; left.length < before;) {
		before = left.length;
		left.sort((a, b) => a[0] - b[0]);
		const open: Box[] = [];
		const closed: Box[] = [];
		for (const box of left) {
			let rest = box;
			for (let k = open.length - 1; k >= 0; k--) {
				const other = open[k]!;
				if (other[2] < rest[0]) closed.push(other);
				else if (other[1] <= rest[3] && rest[1] <= other[3])
					rest = [
						Math.min(rest[0], other[0]),
						Math.min(rest[1], other[1]),
						Math.max(rest[2], other[2]),
						Math.max(rest[3], other[3])
					];
				else continue;
				open[k] = open.at(-1)!;
				open.pop();
			}
			open.push(rest);
		}
		left = [...closed, ...open];
	}
	return left;
}

/** Several cores in one numbering: their rims, their layers, their insides. */
function joined(cores: readonly Core[]): Core {
	const rimCount = cores.reduce((sum, c) => sum + c.rimCount, 0);
	const outer = cores.reduce((sum, c) => sum + c.rimX.length, 0);
	const inner = cores.reduce((sum, c) => sum + c.innerX.length, 0);
	const out: Core = {
		rimX: new Float64Array(outer),
		rimY: new Float64Array(outer),
		rimSizes: new Float64Array(outer),
		rimCount,
		edges: new Uint32Array(cores.reduce((sum, c) => sum + c.edges.length, 0)),
		innerX: new Float64Array(inner),
		innerY: new Float64Array(inner),
		triangles: new Uint32Array(cores.reduce((sum, c) => sum + c.triangles.length, 0))
	};
	let [rim, layer, inside, edge, corner] = [0, rimCount, 0, 0, 0];
	for (const core of cores) {
		const coreCount = core.rimX.length;
		const number = (p: number) =>
			p < core.rimCount ? rim + p : p < coreCount ? layer + p - core.rimCount : outer + inside + p - coreCount;
		for (let p = 0; p < coreCount; p++) {
			out.rimX[number(p)] = core.rimX[p]!;
			out.rimY[number(p)] = core.rimY[p]!;
			out.rimSizes[number(p)] = core.rimSizes[p]!;
		}
		out.innerX.set(core.innerX, inside);
		out.innerY.set(core.innerY, inside);
		for (const p of core.edges) out.edges[edge++] = number(p);
		for (const p of core.triangles) out.triangles[corner++] = number(p);
		rim += core.rimCount;
		layer += coreCount - core.rimCount;
		inside += core.innerX.length;
	}
	return out;
}

type Box = readonly [number, number, number, number];
/** Given nodes and edges, and the rims of finer cores, which a core keeps away from. */
interface Obstacles {
	x: ArrayLike<number>;
	y: ArrayLike<number>;
	edges: ArrayLike<number>;
	sizes: ArrayLike<number>;
}

/** The core of one size within a box. */
function* findCore(
	input: FillInput,
	obstacles: Obstacles,
	rule: SizeRule,
	frame: Frame,
	h: number,
	box: Box
): Work<Core | undefined> {
	const lattice = new Lattice(frame, h, box);
	const { width, height } = lattice.grid;
	if (!(width * height > leastNodes && width * height < mostPlaces)) return undefined;
	const isFree = yield* part(freePlaces(lattice, input, obstacles, rule, h), 0, 0.35);
	if (!isFree) return undefined;
	return yield* part(layCore(lattice, isFree, h), 0.35, 1);
}

/** Places that are inside, with room, and where the zones ask for this very size; undefined where they are too few. */
function* freePlaces(
	lattice: Lattice,
	input: FillInput,
	obstacles: Obstacles,
	rule: SizeRule,
	h: number
): Work<Uint8Array | undefined> {
	const { grid } = lattice;
	const u = new Float64Array(obstacles.x.length);
	const v = new Float64Array(obstacles.x.length);
	for (let k = 0; k < u.length; k++) {
		u[k] = lattice.across(obstacles.x[k]!, obstacles.y[k]!);
		v[k] = lattice.up(obstacles.x[k]!, obstacles.y[k]!);
	}
	const slope = rule.even ? evenSlope : rule.growth - 1;
	const leastGap = rule.even ? evenGap : usualGap;
	const allowed = new AllowedSizes(grid, h, slope, leastGap);
	yield* part(allowed.grow(u, v, obstacles), 0, 0.4);
	const isFree = new Uint8Array(grid.width * grid.height);
	const runs = runsInside(grid, u, v, input.edges);
	yield 0.4;
	let free = 0;
	for (let r = 0, visited = 0; r < runs.length; r += 3) {
		free += freeInRun(lattice, allowed, rule, h, isFree, runs[r]!, runs[r + 1]!, runs[r + 2]!);
		visited += runs[r + 2]! - runs[r + 1]!;
		if (visited < chunkSize) continue;
		visited = 0;
		yield 0.4 + (0.6 * r) / runs.length;
	}
	return free < leastNodes ? undefined : isFree;
}

/** Marks the free places of a row, from one to another; returns how many there are. */
function freeInRun(
	lattice: Lattice,
	{ size, isNear }: AllowedSizes,
	{ size: whole, field }: SizeRule,
	h: number,
	isFree: Uint8Array,
	j: number,
	from: number,
	to: number
): number {
	const { i0, j0, width } = lattice.grid;
	const isSet = h === whole;
	let free = 0;
	for (let i = from, k = (j - j0) * width + i - i0; i < to; i++, k++) {
		if (isNear[k] || size[k]! < h) continue;
		if (field) {
			const asked = field.at(lattice.xOf(i, j), lattice.yOf(i, j));
			if (asked < h || (!isSet && asked > h)) continue;
		}
		isFree[k] = 1;
		free++;
	}
	return free;
}

/** The direction, modulo 60°, that most of the boundary has, and a node on it. */
function frameOf({ x, y, edges }: FillInput): Frame {
	const bins = 120;
	const sixth = Math.PI / 3;
	const count = edges.length / 2;
	const lengths = new Float64Array(count);
	const angles = new Float64Array(count);
	const binOf = new Uint8Array(count);
	const whole = new Float64Array(bins);
	for (let k = 0; k < count; k++) {
		const dx = x[edges[2 * k + 1]!]! - x[edges[2 * k]!]!;
		const dy = y[edges[2 * k + 1]!]! - y[edges[2 * k]!]!;
		const turns = atan2(dy, dx) / sixth;
		const angle = turns - Math.floor(turns);
		lengths[k] = hypot(dx, dy);
		angles[k] = angle * sixth;
		// Directions just below 0 belong to those just above it.
		binOf[k] = Math.round(angle * bins) % bins;
		whole[binOf[k]!]! += lengths[k]!;
	}
	let best = 0;
	for (let b = 1; b < bins; b++) if (whole[b]! > whole[best]! * (1 + 1e-9)) best = b;
	let [first, longest] = [0, 0];
	for (let k = 0; k < count; k++)
		if (binOf[k] === best && lengths[k]! > longest * (1 + 1e-9)) [first, longest] = [k, lengths[k]!];
	const angle = angles[first]!;
	return { c: cos(angle), s: sin(angle), ax: x[edges[2 * first]!]!, ay: y[edges[2 * first]!]! };
}

/**
 * The size that the boundary allows at every lattice node: that of the nearest edges, grown by the
 * slope over the way along lattice lines, never more than it would be straight; and 1 for the nodes
 * that are too near to an edge.
 */
class AllowedSizes {
	readonly size: Float32Array;
	readonly isNear: Uint8Array;
	private least = Infinity;

	constructor(
		private readonly grid: LatticeWindow,
		private readonly h: number,
		private readonly slope: number,
		private readonly leastGap: number
	) {
		this.size = new Float32Array(grid.width * grid.height).fill(Infinity);
		this.isNear = new Uint8Array(this.size.length);
	}

	/** @param u, v where the obstacles lie in the lattice */
	*grow(u: Float64Array, v: Float64Array, { edges, sizes }: Obstacles): Work<void> {
		const isEnd = new Uint8Array(u.length);
		for (let k = 0, marked = 0; k < edges.length; k += 2) {
			const a = edges[k]!;
			const b = edges[k + 1]!;
			isEnd[a] = isEnd[b] = 1;
			marked += this.markEdge(u[a]!, v[a]!, u[b]!, v[b]!, Math.min(sizes[a]!, sizes[b]!));
			if (40 * marked < chunkSize) continue;
			marked = 0;
			yield (0.3 * k) / edges.length;
		}
		for (let k = 0; k < u.length; k++) if (!isEnd[k]) this.mark(u[k]!, v[k]!, sizes[k]!);
		if (this.least >= this.h) return;
		yield 0.3;
		// Twice there and back: what one sweep leaves too long is far less than the detour allows for.
		for (let sweep = 0; sweep < 2; sweep++) {
			this.forward();
			yield 0.5 + 0.3 * sweep;
			this.backward();
			yield 0.65 + 0.3 * sweep;
		}
	}

	/** Everything within the gap around a place is too near to it, and grows its sizes from there. */
	private mark(pu: number, pv: number, sizeHere: number): void {
		const { size, isNear, leastGap } = this;
		const { i0, j0, width, height } = this.grid;
		const rise = this.slope * this.h;
		this.least = Math.min(this.least, sizeHere);
		const lastRow = Math.min(j0 + height - 1, Math.floor((pv + leastGap) / rowHeight));
		for (let j = Math.max(j0, Math.ceil((pv - leastGap) / rowHeight)); j <= lastRow; j++) {
			const dv = j * rowHeight - pv;
			const half = Math.sqrt(Math.max(0, leastGap * leastGap - dv * dv));
			const centre = pu - (j & 1) / 2;
			const last = Math.min(i0 + width - 1, Math.floor(centre + half));
			for (let i = Math.max(i0, Math.ceil(centre - half)); i <= last; i++) {
				const k = (j - j0) * width + i - i0;
				const du = i - centre;
				isNear[k] = 1;
				size[k] = Math.min(size[k]!, sizeHere + rise * Math.sqrt(du * du + dv * dv));
			}
		}
	}

	/** Marks along an edge; returns from how many places. */
	private markEdge(au: number, av: number, bu: number, bv: number, size: number): number {
		const { leastGap } = this;
		const { i0, j0, width, height } = this.grid;
		const du = bu - au;
		const dv = bv - av;
		// The part of the edge that is near the grid.
		const across = shareWithin(au, du, i0 - leastGap, i0 + width + leastGap);
		const up = shareWithin(av, dv, j0 * rowHeight - leastGap, (j0 + height) * rowHeight + leastGap);
		const from = Math.max(0, across.from, up.from);
		const to = Math.min(1, across.to, up.to);
		if (!(from <= to)) return 0;
		const parts = Math.ceil(2 * (to - from) * hypot(du, dv)) || 1;
		for (let p = 0; p <= parts; p++) {
			const t = from + (p / parts) * (to - from);
			this.mark(au + t * du, av + t * dv, size);
		}
		return parts + 1;
	}

	private forward(): void {
		const { width, height } = this.grid;
		for (let j = 1; j < height; j++)
			for (let i = 1, k = j * width + 1; i + 1 < width; i++, k++) {
				const below = k - width + (j & 1);
				this.relax(k, k - 1, below, below - 1);
			}
	}

	private backward(): void {
		const { width, height } = this.grid;
		for (let j = height - 2; j >= 0; j--)
			for (let i = width - 2, k = j * width + i; i > 0; i--, k--) {
				const above = k + width + (j & 1);
				this.relax(k, k + 1, above, above - 1);
			}
	}

	/** What a place gets from three beside it. */
	private relax(k: number, a: number, b: number, c: number): void {
		const { size } = this;
		let least = size[a]!;
		if (size[b]! < least) least = size[b]!;
		if (size[c]! < least) least = size[c]!;
		const grown = least + this.slope * this.h * rowHeight;
		if (grown < size[k]!) size[k] = grown;
	}
}

/** The shares of a way, from its start on, where a coordinate lies between two. */
function shareWithin(start: number, step: number, least: number, most: number): { from: number; to: number } {
	if (step === 0) return { from: start < least || start > most ? 2 : 0, to: 1 };
	const s = (least - start) / step;
	const t = (most - start) / step;
	return { from: Math.min(s, t), to: Math.max(s, t) };
}

/** The lattice nodes inside the region, row by row, between the crossings of the boundary: a row, its first node, the one after its last. */
function runsInside({ i0, j0, width, height }: LatticeWindow, u: Float64Array, v: Float64Array, edges: Uint32Array): number[] {
	const crossings: number[][] = Array.from({ length: height }, () => []);
	for (let k = 0; k < edges.length; k += 2) {
		let [a, b] = [edges[k]!, edges[k + 1]!];
		if (v[a]! > v[b]!) [a, b] = [b, a];
		// Rows in [v(a), v(b)): every crossing of a row at a node counts once.
		const first = Math.max(j0, Math.ceil(v[a]! / rowHeight));
		for (let j = first; j < j0 + height && j * rowHeight < v[b]!; j++)
			crossings[j - j0]!.push(u[a]! + ((j * rowHeight - v[a]!) / (v[b]! - v[a]!)) * (u[b]! - u[a]!));
	}
	const runs: number[] = [];
	crossings.forEach((list, row) => {
		list.sort((p, q) => p - q);
		const j = row + j0;
		const shift = (j & 1) / 2;
		for (let p = 0; p + 1 < list.length; p += 2) {
			const first = Math.max(i0, Math.ceil(list[p]! - shift));
			const end = Math.ceil(Math.min(list[p + 1]!, i0 + width) - shift);
			if (end > first) runs.push(j, first, end);
		}
	});
	return runs;
}

keepHiddenClass(new AllowedSizes({ i0: 0, j0: 0, width: 1, height: 1 }, 0.5, 0.5, 0.5));
