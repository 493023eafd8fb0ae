import Flatbush from 'flatbush';
import { hypot } from '../numeric/elementary.ts';
import type { Arrangement } from '../shape/arrangement.ts';
import { LINE, segmentCount, segmentCurvature, STRIDE, ARC } from '../shape/curve.ts';
import { flatten, partPoint } from '../shape/parts.ts';
import type { SizeField } from './size-field.ts';

/** Wanted size along one piece, at evenly spaced places from its start to its end. */
export type SizesAlong = Float64Array;

/** What the sizes along pieces follow from. */
export interface PieceSizes {
	arrangement: Arrangement;
	field: SizeField;
	/** Size by region at each piece, the smaller side; Infinity where no filled region lies beside it. */
	base: readonly number[];
	/** For pieces whose nodes are given, the size of their cells at places along them; undefined for the others. */
	given: readonly (SizesAlong | undefined)[];
	/** Whether the region to the left (2 p) or right (2 p + 1) of a piece is meshed. */
	isFilled: (side: number) => boolean;
}

/**
 * The wanted sizes along every piece: the smallest of the region's size, the zones, the curvature
 * and the gaps, limited so that they grow by no more than the slope along the outline, also across
 * junctions, away from pieces whose nodes are given.
 */
export function sizesAlongPieces({ arrangement, field, base, given, isFilled }: PieceSizes): SizesAlong[] {
	const { pieces } = arrangement;
	// Phase 1: what every place asks for by itself.
	const gaps = field.acrossGap === undefined ? undefined : gapsBeside(arrangement, isFilled);
	const sizes = pieces.map((piece, p): Float64Array => {
		if (given[p]) return given[p].slice();
		const whole = base[p]!;
		const n = Math.max(4, Math.min(512, Math.ceil((4 * piece.length) / Math.min(whole, piece.length))));
		const out = new Float64Array(n + 1);
		for (let k = 0; k <= n; k++) {
			const at = partPoint(piece, k / n, piece.length);
			let size = Math.min(whole, field.at(at.x, at.y));
			if (field.perTurn !== undefined)
				size = Math.min(size, (2 * Math.PI) / (field.perTurn * curvatureAt(arrangement, p, k / n)));
			if (gaps) size = Math.min(size, gaps(p, k / n) / field.acrossGap!);
			out[k] = size;
		}
		return out;
	});
	// Phase 2: along every piece and over the junctions, until nothing changes; smallest first settles most in one round.
	const atJunction = new Float64Array(arrangement.x.length).fill(Infinity);
	const limit = (p: number): boolean => {
		const own = sizes[p]!;
		const n = own.length - 1;
		const step = (field.slope * pieces[p]!.length) / n;
		const { start, end } = pieces[p]!;
		const [before, after] = [own[0]!, own[n]!];
		if (!given[p]) {
			own[0] = Math.min(own[0]!, atJunction[start]!);
			own[n] = Math.min(own[n]!, atJunction[end]!);
			for (let k = 1; k <= n; k++) own[k] = Math.min(own[k]!, own[k - 1]! + step);
			for (let k = n - 1; k >= 0; k--) own[k] = Math.min(own[k]!, own[k + 1]! + step);
		}
		const changed = own[0]! < atJunction[start]! || own[n]! < atJunction[end]! || own[0] !== before || own[n] !== after;
		atJunction[start] = Math.min(atJunction[start]!, own[0]!);
		atJunction[end] = Math.min(atJunction[end]!, own[n]!);
		return changed;
	};
	const around: number[][] = Array.from({ length: atJunction.length }, () => []);
	pieces.forEach(({ start, end }, p) => {
		around[start]!.push(p);
		if (end !== start) around[end]!.push(p);
	});
	const order = pieces.map((_, p) => p).sort((a, b) => Math.min(...ends(sizes[a]!)) - Math.min(...ends(sizes[b]!)) || a - b);
	const queued = new Uint8Array(pieces.length).fill(1);
	let rounds = 40 * pieces.length;
	for (let p = order.shift(); p !== undefined && rounds-- > 0; p = order.shift()) {
		queued[p] = 0;
		if (!limit(p)) continue;
		for (const j of [pieces[p]!.start, pieces[p]!.end])
			for (const q of around[j]!)
				if (!queued[q] && !given[q]) {
					queued[q] = 1;
					order.push(q);
				}
	}
	return sizes;
}

const ends = (own: Float64Array): [number, number] => [own[0]!, own.at(-1)!];

/** How many divisions the sizes make: the integral of 1/size over the arc length. */
export function countAlong(sizes: SizesAlong, length: number): number {
	const n = sizes.length - 1;
	let sum = 0;
	for (let k = 0; k < n; k++) sum += (0.5 * length * (1 / sizes[k]! + 1 / sizes[k + 1]!)) / n;
	return sum;
}

/** Positions of n + 1 nodes between which the integral of 1/size is the same. */
export function positionsAlong(sizes: SizesAlong, count: number): Float64Array {
	const n = sizes.length - 1;
	const sum = new Float64Array(n + 1);
	for (let k = 0; k < n; k++) sum[k + 1] = sum[k]! + 0.5 * (1 / sizes[k]! + 1 / sizes[k + 1]!);
	const at = new Float64Array(count + 1);
	let k = 0;
	for (let i = 1; i < count; i++) {
		const wanted = (i / count) * sum[n]!;
		while (sum[k + 1]! < wanted) k++;
		// Within a step 1/size runs straight from a to b: a t + (b − a) t²/2 = rest.
		const [a, b] = [1 / sizes[k]!, 1 / sizes[k + 1]!];
		const rest = wanted - sum[k]!;
		const root = Math.sqrt(Math.max(0, a * a + 2 * (b - a) * rest));
		at[i] = (k + (2 * rest) / (a + root)) / n;
	}
	at[count] = 1;
	return at;
}

