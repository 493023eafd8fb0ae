import type { Layout } from '../blocks/layout.ts';
import { partPoints } from '../geometry/parts.ts';
import { type Arrangement, type Walk, walkLength } from '../geometry/pieces.ts';
import { mapped } from '../text/typed.ts';
import { hypot } from '../numeric/elementary.ts';
import type { SizesAlong } from '../sizing/size-along.ts';
import type { SizeField } from '../sizing/size-field.ts';

/** Places along each side of a layout at which zones are looked for, and lines between two sides. */
const steps = 48;

/** Points along a side, evenly by its length. */
interface SideLine {
	walk: Walk;
	x: Float64Array;
	y: Float64Array;
	length: number;
}

/** Shares of a side's length with the size wanted at each, in the direction of its walk. */
type Profile = Float64Array;

/**
 * Sizes that zones inside of a layout ask for along its sides. Rows pass from side to side, so that a zone in the middle makes them
 * finer on both: wherever a line of nodes comes through a zone, its rows are as fine as the zone asks, in proportion to how the line's
 * length stands to the side's.
 *
 * @param filled for each half-piece whether what lies to its left is meshed
 */
export function zonesInLayout(
	arrangement: Arrangement,
	layout: Layout,
	field: SizeField,
	filled: Uint8Array
): { piece: number; sizes: SizesAlong }[] {
	const gaps = layout.kind === 'block' ? acrossGaps(arrangement, layout.sides, field, filled) : [];
	if (!field.hasZones) return gaps;
	switch (layout.kind) {
		case 'block':
			return [...gaps, ...inBlock(arrangement, layout.sides, field)];
		case 'ring':
			return betweenLines(arrangement, layout.outer, layout.inner, field);
		default:
			return towardCentre(arrangement, layout.sides, field);
	}
}

/** Where two facing sides are walls, the block is a passage: as many elements go across it as are asked. */
function acrossGaps(
	{ pieces }: Arrangement,
	sides: readonly Walk[],
	{ acrossGap }: SizeField,
	filled: Uint8Array
): { piece: number; sizes: SizesAlong }[] {
	if (acrossGap === undefined) return [];
	const isWall = (side: Walk) => side.every((h) => !filled[h ^ 1]);
	return [0, 1].flatMap((k) => {
		if (!isWall(sides[k]!) || !isWall(sides[k + 2]!)) return [];
		return [sides[k + 1]!, sides[(k + 3) % 4]!].flatMap((side) => {
			const size = walkLength(pieces, side) / acrossGap;
			return side.map((h) => ({ piece: h >> 1, sizes: { at: Float64Array.of(0, 1), size: Float64Array.of(size, size) } }));
		});
	});
}

function lineOf({ pieces }: Arrangement, walk: Walk): SideLine {
	const total = walkLength(pieces, walk);
	const [x, y] = [new Float64Array(steps + 1), new Float64Array(steps + 1)];
	let [before, k] = [0, 0];
	for (const [i, h] of walk.entries()) {
		const piece = pieces[h >> 1]!;
		const isLast = i === walk.length - 1;
		const shares: number[] = [];
		while (k + shares.length <= steps) {
			const share = ((k + shares.length) / steps) * total - before;
			if (share > piece.length && !isLast) break;
			shares.push(Math.min(1, Math.max(0, share / piece.length)));
		}
		const isTurned = (h & 1) === 1;
		const at = Float64Array.from(isTurned ? shares.map((s) => 1 - s).reverse() : shares);
		const points = partPoints(piece, at, piece.length);
		for (let j = 0; j < shares.length; j++) {
			const from = isTurned ? shares.length - 1 - j : j;
			x[k + j] = points.x[from]!;
			y[k + j] = points.y[from]!;
		}
		k += shares.length;
		before += piece.length;
	}
	return { walk, x, y, length: total };
}

/** What a profile along a side says of each of its pieces. */
function shared({ pieces }: Arrangement, { walk, length }: SideLine, profile: Profile): { piece: number; sizes: SizesAlong }[] {
	let before = 0;
	return walk.map((h) => {
		const piece = pieces[h >> 1]!;
		const [from, to] = [before / length, (before + piece.length) / length];
		before += piece.length;
		const valueAt = (t: number) => {
			const k = Math.min(steps - 1, Math.floor(t * steps));
			return profile[k]! + (t * steps - k) * (profile[k + 1]! - profile[k]!);
		};
		const inside = Array.from({ length: steps + 1 }, (_, k) => k / steps).filter((t) => t > from && t < to);
		const places = [from, ...inside, to];
		const at = places.map((t) => (t - from) / (to - from));
		const size = places.map(valueAt);
		return {
			piece: h >> 1,
			sizes:
				h & 1
					? { at: Float64Array.from(at, (t) => 1 - t).reverse(), size: Float64Array.from(size).reverse() }
					: { at: Float64Array.from(at), size: Float64Array.from(size) }
		};
	});
}

