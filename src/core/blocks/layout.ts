import { atan2, hypot } from '../numeric/elementary.ts';
import { type Arrangement, type Walk, walkLength } from '../geometry/pieces.ts';
import type { Point } from '../geometry/curve.ts';
import { leavingDirection } from '../geometry/parts.ts';

/**
 * How a region is laid out in four-sided blocks. Sides run counter-clockwise, each from corner to
 * corner.
 */
export type Layout =
	/** Four sides; 0 and 2 face one another, so do 1 and 3. */
	| { kind: 'block'; sides: [Walk, Walk, Walk, Walk] }
	/** Three, five or more sides: a block at every corner, all of which meet in the middle. */
	| { kind: 'star'; sides: Walk[] }
	/** One hole, and lines of nodes around it; both walks run counter-clockwise, and start at the ends of the seam where they are `matched`. */
	| { kind: 'ring'; outer: Walk; inner: Walk; matched?: true }
	/** A round outline: a block in the core and a ring around it. With two corners, side 0 is the shorter. */
	| { kind: 'disc'; sides: Walk[] };

/** A four-sided block. */
export type Block = Extract<Layout, { kind: 'block' }>;

/** Why a region has no layout, with the place. */
export interface LayoutRefusal {
	reason: string;
	at?: Point;
}

/** The turn from which a junction counts as a corner when none is named. */
const leastTurn = (25 * Math.PI) / 180;

/** Finds the layout of a face, with the corners given or those that its outline has, and with the seam of a ring if one is given. */
export function findLayout(
	arrangement: Arrangement,
	faceIndex: number,
	corners?: readonly Point[],
	seam?: readonly [Point, Point]
): Layout | LayoutRefusal {
	const face = arrangement.faces[faceIndex]!;
	const { pieces, x, y } = arrangement;
	const place = (j: number): Point => ({ x: x[j]!, y: y[j]! });
	const startOf = (h: number) => (h & 1 ? pieces[h >> 1]!.end : pieces[h >> 1]!.start);
	if (face.inner.length > 1)
		return {
			reason: `it has ${face.inner.length} holes or loose curves inside; a structured region has at most one hole`,
			at: place(startOf(face.inner[1]![0]!))
		};
	const walk = face.outer;
	const junctions = walk.map(startOf);
	if (new Set(junctions).size < junctions.length)
		return { reason: 'its outline touches itself or has a curve hanging inside; a structured region has a simple outline' };
	if (face.inner.length === 1) {
		const [hole] = face.inner as [Walk];
		if (new Set(hole.map((h) => h >> 1)).size < hole.length)
			return {
				reason: 'a loose curve lies inside; a structured region has at most one hole with a closed outline',
				at: place(startOf(hole[0]!))
			};
		if (corners) return { reason: 'it has a hole, and a region around a hole takes no corners', at: corners[0]! };
		const inner = hole.map((h) => h ^ 1).reverse();
		if (!seam) return { kind: 'ring', outer: walk, inner };
		const ends = [walk, inner].map((around, k) => {
			const found = placeOf(arrangement, around.map(startOf), seam[k]!);
			return found < 0 ? undefined : [...around.slice(found), ...around.slice(0, found)];
		});
		const missing = ends.indexOf(undefined);
		if (missing >= 0)
			return {
				reason: `its seam ${missing === 0 ? 'starts' : 'ends'} at (${seam[missing]!.x}, ${seam[missing]!.y}), which is no junction of its ${missing === 0 ? 'outer outline' : 'hole'}; a “node” statement makes one there`,
				at: seam[missing]!
			};
		return { kind: 'ring', outer: ends[0]!, inner: ends[1]!, matched: true };
	}
	if (seam) return { reason: 'it has no hole, and only a region around a hole has a seam', at: seam[0] };
	const chosen = corners ? namedCorners(arrangement, junctions, corners) : ownCorners(arrangement, walk);
	if (!Array.isArray(chosen)) return chosen;
	const sides = chosen.length === 0 ? [walk] : sidesBetween(walk, chosen);
	if (sides.length === 4) return { kind: 'block', sides: sides as Block['sides'] };
	if (sides.length > 2) return { kind: 'star', sides };
	if (sides.length < 2) return { kind: 'disc', sides };
	const length = (side: Walk) => walkLength(pieces, side);
	return { kind: 'disc', sides: length(sides[0]!) <= length(sides[1]!) ? sides : [sides[1]!, sides[0]!] };
}

/** The sides of an outline between some of its places, in walking order. */
export const sidesBetween = (walk: Walk, places: readonly number[]): Walk[] =>
	places.map((from, k) => {
		const to = places[(k + 1) % places.length]!;
		return to > from ? walk.slice(from, to) : [...walk.slice(from), ...walk.slice(0, to)];
	});

/** How far a walk turns left at the start of each of its half-pieces, in (−π, π]. */
export const junctionTurns = (arrangement: Arrangement, walk: Walk): number[] =>
	walk.map((h, k) => turnAt(arrangement, walk.at(k - 1)!, h));

