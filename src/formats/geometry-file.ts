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
			return readSvg(decodeText(bytes));
		case 'dxf':
			return readDxf(decodeText(bytes));
		default:
			return readRows(bytes);
	}
}
