import { createReadStream } from 'node:fs';
import { readFile, rm } from 'node:fs/promises';
import { Readable } from 'node:stream';
import type { Output } from './pool.ts';

/** The content of an output that is wanted once; its file goes. */
export async function takeOutput({ path }: Output): Promise<Buffer> {
	try {
		return await readFile(path);
	} finally {
		await rm(path, { force: true });
	}
}

/** The content of an output as a stream, which stays. */
export const streamOutput = ({ path }: Output): ReadableStream<Uint8Array> =>
	Readable.toWeb(createReadStream(path)) as ReadableStream<Uint8Array>;
