import * as v from 'valibot';
import type { DeliveryGrid } from '../core/mesh/grid.ts';
import { gridFor } from './grid-for.ts';
import type { Result } from '../core/pipeline.ts';
import type { Model } from '../core/recipe/model/model.ts';
import { deliveriesOf, delivery, type DeliverStatement } from '../core/recipe/statements/deliver.ts';
import { language } from '../core/recipe/language/language.ts';
import { isA } from '../core/recipe/language/statement.ts';
import type { WithLine } from '../core/recipe/model/model.ts';
import { type DeckTemplate, DeckOptions } from './deck-options.ts';
import { CgnsOptions } from './cgns-options.ts';
import { FigureOptions, PngOptions } from './figure-options.ts';
import { GridOptions, PageOptions } from './grid-options.ts';
import { type Part } from './parts.ts';
import { refusalOf } from './refusal.ts';
import { TableOptions } from './table-options.ts';
import { didYouMean } from '../core/text/nearest.ts';
import { sentenceOf, UserError } from '../core/text/user-error.ts';

/** What every file format has. */
interface Format {
	/** The word for it in a recipe, in addresses and on the command line. */
	name: string;
	/** File ending without the dot. */
	ending: string;
	title: string;
	about: string;
	mediaType: string;
}

/** What a delivery is made from, besides its grid. */
export interface DeliverySource {
	result: Result;
	/** The name of its file without ending. */
	stem: string;
	template?: DeckTemplate;
}

/** The values of options that were read, by name. */
export type ReadOptions = GridOptions & Record<string, string>;

/** A format that holds a mesh, with options of its own; its writer is loaded when it is used. */
interface GridFormat extends Format {
	holds: 'mesh';
	options: v.StrictObjectSchema<Record<string, v.GenericSchema<unknown, string> & OptionSchema>, undefined>;
	/** Whether it is several files, which come packed. */
	isSeveral?: true;
	/** Whether it needs the template of a deck. */
	needsTemplate?: true;
	write: (grid: DeliveryGrid, options: never, source: DeliverySource) => Promise<Part[]>;
}

/** What is known of one option, to ask for it. */
interface OptionSchema {
	default?: unknown;
}

/** A format that holds the drawing alone. */
interface DrawingFormat extends Format {
	holds: 'drawing';
	write: (model: Model) => Promise<Uint8Array>;
}

/** A format that shows a mesh to be looked at. */
interface PageFormat extends Format {
	holds: 'page';
	options: GridFormat['options'];
	write: (options: never, source: DeliverySource) => Promise<Part[]>;
}

export type DeliveryFormat = GridFormat | PageFormat | DrawingFormat;

/** So many dots a picture may have. */
const mostDots = 100_000_000;

const one = (name: string, bytes: Uint8Array): Part[] => [{ name, bytes }];

