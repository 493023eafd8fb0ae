import h5wasm, { type File } from 'h5wasm';
import { forgetTimes } from './hdf5-times.ts';

/** The bytes of an HDF5 file that is filled in memory; it holds no time of day. */
export async function writtenHdf5(fill: (file: File) => void): Promise<Uint8Array> {
	const { FS } = await h5wasm.ready;
	const path = '/delivery.h5';
	try {
		const file = new h5wasm.File(path, 'w', { track_order: true });
		try {
			fill(file);
		} finally {
			file.close();
		}
		const bytes = FS.readFile(path) as Uint8Array;
		forgetTimes(bytes);
		return bytes;
	} finally {
		if (FS.analyzePath(path).exists) FS.unlink(path);
	}
}
