import { atan2, hypot } from '../numeric/elementary.ts';
import type { Finding } from '../text/finding.ts';
import type { DivideStatement, Model } from '../recipe/model.ts';
import type { CurveReference, SpacingWord } from '../recipe/syntax.ts';
import type { Arrangement, Piece, Walk } from '../geometry/pieces.ts';
import { ARC, LINE, segmentCurvature, segmentDerivative, STRIDE } from '../geometry/curve.ts';
import { forEachSegment, partPoint, type CurvePart } from '../geometry/parts.ts';
import { pieceNames, resolvePieces } from '../domain/references.ts';
import { cappedCount } from './laws/capped.ts';
import { countOfPair, type BiasEnd, type GeometricNumber } from './laws/geometric.ts';
import { SpacingError, type Spacing } from './spacing.ts';

/** Pieces that are divided as if they were one, walked from end to end. */
export interface Chain {
	walk: Walk;
	spacing: Spacing;
	count?: number;
	line: number;
}

/** What `divide` statements say about one piece, the later ones having overruled the earlier. */
export interface Asked {
	count?: number;
	/** Divisions wanted by a size or by curvature, not rounded. */
	wanted?: number;
	countLine: number;
	spacing?: Spacing;
	like?: number;
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
 * Divisions whose chords stay within `error` of the curve: over an edge of length h where the
 * curvature is κ the chord is κh²/8 off, so that the count is the integral of √(κ/(8·error)).
 */
function countByChord(part: CurvePart, error: number): number {
	let count = 0;
	forEachSegment(part, (segment, u0, u1) => {
		const { curve } = part;
		if (curve.kinds[segment] === LINE) return;
		const steps = 32;
		for (let k = 0; k < steps; k++) {
			const u = u0 + ((k + 0.5) / steps) * (u1 - u0);
			const bend = Math.abs(segmentCurvature(curve, segment, u));
			const d = segmentDerivative(curve, segment, u);
			const ds = hypot(d.x, d.y) * ((u1 - u0) / steps);
			if (Number.isFinite(bend)) count += Math.sqrt(bend / (8 * error)) * ds;
		}
	});
	return Math.max(1, count);
}

/** Applies the `divide` statements in order. */
export function collect(model: Model, arrangement: Arrangement, findings: Finding[]): (Asked | undefined)[] {
	const asked = new Array<Asked | undefined>(arrangement.pieces.length);
	for (const statement of model.divides) {
		const found = resolvePieces(model, arrangement, statement.line, statement.pieces, findings).map(({ piece }) => piece);
		const pieces = [...new Set(found)];
		if (statement.asOne) {
			askOfChain(model, arrangement, statement, pieces, asked, findings);
			continue;
		}
		for (const piece of pieces) {
			const entry = (asked[piece] ??= { countLine: -1, spacingLine: -1 });
			const { length } = arrangement.pieces[piece]!;
			const wanted = wantedBy(statement, arrangement.pieces[piece]!);
			if (statement.count !== undefined || wanted !== undefined) setCount(entry, statement.line, statement.count, wanted);
			if (statement.like) {
				const [source, ...more] = resolvePieces(model, arrangement, statement.line, [statement.like], findings);
				if (!source) continue;
				if (more.length > 0 || source.piece === piece) {
					complainAt(
						model,
						arrangement,
						piece,
						statement,
						statement.like,
						findings,
						more.length > 0
							? `\`${statement.like.name}\` has ${more.length + 1} pieces; name the one to be like, such as \`${statement.like.name}[1]\``
							: `\`${statement.like.name}\` cannot be like itself`
					);
					continue;
				}
				setSpacing(entry, statement.line, { like: source.piece });
				continue;
			}
			if (!statement.numbers && !statement.positions) continue;
			const end = endOf(model, arrangement, [2 * piece], statement, findings);
			if (end === undefined) continue;
			const shape = shapeOf(statement, end, length, [piece], findings, model, arrangement);
			if (!shape) continue;
			setSpacing(entry, statement.line, { spacing: shape.spacing });
			if (shape.count !== undefined) setCount(entry, statement.line, shape.count, undefined);
		}
	}
	return asked;
}

function setCount(entry: Asked, line: number, count: number | undefined, wanted: number | undefined): void {
	delete entry.count;
	delete entry.wanted;
	if (count !== undefined) entry.count = count;
	if (wanted !== undefined) entry.wanted = wanted;
	entry.countLine = line;
}

function setSpacing(entry: Asked, line: number, what: Pick<Asked, 'spacing' | 'like' | 'chain'>): void {
	delete entry.spacing;
	delete entry.like;
	delete entry.chain;
	Object.assign(entry, what);
	entry.spacingLine = line;
}

/** Divisions that a size or the curvature asks for; undefined when the statement names neither. */
function wantedBy(statement: DivideStatement, piece: Piece): number | undefined {
	if (statement.size !== undefined) return piece.length / statement.size;
	if (statement.perTurn !== undefined) return (statement.perTurn * totalTurn(piece)) / (2 * Math.PI);
	if (statement.chordError !== undefined) return countByChord(piece, statement.chordError);
	return undefined;
}

/** What the numbers or positions of a statement come to on a length; reports what has no solution. */
function shapeOf(
	statement: DivideStatement,
	end: BiasEnd,
	length: number,
	pieces: readonly number[],
	findings: Finding[],
	model: Model,
	arrangement: Arrangement
): { spacing: Spacing; count?: number } | undefined {
	const { numbers = {}, positions: fractions, count, size, perTurn, chordError } = statement;
	if (fractions) return { spacing: { law: 'listed', fractions, end: end as 'start' | 'end' }, count: fractions.length + 1 };
	const words = Object.keys(numbers) as SpacingWord[];
	const counted = [count, size, perTurn, chordError].some((n) => n !== undefined);
	const { first, last } = numbers;
	if (words.length === 2 && counted)
		return { spacing: { law: 'two-ended', first: first!, last: last!, end: end as 'start' | 'end' } };
	if (words.length === 1) {
		const number = { [words[0]!]: numbers[words[0]!] } as unknown as GeometricNumber;
		return { spacing: { law: 'geometric', number, end } };
	}
	try {
		if (words.length === 3) {
			const { growth, largest } = numbers;
			const law = { first: first!, growth: growth! };
			const capped = cappedCount({ ...law, largest: largest! }, end === 'both', length);
			return { spacing: { law: 'capped', ...law, end: end as 'start' | 'end' | 'both' }, count: capped };
		}
		const solved = countOfPair(numbers, end, length);
		return { spacing: { law: 'geometric', number: solved.number, end }, count: solved.count };
	} catch (error) {
		if (!(error instanceof SpacingError)) throw error;
		findings.push(
			spacingFinding(model, arrangement, statement.line, pieces, `\`${pieceNames(arrangement)[pieces[0]!]}\`: ${error.message}`)
		);
		return undefined;
	}
}

/** What is said of a statement whose numbers no spacing has, at the middle of its first piece. */
export function spacingFinding(
	model: Model,
	arrangement: Arrangement,
	line: number,
	pieces: readonly number[],
	message: string
): Finding {
	const { from, to } = model.recipe.lines[line]!;
	const first = arrangement.pieces[pieces[0]!]!;
	return {
		severity: 'error',
		code: 'spacing',
		message,
		span: { from, to },
		at: partPoint(first, 0.5, first.length),
		pieces: [...pieces]
	};
}

/** A statement `as one`: its pieces must follow one another. */
function askOfChain(
	model: Model,
	arrangement: Arrangement,
	statement: DivideStatement,
	pieces: readonly number[],
	asked: (Asked | undefined)[],
	findings: Finding[]
): void {
	if (pieces.length === 0) return;
	const walk = chainWalk(arrangement, pieces);
	if (!walk) {
		complainAt(
			model,
			arrangement,
			pieces[0]!,
			statement,
			statement.pieces[0]!,
			findings,
			'pieces that are divided as one must follow one another from end to end without a fork; these do not'
		);
		return;
	}
	let spacing: Spacing = { law: 'even' };
	let { count } = statement;
	const length = pieces.reduce((sum, p) => sum + arrangement.pieces[p]!.length, 0);
	if (statement.like) {
		complainAt(
			model,
			arrangement,
			pieces[0]!,
			statement,
			statement.like,
			findings,
			'a chain cannot be like a piece; give its spacing by numbers'
		);
		return;
	}
	if (statement.numbers || statement.positions) {
		const end = endOf(model, arrangement, walk, statement, findings);
		if (end === undefined) return;
		const shape = shapeOf(statement, end, length, pieces, findings, model, arrangement);
		if (!shape) return;
		({ spacing } = shape);
		count ??= shape.count;
	}
	if (count !== undefined && count < pieces.length) {
		complainAt(
			model,
			arrangement,
			pieces[0]!,
			statement,
			statement.pieces[0]!,
			findings,
			`${count} division${count === 1 ? '' : 's'} cannot be shared among ${pieces.length} pieces; each has at least one`
		);
		return;
	}
	const chain: Chain = { walk, spacing, line: statement.line, ...(count === undefined ? {} : { count }) };
	for (const p of pieces) {
		const entry = (asked[p] ??= { countLine: -1, spacingLine: -1 });
		const wanted = wantedBy(statement, arrangement.pieces[p]!);
		if (count !== undefined || wanted !== undefined) setCount(entry, statement.line, undefined, wanted);
		setSpacing(entry, statement.line, { chain });
	}
}

/** The pieces of an open chain in order, each in the direction of the walk; undefined where they are none. */
function chainWalk({ pieces }: Arrangement, members: readonly number[]): Walk | undefined {
	const around = new Map<number, number[]>();
	for (const p of members)
		for (const h of [2 * p, 2 * p + 1]) {
			const j = h & 1 ? pieces[p]!.end : pieces[p]!.start;
			around.set(j, [...(around.get(j) ?? []), h]);
		}
	if ([...around.values()].some((list) => list.length > 2)) return undefined;
	const ends = [...around.values()].filter((list) => list.length === 1).map(([h]) => h!);
	if (ends.length !== 2) return undefined;
	// It runs as its first piece does, if that is possible.
	const first = ends.find((h) => h === 2 * members[0]!) ?? Math.min(...ends);
	const walk: Walk = [];
	for (let h: number | undefined = first; h !== undefined;) {
		walk.push(h);
		const j: number = h & 1 ? pieces[h >> 1]!.start : pieces[h >> 1]!.end;
		const arrived: number = h ^ 1;
		h = around.get(j)!.find((other) => other !== arrived);
	}
	return walk.length === members.length ? walk : undefined;
}

/** At which end of a walk the cells are small: the end that lies on the point or curve after `toward`. */
function endOf(
	model: Model,
	arrangement: Arrangement,
	walk: Walk,
	statement: DivideStatement,
	findings: Finding[]
): BiasEnd | undefined {
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
	const meets = junctionTest(model, arrangement, statement.line, target, pieces, findings);
	if (!meets) return undefined;
	const [atStart, atEnd] = [meets(start), meets(end)];
	const complain = (message: string) => complainAt(model, arrangement, pieces[0]!, statement, target, findings, message);
	if (atStart && atEnd)
		return complain(`both ends of \`${name}\` meet \`${target.name}\`; name a point, or write \`toward both\``);
	if (!atStart && !atEnd)
		return complain(`\`${name}\` does not meet \`${target.name}\`; name an end point of it or a curve that it meets`);
	return atStart ? 'start' : 'end';
}

function complainAt(
	model: Model,
	arrangement: Arrangement,
	piece: number,
	statement: DivideStatement,
	target: CurveReference,
	findings: Finding[],
	message: string
): undefined {
	const base = model.recipe.lines[statement.line]!.from;
	const { start } = arrangement.pieces[piece]!;
	findings.push({
		severity: 'error',
		code: statement.toward === target ? 'toward' : 'divide',
		message,
		span: { from: base + target.from, to: base + target.to },
		pieces: [piece],
		at: { x: arrangement.x[start]!, y: arrangement.y[start]! }
	});
}

/** A test whether a junction lies on what `toward` names. */
function junctionTest(
	model: Model,
	arrangement: Arrangement,
	line: number,
	target: CurveReference,
	own: readonly number[],
	findings: Finding[]
): ((j: number) => boolean) | undefined {
	const point = target.piece === undefined ? model.points.find((p) => p.name === target.name) : undefined;
	if (point) return (j) => hypot(arrangement.x[j]! - point.x, arrangement.y[j]! - point.y) <= 4 * arrangement.tolerance;
	const before = findings.length;
	const others = resolvePieces(model, arrangement, line, [target], findings).filter((p) => !own.includes(p.piece));
	if (findings.length > before) return undefined;
	const junctions = new Set(others.flatMap((p) => [arrangement.pieces[p.piece]!.start, arrangement.pieces[p.piece]!.end]));
	return (j) => junctions.has(j);
}
