import { isA } from '../../core/recipe/language/statement.ts';
import { polyline } from '../../core/recipe/statements/polyline.ts';
import { spline } from '../../core/recipe/statements/spline.ts';
import { moveRow } from '../../formats/coordinates.ts';
import { applyEdits } from '../../core/text/edit.ts';
import type { Shown } from '../desk/snapshot.ts';
import { segmentPoint } from '../../core/geometry/curve.ts';
import { screenX, screenY, type View } from './view.ts';

/** A point of an imported outline, as it can be taken hold of. */
export interface FilePoint {
	curve: string;
	/** Its line in the file, from 1. */
	line: number;
	x: number;
	y: number;
}

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

/** The name of the changed copy of a file: `wall.csv` becomes `wall-changed.csv`, and stays so. */
export function changedName(name: string): string {
	const [, stem, ending] = /^(.*?)(\.[^.]*)?$/s.exec(name)!;
	return stem!.endsWith('-changed') ? name : `${stem}-changed${ending ?? ''}`;
}

/**
 * A changed copy of a file with one point moved, and the recipe that uses it.
 *
 * @param bytes the file as it is
 * @param to where the point goes, in the drawing
 */
export function moveFilePoint(
	result: Shown,
	point: FilePoint,
	to: { x: number; y: number },
	bytes: Uint8Array
): { name: string; bytes: Uint8Array; text: string } {
	const index = result.model.curveLines[result.model.curvesByName.get(point.curve)![0]!]!;
	const line = result.recipe.lines[index]!;
	const { statement } = line;
	if (!(isA(polyline, statement) || isA(spline, statement)) || !statement.file)
		throw new RangeError(`${point.curve} is no outline of a file`);
	const { a, b, c, d, e, f } = result.model.fileMaps.get(point.curve)!;
	const whole = a * d - b * c;
	const back = ({ x, y }: { x: number; y: number }) => ({
		x: (d * (x - e) - b * (y - f)) / whole,
		y: (a * (y - f) - c * (x - e)) / whole
	});
	const name = changedName(statement.file.text);
	const { from } = statement.file;
	const written = result.recipe.text.indexOf(`"${statement.file.text}"`, line.from + from - 1);
	return {
		name,
		bytes: moveRow(bytes, point.line, back(point), back(to)),
		text: applyEdits(result.recipe.text, [{ from: written, to: written + statement.file.text.length + 2, insert: `"${name}"` }])
	};
}
