import { mapped } from '../../../text/typed.ts';
import { counted } from '../../../text/sentences.ts';
import { toleranceOfBox } from '../../../geometry/curve.ts';
import { thinned } from '../../../geometry/thin.ts';
import type { SplineParameter } from '../../../geometry/spline.ts';
import { compose, mapPoint } from '../../../geometry/transform.ts';
import { boxOf } from '../../../numeric/box.ts';
import { hypot } from '../../../numeric/elementary.ts';
import { fileNamed, placement } from './curve-files.ts';
import { evaluatePoint } from '../../model/expressions.ts';
import type { Outline } from '../../model/model.ts';
import { namesIn, type NameUse } from '../../language/names.ts';
import { inAnyOrder, type NamedRule, placingParts, word } from '../../language/rules.ts';
import type { Expression, Placing, Statement, Word } from '../../language/syntax.ts';
import { CloseRound, Comma, keyword, Minus, NumberLiteral, OpenRound } from '../../language/tokens.ts';
import { fail, type EvaluationContext } from '../../model/evaluation-context.ts';

/** A curve through points, written out or from a file. */
export interface Outlined extends Statement {
	name: Word;
	/** Points in order, when the curve is written out in the recipe. */
	points: Expression[];
	/** The coordinate file, when the points come from one. */
	file?: Word;
	/** With a file: which of its outlines, counted from 1; the first when absent. */
	outline?: Word;
	/** With a file: the columns that hold x and y, counted from 1. */
	columns?: [number, number];
	/** With a file: the rows to leave out, by their lines in the file: the first and the last of each stretch. */
	without?: [Word, Word][];
	/** With a file: rows that hold other numbers here than there, by their lines. */
	moving?: MovedRow[];
	/** With a file: rows that stand in one another's place, by their lines in the file. */
	swapping?: [Word, Word][];
	/** Points are left out that then lie no farther from the line than this. */
	thinned?: Expression;
	/** With a file: the point on which its first row lies. */
	start?: Expression;
	/** With a file: the point on which its last row lies. */
	end?: Expression;
	placing?: Placing;
	closed: boolean;
	parameter: SplineParameter;
	ends?: SplineEnds;
	/** The turn of the points' polygon from which it is a corner. */
	corners?: Expression;
}

/** A row of a file that is corrected: its line, and its place in the file's own numbers, before they are scaled, turned or moved. */
export interface MovedRow {
	row: Word;
	x: number;
	y: number;
}

/** How an open spline ends; `clamped` with the directions at its start and end. */
export type SplineEnds = { kind: 'natural' | 'not-a-knot' } | { kind: 'clamped'; start: Expression; end: Expression };

/** What may follow the file in {@link fileShape}, each led by its word, in their order. */
const fileParts = ['outline', 'columns', 'without', 'moving', 'swapping', 'start', 'end', 'scaled', 'turned', 'moved'] as const;

/** The words of {@link fileShape}. */
export const fileWords: readonly string[] = ['from', 'with', 'to', ...fileParts, 'thinned', 'within'];

/** The clauses of {@link fileShape}, in their order. */
export const fileClauses: readonly string[] = ['file', ...fileParts, 'thinned'];

type FileParts = Pick<Outlined, 'outline' | 'columns' | 'without' | 'moving' | 'swapping' | 'start' | 'end' | 'thinned'>;

/** `12`, or a stretch of lines `142 to 153`. */
const rowStretch: NamedRule<[Word, Word]> = {
	name: 'rowStretch',
	parse(p) {
		const first = word(p.CONSUME(NumberLiteral));
		const last = p.OPTION(() => {
			p.CONSUME(keyword('to'));
			return word(p.CONSUME2(NumberLiteral));
		});
		return [first, last ?? first];
	}
};

/** A number of a file, with its sign. */
const fileNumber: NamedRule<number> = {
	name: 'fileNumber',
	parse(p) {
		const sign = p.OPTION(() => p.CONSUME(Minus) && -1) ?? 1;
		return sign * Number(p.CONSUME(NumberLiteral).image);
	}
};

