import type { Count } from '../blocks/counts.ts';
import { pieceNames } from '../domain/references.ts';
import { sineBetween } from '../geometry/parts.ts';
import type { Arrangement, Walk } from '../geometry/pieces.ts';
import { isOneSize, positionsAlong, type SizesAlong } from '../sizing/size-along.ts';
import { type DivisionRequest, type Chain, leastSine, reportSpacing } from './requests.ts';
import type { BlockOf, DivideContext, Division } from './division.ts';
import { fitted, type Heights, positionsBetween } from './heights.ts';
import { joinPositions, splitPositions } from './laws/chain.ts';
import { SpacingError } from './laws/spacing-error.ts';
import { spacingLaws } from './laws/table.ts';
import { positions, reversePositions, type Spacing, withFirst } from './spacing.ts';

/** Positions by a law; where it has none, a finding says why and the pieces are divided evenly. */
export function tryPositions(
	{ arrangement, report }: DivideContext,
	count: number,
	spacing: Spacing,
	length: number,
	line: number,
	pieces: readonly number[]
): Float64Array {
	try {
		return positions(count, spacing, length);
	} catch (error) {
		if (!(error instanceof SpacingError)) throw error;
		const message = `${error.message}; “${pieceNames(arrangement)[pieces[0]!]}” is divided evenly`;
		if (!report.findings.some((f) => f.message === message)) reportSpacing(arrangement, report.about(line), pieces, message);
		return positions(count, { law: 'even' });
	}
}

/**
 * Positions of all pieces. Those with a law of their own come first, then chains and copies; a
 * spacing then passes across the blocks, from side to opposite side, to pieces that have none.
 */
export function spread(
	context: DivideContext,
	blocks: readonly BlockOf[],
	counts: readonly Count[],
	requests: readonly (DivisionRequest | undefined)[],
	chains: readonly Chain[],
	sizes: readonly SizesAlong[],
	heights: ReadonlyMap<number, Heights>
): { at: Float64Array[]; spacings: Division['spacing'][] } {
	const { arrangement } = context;
	const at = new Array<Float64Array | undefined>(counts.length);
	const spacings: Division['spacing'][] = [];
	for (let p = 0; p < counts.length; p++) spacings.push({ law: 'even' });
	const lengthOf = (p: number) => arrangement.pieces[p]!.length;
	requests.forEach((a, p) => {
		if (!a?.spacing) return;
		at[p] = tryPositions(context, counts[p]!.count, a.spacing, lengthOf(p), a.spacingLine, [p]);
		spacings[p] = a.spacing;
	});
	for (const { walk, spacing, line } of chains) {
		const pieces = walk.map((h) => h >> 1);
		const links = pieces.map((p) => ({ length: lengthOf(p), count: counts[p]!.count }));
		const total = links.reduce((sum, l) => sum + l.count, 0);
		const length = links.reduce((sum, l) => sum + l.length, 0);
		const whole = tryPositions(context, total, spacing, length, line, pieces);
		// What is even stays so within every piece.
		const parts =
			spacing.law === 'even' ? links.map(({ count }) => positions(count, { law: 'even' })) : splitPositions(whole, links);
		parts.forEach((positions, k) => {
			const h = walk[k]!;
			if (at[h >> 1]) return;
			at[h >> 1] = h & 1 ? reversePositions(positions) : positions;
			spacings[h >> 1] = { law: 'chain', spacing, pieces };
		});
	}
	const copied = (p: number, seen: readonly number[]): Float64Array | undefined => {
		const like = requests[p]?.like;
		if (at[p] || like === undefined || seen.includes(p)) return at[p];
		const source = copied(like, [...seen, p]);
		if (!source || source.length !== counts[p]!.count + 1) return undefined;
		spacings[p] = { law: 'like', piece: like };
		const sameWay = requests[p]!.likeReversed === undefined ? alongside(arrangement, p, like) : !requests[p]!.likeReversed;
		return (at[p] = sameWay ? source : reversePositions(source));
	};
	for (const [p, a] of requests.entries()) if (a?.like !== undefined) copied(p, []);
	requests.forEach((a, p) => {
		if (!a?.follows || at[p]) return;
		at[p] = positionsAlong(a.follows, counts[p]!.count);
		spacings[p] = { law: 'sizes' };
	});
	passAcross(arrangement, blocks, counts, at, spacings);
	// What layers leave on the sides of blocks passes across as well.
	for (const [p, ends] of heights) {
		const { count } = counts[p]!;
		if (at[p]) continue;
		at[p] = positionsBetween(fitted(ends, lengthOf(p), count), sizes[p]!, lengthOf(p), count);
		spacings[p] = { law: 'sizes' };
	}
	passAcross(arrangement, blocks, counts, at, spacings);
	// Many pieces have the same count: their places are the same list.
	const even = new Map<number, Float64Array>();
	const all: Float64Array[] = [];
	for (const [p, { count }] of counts.entries()) {
		let places = at[p];
		if (!places) {
			if (!isOneSize(sizes[p]!, 0)) places = positionsAlong(sizes[p]!, count);
			if (places) spacings[p] = { law: 'sizes' };
		}
		if (!places) {
			places = even.get(count);
			if (!places) even.set(count, (places = positions(count, { law: 'even' })));
		}
		all.push(places);
	}
	// What is periodic is divided alike whatever its own divisions would follow from; what is like another that nothing was said of
	// takes what that one came to.
	for (const [p, a] of requests.entries()) {
		if (a?.like === undefined || all[a.like]!.length !== all[p]!.length) continue;
		if (a.likeReversed === undefined && spacings[p]!.law === 'like') continue;
		const sameWay = a.likeReversed === undefined ? alongside(arrangement, p, a.like) : !a.likeReversed;
		all[p] = sameWay ? all[a.like]! : reversePositions(all[a.like]!);
		spacings[p] = { law: 'like', piece: a.like };
	}
	return { at: all, spacings };
}

