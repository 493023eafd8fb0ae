import type { CoordinateFile, Outline } from '../core/recipe/model.ts';

/** Files above this are refused: it is room for about half a million points. */
export const coordinateFileLimit = 20_000_000;

/**
 * Reads a text file of coordinates: x and y in the first two columns, separated by commas,
 * semicolons, tabs or blanks; decimal point, or decimal comma where commas do not separate; a
 * header line or none; `#` starts a comment; a blank line starts a new outline. Never throws: a
 * file that cannot be read gives the sentence that says why, with the number of the line.
 */
export function readCoordinates(bytes: Uint8Array): CoordinateFile {
	if (bytes.length === 0) return { error: 'the file is empty; it should hold a row with x and y for each point' };
	if (bytes.length > coordinateFileLimit)
		return {
			error: `the file has ${megabytes(bytes.length)} MB, above the limit of ${megabytes(coordinateFileLimit)} MB; thin the points out or split the outline`
		};
	if (bytes.subarray(0, 65536).includes(0))
		return { error: 'this is no text file (it holds zero bytes); coordinates are read from plain text' };
	let text: string;
	try {
		text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
	} catch {
		text = new TextDecoder('latin1').decode(bytes);
	}
	return readText(text);
}

const megabytes = (bytes: number) => Number((bytes / 1e6).toPrecision(3));

function readText(text: string): CoordinateFile {
	const lines = text.split(/\r\n|\r|\n/);
	const separator = findSeparator(lines);
	const outlines: Outline[] = [];
	let x: number[] = [];
	let y: number[] = [];
	let sawRow = false;
	const close = () => {
		if (x.length > 0) outlines.push({ x: Float64Array.from(x), y: Float64Array.from(y) });
		x = [];
		y = [];
	};
	for (let i = 0; i < lines.length; i++) {
		const line = withoutComment(lines[i]!);
		if (line === undefined) continue;
		if (line === '') {
			close();
			continue;
		}
		const cells = separator.split(line);
		const [px, py] = [separator.number(cells[0]), separator.number(cells[1])];
		if (px === undefined || py === undefined) {
			// The first row may be a header.
			if (!sawRow && cells.every((cell) => separator.number(cell) === undefined && !isNotFinite(cell))) {
				sawRow = true;
				continue;
			}
			return { error: `line ${i + 1}: ${complaint(cells, px === undefined ? 0 : 1)}` };
		}
		sawRow = true;
		x.push(px);
		y.push(py);
	}
	close();
	if (outlines.length === 0) return { error: 'the file holds no coordinates; it should hold a row with x and y for each point' };
	const short = outlines.findIndex((o) => o.x.length < 2);
	if (short >= 0)
		return {
			error: `outline ${short + 1} of ${outlines.length} is a single point; an outline has at least two (a blank line starts a new one)`
		};
	return { outlines };
}

/** The line without its comment; undefined for a line that was nothing but a comment. */
function withoutComment(line: string): string | undefined {
	const hash = line.indexOf('#');
	const bare = (hash < 0 ? line : line.slice(0, hash)).replace(/^\ufeff/, '').trim();
	return hash >= 0 && bare === '' ? undefined : bare;
}

function complaint(cells: string[], bad: number): string {
	const cell = cells[bad];
	if (cell === undefined || cell === '')
		return `found only ${bad === 0 ? 'nothing' : `\`${cells[0]}\``}, and a row needs two numbers, x and y`;
	if (isNotFinite(cell)) return `\`${cell}\` is no finite number`;
	return `found \`${cell.slice(0, 40)}\` where the number for ${bad === 0 ? 'x' : 'y'} should stand`;
}

const isNotFinite = (cell: string) => /^[+-]?(nan|inf(inity)?)$/i.test(cell);

interface Separator {
	split: (line: string) => string[];
	number: (cell: string | undefined) => number | undefined;
}

const point = /^[+-]?(\d+\.?\d*|\.\d+)([eEdD][+-]?\d+)?$/;
const comma = /^[+-]?(\d+,?\d*|,\d+)([eEdD][+-]?\d+)?$/;

function pointNumber(cell: string | undefined): number | undefined {
	if (cell === undefined || !point.test(cell)) return undefined;
	const value = Number(cell.replace(/[dD]/, 'e'));
	return Number.isFinite(value) ? value : undefined;
}

function commaNumber(cell: string | undefined): number | undefined {
	if (cell === undefined) return undefined;
	return comma.test(cell) ? pointNumber(cell.replace(',', '.')) : pointNumber(cell);
}

const trimmed = (parts: string[]) => parts.map((part) => part.trim());

/** Settles how the whole file separates its columns, from its first rows with digits. */
function findSeparator(lines: string[]): Separator {
	const rows = lines
		.slice(0, 200)
		.map(withoutComment)
		.filter((line): line is string => !!line && /\d/.test(line));
	const most = (test: (row: string) => boolean) => rows.length > 0 && rows.filter(test).length * 2 > rows.length;
	if (most((row) => row.includes(';'))) return { split: (line) => trimmed(line.split(';')), number: commaNumber };
	if (most((row) => row.includes('\t')))
		return { split: (line) => trimmed(line.split('\t').filter((c) => c.trim() !== '')), number: commaNumber };
	const blanks = (line: string) => line.trim().split(/\s+/);
	// "1,5 2,5": two numbers with decimal commas; "1, 5" and "1,5" are two numbers with a comma between.
	const decimalComma = (row: string) => {
		const cells = blanks(row);
		return cells.length >= 2 && row.includes(',') && cells.slice(0, 2).every((c) => comma.test(c) && !c.endsWith(','));
	};
	if (most(decimalComma)) return { split: blanks, number: commaNumber };
	if (most((row) => row.includes(','))) return { split: (line) => trimmed(line.split(',')), number: pointNumber };
	return { split: blanks, number: pointNumber };
}