/** `57 to (1.2, 3.4)`: the line of a row, and what its numbers ought to be. */
const movedRow: NamedRule<MovedRow> = {
	name: 'movedRow',
	parse(p) {
		const row = word(p.CONSUME(NumberLiteral));
		p.CONSUME(keyword('to'));
		p.CONSUME(OpenRound);
		const x = p.SUBRULE(p.ruleOf(fileNumber));
		p.CONSUME(Comma);
		const y = p.SUBRULE2(p.ruleOf(fileNumber));
		p.CONSUME(CloseRound);
		return { row, x, y };
	}
};

/** `from "file"`, which of its outlines and columns, which rows not, and where it is laid. */
export const fileShape: NamedRule<FileParts & { file: Word; placing: Placing }> = {
	name: 'fileShape',
	parse(p) {
		p.CONSUME(keyword('from'));
		const file = p.clause('file', () => p.SUBRULE(p.quoted));
		const { scaled, turned, moved, ...parts } = inAnyOrder<Required<Placing> & Required<FileParts>>(
			(parse) => p.MANY3(parse),
			(choices) => p.OR(choices),
			{
				outline: () =>
					p.clause('outline', () => {
						p.CONSUME(keyword('outline'));
						return word(p.CONSUME(NumberLiteral));
					}),
				columns: () =>
					p.clause('columns', (): [number, number] => {
						p.CONSUME(keyword('columns'));
						const x = Number(p.CONSUME2(NumberLiteral).image);
						p.CONSUME(Comma);
						return [x, Number(p.CONSUME3(NumberLiteral).image)];
					}),
				without: () =>
					p.clause('without', () => {
						p.CONSUME(keyword('without'));
						const rows = [p.SUBRULE(p.ruleOf(rowStretch))];
						p.MANY(() => {
							p.CONSUME2(Comma);
							rows.push(p.SUBRULE2(p.ruleOf(rowStretch)));
						});
						return rows;
					}),
				moving: () =>
					p.clause('moving', () => {
						p.CONSUME(keyword('moving'));
						const rows = [p.SUBRULE(p.ruleOf(movedRow))];
						p.MANY4(() => {
							p.CONSUME4(Comma);
							rows.push(p.SUBRULE2(p.ruleOf(movedRow)));
						});
						return rows;
					}),
				swapping: () =>
					p.clause('swapping', () => {
						p.CONSUME(keyword('swapping'));
						const pairs: [Word, Word][] = [];
						const first = word(p.CONSUME6(NumberLiteral));
						p.CONSUME(keyword('with'));
						pairs.push([first, word(p.CONSUME7(NumberLiteral))]);
						p.MANY2(() => {
							p.CONSUME3(Comma);
							const next = word(p.CONSUME8(NumberLiteral));
							p.CONSUME2(keyword('with'));
							pairs.push([next, word(p.CONSUME9(NumberLiteral))]);
						});
						return pairs;
					}),
				start: () =>
					p.clause('start', () => {
						p.CONSUME(keyword('start'));
						return p.SUBRULE(p.expression);
					}),
				end: () =>
					p.clause('end', () => {
						p.CONSUME(keyword('end'));
						return p.SUBRULE2(p.expression);
					}),
				...placingParts(p),
				thinned: () =>
					p.clause('thinned', () => {
						p.CONSUME(keyword('thinned'));
						p.CONSUME(keyword('within'));
						return p.SUBRULE3(p.expression);
					})
			}
		);
		return { file, ...parts, placing: { ...(scaled && { scaled }), ...(turned && { turned }), ...(moved && { moved }) } };
	}
};

/** The rules of curves through points that may stand in a file. */
export const fileRules: readonly NamedRule<unknown>[] = [fileShape, rowStretch, movedRow, fileNumber];

/** The names that a curve through points uses. */
export const usesOf = ({ points, start, end, placing, ends, corners, thinned }: Outlined): NameUse[] =>
	namesIn(
		points,
		start,
		end,
		placing?.scaled,
		placing?.turned,
		placing?.moved,
		corners,
		thinned,
		ends?.kind === 'clamped' ? [ends.start, ends.end] : []
	);

/** Its first and last point, where they are written out. */
export const endsOf = ({ points: [start, ...more] }: Outlined): { start?: Expression; end?: Expression } =>
	start ? { start, end: more.at(-1) ?? start } : {};

