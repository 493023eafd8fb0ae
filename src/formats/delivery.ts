import * as v from 'valibot';
import { gridOf, type Grid } from '../core/mesh/grid.ts';
import { elementCount } from '../core/mesh/mesh.ts';
import type { Result } from '../core/pipeline.ts';
import type { Model } from '../core/recipe/model.ts';
import { solidOf } from '../core/recipe/statements/solid.ts';
import { solidGrid } from '../core/solid/solid.ts';
import { GridOptions } from './grid-options.ts';

/** What every file format has. */
interface Format {
	/** File ending without the dot; also the word in addresses and on the command line. */
	ending: string;
	title: string;
	about: string;
	mediaType: string;
}

/** A format that holds a mesh, with options of its own; its writer is loaded when it is used. */
interface GridFormat extends Format {
	holds: 'mesh';
	options: typeof GridOptions;
	write: (grid: Grid, options: GridOptions) => Promise<Uint8Array>;
}

/** A format that holds the drawing alone. */
interface DrawingFormat extends Format {
	holds: 'drawing';
	write: (model: Model) => Promise<Uint8Array>;
}

export type DeliveryFormat = GridFormat | DrawingFormat;

/** Every format, in the order in which they are offered. */
export const deliveryFormats: readonly DeliveryFormat[] = [
	{
		ending: 'cgns',
		title: 'CGNS',
		about: 'Open standard for flow solvers: sections, families and boundary conditions by name (HDF5).',
		mediaType: 'application/x-hdf5',
		holds: 'mesh',
		options: GridOptions,
		write: async (grid, options) => (await import('./cgns.ts')).writeCgns(grid, options)
	},
	{
		ending: 'vtu',
		title: 'VTK XML',
		about: 'Unstructured grid for viewers and scripts: regions and groups as cell arrays (raw doubles).',
		mediaType: 'application/vnd.vtk',
		holds: 'mesh',
		options: GridOptions,
		write: async (grid, options) => (await import('./vtu.ts')).writeVtu(grid, options)
	},
	{
		ending: 'dxf',
		title: 'DXF',
		about: 'The drawing, not the mesh: every curve exactly, on a layer of its own name.',
		mediaType: 'image/vnd.dxf',
		holds: 'drawing',
		write: async ({ curves, units }) => new TextEncoder().encode((await import('./dxf-writer.ts')).writeDxf(curves, units))
	},
	{
		ending: 'svg',
		title: 'SVG',
		about: 'The drawing, not the mesh: a path with its name as id for every curve.',
		mediaType: 'image/svg+xml',
		holds: 'drawing',
		write: async ({ curves, units }) => new TextEncoder().encode((await import('./svg-writer.ts')).writeSvg(curves, units))
	}
];

export const formatByEnding = (ending: string): DeliveryFormat | undefined =>
	deliveryFormats.find((f) => f.ending === ending.toLowerCase());

/** Reads the options of a format, each a word with its value; throws an Error with a sentence when one is wrong. */
export function readOptions(format: DeliveryFormat, options: Record<string, unknown> = {}): GridOptions {
	if (format.holds === 'drawing') {
		const [first] = Object.keys(options);
		if (first !== undefined) throw new Error(`${format.title} has no option \`${first}\`; it has none`);
		return v.getDefaults(GridOptions) as GridOptions;
	}
	const known = Object.keys(format.options.entries);
	const unknown = Object.keys(options).find((key) => !known.includes(key));
	if (unknown !== undefined) throw new Error(`${format.title} has no option \`${unknown}\`; there is ${known.join(', ')}`);
	const read = v.safeParse(format.options, options);
	if (read.success) return read.output;
	throw new Error(`${format.title}: ${read.issues[0].message}`);
}

/** Writes a result in a format; throws an Error with a sentence when there is no mesh to write, or an option is wrong. */
export async function deliver(result: Result, format: DeliveryFormat, options?: Record<string, unknown>): Promise<Uint8Array> {
	const read = readOptions(format, options);
	if (format.holds === 'mesh' && elementCount(result.mesh) === 0) throw new Error(whyEmpty(result));
	if (format.holds === 'mesh' && result.unfilled.length > 0 && read.partial === 'no') throw new Error(whyPartial(result));
	if (result.model.curves.length === 0) throw new Error('there is no drawing to deliver: the recipe has no curves');
	return format.holds === 'mesh' ? format.write(gridFor(result, read), read) : format.write(result.model);
}

/** What a mesh is delivered as: the solid that the recipe asks for, or the plane mesh. */
export function gridFor({ mesh, model }: Result, { plane }: Pick<GridOptions, 'plane'>): Grid {
	const grid = gridOf(mesh, model);
	const solid = solidOf(model);
	return solid && plane === 'no' ? solidGrid(grid, solid, model.frame) : grid;
}

function whyEmpty(result: Result): string {
	const first = result.findings.find((f) => f.severity === 'error') ?? result.findings.find((f) => f.severity === 'warning');
	return `there is no mesh to deliver${first ? `: ${first.message}` : ': no region is filled'}`;
}

function whyPartial({ unfilled }: Result): string {
	const some = unfilled.slice(0, 4).map((name) => `\`${name}\``);
	const more = unfilled.length > some.length ? ` and ${unfilled.length - some.length} more` : '';
	return `the mesh is not whole: ${unfilled.length === 1 ? 'region' : 'regions'} ${some.join(', ')}${more} could not be filled; mend what the findings say, or ask for what there is (a partial mesh)`;
}

/** A file name from a project's title. */
export function deliveryName(title: string, ending: string): string {
	const stem = title
		.toLowerCase()
		.replace(/[^\p{L}\p{N}]+/gu, '-')
		.replace(/^-+|-+$/g, '');
	return `${stem === '' ? 'mesh' : stem}.${ending}`;
}