/** Every format, in the order in which they are offered. */
export const deliveryFormats: readonly DeliveryFormat[] = [
	{
		name: 'cgns',
		ending: 'cgns',
		title: 'CGNS',
		about: 'Open standard for flow solvers: sections, families and boundary conditions by name (HDF5).',
		mediaType: 'application/x-hdf5',
		holds: 'mesh',
		options: CgnsOptions,
		write: async (grid, options: CgnsOptions, { stem, result: { mesh } }) => {
			if (options.zones === 'structured' && grid.coordinates[0]!.length !== mesh.x.length)
				throw new UserError(
					'structured zones are those of the plane mesh of first order; leave out “solid” and “order 2”, or write “plane yes”'
				);
			const { writeCgns } = await import('./cgns.ts');
			if (options.zones === 'one') return one(`${stem}.cgns`, await writeCgns(grid, options));
			const { structuredZoneNodes } = await import('./cgns-zones.ts');
			return one(
				`${stem}.cgns`,
				await writeCgns(grid, options, (wholeGrid, names) => structuredZoneNodes(wholeGrid, mesh, names))
			);
		}
	},
	{
		name: 'vtu',
		ending: 'vtu',
		title: 'VTK XML',
		about: 'Unstructured grid for viewers and scripts: regions and groups as cell arrays (raw doubles).',
		mediaType: 'application/vnd.vtk',
		holds: 'mesh',
		options: GridOptions,
		write: async (grid, options: GridOptions, { stem }) => one(`${stem}.vtu`, (await import('./vtu.ts')).writeVtu(grid, options))
	},
	{
		name: 'xdmf',
		ending: 'xdmf',
		title: 'XDMF 3',
		about: 'XML with HDF5 beside it, for viewers and scripts: regions, groups and node sets.',
		mediaType: 'application/zip',
		holds: 'mesh',
		isSeveral: true,
		options: GridOptions,
		write: async (grid, options: GridOptions, { stem }) => (await import('./xdmf.ts')).writeXdmf(grid, options, stem)
	},
	{
		name: 'tables',
		ending: 'zip',
		title: 'Tables',
		about:
			'Comma-separated values for solvers of one’s own: nodes, elements, edges, groups with exclusive corners; described by a Data Package.',
		mediaType: 'application/zip',
		holds: 'mesh',
		isSeveral: true,
		options: TableOptions,
		write: async (grid, options: TableOptions, { result }) => (await import('./tables.ts')).writeTables(grid, options, result)
	},
	{
		name: 'deck',
		ending: 'txt',
		title: 'Deck',
		about: 'Any solver’s own text, by a template of your own that stands beside the recipe (Liquid).',
		mediaType: 'text/plain',
		holds: 'mesh',
		options: DeckOptions,
		needsTemplate: true,
		write: async (grid, options: DeckOptions, { result, stem, template }) => {
			if (!template)
				throw new UserError(
					'a deck is made from a template beside the recipe; write “deliver deck "plain.liquid"” and add that file'
				);
			return (await import('./deck.ts')).writeDeck(grid, options, result, template, `${stem}.txt`);
		}
	},
	{
		name: 'report',
		ending: 'html',
		title: 'Report',
		about: 'One page to keep or print: counts, groups, quality, layers, findings, picture, and the recipe itself.',
		mediaType: 'text/html',
		holds: 'page',
		options: PageOptions,
		write: async (_, { result, stem }) =>
			one(`${stem}.html`, new TextEncoder().encode(await (await import('./report-page.ts')).writeReportPage(result)))
	},
	{
		name: 'figure',
		ending: 'figure.svg',
		title: 'Figure (SVG)',
		about: 'Elements and groups in vectors, with widths for print, a scale bar and a legend.',
		mediaType: 'image/svg+xml',
		holds: 'page',
		options: FigureOptions,
		write: async (options: FigureOptions, { result, stem }) => {
			const { figureOf, figureSvg } = await import('./figure.ts');
			return one(`${stem}.figure.svg`, new TextEncoder().encode(figureSvg(figureOf(result, options))));
		}
	},
	{
		name: 'pdf',
		ending: 'pdf',
		title: 'Figure (PDF)',
		about: 'The same figure as a page of its own size, in vectors.',
		mediaType: 'application/pdf',
		holds: 'page',
		options: FigureOptions,
		write: async (options: FigureOptions, { result, stem }) => {
			const [{ figureOf }, { figurePdf }] = await Promise.all([import('./figure.ts'), import('./figure-pdf.ts')]);
			return one(`${stem}.pdf`, await figurePdf(figureOf(result, options), result.model.title));
		}
	},
	{
		name: 'png',
		ending: 'png',
		title: 'Figure (PNG)',
		about: 'The same figure in dots, for slides and documents, at any size.',
		mediaType: 'image/png',
		holds: 'page',
		options: PngOptions,
		write: async ({ dpi, ...options }: PngOptions, { result, stem }) => {
			const { figureOf, figureSvg } = await import('./figure.ts');
			const figure = figureOf(result, options);
			const dots = Math.round((Number(dpi) / 25.4) * figure.width);
			if (dots * dots * (figure.height / figure.width) > mostDots)
				throw new UserError(
					`a picture of ${dots.toLocaleString('en')} by ${Math.round((dots * figure.height) / figure.width).toLocaleString('en')} dots is too large; take fewer “dpi”, or a smaller “width”`
				);
			return one(`${stem}.png`, await (await import('./png.ts')).pngOf(figureSvg(figure), dots));
		}
	},
	{
		name: 'dxf',
		ending: 'dxf',
		title: 'DXF',
		about: 'The drawing, not the mesh: every curve exactly, on a layer of its own name.',
		mediaType: 'image/vnd.dxf',
		holds: 'drawing',
		write: async ({ curves, units }) => new TextEncoder().encode((await import('./dxf-writer.ts')).writeDxf(curves, units))
	},
	{
		name: 'svg',
		ending: 'svg',
		title: 'SVG',
		about: 'The drawing, not the mesh: a path with its name as id for every curve.',
		mediaType: 'image/svg+xml',
		holds: 'drawing',
		write: async ({ curves, units }) => new TextEncoder().encode((await import('./svg-writer.ts')).writeSvg(curves, units))
	}
];

