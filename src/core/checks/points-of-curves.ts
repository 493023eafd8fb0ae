import type { TextEdit } from '../text/edit.ts';
import { setClause } from '../recipe/edits/edits.ts';
import { language } from '../recipe/language/language.ts';
import { isA } from '../recipe/language/statement.ts';
import { polyline } from '../recipe/statements/polyline.ts';
import { spline } from '../recipe/statements/spline.ts';
import type { Model } from '../recipe/model/model.ts';
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
		const list = [...(statement.without ?? []).map((w) => Number(w.text)), ...(found as number[])].sort((a, b) => a - b);
		return {
			label: `Leave out line ${found.join(', ')} of the file`,
			edits: setClause(recipe.lines[line]!, 'without', `without ${list.join(', ')}`)
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
	return { label: `Leave out point ${numbers.map((n) => n + 1).join(', ')}`, edits };
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
