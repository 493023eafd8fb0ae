import { counted } from '../text/sentences.ts';
import { addTo } from '../numeric/lists.ts';
import { pieceNames, resolvePieces } from '../domain/references.ts';
import { ARC, LINE, segmentDerivative, STRIDE } from '../geometry/curve.ts';
import { type CurvePart, forEachSegment, partPoint, sineBetween } from '../geometry/parts.ts';
import type { Arrangement, Piece, Walk } from '../geometry/pieces.ts';
import { bendPlaces, bendsAt, turnsAlong } from '../geometry/turns.ts';
import { atan2, hypot } from '../numeric/elementary.ts';
import type { Model, WithLine } from '../recipe/model/model.ts';
import { stated } from '../recipe/language/statement.ts';
import { divide, type DivideStatement } from '../recipe/statements/divide.ts';
import type { CurveReference } from '../recipe/language/syntax.ts';
import { countAlong, positionsAlong, type SizesAlong } from '../sizing/size-along.ts';
import { Report } from '../findings/report.ts';
import type { DivideContext } from './division.ts';
import type { BiasEnd } from './laws/law.ts';
import { SpacingError } from './laws/spacing-error.ts';
import { spacingOf } from './laws/table.ts';
import type { Spacing } from './spacing.ts';

/** Pieces that are divided as if they were one, walked from end to end. */
export interface Chain {
	walk: Walk;
	spacing: Spacing;
	count?: number;
	line: number;
}

/** What `divide` statements say about one piece, the later ones having overruled the earlier. */
export interface DivisionRequest {
	count?: number;
	/** Divisions wanted by a size or by curvature, not rounded. */
	wanted?: number;
	/** Whether a size was named for it. */
	bySize?: boolean;
	/** Sizes along the piece that its divisions follow where no spacing is given. */
	follows?: SizesAlong;
	countLine: number;
	spacing?: Spacing;
	like?: number;
	/** Set where it is known which way the piece runs that it is like; by their directions otherwise. */
	likeReversed?: boolean;
	chain?: Chain;
	spacingLine: number;
}

/** How far a piece turns in all, in radians. */
export function totalTurn(part: CurvePart): number {
	let turn = 0;
	let last: { x: number; y: number } | undefined;
	const add = (d: { x: number; y: number }) => {
		if (last) turn += Math.abs(atan2(last.x * d.y - last.y * d.x, last.x * d.x + last.y * d.y));
		last = d;
	};
	forEachSegment(part, (segment, u0, u1) => {
		const { curve } = part;
		if (curve.kinds[segment] === ARC) {
			turn += Math.abs(curve.data[segment * STRIDE + 8]!) * (u1 - u0);
			last = undefined;
			return;
		}
		// Within a segment the direction is followed in steps, so that an S does not pass for straight.
		const steps = curve.kinds[segment] === LINE ? 1 : 8;
		for (let k = 0; k <= steps; k++) add(segmentDerivative(curve, segment, u0 + (k / steps) * (u1 - u0)));
	});
	return turn;
}

/**
 * Divisions whose chords stay within `error` of the curve, and the sizes that they follow: over an edge of length h
 * where the curvature is κ the chord is κh²/8 off, so that h = √(8·error/κ); the count is raised until every edge holds.
 */
function byChord(piece: Piece, error: number): { wanted: number; follows: SizesAlong } {
	const { length } = piece;
	const turns = turnsAlong(piece, length, (8 * error) / (length * length));
	const at = Float64Array.from(new Set([0, 1, ...bendPlaces(turns, 0)])).sort();
	const size = bendsAt(turns, at).map((bend) => Math.min(length, Math.sqrt((8 * error) / bend)));
	const follows = { at, size };
	let count = Math.min(mostByChord, Math.max(1, Math.ceil(countAlong(follows, length) - 1e-9)));
	for (let tries = 0; tries < 12 && count < mostByChord; tries++) {
		const off = farthestFromChords(piece, positionsAlong(follows, count));
		if (off <= error * (1 + 1e-9)) break;
		count = Math.max(count + 1, Math.min(2 * count, Math.ceil(count * Math.sqrt(off / error))));
	}
	return { wanted: count, follows };
}

const mostByChord = 100_000;

