import type { Result } from '../core/pipeline.ts';
import { elementCount } from '../core/mesh/mesh.ts';
import { writeCgns } from './cgns.ts';
import { writeDxf } from './dxf.ts';
import { writeSvg } from './svg.ts';
import { writeVtu } from './vtu.ts';

/** A file format that a mesh can be delivered in. */
export interface DeliveryFormat {
	/** File ending without the dot; also the word in addresses and on the command line. */
	ending: string;
	title: string;
	about: string;
	mediaType: string;
	/** Whether it holds the mesh, or the drawing alone. */
	holds: 'mesh' | 'drawing';
	write: (result: Result) => Promise<Uint8Array>;
}

/** Every format, in the order in which they are offered. */
export const deliveryFormats: readonly DeliveryFormat[] = [
	{
		ending: 'cgns',
		title: 'CGNS',
		about: 'Open standard for flow solvers: sections, families and boundary conditions by name (HDF5).',
		mediaType: 'application/x-hdf5',
		holds: 'mesh',
		write: ({ mesh, model }) => writeCgns(mesh, { title: model.title, units: model.units })
	},
	{
		ending: 'vtu',
		title: 'VTK XML',
		about: 'Unstructured grid for viewers and scripts: regions and groups as cell arrays (base64, doubles).',
		mediaType: 'application/vnd.vtk',
		holds: 'mesh',
		write: async ({ mesh }) => writeVtu(mesh)
	},
	{
		ending: 'dxf',
		title: 'DXF',
		about: 'The drawing, not the mesh: every curve exactly, on a layer of its own name.',
		mediaType: 'image/vnd.dxf',
		holds: 'drawing',
		write: async ({ model }) => new TextEncoder().encode(writeDxf(model.curves, model.units))
	},
	{
		ending: 'svg',
		title: 'SVG',
		about: 'The drawing, not the mesh: a path with its name as id for every curve.',
		mediaType: 'image/svg+xml',
		holds: 'drawing',
		write: async ({ model }) => new TextEncoder().encode(writeSvg(model.curves, model.units))
	}
];

export const formatByEnding = (ending: string): DeliveryFormat | undefined =>
	deliveryFormats.find((f) => f.ending === ending.toLowerCase());

/** Writes a result in a format; throws an Error with a sentence when there is no mesh to write. */
export async function deliver(result: Result, format: DeliveryFormat): Promise<Uint8Array> {
	if (format.holds === 'mesh' && elementCount(result.mesh) === 0) throw new Error(whyEmpty(result));
	if (result.model.curves.length === 0) throw new Error('there is no drawing to deliver: the recipe has no curves');
	return format.write(result);
}

function whyEmpty(result: Result): string {
	const first = result.findings.find((f) => f.severity === 'error') ?? result.findings.find((f) => f.severity === 'warning');
	return `there is no mesh to deliver${first ? `: ${first.message}` : ': no region is filled'}`;
}

/** A file name from a project's title. */
export function deliveryName(title: string, ending: string): string {
	const stem = title
		.toLowerCase()
		.replace(/[^\p{L}\p{N}]+/gu, '-')
		.replace(/^-+|-+$/g, '');
	return `${stem === '' ? 'mesh' : stem}.${ending}`;
}
