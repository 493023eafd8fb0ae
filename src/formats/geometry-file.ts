import type { CoordinateFile } from '../core/recipe/model.ts';
import { coordinateFileLimit, decodeText, readCoordinates } from './coordinates.ts';
import { looksLikeDxf, readDxf } from './dxf.ts';
import { looksLikeSvg, readSvg } from './svg.ts';

/** Reads a file that stands beside a recipe: coordinates, DXF or SVG, told apart by what they hold. Never throws. */
export function readGeometryFile(bytes: Uint8Array): CoordinateFile {
	if (bytes.length === 0 || bytes.length > coordinateFileLimit) return readCoordinates(bytes);
	const head = decodeText(bytes.subarray(0, 24_000));
	if (/^[\w ]*Binary DXF\r/.test(head)) return { error: 'this is a binary DXF file; save it as a text (ASCII) DXF' };
	if (looksLikeSvg(head)) return readSvg(decodeText(bytes));
	if (looksLikeDxf(head)) return readDxf(decodeText(bytes));
	const read = readCoordinates(bytes);
	// What holds no coordinates may be the template of a deck.
	return 'error' in read && bytes.length <= templateLimit ? { ...read, ...textOf(bytes) } : read;
}

/** The largest template, in bytes. */
const templateLimit = 1_000_000;

function textOf(bytes: Uint8Array): { text?: string } {
	try {
		const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
		return text.includes('\0') ? {} : { text };
	} catch {
		return {};
	}
}