/** Formats that people ask for by other words. */
const formatsMeant: Record<string, string> = { csv: 'tables', vtk: 'vtu', hdf5: 'cgns', html: 'report' };

/** Said of a word that is no format. */
function noFormat(name: string): string {
	const names = deliveryFormats.map((f) => f.name);
	const meant = formatsMeant[name.toLowerCase()];
	const guess = meant !== undefined && names.includes(meant) ? `; did you mean “${meant}”?` : didYouMean(name, names);
	return `there is no format “${name}”${guess || `; there are ${names.join(', ')}`}`;
}

/** A format by its word, or by the ending of a file. */
export const formatByEnding = (word: string): DeliveryFormat | undefined =>
	deliveryFormats.find((f) => f.name === word.toLowerCase()) ?? formatOfFile(`.${word}`);

/** The format of a file by its name; the longest ending that fits counts. */
export const formatOfFile = (name: string): DeliveryFormat | undefined =>
	deliveryFormats.filter((f) => name.toLowerCase().endsWith(`.${f.ending}`)).sort((a, b) => b.ending.length - a.ending.length)[0];

/** Whether a format is delivered by a statement of the recipe alone, which names its template. */
export const needsTemplate = (format: DeliveryFormat): boolean => format.holds === 'mesh' && format.needsTemplate === true;

/** Reads the options of a format, each a word with its value; throws an Error with a sentence when one is wrong. */
export function readOptions(format: DeliveryFormat, options: Record<string, unknown> = {}): ReadOptions {
	if (format.holds === 'drawing') {
		const [first] = Object.keys(options);
		if (first !== undefined) throw new UserError(`${format.title} has no option “${first}”; it has none`);
		return v.getDefaults(GridOptions) as ReadOptions;
	}
	const optionNames = Object.keys(format.options.entries);
	const unknown = Object.keys(options).find((key) => !optionNames.includes(key));
	if (unknown !== undefined) {
		const guess = didYouMean(unknown, optionNames) || `; there is ${optionNames.join(', ')}`;
		throw new UserError(`${format.title} has no option “${unknown}”${guess}`);
	}
	const read = v.safeParse(format.options, options);
	if (read.success) return read.output as ReadOptions;
	throw new UserError(`${format.title}: ${read.issues[0].message}`);
}

/**
 * The files of a delivery, under the name that they are asked for; throws an Error with a sentence when there is no mesh to write, or an option is
 * wrong.
 */
export async function deliverParts(
	result: Result,
	format: DeliveryFormat,
	options: Record<string, unknown> | undefined,
	{ stem, template }: Omit<DeliverySource, 'result'>
): Promise<Part[]> {
	const read = readOptions(format, options);
	const refusal = refusalOf(result, format.holds, read.partial === 'yes');
	if (refusal !== undefined) throw new UserError(refusal);
	if (format.holds === 'drawing') return one(`${stem}.${format.ending}`, await format.write(result.model));
	if (format.holds === 'page') return format.write(read as never, { result, stem });
	return format.write(gridFor(result, read), read as never, { result, stem, ...(template ? { template } : {}) });
}

