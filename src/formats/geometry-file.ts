import { DrawingBudget } from '../core/recipe/model/drawing-budget.ts';
import type { CoordinateFile } from '../core/recipe/model/model.ts';
import { decodeText } from './coordinates.ts';
import { readDxf } from './dxf.ts';
import { fileKind, readRows } from './file-kind.ts';
import { readSvg } from './svg.ts';

/** Reads a file that stands beside a recipe: coordinates, DXF or SVG, distinguished by what they hold. Never throws. */
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
	const budget = new DrawingBudget();
	for (const { curve } of file.drawing.curves) {
		const tooMuch = budget.addTurns(curve);
		if (tooMuch !== undefined)
			return { error: `this file draws more than ${tooMuch}; smooth or thin them out, or import a part of it` };
	}
	return file;
}
