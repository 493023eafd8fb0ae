import type { CoordinateFile } from '../core/recipe/model/model.ts';
import { coordinateFileLimit } from './coordinates.ts';
import { fileKind, readRows } from './file-kind.ts';
import { type MeshFile, MeshFileError } from './mesh-file.ts';

/** The first bytes of every HDF5 file. */
const hdf5 = [0x89, 0x48, 0x44, 0x46];

/** What kind of mesh a file holds, by its first bytes. */
function meshFormat(bytes: Uint8Array): 'cgns' | 'vtu' | undefined {
	if (hdf5.every((byte, k) => bytes[k] === byte)) return 'cgns';
	return /<VTKFile[\s>]/.test(new TextDecoder('latin1').decode(bytes.subarray(0, 2000))) ? 'vtu' : undefined;
}

/** Reads a mesh in CGNS or VTK XML; throws a {@link MeshFileError} with a sentence for anything else. */
export async function readMeshFile(bytes: Uint8Array): Promise<MeshFile> {
	const format = meshFormat(bytes);
	if (!format) throw new MeshFileError('the file is neither CGNS (HDF5) nor a VTK XML unstructured grid (.vtu)');
	// Readers are loaded when they are used: one of them brings all of HDF5.
	try {
		if (format === 'cgns') return await (await import('./cgns-reader.ts')).readCgns(bytes);
		return (await import('./vtu-reader.ts')).readVtu(bytes);
	} catch (error) {
		if (error instanceof MeshFileError) throw error;
		throw new MeshFileError(`the file is damaged, or no ${format === 'cgns' ? 'CGNS' : 'VTK XML'} file that can be read`);
	}
}

/** Reads any file that may stand beside a recipe: coordinates, a drawing, the outline of a mesh, a template. Never throws. */
export async function readFileOfRecipe(bytes: Uint8Array): Promise<CoordinateFile> {
	if (!meshFormat(bytes) || bytes.length > coordinateFileLimit)
		return fileKind(bytes) === 'rows' ? readRows(bytes) : (await import('./geometry-file.ts')).readGeometryFile(bytes);
	try {
		const mesh = await readMeshFile(bytes);
		return { drawing: (await import('./outline-of-mesh.ts')).outlineOfMesh(mesh) };
	} catch (error) {
		if (error instanceof MeshFileError) return { error: error.message };
		throw error;
	}
}