/** Which of the junctions of a walk lies at a point; −1 when none does. */
const placeOf = ({ x, y, tolerance }: Arrangement, junctions: readonly number[], { x: px, y: py }: Point): number =>
	junctions.findIndex((j) => hypot(x[j]! - px, y[j]! - py) <= 2 * tolerance);

/** Places along the walk of the corners given, in walking order from the first one given. */
function namedCorners(arrangement: Arrangement, junctions: number[], corners: readonly Point[]): number[] | LayoutRefusal {
	const places: number[] = [];
	for (const corner of corners) {
		const place = placeOf(arrangement, junctions, corner);
		if (place < 0) return { reason: `the corner (${corner.x}, ${corner.y}) is no junction of its outline`, at: corner };
		if (places.includes(place)) return { reason: `the corner (${corner.x}, ${corner.y}) is given twice`, at: corner };
		places.push(place);
	}
	const first = places[0]!;
	return places.sort((a, b) => order(a, first, junctions.length) - order(b, first, junctions.length));
}

const order = (place: number, first: number, count: number) => (place - first + count) % count;

/**
 * The corners that an outline has: its four sharpest turns where they stand out, so that a block
 * may have a few bends in its sides; otherwise every junction that turns enough.
 */
function ownCorners(arrangement: Arrangement, walk: Walk): number[] {
	const turns = junctionTurns(arrangement, walk);
	const ranked = walk.map((_, k) => k).sort((a, b) => (Math.abs(turns[b]! - turns[a]!) > 1e-9 ? turns[b]! - turns[a]! : a - b));
	const sharp = ranked.filter((k) => turns[k]! >= leastTurn);
	const [fourth, fifth] = [turns[ranked[3] ?? -1] ?? 0, turns[ranked[4] ?? -1] ?? 0];
	const four = sharp.length === 4 || (sharp.length > 4 && fourth - fifth > (15 * Math.PI) / 180);
	return (four ? ranked.slice(0, 4) : sharp).sort((a, b) => a - b);
}

/** How far the walk turns left from half-piece g to half-piece h, in (−π, π]. */
function turnAt(arrangement: Arrangement, g: number, h: number): number {
	const back = leavingDirection(arrangement.pieces[g >> 1]!, g & 1 ? 'start' : 'end');
	const out = leavingDirection(arrangement.pieces[h >> 1]!, h & 1 ? 'end' : 'start');
	return atan2(back.y * out.x - back.x * out.y, -back.x * out.x - back.y * out.y);
}

/** An equation that the counts of a layout fulfil: pieces with their coefficients, and counts of its own. */
export interface LayoutEquation {
	pieces: Map<number, number>;
	/** Coefficients of the layout's own counts, by their number. */
	inner: Map<number, number>;
	/** What they come to; 0 where it is not said. */
	total?: number;
}

/**
 * The equations between counts that a layout needs, besides the opposite sides of a block, with
 * what its own counts would like to be.
 *
 * A star of k sides has a spoke from every side to the middle, of s(i) divisions; the blocks at the
 * corners make side i carry s(i−1) + s(i+1). A disc carries four sides of its core.
 *
 * @param wanted divisions that each piece wants
 */
export function layoutEquations(layout: Layout, wanted: readonly number[]): { equations: LayoutEquation[]; inner: number[] } {
	const tally = (walk: Walk, sign = 1, into = new Map<number, number>()) => {
		for (const h of walk) into.set(h >> 1, (into.get(h >> 1) ?? 0) + sign);
		return into;
	};
	const amount = (walk: Walk) => walk.reduce((sum, h) => sum + wanted[h >> 1]!, 0);
	if (layout.kind === 'star') {
		const { sides } = layout;
		const k = sides.length;
		const mean = sides.reduce((sum, side) => sum + amount(side), 0) / (2 * k);
		return {
			equations: sides.map((side, i) => ({
				pieces: tally(side),
				inner: new Map([
					[(i + k - 1) % k, -1],
					[(i + 1) % k, -1]
				])
			})),
			inner: sides.map(() => mean)
		};
	}
	if (layout.kind === 'ring')
		return { equations: [{ pieces: tally(layout.inner, -1, tally(layout.outer)), inner: new Map() }], inner: [] };
	if (layout.kind === 'disc') {
		const [first, second] = layout.sides as [Walk, Walk | undefined];
		if (!second) return { equations: [{ pieces: tally(first), inner: new Map([[0, -4]]) }], inner: [amount(first) / 4] };
		return {
			equations: [{ pieces: tally(first, -1, tally(second)), inner: new Map([[0, -2]]) }],
			inner: [Math.max(1, (amount(second) - amount(first)) / 2)]
		};
	}
	return { equations: [], inner: [] };
}

/** All half-pieces of a layout. */
export function layoutWalks(layout: Layout): Walk[] {
	return layout.kind === 'ring' ? [layout.outer, layout.inner] : layout.sides;
}