/** A delivery as one file: several are packed into one archive. */
export interface DeliveredFile extends Part {
	mediaType: string;
	/** Of several deliveries: which could not be made, and why. */
	problems?: string[];
}

/** What is to be delivered: a format with options, a delivery that the recipe asks for by its number from 0, or all of these. */
export type DeliveryRequest = { format: string; options?: Record<string, unknown> } | { statement: number } | 'all';

/** Told how many of the deliveries are done, and of how many. */
export type OnProgress = (done: number, of: number) => void;

/** Writes a delivery as one file. Of all that a recipe asks for it holds what could be made; `problems` says what could not. */
export async function deliverFile(result: Result, wanted: DeliveryRequest, onProgress?: OnProgress): Promise<DeliveredFile> {
	const stem = stemOf(result.model.title);
	if (wanted === 'all') {
		const outcomes = await deliverAll(result, stem, onProgress);
		const parts = outcomes.flatMap((one) => one.parts);
		const problems = problemsOf(outcomes);
		if (outcomes.length === 0) throw new UserError(noRequest);
		if (parts.length === 0) throw new UserError(problems.join('; '));
		return { ...(await packed(parts, `${stem}-deliveries`, 'application/zip', true)), problems };
	}
	if ('statement' in wanted) {
		const asked = requestedDeliveries(result.model)[wanted.statement];
		if (!asked?.format) throw new UserError(asked?.problem ?? 'the recipe has no such delivery');
		if (asked.problem !== undefined) throw new UserError(asked.problem);
		const { template, options } = asked.statement!;
		const parts = await deliverParts(result, asked.format, options, { stem, ...(template ? { template } : {}) });
		return packed(parts, `${stem}-${asked.format.name}`, asked.format.mediaType);
	}
	const format = formatByEnding(wanted.format);
	if (!format) throw new UserError(noFormat(wanted.format));
	return packed(await deliverParts(result, format, wanted.options, { stem }), `${stem}-${format.name}`, format.mediaType);
}

/** Said where a recipe is asked for all its deliveries and has none. */
export const noRequest = 'the recipe asks for no delivery; write one, like “deliver cgns”';

async function packed(parts: readonly Part[], stem: string, mediaType: string, always = false): Promise<DeliveredFile> {
	if (parts.length === 1 && !always) return { ...parts[0]!, mediaType };
	return { name: `${stem}.zip`, bytes: (await import('./parts.ts')).zipped(parts), mediaType: 'application/zip' };
}

/** The name and media type of a format's delivery, or of all that a recipe asks for, as one file. */
export function downloadOf(title: string, format: DeliveryFormat | 'all'): { name: string; mediaType: string } {
	const stem = stemOf(title);
	if (format === 'all') return { name: `${stem}-deliveries.zip`, mediaType: 'application/zip' };
	const isPacked = format.holds === 'mesh' && format.isSeveral;
	return { name: isPacked ? `${stem}-${format.name}.zip` : `${stem}.${format.ending}`, mediaType: format.mediaType };
}

/** The bytes of a delivery as one file. */
export const deliver = async (result: Result, format: DeliveryFormat, options?: Record<string, unknown>): Promise<Uint8Array> =>
	(await deliverFile(result, { format: format.name, ...(options ? { options } : {}) })).bytes;

/** One delivery that a recipe asks for. */
export interface RequestedDelivery {
	/** The index of its line. */
	line: number;
	/** What it says; undefined where it cannot be read or worked out. */
	statement?: WithLine<DeliverStatement>;
	format?: DeliveryFormat;
	/** Why it cannot be made. */
	problem?: string;
}