/** How far the curve is from the chords between its places, at the farthest, seen at seven places of each. */
function farthestFromChords(piece: Piece, at: Float64Array): number {
	let farthest = 0;
	let a = partPoint(piece, 0, piece.length);
	for (let k = 1; k < at.length; k++) {
		const b = partPoint(piece, at[k]!, piece.length);
		const [dx, dy] = [b.x - a.x, b.y - a.y];
		const chord = hypot(dx, dy) || 1;
		for (let i = 1; i < 8; i++) {
			const p = partPoint(piece, at[k - 1]! + (i / 8) * (at[k]! - at[k - 1]!), piece.length);
			farthest = Math.max(farthest, Math.abs((p.x - a.x) * dy - (p.y - a.y) * dx) / chord);
		}
		a = b;
	}
	return farthest;
}

/** One `divide` statement at work: what it says, and where it reports. */
interface RequestContext {
	model: Model;
	arrangement: Arrangement;
	statement: WithLine<DivideStatement>;
	report: Report;
}

/** Applies the `divide` statements in order. */
export function collect({ model, arrangement, regions, periodic, report }: DivideContext): (DivisionRequest | undefined)[] {
	const requests = new Array<DivisionRequest | undefined>(arrangement.pieces.length);
	for (const statement of stated(model, divide)) {
		const request: RequestContext = { model, arrangement, statement, report: report.about(statement.line) };
		const found = resolvePieces(model, arrangement, statement.pieces, request.report, regions).map(({ piece }) => piece);
		const pieces = [...new Set(found)];
		if (statement.asOne) requestChain(request, pieces, requests);
		else for (const piece of pieces) requestPiece(request, piece, (requests[piece] ??= { countLine: -1, spacingLine: -1 }));
	}
	for (const { line, pieces } of periodic)
		for (const { from, to, reversed } of pieces) {
			// What is said of either side holds for both; of the second only where nothing is said of the first.
			const says = (p: number) =>
				requests[p]?.countLine !== undefined && (requests[p].countLine >= 0 || requests[p].spacingLine >= 0);
			const [here, like] = says(to) && !says(from) ? [from, to] : [to, from];
			const [a, b] = [requests[here]?.count, requests[like]?.count];
			if (a !== undefined && b !== undefined && a !== b)
				report.about(requests[here]!.countLine).add('periodic-count', { here: a, there: b }, { pieces: [here, like] });
			requests[here] = { countLine: requests[here]?.countLine ?? -1, spacingLine: line, like, likeReversed: reversed };
		}
	return requests;
}

function requestPiece(request: RequestContext, piece: number, entry: DivisionRequest): void {
	const { model, arrangement, statement, report } = request;
	const { wanted, follows } = wantedBy(statement, arrangement.pieces[piece]!);
	if (statement.count !== undefined || wanted !== undefined) {
		setCount(entry, statement.line, statement.count, wanted);
		if (follows) entry.follows = follows;
		if (statement.size !== undefined) entry.bySize = true;
	}
	if (statement.like) {
		const [source, ...more] = resolvePieces(model, arrangement, [statement.like], report);
		if (!source) return;
		const { name } = statement.like;
		if (more.length > 0)
			complainAt(
				request,
				piece,
				statement.like,
				`“${name}” has ${more.length + 1} pieces; name the one to be like, such as “${name}[1]”`
			);
		else if (source.piece === piece) complainAt(request, piece, statement.like, `“${name}” cannot be like itself`);
		else setSpacing(entry, statement.line, { like: source.piece });
		return;
	}
	if (!statement.numbers && !statement.positions) return;
	const end = endOf(request, [2 * piece]);
	if (end === undefined) return;
	const lean = leanAgainst(request, piece, end);
	const shape = shapeOf(request, end, arrangement.pieces[piece]!.length, [piece], lean);
	if (!shape) return;
	setSpacing(entry, statement.line, { spacing: lean === undefined ? shape.spacing : { ...shape.spacing, square: lean } });
	if (shape.count !== undefined) setCount(entry, statement.line, shape.count, undefined);
}

/**
 * How much longer a first cell is along a piece than square to the wall that `at` names; undefined where it names none.
 * A piece that meets the wall at less than 17° is taken as one of 17°.
 */
