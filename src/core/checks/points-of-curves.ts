import type { TextEdit } from '../text/edit.ts';
import { setClause } from '../recipe/edits/edits.ts';
import { language } from '../recipe/language/language.ts';
import { isA } from '../recipe/language/statement.ts';
import { polyline } from '../recipe/statements/polyline.ts';
import { spline } from '../recipe/statements/spline.ts';
import type { Model } from '../recipe/model/model.ts';
import { formatNumber } from '../recipe/language/literals.ts';
import type { Point } from '../geometry/curve.ts';
import type { Expression } from '../recipe/language/syntax.ts';

/** The statement that draws a curve by itself; undefined for a copy, a side, or a curve that a later statement changed. */
function drawnBy(model: Model, c: number) {
	const line = model.curveLines[c]!;
	const { statement } = model.recipe.lines[line]!;
	if (!statement || language().recordOf(statement).defines?.(statement)?.name.text !== model.curves[c]!.name) return undefined;
	return { line, statement };
}

/** The expression that says where a curve starts or ends; undefined where none does. */
export function endExpression(model: Model, c: number, atStart: boolean): { line: number; expression: Expression } | undefined {
	const drawn = drawnBy(model, c);
	if (!drawn) return undefined;
	const { line, statement } = drawn;
	const expression = language().recordOf(statement).ends?.(statement)[atStart ? 'start' : 'end'];
	return expression && { line, expression };
}

/**
 * The edit that leaves points out of a curve through points, by their numbers from 0: from the text, or
 * with `without` where they come from a file. Undefined for any other curve.
 */
export function dropPoints(
	model: Model,
	c: number,
	numbers: readonly number[]
): { label: string; edits: TextEdit[] } | undefined {
	const drawn = drawnBy(model, c);
	if (!drawn || numbers.length === 0) return undefined;
	const { line, statement } = drawn;
	if (!isA(polyline, statement) && !isA(spline, statement)) return undefined;
	const { recipe } = model;
	if (statement.file) {
		const rows = model.fileLines.get(model.curves[c]!.name);
		const found = numbers.map((n) => rows?.[n]);
		if (found.some((row) => row === undefined)) return undefined;
		const before = (statement.without ?? []).map(([first, last]): [number, number] => [Number(first.text), Number(last.text)]);
		const stretches = joined([...before, ...(found as number[]).map((row): [number, number] => [row, row])]);
		const written = stretches.flatMap(([first, last]) =>
			last - first > 1 ? [`${first} to ${last}`] : last > first ? [`${first}`, `${last}`] : [`${first}`]
		);
		return {
			label: found.length > 3 ? `Leave out ${found.length} lines of the file` : `Leave out line ${found.join(', ')} of the file`,
			edits: setClause(recipe.lines[line]!, 'without', `without ${written.join(', ')}`)
		};
	}
	const { points } = statement;
	if (points.length - numbers.length < 2 || numbers.some((n) => n >= points.length)) return undefined;
	const base = recipe.lines[line]!.from;
	const edits = numbers.map((n) => {
		// A point goes with the `to` before it, the first with the one after it.
		const [from, to] = n > 0 ? [points[n - 1]!.to, points[n]!.to] : [points[0]!.from, points[1]!.from];
		return { from: base + from, to: base + to, insert: '' };
	});
	const which = numbers.map((n) => n + 1);
	return { label: which.length > 3 ? `Leave out ${which.length} points` : `Leave out point ${which.join(', ')}`, edits };
}

/** Stretches of lines in their order, with those that touch made one. */
function joined(stretches: readonly [number, number][]): [number, number][] {
	const list: [number, number][] = [];
	for (const [first, last] of [...stretches].sort((a, b) => a[0] - b[0])) {
		const before = list.at(-1);
		if (before && first <= before[1] + 1) before[1] = Math.max(before[1], last);
		else list.push([first, last]);
	}
	return list;
}

/**
 * The edit that moves a point of a curve from a file by a correction in the recipe. The file does not change.
 * Undefined for any other curve.
 *
 * @param to in the file's own numbers
 */
export function moveRow(model: Model, c: number, row: number, to: Point): { label: string; edits: TextEdit[] } | undefined {
	const drawn = drawnBy(model, c);
	if (!drawn || (!isA(polyline, drawn.statement) && !isA(spline, drawn.statement)) || !drawn.statement.file) return undefined;
	const { x, y } = to;
	const rows = (drawn.statement.moving ?? []).map(({ row: word, ...place }) => ({ row: Number(word.text), ...place }));
	const all = [...rows.filter((other) => other.row !== row), { row, x, y }].sort((a, b) => a.row - b.row);
	return {
		label: `Move line ${row} of ${model.curves[c]!.name}`,
		edits: setClause(
			model.recipe.lines[drawn.line]!,
			'moving',
			`moving ${all.map((one) => `${one.row} to (${formatNumber(one.x)}, ${formatNumber(one.y)})`).join(', ')}`
		)
	};
}

/** The edit that exchanges two points of a curve through points, by their numbers from 0. Undefined for any other curve. */
export function swapPoints(
	model: Model,
	c: number,
	[a, b]: readonly [number, number]
): { label: string; edits: TextEdit[] } | undefined {
	const drawn = drawnBy(model, c);
	if (!drawn) return undefined;
	const { line, statement } = drawn;
	if (!isA(polyline, statement) && !isA(spline, statement)) return undefined;
	const { recipe } = model;
	if (statement.file) {
		const rows = model.fileLines.get(model.curves[c]!.name);
		const [first, second] = [rows?.[a], rows?.[b]];
		if (first === undefined || second === undefined) return undefined;
		const pairs = [...(statement.swapping ?? []).map((pair) => pair.map((w) => w.text)), [first, second]];
		return {
			label: `Exchange lines ${first} and ${second} of the file`,
			edits: setClause(recipe.lines[line]!, 'swapping', `swapping ${pairs.map((pair) => pair.join(' with ')).join(', ')}`)
		};
	}
	const [p, q] = [statement.points[a], statement.points[b]];
	if (!p || !q) return undefined;
	const base = recipe.lines[line]!.from;
	const source = ({ from, to }: Expression) => recipe.text.slice(base + from, base + to);
	return {
		label: `Exchange points ${a + 1} and ${b + 1}`,
		edits: [
			{ from: base + p.from, to: base + p.to, insert: source(q) },
			{ from: base + q.from, to: base + q.to, insert: source(p) }
		]
	};
}