/** The deliveries that a recipe asks for, in their order; those too that cannot be read. */
export function requestedDeliveries(model: Model): RequestedDelivery[] {
	const { recipe } = model;
	const { recordStarting } = language();
	const byLine = new Map(deliveriesOf(model).map((statement) => [statement.line, statement]));
	return recipe.lines.flatMap(({ statement, error, from, to }, line): RequestedDelivery[] => {
		const isDelivery = statement
			? isA(delivery, statement)
			: recordStarting(/^[a-z]+/.exec(recipe.text.slice(from, to))?.[0] ?? '') === delivery;
		if (!isDelivery) return [];
		const stated = byLine.get(line);
		if (stated) return [{ line, statement: stated, ...madeOf(stated) }];
		const finding = model.findings.find(
			({ severity, span }) => severity === 'error' && span && span.from >= from && span.to <= to
		);
		return [{ line, problem: error?.message ?? finding?.message ?? 'this delivery cannot be worked out' }];
	});
}

/** The format of a delivery, and what is wrong with it. */
function madeOf({ format: name, options, template }: DeliverStatement): Pick<RequestedDelivery, 'format' | 'problem'> {
	const format = deliveryFormats.find((f) => f.name === name);
	if (!format) return { problem: noFormat(name) };
	try {
		readOptions(format, options);
	} catch (error) {
		return { format, problem: sentenceOf(error, 'the delivery') };
	}
	const lacks = needsTemplate(format) && !template;
	return { format, ...(lacks ? { problem: 'a deck names its template, like “deliver deck "plain.liquid"”' } : {}) };
}

/** What became of one delivery: its files, or why there are none. */
export interface DeliveryOutcome {
	/** The statement, as it is written. */
	source: string;
	parts: Part[];
	problem?: string;
}

/** What became of all that a recipe asks for, each delivery under a name of its own. One that fails fails alone. */
export async function deliverAll(
	result: Result,
	stem = stemOf(result.model.title),
	onProgress?: OnProgress
): Promise<DeliveryOutcome[]> {
	const { recipe } = result;
	const outcomes: DeliveryOutcome[] = [];
	const taken = new Set<string>();
	const asked = requestedDeliveries(result.model);
	for (const [k, { line, statement, format, problem }] of asked.entries()) {
		onProgress?.(k, asked.length);
		const source = recipe.text.slice(recipe.lines[line]!.from, recipe.lines[line]!.to);
		if (!statement || !format || problem !== undefined) {
			outcomes.push({ source, parts: [], problem: problem! });
			continue;
		}
		const { template, options } = statement;
		// Tables lie in a folder of their own; a second delivery of a kind is numbered.
		let name = stem;
		for (let n = 2; taken.has(`${name} ${format.name}`); n++) name = `${stem}-${n}`;
		taken.add(`${name} ${format.name}`);
		try {
			const made = await deliverParts(result, format, options, { stem: name, ...(template ? { template } : {}) });
			const folder =
				format.name === 'tables' ? `${name}-tables/` : format.name === 'deck' && made.length > 1 ? `${name}-deck/` : '';
			outcomes.push({ source, parts: made.map(({ name, bytes }) => ({ name: folder + name, bytes })) });
		} catch (error) {
			outcomes.push({ source, parts: [], problem: sentenceOf(error, 'this delivery') });
		}
	}
	return outcomes;
}

/** What could not be made of several deliveries, a sentence each. */
export const problemsOf = (outcomes: readonly DeliveryOutcome[]): string[] =>
	outcomes.flatMap(({ source, problem }) => (problem === undefined ? [] : [`“${source}” was not delivered: ${problem}`]));

/** A file name without ending from a project's title. */
export function stemOf(title: string): string {
	const stem = title
		.toLowerCase()
		.replace(/[^\p{L}\p{N}]+/gu, '-')
		.replace(/^-+|-+$/g, '');
	return stem === '' ? 'mesh' : stem;
}

/** A file name from a project's title. */
export const deliveryName = (title: string, ending: string): string => `${stemOf(title)}.${ending}`;
