import { atan2, hypot } from '../numeric/elementary.ts';
import type { Finding } from '../findings/finding.ts';
import { setClause, type TextEdit } from '../recipe/edits.ts';
import type { DivideStatement, Model } from '../recipe/model.ts';
import type { CurveReference } from '../recipe/syntax.ts';
import type { Arrangement, Walk } from '../shape/arrangement.ts';
import { ARC, LINE, segmentDerivative } from '../shape/curve.ts';
import { forEachSegment, partPoint, type CurvePart } from '../shape/parts.ts';
import { pieceNames, resolvePieces } from '../shape/references.ts';
import type { Region } from '../shape/regions.ts';
import type { Block } from '../fill/structured/block.ts';
import { settleCounts, type Count, type CountConflict, type CountSource } from './counts.ts';
import { positions, reversePositions, spacingFigures, type BiasEnd, type Spacing, type SpacingFigures } from './spacing.ts';

/** How one piece is divided. */
export interface Division {
	count: number;
	source: CountSource;
	/** The law of its spacing; `across` when a structured neighbour passes its spacing on. */
	spacing: Spacing | { law: 'across'; piece: number };
	/** Statement that gave the count and the bias; −1 when none did. */
	countLine: number;
	biasLine: number;
	/** Fractions of arc length, count + 1 of them. */
	at: Float64Array;
	figures: SpacingFigures;
	/** Node coordinates along the piece, count + 1, the ends exactly those of its junctions. */
	x: Float64Array;
	y: Float64Array;
}

/** What `divide` statements say about one piece, the later ones having overruled the earlier. */
interface Asked {
	count?: number;
	size?: number;
	countLine: number;
	spacing?: Spacing;
	biasLine: number;
}

/** Counts and node places of every piece. */
export interface Divisions {
	pieces: Division[];
	conflicts: CountConflict[];
}

/** A block with the region that it fills. */
export interface RegionBlock {
	region: number;
	block: Block;
}

/** Derived counts give a full turn of a curve at least this many divisions. */
const divisionsPerTurn = 12;

/** Works out counts (carried through blocks), spacing and node places of every piece. */
export function divide(
	model: Model,
	arrangement: Arrangement,
	regions: readonly Region[],
	blocks: readonly RegionBlock[],
	fallbackSize: number,
	findings: Finding[],
	placed: PlacementCache
): Divisions {
	const asked = collect(model, arrangement, findings);
	const regionOf = new Map(regions.map((r) => [r.face, r]));
	const twins = twinPieces(arrangement);
	const wanted = arrangement.pieces.map((piece, p) => {
		const sizes = [2 * p, 2 * p + 1].map((h) => regionOf.get(arrangement.sides[h]!)).filter((r) => r && r.fill !== 'none');
		const size =
			asked[p]?.size ??
			Math.min(
				...sizes.map((r) => r!.size ?? fallbackSize),
				sizes.length ? Infinity : (model.sizes.at(-1)?.size ?? fallbackSize)
			);
		const least = Math.max(leastCount(piece, piece.start === piece.end), twins.has(p) && !isStraight(piece) ? 2 : 1);
		return Math.max(least, Math.min(1e6, Math.round(piece.length / size)));
	});
	const pinned = new Map<number, number>();
	asked.forEach((a, p) => {
		if (a?.count !== undefined) pinned.set(p, a.count);
	});
	const { counts, conflicts } = settleCounts(
		arrangement.pieces,
		blocks.map((b) => b.block),
		pinned,
		wanted
	);
	for (const conflict of conflicts) findings.push(describeConflict(model, arrangement, regions, blocks, counts, asked, conflict));
	const spacings = counts.map((count, p): Division['spacing'] => {
		const own = asked[p]?.spacing;
		if (own) return own;
		return count.across === undefined ? { law: 'even' } : { law: 'across', piece: count.across >> 1 };
	});
	const at = spreadPositions(counts, spacings);
	const pieces = arrangement.pieces.map((piece, p): Division => {
		const { count, source } = counts[p]!;
		const { x, y } = placed.place(arrangement, p, at[p]!);
		return {
			count,
			source: asked[p]?.count !== undefined ? 'pinned' : source,
			spacing: spacings[p]!,
			countLine: asked[p]?.countLine ?? -1,
			biasLine: asked[p]?.biasLine ?? -1,
			at: at[p]!,
			figures: spacingFigures(at[p]!, piece.length),
			x,
			y
		};
	});
	return { pieces, conflicts };
}