/** The points, at least as many as a curve needs. */
export function outlineOf(statement: Outlined, context: EvaluationContext): Outline & { closed: boolean } {
	const outline = thinnedOf(statement, pointsOf(statement, context), context);
	const least = outline.closed ? 3 : 2;
	if (outline.x.length < least)
		fail(
			statement.name,
			`${outline.closed ? 'a closed curve' : 'a curve'} needs at least ${least} different points, found ${outline.x.length}`
		);
	return outline;
}

/** An outline without the points that are not needed within the distance that is asked; what that leaves is reported. */
function thinnedOf(
	statement: Outlined,
	outline: Outline & { closed: boolean },
	context: EvaluationContext
): Outline & { closed: boolean } {
	if (!statement.thinned) return outline;
	const within = context.positive(statement.thinned, 'a distance');
	const { x, y, closed, lines } = outline;
	const { kept, deviation, farthest } = thinned(x, y, closed, within);
	const name = statement.name.text;
	context.model.thinned.set(name, { x, y, closed });
	const line = lines ? ` (line ${lines[farthest]} of its file)` : '';
	context.report.add(
		'thinned',
		{ name, points: x.length, left: kept.length, deviation, within, line },
		{ within: statement.thinned, at: { x: x[farthest]!, y: y[farthest]! } }
	);
	const pick = (values: Float64Array) => Float64Array.from(kept, (k) => values[k]!);
	return { ...outline, x: pick(x), y: pick(y), ...(lines ? { lines: kept.map((k) => lines[k]!) } : {}) };
}

/** The points of a polyline or spline; neighbours that repeat, to rounding, are taken once. */
function pointsOf(statement: Outlined, context: EvaluationContext): Outline & { closed: boolean } {
	const outline = statement.file ? outlineFromFile(statement, statement.file, context) : outlineWritten(statement, context);
	const [x, y] = [new Float64Array(outline.x.length), new Float64Array(outline.x.length)];
	const lines = outline.lines && new Uint32Array(x.length);
	const small = toleranceOfBox(boxOf(outline.x, outline.y));
	let count = 0;
	for (let i = 0; i < outline.x.length; i++) {
		const [px, py] = [outline.x[i]!, outline.y[i]!];
		if (count > 0 && hypot(px - x[count - 1]!, py - y[count - 1]!) <= small) continue;
		x[count] = px;
		y[count] = py;
		if (lines) lines[count] = outline.lines![i]!;
		count++;
	}
	// A curve that comes back to its start is closed, said or not.
	const returns = count > 2 && hypot(x[0]! - x[count - 1]!, y[0]! - y[count - 1]!) <= small;
	if (returns) count--;
	return {
		x: x.slice(0, count),
		y: y.slice(0, count),
		closed: statement.closed || returns,
		...(lines ? { lines: lines.slice(0, returns ? count + 1 : count) } : {})
	};
}

function outlineWritten(statement: Outlined, context: EvaluationContext): Outline {
	const points = statement.points.map((p) => evaluatePoint(p, context.scope));
	return { x: Float64Array.from(points, (p) => p.x), y: Float64Array.from(points, (p) => p.y) };
}

/**
 * An outline of a file, the first unless another is asked for. `start p` moves it so that its first row lies on p; `end q`
 * as well stretches each axis so that its last row lies on q.
 */