function leanAgainst({ model, arrangement, statement }: RequestContext, piece: number, end: BiasEnd): number | undefined {
	const { toward, towardPlace, numbers } = statement;
	if (towardPlace || numbers?.first === undefined || typeof toward !== 'object' || (end !== 'start' && end !== 'end'))
		return undefined;
	if (toward.piece === undefined && model.points.some((p) => p.name === toward.name)) return undefined;
	const piecePart = arrangement.pieces[piece]!;
	const junction = piecePart[end];
	const walls = resolvePieces(model, arrangement, [toward], new Report([])).filter((p) => p.piece !== piece);
	let sine = 0;
	for (const { piece: q } of walls)
		for (const at of ['start', 'end'] as const) {
			const wall = arrangement.pieces[q]!;
			if (wall[at] === junction) sine = Math.max(sine, sineBetween(piecePart, end, wall, at));
		}
	return sine > 0 ? 1 / Math.max(leastSine, sine) : undefined;
}

/** The sine of the flattest angle at which a first cell is stretched to keep its height square to a wall. */
export const leastSine = 0.3;

function setCount(entry: DivisionRequest, line: number, count: number | undefined, wanted: number | undefined): void {
	delete entry.count;
	delete entry.wanted;
	delete entry.follows;
	delete entry.bySize;
	if (count !== undefined) entry.count = count;
	if (wanted !== undefined) entry.wanted = wanted;
	entry.countLine = line;
}

function setSpacing(entry: DivisionRequest, line: number, what: Pick<DivisionRequest, 'spacing' | 'like' | 'chain'>): void {
	delete entry.spacing;
	delete entry.like;
	delete entry.chain;
	Object.assign(entry, what);
	entry.spacingLine = line;
}

/** Divisions that a size or the curvature asks for; undefined when the statement names neither. */
function wantedBy(statement: DivideStatement, piece: Piece): { wanted?: number; follows?: SizesAlong } {
	if (statement.size !== undefined) return { wanted: piece.length / statement.size };
	if (statement.perTurn !== undefined) return { wanted: (statement.perTurn * totalTurn(piece)) / (2 * Math.PI) };
	if (statement.chordError !== undefined) return byChord(piece, statement.chordError);
	return {};
}

/** What the numbers or positions of a statement come to on a length; reports what has no solution. */
function shapeOf(
	{ statement, arrangement, report }: RequestContext,
	end: BiasEnd,
	length: number,
	pieces: readonly number[],
	lean = 1
): { spacing: Spacing; count?: number } | undefined {
	const { numbers: said = {}, positions: fractions, count, size, perTurn, chordError } = statement;
	const numbers = said.first === undefined ? said : { ...said, first: said.first * lean };
	const counted = [count, size, perTurn, chordError].some((n) => n !== undefined);
	try {
		return spacingOf({ numbers, counted, end, length, ...(fractions ? { fractions } : {}) });
	} catch (error) {
		if (!(error instanceof SpacingError)) throw error;
		reportSpacing(arrangement, report, pieces, `“${pieceNames(arrangement)[pieces[0]!]}”: ${error.message}`);
	}
	return undefined;
}

/** Says that the numbers of a statement make no spacing, at the middle of its first piece. */
export function reportSpacing(arrangement: Arrangement, report: Report, pieces: readonly number[], message: string): void {
	const first = arrangement.pieces[pieces[0]!]!;
	report.add('spacing', { message }, { at: partPoint(first, 0.5, first.length), pieces: [...pieces] });
}

/** A statement `as one`: its pieces must follow one another. */
function requestChain(request: RequestContext, pieces: readonly number[], requests: (DivisionRequest | undefined)[]): void {
	if (pieces.length === 0) return;
	const { arrangement, statement } = request;
	const complain = (target: CurveReference, message: string) => complainAt(request, pieces[0]!, target, message);
	const walk = chainWalk(arrangement, pieces);
	if (!walk)
		return complain(
			statement.pieces[0]!,
			'pieces that are divided as one must follow one another from end to end without a fork; these do not'
		);
	if (statement.like) return complain(statement.like, 'a chain cannot be like a piece; give its spacing by numbers');
	let spacing: Spacing = { law: 'even' };
	let { count } = statement;
	const length = pieces.reduce((sum, p) => sum + arrangement.pieces[p]!.length, 0);
	if (statement.numbers || statement.positions) {
		const end = endOf(request, walk);
		if (end === undefined) return;
		const shape = shapeOf(request, end, length, pieces);
		if (!shape) return;
		({ spacing } = shape);
		count ??= shape.count;
	}
	if (count !== undefined && count < pieces.length)
		return complain(
			statement.pieces[0]!,
			`${counted(count, 'division')} cannot be shared among ${pieces.length} pieces; each has at least one`
		);
	const chain: Chain = { walk, spacing, line: statement.line, ...(count === undefined ? {} : { count }) };
	for (const p of pieces) {
		const entry = (requests[p] ??= { countLine: -1, spacingLine: -1 });
		const { wanted } = wantedBy(statement, arrangement.pieces[p]!);
		if (count !== undefined || wanted !== undefined) setCount(entry, statement.line, undefined, wanted);
		setSpacing(entry, statement.line, { chain });
	}
}

