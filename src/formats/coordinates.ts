import { toleranceOfBox } from '../core/geometry/curve.ts';
import { boxOf } from '../core/numeric/box.ts';
import { hypot } from '../core/numeric/elementary.ts';
import type { CoordinateFile, Outline } from '../core/recipe/model/model.ts';

/** Files above this are refused: it is room for about half a million points. */
export const coordinateFileLimit = 20_000_000;
/** What a file of rows may come to. */
const [mostOutlines, mostColumns, longestLine] = [50_000, 100, 10_000];

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
	return readText(decodeText(bytes));
}

/** Text in UTF-8, or in Latin-1 where it is not that. */
export function decodeText(bytes: Uint8Array): string {
	try {
		return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
	} catch {
		return new TextDecoder('latin1').decode(bytes);
	}
}

const megabytes = (bytes: number) => Number((bytes / 1e6).toPrecision(3));

/** A file of rows: their numbers by column, the line each stands on, and where an outline ends. */
interface Rows {
	cells: (number | undefined)[][];
	lines: number[];
	/** Row numbers at which a new outline starts. */
	starts: number[];
	name?: string;
}

function readText(text: string): CoordinateFile {
	const rows = readRows(text);
	if ('error' in rows) return rows;
	const { cells, lines } = rows;
	if (cells.length === 0) return { error: 'the file holds no coordinates; it should hold a row with x and y for each point' };
	// x and y are the first two columns that hold a number in every row.
	const width = Math.max(...cells.slice(0, 50).map((row) => row.length));
	const whole: number[] = [];
	for (let c = 0; c < width; c++) if (cells.every((row) => row[c] !== undefined)) whole.push(c);
	const [cx, cy] = whole as [number, number];
	const notes: string[] = [];
	if (rows.name) notes.push(`The first line is its name: ${rows.name}`);
	if (cx !== 0 || cy !== 1) notes.push(`x and y are columns ${cx + 1} and ${cy + 1}`);
	const column = (c: number, from: number, to: number): Float64Array => {
		const column = new Float64Array(to - from);
		for (let k = from; k < to; k++) column[k - from] = cells[k]![c] ?? NaN;
		return column;
	};
	const cut = (from: number, to: number): Outline => ({
		x: column(cx, from, to),
		y: column(cy, from, to),
		lines: Uint32Array.from(lines.slice(from, to)),
		...(whole.length > 2 ? { columns: Array.from({ length: width }, (_, c) => column(c, from, to)) } : {})
	});
	const runs = countedRuns(cells, cx, cy);
	let outlines: Outline[];
	if (runs) {
		notes.push(`Two runs of ${runs[0]} and ${runs[1]} points, as its counts say`);
		outlines = [cut(1, 1 + runs[0]), cut(1 + runs[0], cells.length)];
	} else outlines = rows.starts.map((from, k) => cut(from, rows.starts[k + 1] ?? cells.length));
	const short = outlines.findIndex((o) => o.x.length < 2);
	if (short >= 0)
		return {
			error: `outline ${short + 1} of ${outlines.length} is a single point; an outline has at least two (a blank line starts a new one)`
		};
	const profile = joinedProfile(outlines);
	if (profile) {
		notes.push(
			'Read as a profile: an upper and a lower run from the leading edge, put end to end from the trailing edge over the top'
		);
		outlines = [profile];
	}
	for (const [k, outline] of outlines.entries())
		notes.push(...observations(outline, outlines.length > 1 ? `Outline ${k + 1}` : 'The outline'));
	return { outlines, notes };
}

function readRows(text: string): Rows | { error: string } {
	const all = text.includes('\r') ? text.split(/\r\n|\r|\n/) : text.split('\n');
	const separator = findSeparator(all);
	const rows: Rows = { cells: [], lines: [], starts: [] };
	const tooLong = all.findIndex((line) => line.length > longestLine);
	if (tooLong >= 0)
		return {
			error: `line ${tooLong + 1} has ${all[tooLong]!.length} characters, and ${longestLine} are the most; each point stands on a line of its own`
		};
	let open = false;
	let sawRow = false;
	for (let i = 0; i < all.length; i++) {
		const line = withoutComment(all[i]!);
		if (line === undefined) continue;
		if (line === '') {
			open = false;
			continue;
		}
		const cells = separator.split(line);
		if (cells.length > mostColumns)
			return {
				error: `line ${i + 1} has ${cells.length} columns, and ${mostColumns} are the most; keep the columns that are wanted`
			};
		const numbers = cells.map(separator.number);
		if (!sawRow && isTitle(cells, numbers, nextLine(all, i), separator)) {
			sawRow = true;
			// `x, y` is a header; anything longer is worth telling.
			if (!cells.every((cell) => /^\P{L}*\p{L}?\P{L}*$/u.test(cell))) rows.name = line;
			continue;
		}
		const bad = numbers[0] === undefined || numbers[1] === undefined ? badCell(numbers, rows.cells[0]) : undefined;
		if (bad !== undefined) return { error: `line ${i + 1}: ${complaint(cells, bad)}` };
		sawRow = true;
		if (!open && rows.starts.push(rows.cells.length) > mostOutlines)
			return {
				error: `line ${i + 1}: more than ${mostOutlines} outlines in one file (a blank line starts a new one); split the file`
			};
		open = true;
		rows.cells.push(numbers);
		rows.lines.push(i + 1);
	}
	return rows;
}