/** A block: the field on lines from side to side, by transfinite interpolation between its sides. */
function inBlock(arrangement: Arrangement, sides: [Walk, Walk, Walk, Walk], field: SizeField) {
	const [south, east, north, west] = mapped(sides, (side) => lineOf(arrangement, side));
	const place = (list: 'x' | 'y', i: number, j: number) => {
		const [u, v] = [i / steps, j / steps];
		const [s, e, n, w] = [south[list][i]!, east[list][j]!, north[list][steps - i]!, west[list][steps - j]!];
		const [p, q, r, o] = [south[list][0]!, south[list][steps]!, north[list][0]!, north[list][steps]!];
		return (1 - v) * s + v * n + (1 - u) * w + u * e - ((1 - u) * (1 - v) * p + u * (1 - v) * q + u * v * r + (1 - u) * v * o);
	};
	const [along, across] = [new Float64Array(steps + 1).fill(Infinity), new Float64Array(steps + 1).fill(Infinity)];
	const x: Float64Array[] = [];
	const y: Float64Array[] = [];
	for (let j = 0; j <= steps; j++) {
		x.push(Float64Array.from({ length: steps + 1 }, (_, i) => place('x', i, j)));
		y.push(Float64Array.from({ length: steps + 1 }, (_, i) => place('y', i, j)));
	}
	const rows = Float64Array.from({ length: steps + 1 }, (_, j) => lengthOf((k) => [x[j]![k]!, y[j]![k]!]));
	const columns = Float64Array.from({ length: steps + 1 }, (_, i) => lengthOf((k) => [x[k]![i]!, y[k]![i]!]));
	// As shares of the line: each side takes them of its own length.
	for (let j = 0; j <= steps; j++)
		for (let i = 0; i <= steps; i++) {
			const size = field.at(x[j]![i]!, y[j]![i]!);
			along[i] = Math.min(along[i]!, size / rows[j]!);
			across[j] = Math.min(across[j]!, size / columns[i]!);
		}
	const of = (line: SideLine, shares: Float64Array, isTurned: boolean) =>
		shared(
			arrangement,
			line,
			(isTurned ? shares.toReversed() : shares).map((share) => share * line.length)
		);
	return [...of(south, along, false), ...of(north, along, true), ...of(east, across, false), ...of(west, across, true)];
}

function lengthOf(at: (k: number) => [number, number]): number {
	let length = 0;
	for (let k = 1; k <= steps; k++) {
		const [[ax, ay], [bx, by]] = [at(k - 1), at(k)];
		length += hypot(bx - ax, by - ay);
	}
	return length || 1;
}

/** A ring: the field on lines from the outer outline to the place of the inner one that faces it. */
function betweenLines(arrangement: Arrangement, outer: Walk, inner: Walk, field: SizeField) {
	const [far, near] = [lineOf(arrangement, outer), lineOf(arrangement, inner)];
	// Which place of the inner outline is nearest to the start of the outer one.
	let shift = 0;
	const away = (k: number) => hypot(near.x[k]! - far.x[0]!, near.y[k]! - far.y[0]!);
	for (let k = 1; k < steps; k++) if (away(k) < away(shift)) shift = k;
	const shares = new Float64Array(steps + 1).fill(Infinity);
	for (let i = 0; i <= steps; i++) {
		const facing = (i + shift) % steps;
		for (let j = 0; j <= steps; j++) {
			const t = j / steps;
			const [x, y] = [far.x[i]! + t * (near.x[facing]! - far.x[i]!), far.y[i]! + t * (near.y[facing]! - far.y[i]!)];
			shares[i] = Math.min(shares[i]!, field.at(x, y) / (far.length + t * (near.length - far.length)));
		}
	}
	const turned = shares.map((_, k) => shares[(k - shift + steps) % steps]!);
	return [
		...shared(
			arrangement,
			far,
			shares.map((share) => share * far.length)
		),
		...shared(
			arrangement,
			near,
			turned.map((share) => share * near.length)
		)
	];
}

/** A layout around a middle: the field on lines from its sides to the middle of all. */
function towardCentre(arrangement: Arrangement, sides: readonly Walk[], field: SizeField) {
	const lines = sides.map((side) => lineOf(arrangement, side));
	const mean = (list: 'x' | 'y') =>
		lines.reduce((sum, line) => sum + line[list].reduce((a, b) => a + b, 0), 0) / (lines.length * (steps + 1));
	const [cx, cy] = [mean('x'), mean('y')];
	return lines.flatMap((line) => {
		const profile = line.x.map((x, i) => {
			const y = line.y[i]!;
			let least = Infinity;
			for (let j = 0; j <= steps; j++) {
				const t = j / steps;
				least = Math.min(least, field.at(x + t * (cx - x), y + t * (cy - y)));
			}
			return least;
		});
		return shared(arrangement, line, profile);
	});
}