/** Positions of all pieces; those that take the spacing of another follow it, however long the chain. */
function spreadPositions(counts: readonly Count[], spacings: readonly Division['spacing'][]): Float64Array[] {
	const at = new Array<Float64Array | undefined>(counts.length);
	const resolve = (p: number, depth: number): Float64Array => {
		if (at[p]) return at[p];
		const spacing = spacings[p]!;
		const { count, across } = counts[p]!;
		let result: Float64Array;
		if (spacing.law !== 'across') result = positions(count, spacing);
		else if (depth > counts.length) result = positions(count, { law: 'even' });
		else {
			const source = resolve(spacing.piece, depth + 1);
			result = across! & 1 ? reversePositions(source) : source;
		}
		at[p] = result;
		return result;
	};
	return counts.map((_, p) => resolve(p, 0));
}

/** Pieces between the same two junctions: cut once, they would fall on one chord. */
function twinPieces({ pieces, x }: Arrangement): Set<number> {
	const between = new Map<number, number[]>();
	pieces.forEach(({ start, end }, p) => {
		const key = Math.min(start, end) * x.length + Math.max(start, end);
		const list = between.get(key);
		if (list) list.push(p);
		else between.set(key, [p]);
	});
	return new Set([...between.values()].filter((list) => list.length > 1).flat());
}

const isStraight = ({ curve, t0, t1 }: CurvePart): boolean =>
	t1 - t0 <= 1 && curve.kinds[Math.floor(t0) % curve.kinds.length] === LINE;

/** The fewest divisions that keep a curved piece from being cut flat. */
function leastCount(part: CurvePart, isLoop: boolean): number {
	let turn = 0;
	let last: { x: number; y: number } | undefined;
	const add = (d: { x: number; y: number }) => {
		if (last) turn += Math.abs(atan2(last.x * d.y - last.y * d.x, last.x * d.x + last.y * d.y));
		last = d;
	};
	forEachSegment(part, (segment, u0, u1) => {
		const { curve } = part;
		if (curve.kinds[segment] === ARC) {
			turn += Math.abs(curve.data[segment * 9 + 8]!) * (u1 - u0);
			last = undefined;
			return;
		}
		add(segmentDerivative(curve, segment, u0));
		add(segmentDerivative(curve, segment, u1));
	});
	return Math.max(isLoop ? 3 : 1, Math.ceil((divisionsPerTurn * turn) / (2 * Math.PI) - 1e-9));
}

/** Applies the `divide` statements in order. */
function collect(model: Model, arrangement: Arrangement, findings: Finding[]): (Asked | undefined)[] {
	const asked = new Array<Asked | undefined>(arrangement.pieces.length);
	for (const statement of model.divides)
		for (const { piece } of resolvePieces(model, arrangement, statement.line, statement.pieces, findings)) {
			const entry = (asked[piece] ??= { countLine: -1, biasLine: -1 });
			if (statement.count !== undefined || statement.size !== undefined) {
				delete entry.count;
				delete entry.size;
				if (statement.count !== undefined) entry.count = statement.count;
				if (statement.size !== undefined) entry.size = statement.size;
				entry.countLine = statement.line;
			}
			if (statement.bias !== undefined) {
				const end = biasEnd(model, arrangement, piece, statement, findings);
				if (end === undefined) continue;
				entry.spacing = { law: 'geometric', bias: statement.bias, end };
				entry.biasLine = statement.line;
			}
		}
	return asked;
}

/** At which end of a piece the cells are small: the end that lies on the point or curve after `toward`. */
function biasEnd(
	model: Model,
	arrangement: Arrangement,
	piece: number,
	statement: DivideStatement,
	findings: Finding[]
): BiasEnd | undefined {
	const { toward } = statement;
	if (toward === 'both' || toward === 'middle') return toward;
	const { start, end } = arrangement.pieces[piece]!;
	const target = toward!;
	const complain = (message: string) => {
		const base = model.recipe.lines[statement.line]!.from;
		findings.push({
			severity: 'error',
			code: 'toward',
			message,
			span: { from: base + target.from, to: base + target.to },
			pieces: [piece],
			at: { x: arrangement.x[start]!, y: arrangement.y[start]! }
		});
		return undefined;
	};
	const name = pieceNames(arrangement)[piece]!;
	const meets = junctionTest(model, arrangement, statement.line, target, piece, findings);
	if (!meets) return undefined;
	const [atStart, atEnd] = [meets(start), meets(end)];
	if (atStart && atEnd)
		return complain(`both ends of \`${name}\` meet \`${target.name}\`; name a point, or write \`toward both\``);
	if (!atStart && !atEnd)
		return complain(`\`${name}\` does not meet \`${target.name}\`; name an end point of it or a curve that it meets`);
	return atStart ? 'start' : 'end';
}