/** The cell for x or y that holds no number, where the row holds fewer than two, or the first row has one there. */
function badCell(numbers: (number | undefined)[], first: (number | undefined)[] | undefined): number | undefined {
	if (numbers.filter((n) => n !== undefined).length < 2) return numbers[0] === undefined ? 0 : 1;
	return first && [0, 1].find((c) => first[c] !== undefined && numbers[c] === undefined);
}

/** Whether the first line is a header or a name: no row of numbers, but words, perhaps with numbers among them. */
function isTitle(cells: string[], numbers: (number | undefined)[], next: string, separator: Separator): boolean {
	const [x, y] = numbers;
	if ((x !== undefined && y !== undefined) || isNotFinite(cells[0]!)) return false;
	const rowFollows = separator.split(next).filter((cell) => separator.number(cell) !== undefined).length >= 2;
	if (x === undefined)
		return numbers.filter((n) => n !== undefined).length < 2 || (rowFollows && cells.length > separator.split(next).length);
	return cells.length > 1 && rowFollows && /\p{L}/u.test(cells[1]!) && !isNotFinite(cells[1]!) && separator.isBlank === true;
}

/** The next line that is not empty or a comment. */
function nextLine(all: string[], from: number): string {
	for (let k = from + 1; k < all.length; k++) {
		const line = withoutComment(all[k]!);
		if (line) return line;
	}
	return '';
}

/** The lengths of an upper and a lower run, when the first row gives them and the others add up to them. */
function countedRuns(cells: (number | undefined)[][], cx: number, cy: number): [number, number] | undefined {
	const [a, b] = [cells[0]![cx]!, cells[0]![cy]!];
	return Number.isInteger(a) && Number.isInteger(b) && a >= 2 && b >= 2 && a + b === cells.length - 1 ? [a, b] : undefined;
}

/**
 * One outline from the two runs of a profile: both start at the leading edge, go to the trailing
 * edge, and end close together there. Undefined when the outlines are no such runs.
 */
function joinedProfile(outlines: Outline[]): Outline | undefined {
	if (outlines.length !== 2) return undefined;
	const [a, b] = outlines as [Outline, Outline];
	const last = (o: Outline) => ({ x: o.x.at(-1)!, y: o.y.at(-1)! });
	const chord = last(a).x - a.x[0]!;
	if (!(chord > 0)) return undefined;
	const near = (dx: number, dy: number, share: number) => Math.abs(dx) <= share * chord && Math.abs(dy) <= share * chord;
	if (!near(a.x[0]! - b.x[0]!, a.y[0]! - b.y[0]!, 1e-6) || !near(last(a).x - last(b).x, last(a).y - last(b).y, 0.05))
		return undefined;
	const forward = (o: Outline) => o.x.every((x, k) => k < 2 || x >= o.x[k - 1]! - 1e-3 * chord);
	const height = (o: Outline) => o.y.reduce((sum, y) => sum + y, 0) / o.y.length;
	if (!forward(a) || !forward(b) || height(a) === height(b)) return undefined;
	const [upper, lower] = height(a) > height(b) ? [a, b] : [b, a];
	return {
		x: Float64Array.from([...upper.x.slice().reverse(), ...lower.x.slice(1)]),
		y: Float64Array.from([...upper.y.slice().reverse(), ...lower.y.slice(1)]),
		lines: Uint32Array.from([...upper.lines!.slice().reverse(), ...lower.lines!.slice(1)])
	};
}

