import { fullTurns } from '../core/recipe/drawing-budget.ts';
import { mostTurns } from '../core/recipe/limits.ts';
import type { CoordinateFile } from '../core/recipe/model.ts';
import { decodeText } from './coordinates.ts';
import { readDxf } from './dxf.ts';
import { fileKind, readRows } from './file-kind.ts';
import { readSvg } from './svg.ts';

/** Reads a file that stands beside a recipe: coordinates, DXF or SVG, told apart by what they hold. Never throws. */
export function readGeometryFile(bytes: Uint8Array): CoordinateFile {
	switch (fileKind(bytes)) {
		case 'binary dxf':
			return { error: 'this is a binary DXF file; save it as a text (ASCII) DXF' };
		case 'svg':
			return withinBudget(readSvg(decodeText(bytes)));
		case 'dxf':
			return withinBudget(readDxf(decodeText(bytes)));
		default:
			return readRows(bytes);
	}
}

/** A drawing, or the sentence that it takes too long to measure. */
function withinBudget(file: CoordinateFile): CoordinateFile {
	if (!('drawing' in file)) return file;
	let turns = 0;
	for (const { curve } of file.drawing.curves) turns += fullTurns(curve);
	return turns > mostTurns
		? {
				error: `the splines and ellipses of this file turn round more than ${mostTurns} times in all; smooth or thin them, or import a part of it`
			}
		: file;
}