function outlineFromFile(statement: Outlined, word: Word, context: EvaluationContext): Outline {
	const file = fileNamed(word, context);
	if ('drawing' in file) fail(word, `“${word.text}” is a drawing; take its curves with “drawing name = from "${word.text}"”`);
	let outline = chosenOutline(statement, word, file.outlines, context);
	const placed = placement(statement.placing, context);
	context.model.fileMaps.set(statement.name.text, placed);
	if (statement.placing && Object.keys(statement.placing).length > 0) {
		const map = placed;
		const points = Array.from(outline.x, (x, k) => mapPoint(map, { x, y: outline.y[k]! }));
		outline = { ...outline, x: Float64Array.from(points, (p) => p.x), y: Float64Array.from(points, (p) => p.y) };
	}
	const start = statement.start && evaluatePoint(statement.start, context.scope);
	const end = statement.end && evaluatePoint(statement.end, context.scope);
	if (!start && !end) return outline;
	const stretch = { x: { scale: 1, step: 0 }, y: { scale: 1, step: 0 } };
	const map = (axis: 'x' | 'y'): Float64Array => {
		const values = outline[axis];
		const [first, last] = [values[0]!, values.at(-1)!];
		if (!start || !end) {
			const step = start ? start[axis] - first : end![axis] - last;
			stretch[axis] = { scale: 1, step };
			return values.map((v) => v + step);
		}
		if (first === last) {
			if (start[axis] !== end[axis])
				fail(
					statement.end!,
					`the rows of “${word.text}” start and end at the same ${axis}, so it cannot be stretched from ${axis} = ${start[axis]} to ${end[axis]}`
				);
			stretch[axis] = { scale: 1, step: start[axis] - first };
			return values.map((v) => v - first + start[axis]);
		}
		const scale = (end[axis] - start[axis]) / (last - first);
		stretch[axis] = { scale, step: start[axis] - first * scale };
		const mapped = values.map((v) => start[axis] + (v - first) * scale);
		mapped[mapped.length - 1] = end[axis];
		return mapped;
	};
	const moved = { ...outline, x: map('x'), y: map('y') };
	const { x, y } = stretch;
	context.model.fileMaps.set(statement.name.text, compose({ a: x.scale, b: 0, c: 0, d: y.scale, e: x.step, f: y.step }, placed));
	return moved;
}

/** The outline, columns and rows that a statement asks for. */
function chosenOutline(statement: Outlined, word: Word, outlines: Outline[], context: EvaluationContext): Outline {
	const count = outlines.length;
	const number = Number(statement.outline?.text ?? 1);
	let outline = outlines[number - 1];
	if (!outline) fail(statement.outline!, `“${word.text}” holds ${counted(count, 'outline')}; there is no outline ${number}`);
	if (!statement.outline && count > 1) context.report.add('several-outlines', { file: word.text, count }, { within: word });
	if (statement.columns) {
		const columns = outline.columns ?? [outline.x, outline.y];
		const clause = statement.clauses.find((c) => c.name === 'columns')!;
		const [x, y] = mapped(
			statement.columns,
			(c) => columns[c - 1] ?? fail(clause, `“${word.text}” has ${columns.length} columns of numbers; there is no column ${c}`)
		);
		outline = { ...outline, x, y };
	}
	if (statement.moving) {
		const [x, y] = [outline.x.slice(), outline.y.slice()];
		for (const { row, ...to } of statement.moving) {
			const k = rowIn(outline, row, word);
			[x[k], y[k]] = [to.x, to.y];
		}
		outline = { ...outline, x, y };
	}
	if (statement.swapping) {
		const [x, y, rows] = [outline.x.slice(), outline.y.slice(), outline.lines?.slice()];
		const found = outline;
		for (const pair of statement.swapping) {
			const [a, b] = mapped(pair, (row) => rowIn(found, row, word));
			for (const values of [x, y, rows!]) [values[a], values[b]] = [values[b]!, values[a]!];
		}
		outline = { ...outline, x, y, ...(rows ? { lines: rows } : {}) };
	}
	if (statement.without) {
		const whole = outline;
		const { lines } = whole;
		const stretches = statement.without.map((pair) => {
			for (const row of pair) rowIn(whole, row, word);
			const [first, last] = mapped(pair, (row) => Number(row.text));
			if (last < first) fail(pair[1], `lines go from the lower to the higher: ${last} to ${first}`);
			return { first, last };
		});
		const keep = (_: number, k: number) => !stretches.some(({ first, last }) => lines![k]! >= first && lines![k]! <= last);
		outline = { x: outline.x.filter(keep), y: outline.y.filter(keep), ...(lines ? { lines: lines.filter(keep) } : {}) };
	}
	return outline;
}

/** The number of the point, from 0, that stands on a line of a file. */
function rowIn({ lines }: Outline, row: Word, file: Word): number {
	const k = lines?.indexOf(Number(row.text)) ?? -1;
	return k >= 0 ? k : fail(row, `line ${row.text} of “${file.text}” holds no point of this outline`);
}
