import { isA } from '../../core/recipe/language/statement.ts';
import { polyline } from '../../core/recipe/statements/polyline.ts';
import { spline } from '../../core/recipe/statements/spline.ts';
import { dropPoints, moveRow } from '../../core/checks/points-of-curves.ts';
import { tidyNumber } from '../../core/recipe/language/literals.ts';
import { applyEdits, type TextEdit } from '../../core/text/edit.ts';
import { thingKey } from '../desk/selection.svelte.ts';
import type { Shown } from '../desk/snapshot.ts';
import { type Point, segmentPoint } from '../../core/geometry/curve.ts';
import { screenX, screenY, type View } from './view.ts';

/** A row of a file by the curve that comes of it. */
export interface FileRow {
	curve: string;
	/** Its line in the file, from 1. */
	line: number;
}

/** A point of an imported outline, as it can be taken hold of. */
export interface FilePoint extends FileRow, Point {}

/** More points than this on the screen would hide the outline; zooming in brings them out. */
const mostShown = 300;

/** The points of a curve that come from a file and lie in view; none while there are too many to tell apart. */
export function filePoints(result: Shown, curve: string, view: View): FilePoint[] {
	const lines = result.model.fileLines.get(curve);
	const [c] = result.model.curvesByName.get(curve) ?? [];
	if (!lines || c === undefined) return [];
	const drawn = result.model.curves[c]!;
	const points: FilePoint[] = [];
	for (let k = 0; k < lines.length; k++) {
		const { x, y } = k < drawn.kinds.length ? segmentPoint(drawn, k, 0) : segmentPoint(drawn, k - 1, 1);
		const [px, py] = [screenX(view, x), screenY(view, y)];
		if (px < 0 || py < 0 || px > view.width || py > view.height) continue;
		points.push({ curve, line: lines[k]!, x, y });
		if (points.length > mostShown) return [];
	}
	return points;
}

/** Why a point of a file cannot be moved; undefined when it can. */
export function whyHeld(result: Shown, { curve, line }: FilePoint): string | undefined {
	const lines = result.model.fileLines.get(curve)!;
	const index = result.model.curveLines[result.model.curvesByName.get(curve)![0]!]!;
	const { statement } = result.recipe.lines[index]!;
	if (!isA(polyline, statement) && !isA(spline, statement)) return `${curve} was changed after it was read; change it there`;
	if (statement.start && line === lines[0]) return `the first point of ${curve} is held by “from”`;
	if (statement.end && line === lines.at(-1)) return `the last point of ${curve} is held by “to”`;
	return undefined;
}

/** The recipe with one point of a file put elsewhere in the drawing; the file stays as it is. */
export function moveFilePoint(result: Shown, { curve, line }: FilePoint, to: Point): { text: string; label: string } | undefined {
	const { model, recipe } = result;
	const { a, b, c, d, e, f } = model.fileMaps.get(curve)!;
	const whole = a * d - b * c;
	const [dx, dy] = [to.x - e, to.y - f];
	const size = result.arrangement.diagonal / Math.sqrt(Math.abs(whole));
	const inFile = { x: tidyNumber((d * dx - b * dy) / whole, size), y: tidyNumber((a * dy - c * dx) / whole, size) };
	const edit = moveRow(model, model.curvesByName.get(curve)![0]!, line, inFile);
	return edit && { text: applyEdits(recipe.text, edit.edits), label: edit.label };
}

/** The recipe without some points of curves from files. */
export function withoutFilePoints(result: Shown, points: readonly FileRow[]): { text: string; label: string } | undefined {
	const { model, recipe } = result;
	const edits: TextEdit[] = [];
	let label = '';
	for (const curve of new Set(points.map((p) => p.curve))) {
		const rows = model.fileLines.get(curve);
		const [c] = model.curvesByName.get(curve) ?? [];
		if (!rows || c === undefined) continue;
		const numbers = points.filter((p) => p.curve === curve).map((p) => rows.indexOf(p.line));
		const dropped = dropPoints(
			model,
			c,
			numbers.filter((n) => n >= 0)
		);
		if (!dropped) continue;
		edits.push(...dropped.edits);
		({ label } = dropped);
	}
	return edits.length > 0 ? { text: applyEdits(recipe.text, edits), label } : undefined;
}

/** The key by which a point of a file is selected, and the point of a key. */
export const rowKey = ({ curve, line }: FileRow): string => thingKey('row', `${curve} ${line}`);
export function rowOf(name: string): FileRow {
	const [curve, line] = name.split(' ');
	return { curve: curve!, line: Number(line) };
}
