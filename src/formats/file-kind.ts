import type { CoordinateFile } from '../core/recipe/model/model.ts';
import { coordinateFileLimit, decodeText, readCoordinates } from './coordinates.ts';

/** What a file beside a recipe holds, by its first bytes; `rows` for whatever is none of the others. */
export type FileKind = 'svg' | 'dxf' | 'binary dxf' | 'rows';

const looksLikeDxf = (text: string): boolean => /^\s*(999\s*\r?\n[^\n]*\r?\n\s*)*0\s*\r?\n\s*SECTION\b/.test(text);

const looksLikeSvg = (text: string): boolean => /<(?:[\w-]+:)?svg[\s>]/i.test(text.slice(0, 20_000));

/** Distinguishes drawings from rows of numbers. */
export function fileKind(bytes: Uint8Array): FileKind {
	if (bytes.length === 0 || bytes.length > coordinateFileLimit) return 'rows';
	const head = decodeText(bytes.subarray(0, 24_000));
	if (/^[\w ]*Binary DXF\r/.test(head)) return 'binary dxf';
	return looksLikeSvg(head) ? 'svg' : looksLikeDxf(head) ? 'dxf' : 'rows';
}

/** Reads rows of coordinates, or the text of a template. Never throws. */
export function readRows(bytes: Uint8Array): CoordinateFile {
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