/** The pieces of a chain in order, open or closed, each in the direction of the walk; undefined where they are none. */
function chainWalk({ pieces }: Arrangement, members: readonly number[]): Walk | undefined {
	const around = new Map<number, number[]>();
	for (const p of members)
		for (const h of [2 * p, 2 * p + 1]) {
			const j = h & 1 ? pieces[p]!.end : pieces[p]!.start;
			addTo(around, j, h);
		}
	if ([...around.values()].some((list) => list.length > 2)) return undefined;
	const ends = [...around.values()].filter((list) => list.length === 1).map(([h]) => h!);
	if (ends.length !== 2 && ends.length !== 0) return undefined;
	// It runs as its first piece does, if that is possible; a closed one starts there.
	const first = ends.length === 0 ? 2 * members[0]! : (ends.find((h) => h === 2 * members[0]!) ?? Math.min(...ends));
	const walk: Walk = [];
	for (let h: number | undefined = first; h !== undefined;) {
		walk.push(h);
		const j: number = h & 1 ? pieces[h >> 1]!.start : pieces[h >> 1]!.end;
		const arrived: number = h ^ 1;
		const next: number | undefined = around.get(j)!.find((other) => other !== arrived);
		h = next === first ? undefined : next;
	}
	return walk.length === members.length ? walk : undefined;
}

/** At which end of a walk the cells are small: the end that lies on the point or curve after `toward`. */
function endOf(request: RequestContext, walk: Walk): BiasEnd | undefined {
	const { arrangement, statement } = request;
	const { toward } = statement;
	if (toward === 'both' || toward === 'middle') return toward;
	const target = toward!;
	const junction = (h: number, atStart: boolean) => {
		const { start, end } = arrangement.pieces[h >> 1]!;
		return ((h & 1) === 0) === atStart ? start : end;
	};
	const [start, end] = [junction(walk[0]!, true), junction(walk.at(-1)!, false)];
	const pieces = walk.map((h) => h >> 1);
	const name = pieceNames(arrangement)[pieces[0]!]!;
	const meets = junctionTest(request, target, pieces);
	if (!meets) return undefined;
	const [atStart, atEnd] = [meets(start), meets(end)];
	if (atStart && atEnd)
		complainAt(request, pieces[0]!, target, `both ends of “${name}” meet “${target.name}”; name a point, or write “toward both”`);
	else if (!atStart && !atEnd)
		complainAt(
			request,
			pieces[0]!,
			target,
			`“${name}” does not meet “${target.name}”; name an end point of it or a curve that it meets`
		);
	else return atStart ? 'start' : 'end';
	return undefined;
}

function complainAt(
	{ arrangement, statement, report }: RequestContext,
	piece: number,
	target: CurveReference,
	message: string
): void {
	const { start } = arrangement.pieces[piece]!;
	report.add(
		statement.toward === target ? 'toward' : 'divide',
		{ message },
		{
			within: target,
			pieces: [piece],
			at: { x: arrangement.x[start]!, y: arrangement.y[start]! }
		}
	);
}

/** A test whether a junction lies on what `toward` names. */
function junctionTest(
	{ model, arrangement, statement, report }: RequestContext,
	target: CurveReference,
	members: readonly number[]
): ((j: number) => boolean) | undefined {
	const point =
		statement.towardPlace ?? (target.piece === undefined ? model.points.find((p) => p.name === target.name) : undefined);
	if (point) return (j) => hypot(arrangement.x[j]! - point.x, arrangement.y[j]! - point.y) <= 4 * arrangement.tolerance;
	const before = report.findings.length;
	const others = resolvePieces(model, arrangement, [target], report).filter((p) => !members.includes(p.piece));
	if (report.findings.length > before) return undefined;
	const junctions = new Set(others.flatMap((p) => [arrangement.pieces[p.piece]!.start, arrangement.pieces[p.piece]!.end]));
	return (j) => junctions.has(j);
}