/** Passes spacings from sides that have one to opposite sides of which no piece has; nearest first. */
function passAcross(
	arrangement: Arrangement,
	blocks: readonly BlockOf[],
	counts: readonly Count[],
	at: (Float64Array | undefined)[],
	spacings: Division['spacing'][]
): void {
	// From side to side, with the half-pieces of the two sides between them that meet the start and the end of the second.
	let open = blocks.flatMap(({ block: { sides } }) =>
		[2, 0, 3, 1].map((k) => [sides[(k + 2) % 4]!, sides[k]!, sides[(k + 3) % 4]!.at(-1)! ^ 1, sides[(k + 1) % 4]![0]!] as const)
	);
	const amount = (walk: Walk) => walk.reduce((sum, h) => sum + counts[h >> 1]!.count, 0);
	open = open.filter(([from, to]) => amount(from) === amount(to));
	const lengthOf = (h: number) => arrangement.pieces[h >> 1]!.length;
	for (let passed = true; passed;) {
		const ready = open.filter(([from, to]) => from.every((h) => at[h >> 1]) && to.every((h) => !at[h >> 1]));
		passed = ready.length > 0;
		for (const [from, to, beforeIt, afterIt] of ready) {
			if (to.some((h) => at[h >> 1])) continue;
			const whole = joinPositions(
				from.map((h) => ({ at: h & 1 ? reversePositions(at[h >> 1]!) : at[h >> 1]!, length: lengthOf(h) }))
			);
			// The far side is walked the other way round the block.
			const walk = to.map((h) => h ^ 1).reverse();
			const links = walk.map((h) => ({ length: lengthOf(h), count: counts[h >> 1]!.count }));
			const single = links.length === 1 && from.length === 1;
			const parts = links.length === 1 ? [whole] : splitPositions(whole, links);
			walk.forEach((h, k) => {
				const turned = ((h ^ from[0]!) & 1) === 1;
				const sized = single
					? sizedAnew(spacings, from[0]! >> 1, turned, links[0]!, (end) => leanOf(arrangement, h ^ 1, end, beforeIt, afterIt))
					: undefined;
				at[h >> 1] = sized ?? (h & 1 ? reversePositions(parts[k]!) : parts[k]!);
				spacings[h >> 1] = { law: 'across', piece: from[0]! >> 1, ...(single && turned ? { turned } : {}) };
			});
		}
		open = open.filter(([, to]) => to.some((h) => !at[h >> 1]));
	}
}

/**
 * How much longer a cell at an end of a piece is along it than square to the side of the block that it meets there.
 *
 * @param h the piece as its block walks it; `before` and `after` leave its start and its end in that walk
 */
function leanOf({ pieces }: Arrangement, h: number, end: 'start' | 'end', before: number, after: number): number {
	const side = ((h & 1) === 0) === (end === 'start') ? before : after;
	const sine = sineBetween(pieces[h >> 1]!, end, pieces[side >> 1]!, side & 1 ? 'end' : 'start');
	return 1 / Math.max(leastSine, sine);
}

/** The spacing that came across blocks to a piece, followed back to the piece that it was given on. */
export function originOf(
	spacingOf: (piece: number) => Division['spacing'],
	piece: number,
	turned: boolean
): { spacing: Division['spacing']; turned: boolean } {
	let spacing = spacingOf(piece);
	while (spacing.law === 'across') {
		if (spacing.turned) turned = !turned;
		spacing = spacingOf(spacing.piece);
	}
	return { spacing, turned };
}

/**
 * A spacing that was given by sizes of cells keeps these sizes on a piece of another length, where
 * that is possible; undefined for one that passes on its fractions.
 */
function sizedAnew(
	spacings: readonly Division['spacing'][],
	piece: number,
	turned: boolean,
	link: { length: number; count: number },
	leanAt: (end: 'start' | 'end') => number
): Float64Array | undefined {
	const { spacing, turned: isTurned } = originOf((p) => spacings[p]!, piece, turned);
	const lawSpacing = spacing as Spacing;
	if (!spacingLaws.some((law) => law.law === lawSpacing.law && law.keepsSizes?.(lawSpacing))) return undefined;
	try {
		const given = 'end' in lawSpacing ? lawSpacing.end : undefined;
		const isSquare = lawSpacing.square !== undefined && (given === 'start' || given === 'end');
		const lean = isSquare ? leanAt((given === 'start') !== isTurned ? 'start' : 'end') / lawSpacing.square! : 1;
		const at = positions(link.count, withFirst(lawSpacing, lean), link.length);
		return isTurned ? reversePositions(at) : at;
	} catch (error) {
		if (error instanceof SpacingError) return undefined;
		throw error;
	}
}

/** Whether two pieces run the same way, by their chords. */
function alongside({ pieces, x, y }: Arrangement, p: number, q: number): boolean {
	const chord = (k: number) => {
		const { start, end } = pieces[k]!;
		return { x: x[end]! - x[start]!, y: y[end]! - y[start]! };
	};
	const [a, b] = [chord(p), chord(q)];
	return a.x * b.x + a.y * b.y >= 0;
}