/** What is worth knowing of an outline: open or closed, which way it runs, points that repeat. */
function observations({ x, y }: Outline, name: string): string[] {
	const n = x.length;
	let repeats = 0;
	let area = 0;
	for (let k = 1; k < n; k++) {
		if (x[k] === x[k - 1] && y[k] === y[k - 1]) repeats++;
		area += (x[k - 1]! - x[0]!) * (y[k]! - y[0]!) - (x[k]! - x[0]!) * (y[k - 1]! - y[0]!);
	}
	const ends = hypot(x[0]! - x[n - 1]!, y[0]! - y[n - 1]!);
	const closed = n > 2 && ends <= toleranceOfBox(boxOf(x, y));
	const notes = [`${name} is ${closed ? `closed and runs ${area < 0 ? 'clockwise' : 'counter-clockwise'}` : 'open'}`];
	if (repeats > 0)
		notes.push(`${repeats} point${repeats === 1 ? ' repeats its' : 's repeat their'} neighbour and will be taken once`);
	return notes;
}

/** The line without its comment; undefined for a line that was nothing but a comment. */
function withoutComment(line: string): string | undefined {
	const hash = line.indexOf('#');
	const content = hash < 0 ? line : line.slice(0, hash);
	const bare = (content.startsWith('\ufeff') ? content.slice(1) : content).trim();
	return hash >= 0 && bare === '' ? undefined : bare;
}

function complaint(cells: string[], bad: number): string {
	const cell = cells[bad];
	if (cell === undefined || cell === '')
		return `found only ${bad === 0 ? 'nothing' : `“${cells[0]}”`}, and a row needs two numbers, x and y`;
	if (isNotFinite(cell)) return `“${cell}” is no finite number`;
	return `found “${cell.slice(0, 40)}” where the number for ${bad === 0 ? 'x' : 'y'} should stand`;
}

const isNotFinite = (cell: string) => /^[+-]?(nan|inf(inity)?)$/i.test(cell);

interface Separator {
	/** Whether blanks alone separate columns. */
	isBlank?: boolean;
	split: (line: string) => string[];
	number: (cell: string | undefined) => number | undefined;
}

const point = /^[+-]?(\d+\.?\d*|\.\d+)([eEdD][+-]?\d+)?$/;
const comma = /^[+-]?(\d+,?\d*|,\d+)([eEdD][+-]?\d+)?$/;

function pointNumber(cell: string | undefined): number | undefined {
	if (cell === undefined || !point.test(cell)) return undefined;
	const plain = Number(cell);
	// An exponent after a d, as old programs write it.
	const value = Number.isNaN(plain) ? Number(cell.replace(/[dD]/, 'e')) : plain;
	return Number.isFinite(value) ? value : undefined;
}

function commaNumber(cell: string | undefined): number | undefined {
	if (cell === undefined) return undefined;
	return comma.test(cell) ? pointNumber(cell.replace(',', '.')) : pointNumber(cell);
}

/** The cells of a row between separators; `split` would look every row up in a table of strings. */
function cellsBetween(line: string, separator: string): string[] {
	const cells: string[] = [];
	let from = 0;
	for (let to = line.indexOf(separator); to >= 0; to = line.indexOf(separator, from)) {
		cells.push(line.slice(from, to).trim());
		from = to + 1;
	}
	cells.push(line.slice(from).trim());
	return cells;
}

/** Settles how the whole file separates its columns, from its first rows with digits. */
function findSeparator(lines: string[]): Separator {
	const rows = lines
		.slice(0, 200)
		.map(withoutComment)
		.filter((line): line is string => !!line && /\d/.test(line));
	const most = (test: (row: string) => boolean) => rows.length > 0 && rows.filter(test).length * 2 > rows.length;
	if (most((row) => row.includes(';'))) return { split: (line) => cellsBetween(line, ';'), number: commaNumber };
	if (most((row) => row.includes('\t')))
		return { split: (line) => cellsBetween(line, '\t').filter((cell) => cell !== ''), number: commaNumber };
	const blanks = (line: string) => line.trim().split(/\s+/);
	// "1,5 2,5": two numbers with decimal commas; "1, 5" and "1,5" are two numbers with a comma between.
	const decimalComma = (row: string) => {
		const cells = blanks(row);
		return cells.length >= 2 && row.includes(',') && cells.slice(0, 2).every((c) => comma.test(c) && !c.endsWith(','));
	};
	if (most(decimalComma)) return { split: blanks, number: commaNumber, isBlank: true };
	if (most((row) => row.includes(','))) return { split: (line) => cellsBetween(line, ','), number: pointNumber };
	return { split: blanks, number: pointNumber, isBlank: true };
}