/** Sizes of the cells of given positions, at evenly spaced places. */
export function sizesOfPositions(at: Float64Array, length: number): SizesAlong {
	const n = Math.min(256, at.length - 1);
	const cell = (k: number) => (at[k + 1]! - at[k]!) * length;
	const out = new Float64Array(n + 1);
	let k = 0;
	for (let i = 0; i <= n; i++) {
		while (k < at.length - 2 && at[k + 1]! < i / n) k++;
		out[i] = cell(k);
	}
	return out;
}

/** The largest curvature near a place of a piece, without sign. */
function curvatureAt({ pieces }: Arrangement, p: number, fraction: number): number {
	const { curve, t0, t1 } = pieces[p]!;
	const t = t0 + fraction * (t1 - t0);
	let segment = Math.floor(t);
	if (segment >= t1) segment = Math.ceil(t1) - 1;
	const own = segment % segmentCount(curve);
	if (curve.kinds[own] === LINE) return 0;
	if (curve.kinds[own] === ARC) return 1 / curve.data[own * STRIDE + 6]!;
	const bend = Math.abs(segmentCurvature(curve, own, t - segment));
	return Number.isFinite(bend) ? bend : 0;
}

/** What widens faster than this from a junction, as from one of 30° or more, is a corner and no gap. */
const cornerSlope = 0.57;

/**
 * The width of the gap beside a place of a piece: the way, at right angles, to the next piece, on
 * the sides that are meshed. Toward a piece that meets this one in a junction it counts where it is
 * narrow for the way to that junction; what widens faster is a corner, whose angle decides.
 */
function gapsBeside(arrangement: Arrangement, isFilled: (side: number) => boolean): (p: number, fraction: number) => number {
	const { pieces, diagonal } = arrangement;
	const lines = pieces.map((piece) => flatten(piece, 5e-5 * diagonal));
	const count = lines.reduce((sum, line) => sum + line.length / 2 - 1, 0);
	const tree = new Flatbush(Math.max(1, count));
	const segments = new Float64Array(4 * count);
	const owner = new Uint32Array(count);
	let s = 0;
	for (const [p, line] of lines.entries())
		for (let k = 0; k + 3 < line.length; k += 2) {
			owner[s] = p;
			segments.set(line.subarray(k, k + 4), 4 * s++);
			tree.add(
				Math.min(line[k]!, line[k + 2]!),
				Math.min(line[k + 1]!, line[k + 3]!),
				Math.max(line[k]!, line[k + 2]!),
				Math.max(line[k + 1]!, line[k + 3]!)
			);
		}
	if (count === 0) tree.add(0, 0, 0, 0);
	tree.finish();
	/** The first crossing of a ray with any segment, looked for at growing reach. */
	const ray = (p: number, along: number, x: number, y: number, dx: number, dy: number): number => {
		const { start, end, length } = pieces[p]!;
		const toJunction = (j: number) =>
			Math.min(j === start ? along * length : Infinity, j === end ? (1 - along) * length : Infinity);
		for (let reach = diagonal / 64; ; reach *= 4) {
			let least = Infinity;
			const [ex, ey] = [x + reach * dx, y + reach * dy];
			for (const k of tree.search(Math.min(x, ex), Math.min(y, ey), Math.max(x, ex), Math.max(y, ey))) {
				const [ax, ay] = [segments[4 * k]!, segments[4 * k + 1]!];
				const [ux, uy] = [segments[4 * k + 2]! - ax, segments[4 * k + 3]! - ay];
				const cross = dx * uy - dy * ux;
				if (cross === 0) continue;
				const t = ((ax - x) * uy - (ay - y) * ux) / cross;
				const v = ((ax - x) * dy - (ay - y) * dx) / cross;
				// A curve is its own polyline only so far.
				const nearest = owner[k] === p ? 1e-3 * diagonal : 1e-7 * diagonal;
				if (!(t > nearest && t < least && v >= 0 && v <= 1)) continue;
				const other = pieces[owner[k]!]!;
				const away = owner[k] === p ? Infinity : Math.min(toJunction(other.start), toJunction(other.end));
				if (t <= cornerSlope * away) least = t;
			}
			if (least <= reach || reach > diagonal) return least;
		}
	};
	return (p, fraction) => {
		const piece = pieces[p]!;
		const step = 1e-4;
		const [a, b] = [Math.max(0, fraction - step), Math.min(1, fraction + step)];
		const [from, to] = [partPoint(piece, a, piece.length), partPoint(piece, b, piece.length)];
		const length = hypot(to.x - from.x, to.y - from.y) || 1;
		const [tx, ty] = [(to.x - from.x) / length, (to.y - from.y) / length];
		// The ends stand on other pieces: a little inside the ray sees the true width.
		const inside = Math.min(0.98, Math.max(0.02, fraction));
		const at = partPoint(piece, inside, piece.length);
		let least = Infinity;
		if (isFilled(2 * p)) least = Math.min(least, ray(p, inside, at.x, at.y, -ty, tx));
		if (isFilled(2 * p + 1)) least = Math.min(least, ray(p, inside, at.x, at.y, ty, -tx));
		return least;
	};
}