/** A test whether a junction lies on what `toward` names. */
function junctionTest(
	model: Model,
	arrangement: Arrangement,
	line: number,
	target: CurveReference,
	piece: number,
	findings: Finding[]
): ((j: number) => boolean) | undefined {
	const point = target.piece === undefined ? model.points.find((p) => p.name === target.name) : undefined;
	if (point) return (j) => hypot(arrangement.x[j]! - point.x, arrangement.y[j]! - point.y) <= 4 * arrangement.tolerance;
	const before = findings.length;
	const others = resolvePieces(model, arrangement, line, [target], findings).filter((p) => p.piece !== piece);
	if (findings.length > before) return undefined;
	const junctions = new Set(others.flatMap((p) => [arrangement.pieces[p.piece]!.start, arrangement.pieces[p.piece]!.end]));
	return (j) => junctions.has(j);
}

function describeConflict(
	model: Model,
	arrangement: Arrangement,
	regions: readonly Region[],
	blocks: readonly RegionBlock[],
	counts: readonly Count[],
	asked: readonly (Asked | undefined)[],
	conflict: CountConflict
): Finding {
	const names = pieceNames(arrangement);
	const say = (walk: Walk) =>
		walk.map((h) => `\`${names[h >> 1]}\` ${counts[h >> 1]!.count} (${counts[h >> 1]!.source})`).join(' + ');
	const [one, other] = conflict.sides;
	const region = regions[blocks[conflict.block]!.region]!.name;
	const first = arrangement.pieces[one[0]! >> 1]!;
	const mend = settleConflict(model, counts, asked, conflict);
	return {
		severity: 'error',
		code: 'count-conflict',
		message: `opposite sides of the structured region \`${region}\` have ${conflict.counts[0]} and ${conflict.counts[1]} divisions: ${say(one)} against ${say(other)}; they must be equal`,
		at: partPoint(first, 0.5, first.length),
		pieces: [...one, ...other].map((h) => h >> 1),
		...(mend ? { mend } : {})
	};
}

/** Where one side is a single pinned piece and the count stands in a statement about it alone, offers the other side's count. */
function settleConflict(
	model: Model,
	counts: readonly Count[],
	asked: readonly (Asked | undefined)[],
	conflict: CountConflict
): { label: string; edits: TextEdit[] } | undefined {
	for (const [mine, theirs] of [
		[0, 1],
		[1, 0]
	] as const) {
		const walk = conflict.sides[mine];
		if (walk.length !== 1) continue;
		const piece = walk[0]! >> 1;
		const line = asked[piece]?.countLine ?? -1;
		if (counts[piece]!.source !== 'pinned' || line < 0) continue;
		const other = conflict.counts[theirs];
		const statement = model.recipe.lines[line]!;
		return { label: `Make it ${other} on both sides`, edits: setClause(statement, 'count', `into ${other}`) };
	}
	return undefined;
}

/** Remembers node places: a piece that has not changed is not placed again. */
export class PlacementCache {
	private of: Arrangement | undefined;
	private readonly places = new Map<number, { at: Float64Array; x: Float64Array; y: Float64Array }>();

	place(arrangement: Arrangement, p: number, at: Float64Array): { x: Float64Array; y: Float64Array } {
		if (this.of !== arrangement) {
			this.places.clear();
			this.of = arrangement;
		}
		const known = this.places.get(p);
		if (known && equal(known.at, at)) return known;
		const piece = arrangement.pieces[p]!;
		const n = at.length - 1;
		const x = new Float64Array(n + 1);
		const y = new Float64Array(n + 1);
		for (let k = 1; k < n; k++) {
			const q = partPoint(piece, at[k]!, piece.length);
			x[k] = q.x;
			y[k] = q.y;
		}
		x[0] = arrangement.x[piece.start]!;
		y[0] = arrangement.y[piece.start]!;
		x[n] = arrangement.x[piece.end]!;
		y[n] = arrangement.y[piece.end]!;
		const place = { at, x, y };
		this.places.set(p, place);
		return place;
	}
}

function equal(a: Float64Array, b: Float64Array): boolean {
	if (a.length !== b.length) return false;
	for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
	return true;
}
